#include "core/deliver/gather.h"

#include <zip.h>

#include <map>
#include <set>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/words.h"
#include "core/deliver/names.h"
#include "core/product/import.h"
#include "core/project/file.h"
#include "core/project/links.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// What is copied where, and the project that links to the copies.
struct Plan {
  Project project;
  std::map<fs::path, fs::path> copies;  ///< place in the gathered folder -> file
};

std::string fileNameFor(const std::string& name) {
  const std::string clean = asName(name);
  return clean.empty() ? "project" : clean;
}

class Planner {
 public:
  Planner(const Project& project, const AssetStore& assets, Progress& progress)
      : assets_(assets), progress_(progress) {
    plan.project = project;
  }

  Outcome run() {
    Outcome all = done();
    eachLink(plan.project, [&](AssetRef& ref, LinkKind kind) {
      if (!all) return;
      all = kind == LinkKind::model      ? model(ref)
            : kind == LinkKind::config   ? config(ref)
            : kind == LinkKind::panorama ? one(ref, "panoramas")
            : kind == LinkKind::photo    ? one(ref, "photos")
                                         : one(ref, "textures");
    });
    return all;
  }

  Plan plan;
  std::vector<std::string> notes;

 private:
  /// A place in `folder` for the file; the same for a file that has one.
  Result<fs::path> placeFor(const AssetRef& ref, const fs::path& folder) {
    const fs::path from = fs::absolute(assets_.pathOf(ref));
    if (const auto known = places_.find(from); known != places_.end()) return known->second;
    std::error_code code;
    if (!fs::is_regular_file(from, code))
      return Error{
          from.string() +
              words(" is linked but is not there. Find it, or take what uses it out of the project."),
          ErrorKind::unreadable};
    if (const auto hash = hashFile(from); hash && !ref.hash.empty() && *hash != ref.hash)
      notes.push_back(from.filename().string() +
                      words(" has changed since it was linked: it is gathered as it is now."));
    fs::path to = folder / from.filename();
    for (int n = 2; plan.copies.contains(to); ++n)
      to = folder / (from.stem().string() + "-" + std::to_string(n) + from.extension().string());
    plan.copies[to] = from;
    return places_[from] = to;
  }

  Outcome one(AssetRef& ref, const fs::path& folder) {
    if (ref.empty()) return done();
    const auto to = placeFor(ref, folder);
    if (!to) return to.error();
    ref.path = to->generic_string();
    return done();
  }

  /// A model has a folder of its own where it reads other files, which keep their places beside it; those
  /// from elsewhere are found there by their names.
  Outcome model(AssetRef& ref) {
    if (ref.empty()) return done();
    std::map<fs::path, fs::path> beside;
    for (const SideFile& side : sideFilesOf(ref))
      if (!side.path.empty()) {
        const fs::path path = side.path;
        beside[*path.begin() == ".." ? path.filename() : path] = path;
      }
    return withSideFiles(ref, "models", beside);
  }

  std::vector<SideFile> sideFilesOf(const AssetRef& ref) {
    for (const Product& product : plan.project.products)
      if (const auto model = product.model == ref ? assets_.loadedModel(product) : nullptr)
        return model->sideFiles;
    if (isCadFile(ref.path)) return {};
    auto model = importModel(assets_.pathOf(ref), progress_);
    if (model) return std::move(model->sideFiles);
    if (!progress_.cancelled()) notes.push_back(model.error().message);
    return {};
  }

  /// So has a colour configuration that reads tables.
  Outcome config(AssetRef& ref) {
    const auto read = ColourConfig::read(assets_.pathOf(ref));
    if (!read) return read.error();
    for (const std::string& name : (*read)->outside())
      notes.push_back(assets_.pathOf(ref).filename().string() + words(" reads ") + name +
                      words(", which is not in its folder: it is not gathered."));
    std::map<fs::path, fs::path> beside;
    for (const fs::path& file : (*read)->files()) beside[file] = file;
    return withSideFiles(ref, "colour", beside);
  }

