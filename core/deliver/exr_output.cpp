#include "core/base/words.h"
#include "core/deliver/apart.h"
#include "core/deliver/output_file.h"
#include "core/picture/exr_writer.h"

namespace dusk {
namespace {

/// The composite, what the product brings where that is asked for, and the passes.
class ExrOutput : public OutputFile {
 public:
  ExrOutput(const OutputPlan& plan, std::vector<bool> takes, std::unique_ptr<ExrWriter> writer)
      : plan_(plan), takes_(std::move(takes)), writer_(std::move(writer)) {}

  Outcome add(const FinishedRows& rows, const std::vector<std::string>&) override {
    if (rows.area.height() <= 0) return done();
    Outcome wrote = writer_->write(0, rows.light);
    if (wrote && hasLayer())
      wrote = writer_->write(1, layerOver(rows.belowLight, rows.light, rows.cover, 0, true));
    return wrote;
  }
  Outcome addPasses(const std::vector<Picture>& passes, int x, int y) override {
    const PixelArea& of = plan_.frame.area;
    size_t part = hasLayer() ? 2 : 1;
    for (size_t i = 0; i < passes.size(); ++i) {
      if (!takes_[i]) continue;
      const PixelArea area{of.x0 - x, std::max(0, of.y0 - y), of.x1 - x,
                           std::min(passes[i].height, of.y1 - y)};
      if (area.height() > 0)
        if (const Outcome wrote = writer_->write(part, cropped(passes[i], area)); !wrote) return wrote;
      ++part;
    }
    return done();
  }
  Outcome close(const std::vector<bool>& keeps) override {
    std::vector<bool> parts(hasLayer() ? 2 : 1, true);
    for (size_t i = 0; i < keeps.size(); ++i)
      if (takes_[i]) parts.push_back(keeps[i]);
    return writer_->close(parts);
  }
  std::string note() const override {
    const FramedArea& f = plan_.frame;
    if (f.id.empty() || (f.width == f.area.width() && f.height == f.area.height())) return {};
    return plan_.file.filename().string() + words(" has the frame's pixels as they were traced, ") +
           std::to_string(f.area.width()) + " × " + std::to_string(f.area.height()) +
           words(": passes cannot be brought to another size.");
  }

 private:
  bool hasLayer() const { return plan_.what.alpha != DeliveredAlpha::none; }
  OutputPlan plan_;
  std::vector<bool> takes_;
  std::unique_ptr<ExrWriter> writer_;
};

}  // namespace

Result<std::unique_ptr<OutputFile>> beginExr(const OutputPlan& plan, const std::vector<NamedPass>& passes) {
  const Deliverable& d = plan.what;
  std::vector<ExrPartHeader> parts{{"composite", {"R", "G", "B"}, d.bits == 32}};
  if (d.alpha != DeliveredAlpha::none)
    parts.push_back({"product_and_shadow", {"R", "G", "B", "A"}, d.bits == 32});
  std::vector<bool> takes;
  for (const NamedPass& pass : passes) {
    takes.push_back(isChosen(d.passes, pass.name));
    if (takes.back())
      parts.push_back(
          {pass.name, pass.picture.channels, d.bits == 32 || pass.needsFullFloat(), pass.metadata});
  }
  const PixelArea& area = plan.frame.area;
  auto writer =
      ExrWriter::open(plan.file, area.width(), area.height(), std::move(parts), {d.compression, d.onePart});
  if (!writer) return writer.error();
  return std::unique_ptr<OutputFile>(std::make_unique<ExrOutput>(plan, std::move(takes), std::move(*writer)));
}

}  // namespace dusk
