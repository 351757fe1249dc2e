#include "core/surface/stack.h"

namespace dusk {
namespace {

float picked(const Texture::Texel& t, PictureChannel channel) {
  switch (channel) {
    case PictureChannel::red:
      return t.colour.x;
    case PictureChannel::green:
      return t.colour.y;
    case PictureChannel::blue:
      return t.colour.z;
    case PictureChannel::alpha:
      return t.alpha;
    case PictureChannel::colour:
    case PictureChannel::data:
      break;
  }
  return luminance(t.colour);
}

bool isWhole(PictureChannel channel) {
  return channel == PictureChannel::colour || channel == PictureChannel::data;
}

}  // namespace

FeedStack::FeedStack(const std::vector<Feed>& feeds, bool colour, const FindTexture& find) {
  size_t next = 0;
  rows_ = rowsOf(feeds, next, 0, colour, find);
}

std::vector<FeedStack::Row> FeedStack::rowsOf(const std::vector<Feed>& feeds, size_t& next, int indent,
                                              bool colour, const FindTexture& find) {
  std::vector<Row> rows;
  while (next < feeds.size() && feeds[next].indent >= indent) {
    const Feed& feed = feeds[next++];
    Row row{feed};
    // What is indented below a row counts for that alone, and numbers are not light.
    row.masks = rowsOf(feeds, next, feed.indent + 1, false, find);
    if (!feed.on || feed.strength <= 0) continue;
    row.pattern = patternOf(feed.kind);
    if (row.pattern) row.mean = meanOf(row.pattern, feed);
    if (feed.kind == FeedKind::picture) {
      const bool light = feed.channel == PictureChannel::colour && colour;
      if (find && !feed.picture.empty()) row.texture = find(feed.picture, light, 1, feed.texture);
      if (!row.texture) continue;  // the rest of the surface stays
    }
    rows.push_back(std::move(row));
  }
  return rows;
}

FeedStack::Raw FeedStack::pictureAt(const Row& row, const Look& look) {
  const Mapping& m = row.feed.mapping;
  const float shape = float(row.texture->height) / float(std::max(1, row.texture->width));
  Vec2f size(float(m.sizeMm.x), float(m.sizeMm.y));
  const bool once = size.x <= 0 && m.kind == MappingKind::coordinates;
  if (once) size = Vec2f(1);
  if (size.x <= 0) size.x = 100;
  if (size.y <= 0) size.y = size.x * shape;
  Raw raw{Vec3f(0), 0};
  const OnPlanes planes = onPlanes(m, look.part, look.site);
  for (int i = 0; i < planes.count; ++i) {
    const OnPlane& on = planes.list[size_t(i)];
    // Coordinates begin at the picture's corner, all else at its middle.
    const Vec2f uv = on.mm / size + (m.kind == MappingKind::coordinates ? Vec2f(0) : Vec2f(0.5f));
    const Texture::Texel t = row.texture->at(uv, on.across / size, on.along / size, true);
    raw.cover += on.weight * (row.feed.channel == PictureChannel::alpha ? 1 : t.alpha);
    raw.value += (isWhole(row.feed.channel) ? t.colour : Vec3f(picked(t, row.feed.channel))) * on.weight;
  }
  if (raw.cover > 1e-4f) raw.value /= raw.cover;
  return raw;
}

FeedStack::Raw FeedStack::rawOf(const Row& row, const Look& look) {
  const Feed& f = row.feed;
  if (f.kind == FeedKind::plain) return {Vec3f(1)};
  if (f.kind == FeedKind::picture) return pictureAt(row, look);
  if (f.kind == FeedKind::vertexColours) return {look.point.colour};
  if (!row.pattern) return {Vec3f(shapeValue(f, look))};
  if (f.mapping.kind == MappingKind::solid)
    return {Vec3f(averaged(row.pattern, row.mean, inSpace(f.mapping, look.part, look.site), f))};
  float sum = 0;
  const OnPlanes planes = onPlanes(f.mapping, look.part, look.site);
  for (int i = 0; i < planes.count; ++i) {
    const OnPlane& on = planes.list[size_t(i)];
    const auto width = [&](int c) { return 2 * (std::abs(on.across[c]) + std::abs(on.along[c])); };
    sum += on.weight * averaged(row.pattern, row.mean, {{on.mm.x, on.mm.y, 0}, {width(0), width(1), 0}}, f);
  }
  return {Vec3f(sum)};
}

float FeedStack::weightOf(const Row& row, const Look& look) {
  const float mask = row.masks.empty() ? 1.0f : std::clamp(over(row.masks, Vec3f(1), look).x, 0.0f, 1.0f);
  return float(row.feed.strength) * mask;
}

Vec3f FeedStack::over(const std::vector<Row>& rows, Vec3f value, const Look& look) {
  for (auto row = rows.rbegin(); row != rows.rend(); ++row) {
    float weight = weightOf(*row, look);
    if (weight <= 0) continue;
    const Raw raw = rawOf(*row, look);
    weight *= raw.cover;
    const Feed& f = row->feed;
    const float from = float(f.from), range = float(f.to - f.from);
    Vec3f made;
    for (int c = 0; c < 3; ++c) {
      const float t =
          range == 0 ? float(raw.value[c] >= from) : std::clamp((raw.value[c] - from) / range, 0.0f, 1.0f);
      made[c] = float(f.low[c]) + (float(f.high[c]) - float(f.low[c])) * t;
    }
    switch (f.join) {
      case FeedJoin::mix:
        value += (made - value) * weight;
        break;
      case FeedJoin::multiply:
        value *= Vec3f(1) + (made - Vec3f(1)) * weight;
        break;
      case FeedJoin::add:
        value += made * weight;
        break;
    }
  }
  return value;
}

Vec3f FeedStack::over(const Vec3f& ground, const Look& look) const { return over(rows_, ground, look); }

Vec3f FeedStack::bentNormal(const Look& look) const {
  Vec3f bent(0, 0, 1);
  for (auto row = rows_.rbegin(); row != rows_.rend(); ++row) {
    if (!row->texture) continue;
    const float weight = weightOf(*row, look);
    const Vec3f n = pictureAt(*row, look).value * 2.0f - Vec3f(1);
    bent += Vec3f(n.x, n.y, 0) * weight;
    bent.z *= 1 + (std::max(n.z, 0.05f) - 1) * weight;
  }
  return bent;
}

float FeedStack::finestMm() const {
  double finest = 1e9;
  for (const Row& row : rows_) {
    const bool picture = row.feed.kind == FeedKind::picture;
    const double across = row.feed.mapping.sizeMm.x > 0 ? row.feed.mapping.sizeMm.x : 100;
    finest =
        std::min(finest, picture ? 2 * across / std::max(1, row.texture->width) : row.feed.sizeMm * 0.05);
  }
  return float(finest);
}

}  // namespace dusk
