#include "core/trace/render_together.h"

#include <tbb/enumerable_thread_specific.h>

#include "core/trace/adaptive.h"
#include "core/trace/passing.h"

namespace dusk {
namespace {

/// Whether the sample that this thread is at has asked for anything that differs.
thread_local bool hasMet = false;

/// A part's look that tells when it is asked for. What all answer alike is no difference.
class Watched : public Material {
 public:
  Watched(std::shared_ptr<const Material> of, bool isOpaqueInAll, bool hasGapsInAll)
      : of_(std::move(of)), isOpaqueInAll_(isOpaqueInAll), hasGapsInAll_(hasGapsInAll) {}
  void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const override {
    hasMet = true;
    of_->at(point, out, normal);
  }
  Rgb emission() const override { return of_->emission(); }
  bool isOpaque() const override {
    hasMet |= !isOpaqueInAll_;
    return of_->isOpaque();
  }
  bool hasGaps() const override {
    hasMet |= !hasGapsInAll_;
    return of_->hasGaps();
  }
  bool emitsUnevenly() const override { return of_->emitsUnevenly(); }

 private:
  std::shared_ptr<const Material> of_;
  bool isOpaqueInAll_, hasGapsInAll_;  // or in none
};

/// A scene with its differing parts watched.
Scene watched(const Scene& of, std::span<const FilmOfMany> films, const DifferingParts& differing) {
  Scene scene = of;
  for (size_t i = 0; i < differing.size(); ++i)
    for (size_t p = 0; p < differing[i].size(); ++p) {
      if (!differing[i][p]) continue;
      const auto alike = [&](const auto& ask) {
        return std::all_of(films.begin(), films.end(), [&](const FilmOfMany& other) {
          return ask(*other.scene->materials[i][p]) == ask(*of.materials[i][p]);
        });
      };
      scene.materials[i][p] =
          std::make_shared<Watched>(of.materials[i][p], alike([](const Material& m) { return m.isOpaque(); }),
                                    alike([](const Material& m) { return m.hasGaps(); }));
    }
  return scene;
}

/// The samples of a tile by one pass that are everyone's.
class Shared {
 public:
  static constexpr size_t count = size_t(Film::tileSize) * Film::tileSize;
  void begin() { isEveryones_.fill(false); }
  void keep(int x, int y, const PixelSample& sample) {
    samples_[at(x, y)] = sample, isEveryones_[at(x, y)] = true;
  }
  const PixelSample* find(int x, int y) const {
    return isEveryones_[at(x, y)] ? &samples_[at(x, y)] : nullptr;
  }

 private:
  static size_t at(int x, int y) {
    return size_t(y % Film::tileSize) * Film::tileSize + size_t(x % Film::tileSize);
  }
  std::vector<PixelSample> samples_ = std::vector<PixelSample>(count, PixelSample(0));
  std::array<bool, count> isEveryones_{};
};

}  // namespace

bool isSameBut(const Scene& a, const Scene& b, const DifferingParts& differing) {
  const auto &those = a.geometry->instances(), &these = b.geometry->instances();
  if (those.empty() || those.size() != these.size() || differing.size() != those.size() ||
      !a.during.empty() || !b.during.empty() || a.lights->groups() != b.lights->groups())
    return false;
  for (size_t i = 0; i < those.size(); ++i) {
    if (those[i].geometry != these[i].geometry || !(those[i].worldFromModel == these[i].worldFromModel) ||
        those[i].moved != these[i].moved || those[i].cutBelowM != these[i].cutBelowM ||
        a.materials[i].size() != b.materials[i].size() || differing[i].size() != a.materials[i].size())
      return false;
    for (size_t p = 0; p < differing[i].size(); ++p) {
      const Material &one = *a.materials[i][p], &other = *b.materials[i][p];
      if (differing[i][p] &&
          (one.emission() != other.emission() || one.emitsUnevenly() || other.emitsUnevenly()))
        return false;
    }
  }
  return true;
}

void renderTogether(std::span<FilmOfMany> films, const DifferingParts& differing, int passes) {
  std::deque<Scene> scenes;
  std::deque<Passing> passing;
  std::vector<int> ends(films.size(), passes);
  int pass = passes;
  for (const FilmOfMany& each : films) {
    passing.emplace_back(scenes.emplace_back(watched(*each.scene, films, differing)));
    numberParts(*each.scene, *each.film);
    pass = std::min(pass, each.film->passesDone);
  }
  const double way = wayPx(*films[0].scene);
  tbb::enumerable_thread_specific<Shared> rooms;
  const Progress unbroken;  // each film is asked for itself
  for (; pass < passes; ++pass) {
    std::vector<size_t> going;
    for (size_t i = 0; i < films.size(); ++i)
      if (films[i].film->passesDone == pass && pass < ends[i] && !films[i].progress->cancelled())
        going.push_back(i);
    if (going.empty()) continue;
    eachTileAtOnce(*films[0].film, unbroken, [&](int tile) {
      Shared& shared = rooms.local();
      shared.begin();
      for (const size_t i : going)
        traceTile(*films[i].film, tile, pass, Where::everywhere, *films[i].progress,
                  [&](int x, int y, int of) {
                    if (of == pass)
                      if (const PixelSample* known = shared.find(x, y)) return *known;
                    hasMet = false;
                    const PixelSample sample = passing[i].at(of).sample(x, y, uint32_t(of));
                    if (of == pass && !hasMet) shared.keep(x, y, sample);
                    return sample;
                  });
    });
    for (const size_t i : going) {
      FilmOfMany& each = films[i];
      ++each.film->passesDone;
      if (each.progress->cancelled() || !endPass(*each.scene, *each.film, way, ends[i], *each.progress))
        continue;
      each.progress->report(double(pass + 1) / passes);
      if (each.afterPass && !each.afterPass()) ends[i] = pass + 1;
    }
  }
  for (FilmOfMany& each : films) each.isTraced = !each.progress->cancelled();
}

}  // namespace dusk
