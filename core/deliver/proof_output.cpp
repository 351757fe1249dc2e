#include "core/base/files.h"
#include "core/deliver/output_file.h"
#include "core/deliver/proof_sheet.h"
#include "core/picture/row_scaler.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;
constexpr int mostSide = 1920;

/// The picture as a JPEG, in memory.
Result<std::string> jpegOf(const Picture& picture, const fs::path& scratch) {
  PictureFileKind kind;
  kind.format = PictureFormat::jpeg, kind.quality = 86;
  if (const Outcome written = writePicture(scratch, kind, picture); !written) return written.error();
  auto bytes = readFile(scratch);
  std::error_code ignored;
  fs::remove(scratch, ignored);
  return bytes;
}

/// A proof sheet: the picture and the place without the product, no larger than a page needs them.
class ProofOutput : public OutputFile {
 public:
  ProofOutput(const OutputPlan& plan, std::shared_ptr<const ColourView> view)
      : plan_(plan), view_(std::move(view)), half_(plan.file) {
    const FramedArea& f = plan.frame;
    const double by = std::min(1.0, double(mostSide) / std::max(f.area.width(), f.area.height()));
    after_ = Picture::rgb(std::max(1, int(f.area.width() * by)), std::max(1, int(f.area.height() * by)));
    before_ = after_;
    for (auto* scaler : {&scaleAfter_, &scaleBefore_})
      scaler->emplace(f.area.width(), f.area.height(), after_.width, after_.height, 3);
  }
  Outcome add(const FinishedRows& rows, const std::vector<std::string>&) override {
    if (rows.area.height() <= 0) return done();
    take(*scaleAfter_, rows.light, rows.codes, after_, rowsAfter_);
    take(*scaleBefore_, rows.belowLight, rows.belowCodes, before_, rowsBefore_);
    return done();
  }
  void tell(const Told& told) override { told_ = told; }
  Outcome close(const std::vector<bool>&) override {
    ProofSheet sheet{plan_.tags.title.empty() ? told_.settings.front().second : plan_.tags.title,
                     {},
                     {},
                     after_.width,
                     after_.height,
                     told_};
    const fs::path scratch = half_.temporary().string() + ".jpg";
    for (const auto& [picture, into] : {std::pair(&after_, &sheet.after), {&before_, &sheet.before}}) {
      auto bytes = jpegOf(*picture, scratch);
      if (!bytes) return bytes.error();
      *into = std::move(*bytes);
    }
    const Outcome written = plan_.what.kind == DeliverableKind::proofPage
                                ? writeFileAtomically(half_.temporary(), proofPage(sheet))
                                : writeProofPdf(sheet, half_.temporary());
    return written ? half_.commit() : written;
  }

 private:
  void take(RowScaler& scaler, const Picture& light, const Picture& codes, Picture& to, int& rows) const {
    // At its own size the picture's very codes.
    const bool isOwnSize = to.width == plan_.frame.area.width();
    Picture made = isOwnSize ? codes : scaler.add(light);
    if (!isOwnSize && !made.empty()) made = displayed(made, *view_);
    std::copy(made.pixels.begin(), made.pixels.end(),
              to.pixels.begin() + long(size_t(rows) * size_t(to.width) * 3));
    rows += made.height;
  }

  OutputPlan plan_;
  std::shared_ptr<const ColourView> view_;
  AtomicFile half_;
  Picture after_, before_;
  std::optional<RowScaler> scaleAfter_, scaleBefore_;
  int rowsAfter_ = 0, rowsBefore_ = 0;
  Told told_;
};

}  // namespace

Result<std::unique_ptr<OutputFile>> beginProof(const OutputPlan& plan,
                                               std::shared_ptr<const ColourView> view) {
  return std::unique_ptr<OutputFile>(std::make_unique<ProofOutput>(plan, std::move(view)));
}

}  // namespace dusk
