#include "core/project/feed_kinds.h"

#include <algorithm>

namespace dusk {
namespace {

using enum FeedKind;
using F = FeedFamily;

constexpr FeedKindInfo kinds[] = {
    {plain, "plain", "Plain value", F::plain, "One value or colour all over", false},
    {picture, "picture", "Picture", F::picture, "A picture file; its size is that of one picture", false,
     100},
    {noise, "noise", "Even noise", F::even, "Soft lumps of one size", true, 8},
    {cloud, "cloud", "Cloud", F::even, "Lumps on lumps; the size is that of the largest", true, 30, 0.5, 1,
     "Roughness", true},
    {waves, "waves", "Slow waves", F::even, "The wobble of moulded glass and painted walls", true, 40, 0.3, 1,
     "Unevenness"},
    {brushing, "brushing", "Brushing", F::worn, "Fine long lines; the size is their width", false, 0.4, 0.5,
     80, "Contrast"},
    {turning, "turning", "Turning marks", F::worn, "Rings about the axis; the size is from ring to ring",
     true, 0.5, 0.3, 1, "Unevenness"},
    {scratches, "scratches", "Scratches", F::worn, "Thin strokes; the size is their length", false, 20, 0.4,
     1, "Cover"},
    {smudges, "smudges", "Smudges", F::worn, "Where a cloth or a hand went; the size is a wipe's width", true,
     35, 0.5, 3, "Cover"},
    {fingerprints, "fingerprints", "Fingerprints", F::worn, "Ridges of finger tips, here and there", false,
     16, 0.35, 1, "Cover"},
    {specks, "specks", "Dust specks", F::worn, "Small grains; the size is the largest one's", true, 1, 0.35,
     1, "Cover"},
    {droplets, "droplets", "Droplets", F::worn, "Round drops of many sizes", true, 6, 0.4, 1, "Cover"},
    {speckle, "speckle", "Speckle", F::even, "Sharp dots of one size, as in glazes", true, 2, 0.2, 1,
     "Cover"},
    {gradient, "gradient", "Gradient", F::even, "From one side to the other; the size is its length", true,
     100},
    {cells, "cells", "Cells", F::even, "Rounded cells with seams; the size is a cell's", true, 10, 0.15, 1,
     "Seam"},
    {weave, "weave", "Plain weave", F::woven, "Threads over and under; the size is from thread to thread",
     false, 1.2},
    {twill, "twill", "Twill", F::woven, "Slanting ribs of cloth; the size is from thread to thread", false,
     1},
    {knit, "knit", "Knit", F::woven, "Loops in columns; the size is a loop's width", false, 3},
    {wood, "wood", "Wood", F::natural, "Rings of a trunk along the axis; the size is from ring to ring", true,
     5, 0.5, 12, "Unevenness"},
    {boards, "boards", "Wooden boards", F::natural,
     "Boards side by side, each of another trunk; the size is "
     "a board's width",
     false, 120, 0.02, 8, "Joint"},
    {stone, "stone", "Veined stone", F::natural, "Veins through cloudy stone; the size is from vein to vein",
     true, 60, 0.5, 1, "Veins", true},
    {concrete, "concrete", "Concrete", F::natural, "Clouds and small pores; the size is the clouds'", true,
     80, 0.3, 1, "Pores", true},
    {cast, "cast", "Cast metal", F::natural, "The grain of a sand mould; the size is a grain's", true, 1.5,
     0.5, 1, "Roughness", true},
    {hammered, "hammered", "Hammered", F::natural, "Dents side by side; the size is a dent's", true, 8},
    {leather, "leather", "Leather", F::natural, "Grain and creases; the size is a grain's", true, 3, 0.4, 1,
     "Creases"},
    {paper, "paper", "Paper", F::natural, "Fibres and clouds; the size is the clouds'", true, 6, 0.5, 1,
     "Fibres", true},
    {cork, "cork", "Cork", F::natural, "Pressed granules; the size is a granule's", true, 5, 0.3, 1, "Pores"},
    {terrazzo, "terrazzo", "Terrazzo", F::natural, "Chips of stone in a ground; the size is a chip's", true,
     14, 0.6, 1, "Cover"},
    {checker, "checker", "Checker", F::built, "Two squares by two; the size is a square's", false, 20},
    {stripes, "stripes", "Stripes", F::built, "Straight bands; the size is from band to band", false, 10, 0.5,
     1, "Width"},
    {brick, "brick", "Brick", F::built,
     "Courses of brick, each half a brick on; the size is a brick's "
     "length, its joint with it",
     false, 225, 0.045, 3, "Joint"},
    {tile, "tile", "Tile", F::built, "A grid of tiles; the size is from joint to joint", false, 100, 0.03, 1,
     "Joint"},
    {ribs, "ribs", "Ribs", F::built, "Round ribs side by side; the size is from rib to rib", false, 4},
    {knurl, "knurl", "Knurl", F::built, "Pyramids of crossed grooves; the size is from groove to groove",
     false, 1.5},
    {edges, "edges", "Edges", F::shape, "Where the shape stands out; the size is how far in it reaches", true,
     3, 0.5, 1, "Unevenness"},
    {creases, "creases", "Creases", F::shape, "Where nothing wipes; the size is how far it looks", true, 10},
    {facingUp, "facingUp", "Faces up", F::shape, "1 where it looks up, 0 where it looks sideways or down",
     true},
    {height, "height", "Height", F::shape, "From the foot of the product up; the size is its length", true,
     100},
    {nearGround, "nearGround", "Near the ground", F::shape,
     "1 at what it stands on, 0 higher up than the size", true, 30},
    {thickness, "thickness", "Thickness", F::shape,
     "1 where there is at least the size behind it, 0 where "
     "there is nothing",
     true, 10},
    {perPart, "perPart", "By the part", F::shape, "Another value on each part", true},
    {facing, "facing", "Faces the viewer", F::shape, "1 where it is looked at straight, 0 at its outline",
     true},
};

}  // namespace

std::span<const FeedKindInfo> feedKinds() { return kinds; }

const FeedKindInfo& infoOf(FeedKind kind) {
  return *std::find_if(std::begin(kinds), std::end(kinds) - 1,
                       [&](const FeedKindInfo& k) { return k.kind == kind; });
}

const FeedKindInfo* feedKindNamed(std::string_view name) {
  const auto found =
      std::find_if(std::begin(kinds), std::end(kinds), [&](const FeedKindInfo& k) { return k.name == name; });
  return found == std::end(kinds) ? nullptr : found;
}

Feed newFeed(FeedKind kind) {
  const FeedKindInfo& info = infoOf(kind);
  Feed feed;
  feed.kind = kind, feed.sizeMm = info.sizeMm, feed.share = info.share, feed.stretch = info.stretch;
  feed.mapping.kind = info.solid ? MappingKind::solid : MappingKind::box;
  if (kind == FeedKind::picture) feed.mapping.sizeMm = {info.sizeMm, 0};
  return feed;
}

}  // namespace dusk
