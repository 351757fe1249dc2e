#include "core/trace/film.h"

#include <tbb/parallel_for.h>

#include <cstring>

namespace dusk {

Film::Film(int width, int height, std::vector<std::string> groups)
    : width_(width),
      height_(height),
      groups_(std::move(groups)),
      tiles_(size_t(tilesAcross()) * size_t(tilesDown())),
      foundAt_(tiles_.size(), never) {}

void Film::keep(int tile) {
  Tile& t = tiles_[size_t(tile)];
  if (!t.pixels.empty()) return;
  t.pixels.resize(tileSize * tileSize);
  t.light.resize(size_t(tileSize * tileSize) * groups_.size());
  clear(t.light.data(), t.light.size());
}

const Film::Pixel* Film::pixel(int x, int y) const {
  const Tile& t = tiles_[size_t(tileOf(x, y))];
  return t.pixels.empty() ? nullptr : &t.pixels[within(x, y)];
}

const GroupLight* Film::light(int x, int y) const {
  const Tile& t = tiles_[size_t(tileOf(x, y))];
  return t.pixels.empty() ? nullptr : &t.light[within(x, y) * groups_.size()];
}

void Film::add(int x, int y, const PixelSample& s) {
  const int tile = tileOf(x, y);
  keep(tile);
  Pixel& p = tiles_[size_t(tile)].pixels[within(x, y)];
  GroupLight* light = &tiles_[size_t(tile)].light[within(x, y) * groups_.size()];
  Rgb noisy[noiseCount] = {Rgb(0), Rgb(0), Rgb(0), Rgb(0)}, with(0), without(0);
  for (int g = 0; g < s.groups; ++g) {
    const GroupLight& from = s.light[g];
    GroupLight& to = light[std::min(size_t(g), groups_.size() - 1)];
    for (int c = 0; c < componentCount; ++c) to.part[c] += from.part[c];
    to.with += from.with, to.without += from.without, to.mirror += from.mirror;
    with += from.with, without += from.without;
    noisy[diffuseNoise] += from.part[diffuseDirect] + from.part[diffuseIndirect];
    noisy[specularNoise] += from.part[specularDirect] + from.part[specularIndirect];
    noisy[transmissionNoise] += from.part[transmissionDirect] + from.part[transmissionIndirect];
    noisy[mirrorNoise] += from.mirror;
  }
  float beauty = 0;
  for (int n = 0; n < noiseCount; ++n) {
    const float l = luminance(noisy[n]);
    p.sum[n] += l, p.squares[n] += l * l;
    if (n != mirrorNoise) beauty += l;
  }
  p.beauty2 += beauty * beauty;
  const float w = luminance(with), o = luminance(without);
  p.with += w, p.without += o, p.withSquared += w * w, p.withTimesWithout += w * o, p.withoutSquared += o * o;
  p.count += 1;
  const float behind = luminance(s.behind);
  p.passed += s.passed, p.behind += s.behind, p.behind2 += behind * behind;
  if (s.alpha == 0) return;
  p.alpha += s.alpha, p.depth += s.depth, p.facing += s.facing, p.occlusion += s.occlusion;
  p.diffuse += s.diffuse, p.specular += s.specular, p.normal += s.normal, p.position += s.position;
  const float albedo = luminance(s.diffuse + s.specular);
  p.albedo2 += albedo * albedo;
  const uint32_t id = (s.instance < firstPart.size() ? firstPart[s.instance] : 0) + s.part + 1;
  for (Covers::Cover& cover : p.covers.list) {
    if (cover.id != id && cover.id != 0) continue;
    cover.id = id, cover.share += s.alpha;
    break;
  }
}

bool Film::influences(const PixelSample& s) {
  return s.alpha > 0 || s.with() != s.without() || s.mirror() != Rgb(0);
}

bool Film::influenced(int x, int y) const {
  const Pixel* p = pixel(x, y);
  if (!p) return false;
  if (p->alpha > 0 || p->squares[mirrorNoise] > 0) return true;
  const GroupLight* l = light(x, y);
  for (size_t g = 0; g < groups_.size(); ++g)
    if (l[g].with != l[g].without) return true;
  return false;
}

Film::Influence Film::influence(int x, int y) const {
  if (foundAt_[size_t(tileOf(x, y))] >= passesDone) return {};
  // What is ahead must count as it did when the others were there.
  if (passesDone < passesAhead)
    if (const uint32_t number = ahead[size_t(y) * size_t(width_) + size_t(x)]; number > 0)
      if (const auto then = aheadInfluence.find(passesDone); then != aheadInfluence.end())
        return then->second[number - 1];
  return sumsOf(x, y);
}

Film::Influence Film::sumsOf(int x, int y) const {
  const Pixel* p = pixel(x, y);
  if (!p) return {};
  return {p->with, p->without, std::abs(p->sum[mirrorNoise]), p->count, p->alpha > 0};
}

float Film::variance(const Pixel& p, NoiseOf which) {
  if (p.count < 2) return 0;
  const float mean = p.sum[which] / p.count;
  return std::max(0.0f, p.squares[which] / p.count - mean * mean) / (p.count - 1);
}

float Film::ratioVariance(const Pixel& p) {
  if (p.count < 2 || p.without <= 0) return 0;
  // Cochran 1977, "Sampling Techniques", 6.4: the ratio of two sums over the same samples.
  const float r = p.with / p.without, mean = p.without / p.count;
  const float spread = (p.withSquared - 2 * r * p.withTimesWithout + r * r * p.withoutSquared) / p.count;
  return std::max(0.0f, spread) / ((p.count - 1) * mean * mean);
}

float Film::shown(const Pixel& p) {
  const float mean = (p.sum[diffuseNoise] + p.sum[specularNoise] + p.sum[transmissionNoise]) / p.count;
  return mean + (1 - p.alpha / p.count) * 0.4f + 0.05f;
}

float Film::error(int x, int y) const {
  const Pixel* p = pixel(x, y);
  if (!p || p->count < 2) return 0;
  const float n = p->count,
              mean = (p->sum[diffuseNoise] + p->sum[specularNoise] + p->sum[transmissionNoise]) / n,
              bare = 1 - p->alpha / n, over = 1 / shown(*p);
  const float product = std::max(0.0f, p->beauty2 / n - mean * mean) / (n - 1);
  return std::sqrt((product + variance(*p, mirrorNoise)) * over * over + ratioVariance(*p) * bare * bare);
}

void Film::forgetInactive() {
  for (int tile = 0; tile < int(tiles_.size()); ++tile) {
    Tile& t = tiles_[size_t(tile)];
    if (t.pixels.empty()) continue;
    bool any = false;
    const int x0 = tile % tilesAcross() * tileSize, y0 = tile / tilesAcross() * tileSize;
    for (int y = y0; y < std::min(height_, y0 + tileSize); ++y)
      for (int x = x0; x < std::min(width_, x0 + tileSize); ++x) {
        if (samplingMask[size_t(y) * size_t(width_) + size_t(x)]) {
          any = true;
          continue;
        }
        t.pixels[within(x, y)] = Pixel{};
        clear(&t.light[within(x, y) * groups_.size()], groups_.size());
      }
    if (!any) t = Tile{};
  }
}

size_t Film::memory() const {
  size_t bytes = samplingMask.capacity();
  for (const Tile& t : tiles_)
    bytes += t.pixels.capacity() * sizeof(Pixel) + t.light.capacity() * sizeof(GroupLight);
  return bytes;
}

void Film::appendTile(int tile, std::string& bytes) const {
  const Tile& t = tiles_[size_t(tile)];
  bytes.append(reinterpret_cast<const char*>(t.pixels.data()), t.pixels.size() * sizeof(Pixel));
  bytes.append(reinterpret_cast<const char*>(t.light.data()), t.light.size() * sizeof(GroupLight));
}

void Film::setTile(int tile, const char* bytes) {
  static_assert(std::is_standard_layout_v<Pixel> && std::is_standard_layout_v<GroupLight>);
  keep(tile);
  foundIn(tile, 0);
  Tile& t = tiles_[size_t(tile)];
  const size_t pixels = t.pixels.size() * sizeof(Pixel);
  std::memcpy(static_cast<void*>(t.pixels.data()), bytes, pixels);
  std::memcpy(static_cast<void*>(t.light.data()), bytes + pixels, t.light.size() * sizeof(GroupLight));
}

void Film::forgetAbove(int end) {
  const int tiles = std::min(int(tiles_.size()), end / tileSize * tilesAcross());
  for (int tile = 0; tile < tiles; ++tile) tiles_[size_t(tile)] = Tile{};
}

Passes Film::resolve(bool all, const Rows& rows) const {
  Passes r;
  const int w = width_, h = rows.count();
  r.beauty = Picture::rgb(w, h), r.alpha = Picture(w, h, {"A"}), r.ratio = Picture::rgb(w, h);
  r.albedo = Picture::rgb(w, h), r.normal = Picture(w, h, {"N.X", "N.Y", "N.Z"}),
  r.depth = Picture(w, h, {"Z"});
  std::fill(r.ratio.pixels.begin(), r.ratio.pixels.end(), 1.0f);
  bool glossy = false, occluded = false;
  for (const Tile& t : tiles_)
    for (const Pixel& p : t.pixels) glossy |= p.squares[mirrorNoise] > 0, occluded |= p.occlusion > 0;
  if (glossy) r.reflection = Picture::rgb(w, h);
  if (all) {
    r.position = Picture(w, h, {"P.X", "P.Y", "P.Z"}), r.facing = Picture(w, h, {"Y"});
    if (occluded) r.occlusion = Picture(w, h, {"Y"});
    r.covers.resize(size_t(w) * size_t(h));
    for (const std::string& name : groups_) {
      GroupPasses g{name, {}, Picture::rgb(w, h), Picture::rgb(w, h), {}};
      for (Picture& part : g.part) part = Picture::rgb(w, h);
      if (glossy) g.mirror = Picture::rgb(w, h);
      r.groups.push_back(std::move(g));
    }
  }
  const auto put = [](Picture& to, size_t i, const Vec3f& v) { std::copy_n(&v.x, 3, &to.pixels[i * 3]); };
  tbb::parallel_for(0, h, [&](int y) {
    for (int x = 0; x < w; ++x) {
      const Pixel* p = pixel(x, rows.first + y);
      if (!p || p->count == 0) continue;
      const size_t i = size_t(y) * size_t(w) + size_t(x);
      const GroupLight* l = light(x, rows.first + y);
      const float n = p->count;
      Rgb beauty(0), with(0), without(0), mirror(0);
      for (size_t g = 0; g < groups_.size(); ++g) {
        for (const Rgb& part : l[g].part) beauty += part;
        with += l[g].with, without += l[g].without, mirror += l[g].mirror;
        if (!all) continue;
        for (int c = 0; c < componentCount; ++c) put(r.groups[g].part[size_t(c)], i, l[g].part[c] / n);
        put(r.groups[g].with, i, l[g].with / n), put(r.groups[g].without, i, l[g].without / n);
        if (glossy) put(r.groups[g].mirror, i, l[g].mirror / n);
      }
      put(r.beauty, i, beauty / n);
      for (size_t c = 0; c < 3; ++c)
        // What few samples of a difference come to may be less than no light.
        if (without[int(c)] > 0) r.ratio.pixels[i * 3 + c] = std::max(0.0f, with[int(c)] / without[int(c)]);
      if (glossy) put(r.reflection, i, mirror / n);
      put(r.albedo, i, (p->diffuse + p->specular) / n);
      if (p->normal.length2() > 0) put(r.normal, i, p->normal.normalized());
      r.alpha.pixels[i] = p->alpha / n;
      if (p->alpha > 0) r.depth.pixels[i] = p->depth / p->alpha;
      if (!all) continue;
      if (p->alpha > 0) put(r.position, i, p->position / p->alpha);
      r.facing.pixels[i] = p->facing / n;
      if (occluded) r.occlusion.pixels[i] = p->occlusion / n;
      r.covers[i] = p->covers;
      auto& list = r.covers[i].list;
      for (Covers::Cover& cover : list) cover.share /= n;
      std::sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.share > b.share; });
    }
  });
  return r;
}

}  // namespace dusk
