#pragma once
#include "core/project/project.h"

/// Edits of surfaces, as functions from value to value.
namespace dusk {

/// Where in a surface a list of feeds is, and which row of it.
struct FeedPlace {
  int coat = -1;        ///< -1: the surface itself, else one of its coats
  bool ofMask = false;  ///< where the coat lies, in place of one of its values
  SurfaceValue value = SurfaceValue::baseColour;
  int row = -1;  ///< -1: none
  bool operator==(const FeedPlace&) const = default;
};

/// The layer a place is in; nullptr when there is no such coat.
const Surface* layerAt(const Surface& surface, int coat);
Surface* layerAt(Surface& surface, int coat);
/// The feeds at a place; nullptr when there is no such coat. The writable one makes an empty list where there
/// is none yet.
const std::vector<Feed>* feedsAt(const Surface& surface, const FeedPlace& place);
std::vector<Feed>* feedsAt(Surface& surface, const FeedPlace& place);
const Feed* feedAt(const Surface& surface, const FeedPlace& place);
Feed* feedAt(Surface& surface, const FeedPlace& place);
/// A feed of that kind as it is begun for a value: what its ends come to is of use there at once.
Feed begunFeed(FeedKind kind, const FeedPlace& place, const Surface& layer);
/// Takes out values whose lists are empty, so that equal looks are equal values.
void tidy(Surface& surface);

/// How shiny a surface looks, 0 matte to 1 mirror: of its coat as far as that covers it, and of what is
/// below.
double shineOf(const Surface& surface);
/// The surface made to look so: roughness, clearcoat and specular are moved together, and colours stay.
Surface withShine(Surface surface, double shine);

/// How used a surface looks, each from 0 to 1.
struct Use {
  double edges = 0, dust = 0, smudges = 0, waves = 0;
  bool operator==(const Use&) const = default;
};
/// As it was given; 0 where it was not.
Use useOf(const Surface& surface);
/// The surface as it looks after that much use: coats named for it, which may be changed by hand, are put on,
/// changed or taken off. `beneath` is what wears through at the edges: metal, where nothing is said.
Surface withUse(Surface surface, const Use& use, const std::optional<Surface>& beneath = {});

/// The project with one value of a surface, or one feed of it, shown alone: what has that surface glows in
/// the value and shines with nothing else; all other parts are dark.
Project shownAlone(Project project, const std::string& surfaceId, const FeedPlace& place);

}  // namespace dusk
