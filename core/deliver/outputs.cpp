#include "core/deliver/outputs.h"

namespace dusk {

Outcome Outputs::open(const std::vector<NamedPass>& first, int rows) {
  if (rows == height_) {  // it is all there: what is empty need not be begun
    std::vector<Listed> all;
    all.swap(listed_);
    for (Listed& l : all) {
      for (const NamedPass& pass : first)
        if (pass.name == l.pass.name) l.present = true, l.filled = !pass.empty;
      (isWanted(l) ? listed_ : left_).push_back(std::move(l));
    }
  }
  std::error_code code;
  madeFolder_ = std::filesystem::create_directories(folder_, code);
  if (code) return Error{"Cannot make the folder " + folder_.string() + ": " + code.message() + "."};
  for (const Deliverable& d : shot_.deliverables) {
    File file{folder_ / d.fileName, nullptr, nullptr};
    if (d.kind == DeliverableKind::png) {
      auto png = PngWriter::open(file.path, width_, height_, 3);
      if (!png) return png.error();
      file.png = std::move(*png);
    } else {
      std::vector<ExrPartHeader> parts{{"composite", {"R", "G", "B"}}};
      for (const Listed& l : listed_)
        parts.push_back({l.pass.name, l.pass.picture.channels, l.pass.needsFullFloat(), l.pass.metadata});
      auto exr = ExrWriter::open(file.path, width_, height_, std::move(parts));
      if (!exr) return exr.error();
      file.exr = std::move(*exr);
    }
    files_.push_back(std::move(file));
  }
  return done();
}

Outputs::~Outputs() {
  files_.clear();
  std::error_code ignored;
  if (madeFolder_) std::filesystem::remove(folder_, ignored);  // that is, where nothing is in it
}

Outcome Outputs::add(const std::vector<NamedPass>& named, int width, int rows) {
  if (files_.empty())
    if (const Outcome opened = open(named, rows); !opened) return opened;
  std::vector<const NamedPass*> of;
  for (Listed& l : listed_) {
    of.push_back(nullptr);
    for (const NamedPass& pass : named)
      if (pass.name == l.pass.name) of.back() = &pass, l.present = true, l.filled |= !pass.empty;
  }
  for (const File& file : files_) {
    if (!file.exr) continue;
    for (size_t i = 0; i < listed_.size(); ++i) {
      Picture nothing;
      if (!of[i]) {
        nothing = Picture(width, rows, listed_[i].pass.picture.channels);
        if (listed_[i].pass.kind == PassKind::ratio)
          std::fill(nothing.pixels.begin(), nothing.pixels.end(), 1.0f);
      }
      if (const Outcome wrote = file.exr->write(i + 1, of[i] ? of[i]->picture : nothing); !wrote)
        return wrote;
    }
  }
  return done();
}

Outcome Outputs::add(const FinishedRows& rows) {
  for (const File& file : files_) {
    const Outcome wrote = file.png ? file.png->write(rows.codes) : file.exr->write(0, rows.light);
    if (!wrote) return wrote;
  }
  return done();
}

Result<std::vector<std::filesystem::path>> Outputs::close() {
  std::vector<bool> keeps{true};
  for (const Listed& l : listed_) keeps.push_back(isWanted(l));
  std::vector<std::filesystem::path> paths;
  for (const File& file : files_) {
    const Outcome closed = file.png ? file.png->close() : file.exr->close(keeps);
    if (!closed) return closed.error();
    paths.push_back(file.path);
  }
  return paths;
}

std::vector<std::string> Outputs::empty() const {
  std::vector<std::string> names;
  for (const auto* list : {&left_, &listed_})
    for (const Listed& l : *list)
      if (l.present && !l.filled) names.push_back(l.pass.name);
  return names;
}

}  // namespace dusk
