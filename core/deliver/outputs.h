#pragma once
#include <filesystem>

#include "core/deliver/output_file.h"

namespace dusk {

/// The files of a shot's deliverables, written from the top. Without close() nothing is left of them.
class Outputs {
 public:
  /// `area`: all that comes. `possible`: every pass that may come, in the files' order.
  Outputs(const Shot& shot, std::vector<OutputPlan> plans, std::shared_ptr<const ColourView> view,
          const PixelArea& area, std::vector<NamedPass> possible);
  ~Outputs();

  /// What of the blend the files are made of: one for each crop, with all that its files ask for.
  const std::vector<BlendLook>& looks() const { return looks_; }
  /// The next rows of the passes, of a picture of which these are all or some. Error: the disk.
  Outcome add(const std::vector<NamedPass>& named, int rows);
  /// The next rows of the picture itself, one entry for each look, after passes of the first rows. Error: the
  /// disk.
  Outcome add(const std::vector<FinishedRows>& rows, const std::vector<std::string>& stageNames);
  /// Puts the files in their places, and gives their paths.
  Result<std::vector<std::filesystem::path>> close();
  /// For proof sheets; before close().
  void tell(const Told& told);
  /// Whether any of the files is one.
  bool hasProofs() const;
  /// Names of passes with nothing in them.
  std::vector<std::string> empty() const;
  /// What is to be told of the files.
  std::vector<std::string> notes() const;

 private:
  Outcome open(const std::vector<NamedPass>& first, int rows);
  /// A pass of the files: whether any band has it, and with anything in it.
  struct Listed {
    NamedPass pass;  ///< its picture is a single pixel
    bool present = false, filled = false;
  };
  bool isWanted(const Listed& l) const { return l.present && (l.filled || shot_.render.emptyPasses); }

  const Shot& shot_;
  std::vector<OutputPlan> plans_;
  std::vector<BlendLook> looks_;
  std::vector<size_t> lookOfFile_;  ///< [file]: its place among those
  std::shared_ptr<const ColourView> view_;
  PixelArea area_;
  int rowsDone_ = 0;
  std::vector<std::filesystem::path> madeFolders_;
  std::vector<std::unique_ptr<OutputFile>> files_;
  std::vector<Listed> listed_, left_;  ///< what the files have, and what is known to be empty at once
};

}  // namespace dusk
