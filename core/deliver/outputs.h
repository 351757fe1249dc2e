#pragma once
#include <filesystem>

#include "core/colour/view.h"
#include "core/deliver/pass_list.h"
#include "core/picture/exr_writer.h"
#include "core/picture/write.h"

namespace dusk {

/// Some rows of the finished picture, and what they are made of.
struct FinishedBand {
  const Passes& passes;       ///< with the lights as they are mixed
  Picture plate, shownPlate;  ///< those rows; empty without a plate
  std::vector<NamedPass> named;
};

/// The files of a shot's deliverables, written band by band. Without close() nothing is left of them.
class Outputs {
 public:
  /// `possible`: every pass that may come, in the files' order.
  Outputs(const Shot& shot, std::filesystem::path folder, std::shared_ptr<const ColourView> view, int width,
          int height, std::vector<NamedPass> possible)
      : shot_(shot), folder_(std::move(folder)), view_(std::move(view)), width_(width), height_(height) {
    for (NamedPass& pass : possible) listed_.push_back({std::move(pass)});
  }
  ~Outputs();

  /// The next rows. Error: the disk.
  Outcome add(const FinishedBand& band);
  /// Puts the files in their places, and gives their paths.
  Result<std::vector<std::filesystem::path>> close();
  /// Names of passes with nothing in them.
  std::vector<std::string> empty() const;

 private:
  Outcome open(const FinishedBand& first);
  struct File {
    std::filesystem::path path;
    std::unique_ptr<PngWriter> png;
    std::unique_ptr<ExrWriter> exr;
  };
  /// A pass of the files: whether any band has it, and with anything in it.
  struct Listed {
    NamedPass pass;  ///< its picture is a single pixel
    bool present = false, filled = false;
  };
  bool isWanted(const Listed& l) const { return l.present && (l.filled || shot_.render.emptyPasses); }

  const Shot& shot_;
  std::filesystem::path folder_;
  std::shared_ptr<const ColourView> view_;
  int width_, height_;
  bool madeFolder_ = false;
  std::vector<File> files_;
  std::vector<Listed> listed_, left_;  ///< what the files have, and what is known to be empty at once
};

}  // namespace dusk
