#pragma once
#include "core/colour/view.h"
#include "core/deliver/band_blend.h"
#include "core/deliver/pass_list.h"
#include "core/picture/file_writer.h"
#include "core/proof/prove.h"
#include "core/vantage/frames.h"

namespace dusk {

/// A deliverable on its way: what of the picture, and where to.
struct OutputPlan {
  Deliverable what;
  FramedArea frame;
  std::filesystem::path file;
  PictureTags tags{};
  /// Of what is not made of rows: writes the file, and gives what is to be told of it.
  std::function<Result<std::vector<std::string>>(const std::filesystem::path& file)> make{};
};
/// Whether it is of the scene, and not of its picture.
inline bool isScene(DeliverableKind kind) { return kind == DeliverableKind::gltfScene; }
inline bool isProof(DeliverableKind kind) {
  return kind == DeliverableKind::proofPage || kind == DeliverableKind::proofPdf;
}
/// What of the blend its file is made of.
BlendLook lookOf(const OutputPlan& plan);

/// What a proof sheet says beside the picture.
struct Told {
  std::vector<Finding> findings;
  std::vector<std::pair<std::string, std::string>> settings;  ///< name and value, in their order
  std::vector<std::string> files;                             ///< all that are written with it
};

/// A file that is made while its rows come from the top. It takes its place with close() alone; without,
/// nothing is left of it.
class OutputFile {
 public:
  virtual ~OutputFile() = default;
  /// Rows of the finished crop, as lookOf asks for them.
  virtual Outcome add(const FinishedRows& rows, const std::vector<std::string>& stageNames) = 0;
  /// Rows of all passes of the files (see Outputs), of all that is traced across; `x`, `y`: where in the
  /// picture they begin.
  virtual Outcome addPasses(const std::vector<Picture>&, int /*x*/, int /*y*/) { return done(); }
  /// What is known of the picture once it is all there; before close().
  virtual void tell(const Told&) {}
  /// `keeps`: which passes have anything in them.
  virtual Outcome close(const std::vector<bool>& keeps) = 0;
  /// What is to be told of it.
  virtual std::string note() const { return {}; }
};

/// Makes and begins the file. `passes`: those that may come (each a single pixel), of which it takes those it
/// asks for. Error: the disk, or a format that cannot be written here.
Result<std::unique_ptr<OutputFile>> beginOutput(const OutputPlan& plan,
                                                std::shared_ptr<const ColourView> view,
                                                const std::vector<NamedPass>& passes);

// One for each sort of file.
Result<std::unique_ptr<OutputFile>> beginPicture(const OutputPlan& plan,
                                                 std::shared_ptr<const ColourView> view);
Result<std::unique_ptr<OutputFile>> beginExr(const OutputPlan& plan, const std::vector<NamedPass>& passes);
Result<std::unique_ptr<OutputFile>> beginProof(const OutputPlan& plan,
                                               std::shared_ptr<const ColourView> view);
/// A file that is written in one go, when the picture is done.
Result<std::unique_ptr<OutputFile>> beginMade(const OutputPlan& plan);
Result<std::unique_ptr<OutputFile>> beginLayers(const OutputPlan& plan,
                                                std::shared_ptr<const ColourView> view);

}  // namespace dusk
