#include "core/vantage/lens_profiles.h"

#include <lensfun/lensfun.h>

#include <mutex>
#include <utility>

#include "core/base/dense.h"
#include "core/base/lower.h"

namespace dusk {
namespace {

/// The data, read once. Its look-ups are not const in effect: one caller at a time.
class Data {
 public:
  static Data& the() {
    static Data data;
    return data;
  }
  std::mutex mutex;
  lfDatabase* base = nullptr;

 private:
  Data() : base(lf_db_new()) {
    if (base && lf_db_load(base) != LF_NO_ERROR) {
      lf_db_destroy(base);
      base = nullptr;
    }
  }
};

std::string nameOf(const lfLens& lens) {
  const std::string maker = lf_mlstr_get(lens.Maker) ? lf_mlstr_get(lens.Maker) : "",
                    model = lf_mlstr_get(lens.Model) ? lf_mlstr_get(lens.Model) : "";
  return model.starts_with(maker) ? model : maker + " " + model;
}

const lfLens* lensCalled(lfDatabase* base, const LensMatch& match) {
  const lfLens* best = nullptr;
  for (const lfLens* const* lens = lf_db_get_lenses(base); lens && *lens; ++lens)
    if (nameOf(**lens) == match.name &&
        (!best || std::abs((*lens)->CropFactor - match.crop) < std::abs(best->CropFactor - match.crop)))
      best = *lens;
  return best;
}

}  // namespace

std::vector<LensMatch> lensesFor(const PhotoInfo& info) {
  Data& data = Data::the();
  const std::lock_guard lock(data.mutex);
  std::vector<LensMatch> result;
  if (!data.base || info.camera.empty()) return result;
  const lfCamera** cameras = lf_db_find_cameras_ext(data.base, nullptr, info.camera.c_str(), 0);
  if (cameras && cameras[0]) {
    const lfLens** lenses =
        lf_db_find_lenses_hd(data.base, cameras[0], nullptr, info.lens.empty() ? nullptr : info.lens.c_str(),
                             LF_SEARCH_SORT_AND_UNIQUIFY);
    for (size_t i = 0; lenses && lenses[i] && result.size() < 40; ++i)
      result.push_back({nameOf(*lenses[i]), cameras[0]->CropFactor, double(lenses[i]->Score)});
    lf_free(lenses);
  }
  lf_free(cameras);
  return result;
}

std::vector<LensMatch> lensesNamed(const std::string& text, size_t most) {
  Data& data = Data::the();
  const std::lock_guard lock(data.mutex);
  std::vector<LensMatch> result;
  if (!data.base) return result;
  std::vector<std::string> words;
  std::string word;
  for (char c : lower(text) + ' ')
    if (c != ' ')
      word += c;
    else if (!word.empty())
      words.push_back(std::exchange(word, {}));
  for (const lfLens* const* lens = lf_db_get_lenses(data.base); lens && *lens && result.size() < most;
       ++lens) {
    const std::string name = nameOf(**lens), small = lower(name);
    if (std::all_of(words.begin(), words.end(),
                    [&](const std::string& w) { return small.find(w) != std::string::npos; }))
      result.push_back({name, (*lens)->CropFactor, 0});
  }
  return result;
}

std::optional<LensProfile> lensProfile(const LensMatch& match, double focalMm, double fNumber, int width,
                                       int height) {
  Data& data = Data::the();
  const std::lock_guard lock(data.mutex);
  const lfLens* lens = data.base ? lensCalled(data.base, match) : nullptr;
  if (!lens || width < 2 || height < 2) return {};
  const float focal = float(focalMm > 0 ? std::clamp(focalMm, double(lens->MinFocal), double(lens->MaxFocal))
                                        : lens->MinFocal);
  lfLensCalibDistortion distortion;
  if (!lens->InterpolateDistortion(focal, distortion)) return {};
  lfModifier modifier(lens, float(match.crop), width, height);
  if (!(modifier.Initialize(lens, LF_PF_F32, focal, float(fNumber > 0 ? fNumber : 8), 10, 1, lens->Type,
                            LF_MODIFY_DISTORTION, false) &
        LF_MODIFY_DISTORTION))
    return {};
  // Radii along the diagonal before and after: a least-squares fit of r' = s r (1 + k1 t^2 + k2 t^4), t = r /
  // f. The data's own scale s only says which focal length the middle has, and that is solved for.
  const double diagonal = std::hypot(width, height),
               f = focal * diagonal * match.crop / std::hypot(36.0, 24.0);
  Eigen::MatrixXd a(40, 3);
  Eigen::VectorXd b(40);
  for (int i = 0; i < 40; ++i) {
    const double share = (i + 1) / 41.0;
    const double x = width / 2.0 * (1 + share), y = height / 2.0 * (1 + share);
    float bent[2] = {0, 0};
    if (!modifier.ApplyGeometryDistortion(float(x), float(y), 1, 1, bent)) return {};
    const double r = share * diagonal / 2, t = r / f;
    a.row(i) << r, r * t * t, r * t * t * t * t;
    b(i) = std::hypot(bent[0] - width / 2.0, bent[1] - height / 2.0);
  }
  const Eigen::Vector3d s = leastSquares(a, b);
  if (!s.allFinite() || std::abs(s(0)) < 0.5) return {};
  LensProfile profile;
  profile.name = match.name;
  profile.k1 = s(1) / s(0), profile.k2 = s(2) / s(0);
  lfLensCalibVignetting vignetting;
  if (lens->InterpolateVignetting(focal, float(fNumber > 0 ? fNumber : 8), 10, vignetting) &&
      vignetting.Model == LF_VIGNETTING_MODEL_PA)
    for (size_t i = 0; i < 3; ++i) profile.vignetting[i] = vignetting.Terms[i];
  lfLensCalibTCA fringe;
  if (lens->InterpolateTCA(focal, fringe)) {
    const bool linear = fringe.Model == LF_TCA_MODEL_LINEAR;
    // At the corner, where fringes are seen.
    profile.redScale = linear ? fringe.Terms[0] : fringe.Terms[0] + fringe.Terms[2] + fringe.Terms[4];
    profile.blueScale = linear ? fringe.Terms[1] : fringe.Terms[1] + fringe.Terms[3] + fringe.Terms[5];
  }
  return profile;
}

}  // namespace dusk
