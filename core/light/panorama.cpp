#include "core/light/panorama.h"

#include "core/light/cumulative.h"

namespace dusk {

Vec2f panoramaUv(const Vec3f& d) {
  const float u = 0.5f + std::atan2(d.x, d.y) / (2 * pif);
  return {u, std::acos(std::clamp(d.z, -1.0f, 1.0f)) / pif};
}

Vec3f panoramaDirection(const Vec2f& uv) {
  const float azimuth = (uv.x - 0.5f) * 2 * pif, polar = uv.y * pif;
  return {std::sin(polar) * std::sin(azimuth), std::sin(polar) * std::cos(azimuth), std::cos(polar)};
}

std::shared_ptr<const Panorama> Panorama::make(Picture picture) {
  auto p = std::make_shared<Panorama>();
  p->picture_ = std::move(picture);
  // Directions are drawn from cells, which are pixels up to here.
  constexpr int mostCellsAcross = 4096;
  const Picture& all = p->picture_;
  Picture reduced;
  if (all.width > mostCellsAcross)
    reduced =
        resized(all, mostCellsAcross, std::max(1, int(int64_t(all.height) * mostCellsAcross / all.width)));
  const Picture& cells = reduced.empty() ? all : reduced;
  const int w = p->across_ = cells.width, h = p->down_ = cells.height;
  p->rows_.assign(h + 1, 0);
  p->columns_.assign(size_t(h) * (w + 1), 0);
  // The mean of a bilinear lookup over a pixel weighs it and its neighbours 1 : 6 : 1 each way.
  std::vector<float> across(size_t(w) * h);
  p->weights_.resize(size_t(w) * h);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      across[size_t(y) * w + x] =
          (luminance(cells.rgbAt((x + w - 1) % w, y)) + 6 * luminance(cells.rgbAt(x, y)) +
           luminance(cells.rgbAt((x + 1) % w, y))) /
          8;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      p->weights_[size_t(y) * w + x] =
          (across[size_t(std::max(y - 1, 0)) * w + x] + 6 * across[size_t(y) * w + x] +
           across[size_t(std::min(y + 1, h - 1)) * w + x]) /
          8;
  double total = 0, mean = 0;
  for (int y = 0; y < h; ++y) {
    const float sine = std::sin((y + 0.5f) / h * pif);
    p->rowSines_.push_back(sine);
    double row = 0;
    for (int x = 0; x < w; ++x) {
      row += p->weights_[size_t(y) * w + x];
      p->columns_[size_t(y) * (w + 1) + x + 1] = float(row);
    }
    total += row * sine;
    mean += row * sine / w * (pi / 2) / h;
    p->rows_[y + 1] = float(total);
  }
  p->total_ = float(total);
  p->buildTables();
  p->mean_ = float(mean);
  p->coarse_ = resized(p->picture_, 256, 128);
  p->projectIrradiance();
  p->peak_ = p->findBrightest();
  p->rangeEv_ = p->measureRangeEv();
  return p;
}

void Panorama::projectIrradiance() {
  std::fill_n(harmonics_, 9, Rgb(0));
  for (int y = 0; y < 128; ++y)
    for (int x = 0; x < 256; ++x) {
      const Vec3f d = panoramaDirection({(x + 0.5f) / 256, (y + 0.5f) / 128});
      const Rgb light = coarse_.rgbAt(x, y) * (2 * pif / 256 * pif / 128 * std::sin((y + 0.5f) / 128 * pif));
      const float basis[9] = {0.282095f,
                              0.488603f * d.y,
                              0.488603f * d.z,
                              0.488603f * d.x,
                              1.092548f * d.x * d.y,
                              1.092548f * d.y * d.z,
                              0.315392f * (3 * d.z * d.z - 1),
                              1.092548f * d.x * d.z,
                              0.546274f * (d.x * d.x - d.y * d.y)};
      for (int k = 0; k < 9; ++k) harmonics_[k] += light * basis[k];
    }
}

Rgb Panorama::irradiance(const Vec3f& n) const {
  const Rgb* l = harmonics_;
  const Rgb sum =
      (l[8] * (n.x * n.x - n.y * n.y) + (l[4] * (n.x * n.y) + l[7] * (n.x * n.z) + l[5] * (n.y * n.z)) * 2) *
          0.429043f +
      l[6] * (0.743125f * n.z * n.z - 0.247708f) + l[0] * 0.886227f +
      (l[3] * n.x + l[1] * n.y + l[2] * n.z) * (2 * 0.511664f);
  return {std::max(0.0f, sum.x), std::max(0.0f, sum.y), std::max(0.0f, sum.z)};
}

Rgb Panorama::lookup(const Vec2f& uv) const {
  const int w = picture_.width, h = picture_.height;
  const float fx = uv.x * w - 0.5f, fy = std::clamp(uv.y * h - 0.5f, 0.0f, float(h - 1));
  const int x0 = int(std::floor(fx)), y0 = int(fy);
  const float tx = fx - x0, ty = fy - y0;
  const int xa = x0 < 0 ? w - 1 : std::min(x0, w - 1), xb = xa + 1 < w ? xa + 1 : 0;
  const float* row = picture_.pixels.data() + size_t(y0) * size_t(w) * 3;
  const float* next = y0 + 1 < h ? row + size_t(w) * 3 : row;
  const auto at = [](const float* p, int x) { return Rgb(p[3 * x], p[3 * x + 1], p[3 * x + 2]); };
  return (at(row, xa) * (1 - tx) + at(row, xb) * tx) * (1 - ty) +
         (at(next, xa) * (1 - tx) + at(next, xb) * tx) * ty;
}

void Panorama::buildTables() {
  constexpr int wide = FacingTables::across, high = FacingTables::down;
  const int w = across_, h = down_;
  if (w < 2 * wide || h < 2 * high || total_ <= 0) return;
  columnRows_.assign(size_t(wide) * size_t(h + 1), 0);
  for (int c = 0; c <= wide; ++c) firstColumn_.push_back(firstOf(c, wide, w));
  for (int r = 0; r <= high; ++r) firstRow_.push_back(firstOf(r, high, h));
  columnCell_.resize(size_t(w)), rowCell_.resize(size_t(h));
  for (int r = 0; r < high; ++r)
    std::fill(rowCell_.begin() + firstRow_[size_t(r)], rowCell_.begin() + firstRow_[size_t(r) + 1],
              uint8_t(r));
  std::vector<float> light(size_t(wide) * high);
  for (int c = 0; c < wide; ++c) {
    float* rows = &columnRows_[size_t(c) * size_t(h + 1)];
    const int x0 = firstColumn_[size_t(c)], x1 = firstColumn_[size_t(c) + 1];
    std::fill(columnCell_.begin() + x0, columnCell_.begin() + x1, uint8_t(c));
    double sum = 0;
    for (int y = 0; y < h; ++y) {
      double row = 0;
      for (int x = x0; x < x1; ++x) row += double(weights_[size_t(y) * size_t(w) + size_t(x)]);
      sum += row * std::sin((y + 0.5) / h * pi);
      rows[y + 1] = float(sum);
    }
    for (int r = 0; r < high; ++r)
      light[size_t(r) * wide + size_t(c)] = rows[firstRow_[size_t(r) + 1]] - rows[firstRow_[size_t(r)]];
  }
  tables_ = FacingTables(light, [](int x, int y) {
    return panoramaDirection({(float(x) + 0.5f) / wide, (float(y) + 0.5f) / high});
  });
}

int Panorama::facing(const Vec3f& normal) const {
  if (columnRows_.empty()) return anyNormal;
  const int table = FacingTables::of(normal);
  return tables_.isDark(table) ? anyNormal : table;
}

Vec3f Panorama::sampleDirection(const Vec2f& u, int facing) const {
  const int w = across_, h = down_;
  if (total_ <= 0) return {0, 0, 1};
  if (facing == anyNormal) {
    const auto [y, ty] = intervalAt(rows_.data(), h, u.y * total_);
    const float* row = &columns_[size_t(y) * (w + 1)];
    const auto [x, tx] = intervalAt(row, w, u.x * row[w]);
    return panoramaDirection({(x + tx) / w, (y + ty) / h});
  }
  constexpr int wide = FacingTables::across;
  const auto [cell, rest] = tables_.draw(facing, u.y);
  const int c = cell % wide, r = cell / wide, y0 = firstRow_[size_t(r)], x0 = firstColumn_[size_t(c)];
  const float* rows = &columnRows_[size_t(c) * size_t(h + 1)] + y0;
  const int count = firstRow_[size_t(r) + 1] - y0;
  const auto [j, ty] = intervalAt(rows, count, rows[0] + rest * (rows[count] - rows[0]));
  const float* row = &columns_[size_t(y0 + j) * size_t(w + 1)] + x0;
  const int across = firstColumn_[size_t(c) + 1] - x0;
  const auto [i, tx] = intervalAt(row, across, row[0] + u.x * (row[across] - row[0]));
  return panoramaDirection({(float(x0 + i) + tx) / float(w), (float(y0 + j) + ty) / float(h)});
}

Panorama::Seen Panorama::seen(const Vec3f& direction, int facing) const {
  const Vec2f uv = panoramaUv(direction);
  if (total_ <= 0) return {lookup(uv), 0};
  const int w = across_, h = down_;
  const int x = std::clamp(int(uv.x * w), 0, w - 1), y = std::clamp(int(uv.y * h), 0, h - 1);
  // Weight times the row's sine over the total is the pixel's share; the true sine turns area into solid
  // angle.
  const float sine = std::sqrt(std::max(1e-8f, 1 - direction.z * direction.z));
  float share = weights_[size_t(y) * w + x] * rowSines_[size_t(y)];
  if (facing == anyNormal) {
    share /= total_;
  } else {
    const int cell = rowCell_[size_t(y)] * FacingTables::across + columnCell_[size_t(x)];
    const float all = tables_.light(cell);
    share = all > 0 ? share / all * tables_.chance(facing, cell) : 0;
  }
  return {lookup(uv), share * float(w) * float(h) / (2 * pif * pif * sine)};
}

Panorama::Peak Panorama::findBrightest() const {
  const Picture small = resized(coarse_, 128, 64);
  int bestX = 0, bestY = 0;
  float best = -1;
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 128; ++x)
      if (const float l = luminance(small.rgbAt(x, y)); l > best) best = l, bestX = x, bestY = y;
  // The centroid of the full picture around that cell is the direction itself.
  const int w = picture_.width, h = picture_.height;
  Vec3f sum(0);
  float strongest = 0;
  const int x0 = (bestX - 1) * w / 128, x1 = (bestX + 2) * w / 128;
  const int y0 = std::max(0, (bestY - 1) * h / 64), y1 = std::min(h, (bestY + 2) * h / 64);
  for (int pass = 0; pass < 2; ++pass)
    for (int y = y0; y < y1; ++y)
      for (int x = x0; x < x1; ++x) {
        const float l = luminance(picture_.rgbAt((x + w) % w, y));
        if (pass == 0) strongest = std::max(strongest, l);
        if (pass == 1 && l > strongest * 0.25f)
          sum += panoramaDirection({(x + 0.5f) / w, (y + 0.5f) / h}) * l;
      }
  const Vec3f direction = sum.length2() > 0 ? sum.normalized() : Vec3f(0, 0, 1);
  return {direction, mean_ > 0 ? best / mean_ : 0};
}

