#include "core/deliver/outputs.h"

#include "core/base/words.h"

namespace dusk {

namespace fs = std::filesystem;

Outputs::Outputs(const Shot& shot, std::vector<OutputPlan> plans, std::shared_ptr<const ColourView> view,
                 const PixelArea& area, std::vector<NamedPass> possible)
    : shot_(shot), plans_(std::move(plans)), view_(std::move(view)), area_(area) {
  for (NamedPass& pass : possible) listed_.push_back({std::move(pass)});
  for (const OutputPlan& plan : plans_) {
    const BlendLook look = lookOf(plan);
    auto at =
        std::find_if(looks_.begin(), looks_.end(), [&](const BlendLook& l) { return l.area == look.area; });
    if (at == looks_.end()) at = looks_.insert(at, BlendLook{look.area});
    at->light |= look.light, at->codes |= look.codes, at->layered |= look.layered, at->staged |= look.staged;
    lookOfFile_.push_back(size_t(at - looks_.begin()));
  }
}

Outcome Outputs::open(const std::vector<NamedPass>& first, int rows) {
  if (rows == area_.height()) {  // it is all there: what is empty need not be begun
    std::vector<Listed> all;
    all.swap(listed_);
    for (Listed& l : all) {
      for (const NamedPass& pass : first)
        if (pass.name == l.pass.name) l.present = true, l.filled = !pass.empty;
      (isWanted(l) ? listed_ : left_).push_back(std::move(l));
    }
  }
  std::vector<NamedPass> passes;
  for (const Listed& l : listed_) passes.push_back(l.pass);
  for (const OutputPlan& plan : plans_) {
    const fs::path folder = plan.file.parent_path();
    std::error_code code;
    if (fs::create_directories(folder, code)) madeFolders_.push_back(folder);
    if (code) return Error{words("Cannot make the folder ") + folder.string() + ": " + code.message() + "."};
    auto file = beginOutput(plan, view_, passes);
    if (!file) return file.error();
    files_.push_back(std::move(*file));
  }
  return done();
}

Outputs::~Outputs() {
  files_.clear();
  std::error_code ignored;
  for (const fs::path& folder : madeFolders_) fs::remove(folder, ignored);  // where nothing is in it
}

Outcome Outputs::add(const std::vector<NamedPass>& named, int rows) {
  if (files_.empty())
    if (const Outcome opened = open(named, rows); !opened) return opened;
  std::vector<Picture> pictures;
  for (Listed& l : listed_) {
    const auto of = std::find_if(named.begin(), named.end(),
                                 [&](const NamedPass& pass) { return pass.name == l.pass.name; });
    if (of != named.end()) {
      l.present = true, l.filled |= !of->empty;
      pictures.push_back(of->picture);
      continue;
    }
    Picture nothing(area_.width(), rows, l.pass.picture.channels);
    if (l.pass.kind == PassKind::ratio) std::fill(nothing.pixels.begin(), nothing.pixels.end(), 1.0f);
    pictures.push_back(std::move(nothing));
  }
  for (const auto& file : files_)
    if (const Outcome wrote = file->addPasses(pictures, area_.x0, area_.y0 + rowsDone_); !wrote) return wrote;
  rowsDone_ += rows;
  return done();
}

Outcome Outputs::add(const std::vector<FinishedRows>& rows, const std::vector<std::string>& stageNames) {
  for (size_t i = 0; i < files_.size(); ++i)
    if (const Outcome wrote = files_[i]->add(rows[lookOfFile_[i]], stageNames); !wrote) return wrote;
  return done();
}

Result<std::vector<fs::path>> Outputs::close() {
  std::vector<bool> keeps;
  for (const Listed& l : listed_) keeps.push_back(isWanted(l));
  std::vector<fs::path> paths;
  for (size_t i = 0; i < files_.size(); ++i) {
    const Outcome closed = files_[i]->close(keeps);
    if (!closed) return closed.error();
    paths.push_back(plans_[i].file);
  }
  return paths;
}

void Outputs::tell(const Told& told) {
  for (const auto& file : files_) file->tell(told);
}

bool Outputs::hasProofs() const {
  return std::any_of(plans_.begin(), plans_.end(),
                     [](const OutputPlan& plan) { return isProof(plan.what.kind); });
}

std::vector<std::string> Outputs::empty() const {
  std::vector<std::string> names;
  for (const auto* list : {&left_, &listed_})
    for (const Listed& l : *list)
      if (l.present && !l.filled) names.push_back(l.pass.name);
  return names;
}

std::vector<std::string> Outputs::notes() const {
  std::vector<std::string> notes;
  for (const auto& file : files_)
    if (std::string note = file->note(); !note.empty()) notes.push_back(std::move(note));
  return notes;
}

}  // namespace dusk