  /// `beside`: its place relative to the file's own -> where it is relative to that now.
  Outcome withSideFiles(AssetRef& ref, const fs::path& all, const std::map<fs::path, fs::path>& beside) {
    const fs::path from = fs::absolute(assets_.pathOf(ref));
    fs::path folder = all;
    if (!beside.empty() && !places_.contains(from)) {
      folder /= from.stem();
      for (int n = 2; !folders_.insert(folder).second; ++n)
        folder = all / (from.stem().string() + "-" + std::to_string(n));
    }
    const auto linked = one(ref, folder);
    if (linked)
      for (const auto& [place, file] : beside)
        plan.copies[fs::path(ref.path).parent_path() / place] = from.parent_path() / file;
    return linked;
  }

  const AssetStore& assets_;
  Progress& progress_;
  std::map<fs::path, fs::path> places_;
  std::set<fs::path> folders_;
};

Error cannotWrite(const fs::path& to, const std::string& why) {
  return {words("Cannot gather into ") + to.string() + ": " + why + "."};
}

Outcome intoFolder(const Plan& plan, const fs::path& to, const std::string& name, Progress& progress) {
  std::error_code code;
  if (fs::exists(to, code) && !(fs::is_directory(to, code) && fs::is_empty(to, code)))
    return cannotWrite(to, words("it holds something already; choose an empty or a new folder"));
  const bool fresh = !fs::exists(to, code);
  const auto giveUp = [&](const Error& error) -> Outcome {
    for (const auto& entry : fs::directory_iterator(to, code)) fs::remove_all(entry.path(), code);
    if (fresh) fs::remove_all(to, code);
    return error;
  };
  size_t copied = 0;
  for (const auto& [place, from] : plan.copies) {
    if (progress.cancelled()) return giveUp(cancelledError());
    fs::create_directories((to / place).parent_path(), code);
    if (!fs::copy_file(from, to / place, code)) return giveUp(cannotWrite(to, code.message()));
    progress.report(double(++copied) / double(plan.copies.size() + 1));
  }
  fs::create_directories(to, code);
  const auto saved = saveProject(plan.project, to / name);
  return saved ? saved : giveUp(saved.error());
}

Outcome intoZip(const Plan& plan, const fs::path& to, const std::string& name, Progress& progress) {
  std::error_code code;
  if (fs::exists(to, code)) return cannotWrite(to, words("there is a file of that name; choose another"));
  // Everything is in a folder of the archive's own name, so that it unpacks tidily.
  const fs::path inside = to.stem();
  const std::string text = toText(plan.project);
  return replaceFileAtomically(to, [&](const fs::path& temporary) -> Outcome {
    int trouble = 0;
    zip_t* archive = zip_open(temporary.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &trouble);
    if (!archive) return cannotWrite(to, words("the archive cannot be made"));
    const auto add = [&](const fs::path& place, zip_source_t* source) {
      return source && zip_file_add(archive, place.generic_string().c_str(), source, ZIP_FL_ENC_UTF_8) >= 0;
    };
    bool ok = add(inside / name, zip_source_buffer(archive, text.data(), text.size(), 0));
    for (const auto& [place, from] : plan.copies)
      ok = ok && add(inside / place, zip_source_file(archive, from.c_str(), 0, -1));
    zip_register_cancel_callback_with_state(
        archive, [](zip_t*, void* p) { return static_cast<Progress*>(p)->cancelled() ? 1 : 0; }, nullptr,
        &progress);
    zip_register_progress_callback_with_state(
        archive, 0.01, [](zip_t*, double share, void* p) { static_cast<Progress*>(p)->report(share); },
        nullptr, &progress);
    if (ok && zip_close(archive) == 0) return done();
    const std::string why = zip_strerror(archive);
    zip_discard(archive);
    return progress.cancelled() ? cancelledError() : cannotWrite(to, why);
  });
}

}  // namespace

Result<GatherReport> gather(const Project& project, const AssetStore& assets, const fs::path& to,
                            Progress& progress) {
  Planner planner(project, assets, progress);
  if (const auto planned = planner.run(); !planned) return planned.error();
  const std::string name = fileNameFor(project.name) + ".dusk";
  const bool zipped = to.extension() == ".zip";
  const auto written =
      zipped ? intoZip(planner.plan, to, name, progress) : intoFolder(planner.plan, to, name, progress);
  if (!written) return written.error();
  return GatherReport{int(planner.plan.copies.size()) + 1, zipped ? to : to / name, planner.notes};
}

}  // namespace dusk
