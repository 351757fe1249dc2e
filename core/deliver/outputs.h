#pragma once
#include <filesystem>

#include "core/deliver/pass_list.h"
#include "core/picture/exr_writer.h"
#include "core/picture/write.h"

namespace dusk {

/// Some rows of the finished picture: as light and as display code values; empty where no file asks for them.
struct FinishedRows {
  Picture light, codes;
};

/// The files of a shot's deliverables, written from the top. Without close() nothing is left of them.
class Outputs {
 public:
  /// `possible`: every pass that may come, in the files' order.
  Outputs(const Shot& shot, std::filesystem::path folder, int width, int height,
          std::vector<NamedPass> possible)
      : shot_(shot), folder_(std::move(folder)), width_(width), height_(height) {
    for (NamedPass& pass : possible) listed_.push_back({std::move(pass)});
  }
  ~Outputs();

  /// The next rows of the passes, of a picture of which these are all or some. Error: the disk.
  Outcome add(const std::vector<NamedPass>& named, int width, int rows);
  /// The next rows of the picture itself, after passes of the first rows. Error: the disk.
  Outcome add(const FinishedRows& rows);
  /// Puts the files in their places, and gives their paths.
  Result<std::vector<std::filesystem::path>> close();
  /// Names of passes with nothing in them.
  std::vector<std::string> empty() const;

 private:
  Outcome open(const std::vector<NamedPass>& first, int rows);
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
  int width_, height_;
  bool madeFolder_ = false;
  std::vector<File> files_;
  std::vector<Listed> listed_, left_;  ///< what the files have, and what is known to be empty at once
};

}  // namespace dusk
