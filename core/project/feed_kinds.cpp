#include "core/project/feed_kinds.h"

#include "core/base/words.h"

#include <algorithm>

namespace dusk {
namespace {

using enum FeedKind;
using Family = FeedFamily;

constexpr FeedKindInfo feedTable[] = {
    {plain, "plain", marked("Plain value"), Family::plain, marked("One value or colour all over"), false},
    {picture, "picture", marked("Picture"), Family::picture,
     marked("A picture file; its size is that of one picture"), false, 100},
    {noise, "noise", marked("Even noise"), Family::even, marked("Soft lumps of one size"), true, 8},
    {cloud, "cloud", marked("Cloud"), Family::even, marked("Lumps on lumps; the size is that of the largest"),
     true, 30, 0.5, 1, marked("Roughness"), true},
    {waves, "waves", marked("Slow waves"), Family::even,
     marked("The wobble of moulded glass and painted walls"), true, 40, 0.3, 1, marked("Unevenness")},
    {brushing, "brushing", marked("Brushing"), Family::worn,
     marked("Fine long lines; the size is their width"), false, 0.4, 0.5, 80, marked("Contrast")},
    {turning, "turning", marked("Turning marks"), Family::worn,
     marked("Rings about the axis; the size is from ring to ring"), true, 0.5, 0.3, 1, marked("Unevenness")},
    {scratches, "scratches", marked("Scratches"), Family::worn,
     marked("Thin strokes; the size is their length"), false, 20, 0.4, 1, marked("Cover")},
    {smudges, "smudges", marked("Smudges"), Family::worn,
     marked("Where a cloth or a hand went; the size is a wipe's width"), true, 35, 0.5, 3, marked("Cover")},
    {fingerprints, "fingerprints", marked("Fingerprints"), Family::worn,
     marked("Ridges of finger tips, here and there"), false, 16, 0.35, 1, marked("Cover")},
    {specks, "specks", marked("Dust specks"), Family::worn,
     marked("Small grains; the size is the largest one's"), true, 1, 0.35, 1, marked("Cover")},
    {droplets, "droplets", marked("Droplets"), Family::worn, marked("Round drops of many sizes"), true, 6,
     0.4, 1, marked("Cover")},
    {speckle, "speckle", marked("Speckle"), Family::even, marked("Sharp dots of one size, as in glazes"),
     true, 2, 0.2, 1, marked("Cover")},
    {gradient, "gradient", marked("Gradient"), Family::even,
     marked("From one side to the other; the size is its length"), true, 100},
    {cells, "cells", marked("Cells"), Family::even, marked("Rounded cells with seams; the size is a cell's"),
     true, 10, 0.15, 1, marked("Seam")},
    {weave, "weave", marked("Plain weave"), Family::woven,
     marked("Threads over and under; the size is from thread to thread"), false, 1.2},
    {twill, "twill", marked("Twill"), Family::woven,
     marked("Slanting ribs of cloth; the size is from thread to thread"), false, 1},
    {knit, "knit", marked("Knit"), Family::woven, marked("Loops in columns; the size is a loop's width"),
     false, 3},
    {wood, "wood", marked("Wood"), Family::natural,
     marked("Rings of a trunk along the axis; the size is from ring to ring"), true, 5, 0.5, 12,
     marked("Unevenness")},
    {boards, "boards", marked("Wooden boards"), Family::natural,
     marked("Boards side by side, each of another trunk; the size is "
            "a board's width"),
     false, 120, 0.02, 8, marked("Joint")},
    {stone, "stone", marked("Veined stone"), Family::natural,
     marked("Veins through cloudy stone; the size is from vein to vein"), true, 60, 0.5, 1, marked("Veins"),
     true},
    {concrete, "concrete", marked("Concrete"), Family::natural,
     marked("Clouds and small pores; the size is the clouds'"), true, 80, 0.3, 1, marked("Pores"), true},
    {cast, "cast", marked("Cast metal"), Family::natural,
     marked("The grain of a sand mould; the size is a grain's"), true, 1.5, 0.5, 1, marked("Roughness"),
     true},
    {hammered, "hammered", marked("Hammered"), Family::natural,
     marked("Dents side by side; the size is a dent's"), true, 8},
    {leather, "leather", marked("Leather"), Family::natural,
     marked("Grain and creases; the size is a grain's"), true, 3, 0.4, 1, marked("Creases")},
    {paper, "paper", marked("Paper"), Family::natural, marked("Fibres and clouds; the size is the clouds'"),
     true, 6, 0.5, 1, marked("Fibres"), true},
    {cork, "cork", marked("Cork"), Family::natural, marked("Pressed granules; the size is a granule's"), true,
     5, 0.3, 1, marked("Pores")},
    {terrazzo, "terrazzo", marked("Terrazzo"), Family::natural,
     marked("Chips of stone in a ground; the size is a chip's"), true, 14, 0.6, 1, marked("Cover")},
    {checker, "checker", marked("Checker"), Family::built,
     marked("Two squares by two; the size is a square's"), false, 20},
    {stripes, "stripes", marked("Stripes"), Family::built,
     marked("Straight bands; the size is from band to band"), false, 10, 0.5, 1, marked("Width")},
    {brick, "brick", marked("Brick"), Family::built,
     marked("Courses of brick, each half a brick on; the size is a brick's "
            "length, its joint with it"),
     false, 225, 0.045, 3, marked("Joint")},
    {tile, "tile", marked("Tile"), Family::built, marked("A grid of tiles; the size is from joint to joint"),
     false, 100, 0.03, 1, marked("Joint")},
    {ribs, "ribs", marked("Ribs"), Family::built,
     marked("Round ribs side by side; the size is from rib to rib"), false, 4},
    {knurl, "knurl", marked("Knurl"), Family::built,
     marked("Pyramids of crossed grooves; the size is from groove to groove"), false, 1.5},
    {edges, "edges", marked("Edges"), Family::shape,
     marked("Where the shape stands out; the size is how far in it reaches"), true, 3, 0.5, 1,
     marked("Unevenness")},
    {creases, "creases", marked("Creases"), Family::shape,
     marked("Where nothing wipes; the size is how far it looks"), true, 10},
    {facingUp, "facingUp", marked("Faces up"), Family::shape,
     marked("1 where it looks up, 0 where it looks sideways or down"), true},
    {height, "height", marked("Height"), Family::shape,
     marked("From the foot of the product up; the size is its length"), true, 100},
    {nearGround, "nearGround", marked("Near the ground"), Family::shape,
     marked("1 at what it stands on, 0 higher up than the size"), true, 30},
    {thickness, "thickness", marked("Thickness"), Family::shape,
     marked("1 where there is at least the size behind it, 0 where "
            "there is nothing"),
     true, 10},
    {perPart, "perPart", marked("By the part"), Family::shape, marked("Another value on each part"), true},
    {facing, "facing", marked("Faces the viewer"), Family::shape,
     marked("1 where it is looked at straight, 0 at its outline"), true},
    {vertexColours, "vertexColours", marked("Vertex colours"), Family::shape,
     marked("The colours that the model file gives to its vertices, as scans have them; white without any"),
     true},
};

}  // namespace

std::span<const FeedKindInfo> feedKinds() { return feedTable; }

const FeedKindInfo& infoOf(FeedKind kind) {
  return *std::find_if(std::begin(feedTable), std::end(feedTable) - 1,
                       [&](const FeedKindInfo& k) { return k.kind == kind; });
}

const FeedKindInfo* feedKindNamed(std::string_view name) {
  const auto found = std::find_if(std::begin(feedTable), std::end(feedTable),
                                  [&](const FeedKindInfo& k) { return k.name == name; });
  return found == std::end(feedTable) ? nullptr : found;
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
