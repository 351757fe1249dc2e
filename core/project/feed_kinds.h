#pragma once
#include <span>
#include <string_view>

#include "core/project/feed.h"

namespace dusk {

enum class FeedFamily { plain, picture, even, worn, woven, natural, built, shape };

/// All there is to know of a kind of feed but how it is worked out, which is in core/surface. The table of
/// these is the one place that names a kind: files, schema, desk and docs are fed from it.
struct FeedKindInfo {
  FeedKind kind;
  const char* name;   ///< in files
  const char* title;  ///< on screen
  FeedFamily family;
  const char* tip;                   ///< what it looks like, and what its size is the size of
  bool solid;                        ///< fills space as it is made; others lie on a side
  double sizeMm = 10;                ///< of a new one
  double share = 0.5;                ///< of a new one
  double stretch = 1;                ///< of a new one
  const char* shareTitle = nullptr;  ///< what `share` is here; nullptr: nothing
  bool hasDetail = false;
};

std::span<const FeedKindInfo> feedKinds();
const FeedKindInfo& infoOf(FeedKind kind);
/// nullptr when no kind has that name in files.
const FeedKindInfo* feedKindNamed(std::string_view name);
/// A feed of that kind as the table says.
Feed newFeed(FeedKind kind);

}  // namespace dusk
