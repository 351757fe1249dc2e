#pragma once
#include <span>

#include "core/project/project.h"

/// Whole sets: pieces, surfaces, lamps and a camera put together by code, each anew by its seed and sliders.
namespace dusk {

struct SetSlider {
  const char *name, *title, *low, *high;  ///< what it goes from and to, for people
  double usual = 0.5;
};

struct SetKind {
  const char *name, *title, *about;
  const char* lightSet;  ///< which of the shipped panoramas lights it beside its own lamps
  std::vector<SetSlider> sliders;
};

/// All there are.
const std::vector<SetKind>& setKinds();
const SetKind* setKindNamed(const std::string& name);
/// Where a slider of a set stands, 0 to 1; nothing where such a set has none of that name.
std::optional<double> sliderOf(const SetRecipe& recipe, const std::string& name);

/// Gives a shot a set, in place of one it was given before: what that had placed goes, what the person placed
/// stays and stands where the set wants its product. `light`: the shipped panorama, where it is at hand. The
/// same recipe makes the same set. False where there is no such kind.
bool furnish(Project& project, size_t shot, const SetRecipe& recipe, const AssetRef& light = {});
/// Takes the set away again; the camera stays.
void unfurnish(Project& project, size_t shot);

/// Stands what comes into a shot's set where the set wants its product, beside those that stand there. False
/// where there is no set.
bool standOnStage(const Shot& shot, Placement& placement);

/// The slider "near" for a product that is so large at most: sets are made for 0.3 m.
double nearFor(double sizeM);
/// What a set is given for such a product: its slider "size" where it has one, else "near".
void suit(SetRecipe& recipe, double sizeM);
/// A shot's set suits its first product: one that comes in several sizes is made anew in that product's,
/// unless something of it is not as it was made; else the camera comes as near as that wants, about the
/// stage. False where that is not the first, the slider was set by hand, or the camera is locked.
bool suitFirst(Project& project, size_t shot, double sizeM);
/// The only product of a set that suited it has another size now, because its file is read in another unit:
/// the set suits that. False where a hand changed the slider since, the set itself, or locked the camera.
bool suitAgain(Project& project, size_t shot, double wasM, double sizeM);

/// A piece of its usual measures, dressed as suits it, standing on the ground; the id of its placement.
std::string addPiece(Project& project, size_t shot, const std::string& kind, double xM, double yM);

/// What makes a set's picture look like another's until it is changed: its seed, its sliders, where its
/// pieces stand and how large they are, its lamps, and where the camera stands.
enum class OfDelivery { seed, sliders, pieces, lamps, camera };
/// What of a shot's set is still as it was delivered.
std::vector<OfDelivery> asDelivered(const Project& project, size_t shot);

}  // namespace dusk
