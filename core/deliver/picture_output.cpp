#include "core/deliver/apart.h"
#include "core/deliver/output_file.h"
#include "core/picture/row_scaler.h"

namespace dusk {
namespace {

/// A PNG, JPEG, TIFF, WebP or AVIF of the finished picture, or of what the product brings.
class PictureOutput : public OutputFile {
 public:
  PictureOutput(const OutputPlan& plan, std::shared_ptr<const ColourView> view,
                std::unique_ptr<PictureWriter> writer)
      : plan_(plan), view_(std::move(view)), writer_(std::move(writer)) {
    const PixelArea& from = plan.frame.area;
    if (from.width() != plan.frame.width || from.height() != plan.frame.height)
      scaler_.emplace(from.width(), from.height(), plan.frame.width, plan.frame.height, isApart() ? 9 : 3);
  }

  Outcome add(const FinishedRows& rows, const std::vector<std::string>&) override {
    if (rows.area.height() <= 0) return done();
    if (!scaler_) return writer_->write(made(rows));
    // Sizes change in light: in codes, thin bright things would go dark.
    const Picture scaled =
        scaler_->add(isApart() ? beside({&rows.light, &rows.belowLight, &rows.cover}) : rows.light);
    if (scaled.empty()) return done();
    FinishedRows small;
    small.light = isApart() ? channelsOf(scaled, 0) : scaled;
    small.codes = displayed(small.light, *view_);
    if (isApart()) {
      small.belowLight = channelsOf(scaled, 3), small.cover = channelsOf(scaled, 6);
      small.belowCodes = displayed(small.belowLight, *view_);
    }
    return writer_->write(made(small));
  }
  Outcome close(const std::vector<bool>&) override { return writer_->close(); }

 private:
  bool isApart() const { return plan_.what.alpha != DeliveredAlpha::none; }

  Picture made(const FinishedRows& rows) const {
    const bool isLight = plan_.what.bits == 32;
    if (!isApart()) return isLight ? rows.light : rows.codes;
    const int levels = isLight ? 0 : (1 << plan_.what.bits) - 1;
    return layerOver(isLight ? rows.belowLight : rows.belowCodes, isLight ? rows.light : rows.codes,
                     rows.cover, levels, plan_.what.alpha == DeliveredAlpha::premultiplied);
  }
  static Picture beside(const std::vector<const Picture*>& all) {
    Picture out(all[0]->width, all[0]->height, std::vector<std::string>(all.size() * 3, "V"));
    for (size_t i = 0; i < out.pixels.size(); ++i) {
      const size_t pixel = i / (all.size() * 3), of = i % (all.size() * 3);
      out.pixels[i] = all[of / 3]->pixels[pixel * 3 + of % 3];
    }
    return out;
  }
  static Picture channelsOf(const Picture& from, size_t first) {
    Picture out = Picture::rgb(from.width, from.height);
    const size_t n = from.channels.size();
    for (size_t i = 0; i < out.pixels.size(); ++i) out.pixels[i] = from.pixels[i / 3 * n + first + i % 3];
    return out;
  }

  OutputPlan plan_;
  std::shared_ptr<const ColourView> view_;
  std::unique_ptr<PictureWriter> writer_;
  std::optional<RowScaler> scaler_;
};

PictureFormat formatOf(DeliverableKind kind) {
  switch (kind) {
    case DeliverableKind::jpeg:
      return PictureFormat::jpeg;
    case DeliverableKind::tiff:
      return PictureFormat::tiff;
    case DeliverableKind::webp:
      return PictureFormat::webp;
    case DeliverableKind::avif:
      return PictureFormat::avif;
    default:
      return PictureFormat::png;
  }
}

}  // namespace

Result<std::unique_ptr<OutputFile>> beginPicture(const OutputPlan& plan,
                                                 std::shared_ptr<const ColourView> view) {
  const Deliverable& d = plan.what;
  PictureFileKind kind;
  kind.format = formatOf(d.kind), kind.width = plan.frame.width, kind.height = plan.frame.height;
  kind.hasAlpha = d.alpha != DeliveredAlpha::none;
  kind.premultiplied = d.alpha == DeliveredAlpha::premultiplied;
  kind.bits = d.bits, kind.quality = d.quality, kind.dpi = plan.frame.dpi;
  if (d.kind == DeliverableKind::jpeg) kind.mostBytes = size_t(d.mostKb) * 1000;
  kind.tags = plan.tags, kind.isSrgb = view->isSrgb();
  auto writer = PictureWriter::open(plan.file, kind);
  if (!writer) return writer.error();
  return std::unique_ptr<OutputFile>(
      std::make_unique<PictureOutput>(plan, std::move(view), std::move(*writer)));
}

BlendLook lookOf(const OutputPlan& plan) {
  const Deliverable& d = plan.what;
  const FramedArea& f = plan.frame;
  const bool isScaled = f.area.width() != f.width || f.area.height() != f.height;
  BlendLook look;
  look.area = f.area;
  look.layered = d.alpha != DeliveredAlpha::none || isProof(d.kind);
  look.staged = d.kind == DeliverableKind::openRaster;
  look.light = d.kind == DeliverableKind::exr || d.bits == 32 || isScaled;
  look.codes = !look.light && !look.staged;
  return look;
}

Result<std::unique_ptr<OutputFile>> beginOutput(const OutputPlan& plan,
                                                std::shared_ptr<const ColourView> view,
                                                const std::vector<NamedPass>& passes) {
  if (plan.what.kind == DeliverableKind::exr) return beginExr(plan, passes);
  if (isScene(plan.what.kind)) return beginMade(plan);
  if (isProof(plan.what.kind)) return beginProof(plan, std::move(view));
  if (plan.what.kind == DeliverableKind::openRaster) return beginLayers(plan, std::move(view));
  return beginPicture(plan, std::move(view));
}

}  // namespace dusk