float Panorama::measureRangeEv() {
  top_ = picture_.pixels.empty() ? 0 : *std::max_element(picture_.pixels.begin(), picture_.pixels.end());
  double all = 0, clipped = 0, nearly = 0;
  for (int y = 0; y < picture_.height; ++y) {
    const double area = std::sin((y + 0.5) / picture_.height * pi);
    for (int x = 0; x < picture_.width; ++x) {
      all += area;
      const float share = maxComponent(picture_.rgbAt(x, y)) / top_;
      (share >= 0.995f ? clipped : nearly) += share >= 0.985f ? area : 0;
    }
  }
  // What is cut off is a plateau with steep sides. The top of a bright cloud has more just below it.
  clipped_ = all > 0 && clipped > 2 * nearly ? float(clipped / all) : 0;
  // Of a large picture every so many pixels tell as much.
  const size_t step = 3 * (1 + picture_.pixels.size() / 3 / 8'000'000);
  std::vector<float> values;
  float top = 0;
  for (size_t i = 0; i + 2 < picture_.pixels.size(); i += 3) {
    const float l = luminance({picture_.pixels[i], picture_.pixels[i + 1], picture_.pixels[i + 2]});
    top = std::max(top, l);
    if (l > 0 && i % step == 0) values.push_back(l);
  }
  if (values.empty()) return 0;
  std::nth_element(values.begin(), values.begin() + long(values.size() / 1000), values.end());
  return std::log2(top / values[values.size() / 1000]);
}

}  // namespace dusk
