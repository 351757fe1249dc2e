#pragma once
#include "core/product/set/shapes.h"
#include "core/set/furnish.h"

namespace dusk {

/// What a set placed has ids that begin with this; where products stand in it is a stand-in of that id.
inline constexpr const char *setMark = "set-", *setStage = "set-stage";
inline bool isOfSet(const std::string& id) { return id.starts_with(setMark); }

/// How many of the person's products stand on the set's stage.
size_t ownOnStage(const Shot& shot);
/// How many times as large a set is as it was thought out.
double timesAsLarge(const SetRecipe& recipe);
/// All that a set has just brought into a shot, each piece once, becomes so many times as large, about the
/// middle of the ground; the camera goes along, unless it is locked.
void enlarge(Project& project, Shot& shot, double times);

/// What a set is put together with. Places are metres, the camera looks along +Y at the origin.
class Furnisher {
 public:
  Furnisher(Project& project, size_t shot, const SetRecipe& recipe)
      : project_(project), shot_(project.shots[shot]), recipe_(recipe) {}

  Shot& shot() { return shot_; }
  double slider(const char* name) const { return sliderOf(recipe_, name).value_or(0.5); }
  double by(double low, double high, int what) const { return set::between(low, high, recipe_.seed, what); }
  int seed() const { return recipe_.seed; }

  using Measures = std::map<std::string, double>;
  struct Place {
    double x = 0, y = 0, turn = 0, z = 0, leanX = 0, leanY = 0;
  };
  /// A piece; `dress` gives parts (by the beginning of their name) a surface: a preset's id without
  /// "preset-", or one that `colour` made.
  void piece(const char* kind, const Measures& measures, const Place& at,
             const std::map<std::string, std::string>& dress = {});
  /// The same of what stands before a light: it throws its shadow, and is not seen.
  void before(const char* kind, const Measures& measures, const Place& at);
  /// A matte surface of a colour, for this set; its id.
  std::string colour(const char* name, const Vec3d& linear, double roughness = 0.9);
  Lamp& lamp(const char* name, LampKind kind, const Vec3d& at, const Vec3d& to, double kelvin,
             double powerEv);
  /// Where the person's products stand: side by side from that spot on, at that height above 0.
  void stage(double x, double y, double z);
  /// As far as the slider "near" says, towards the stage.
  void camera(double focalMm35, double heightM, double distanceM, double aimM);
  /// How bright the shipped panorama is beside the set's own lamps, EV.
  void dome(double ev) { domeEv_ = ev; }
  double domeEv() const { return domeEv_; }
  void behind(const char* colour);
  /// What is seen beyond the set: display codes 0 to 1 at the lower and the upper border.
  void beyond(const Vec3d& lower, const Vec3d& upper);

 private:
  /// The id of a surface that is in the project then, as used as the slider "wear" says.
  std::string worn(const std::string& surface);
  Project& project_;
  Shot& shot_;
  const SetRecipe& recipe_;
  int count_ = 0;
  std::map<std::string, std::string> aged_;  ///< [surface as new] the one that was made of it
  Vec3d stage_{0, 0, 0};
  double domeEv_ = -2;
};

void plinthsSet(Furnisher& f);
void sweepSet(Furnisher& f);
void cornerSet(Furnisher& f);
void shelfSet(Furnisher& f);
void workshopSet(Furnisher& f);
void gardenSet(Furnisher& f);
void netLoftSet(Furnisher& f);

}  // namespace dusk
