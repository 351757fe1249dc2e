#include "core/trace/denoise_weights.h"

// The same loops for newer processors, chosen when the program starts.
#if defined(__x86_64__) && defined(__ELF__) && !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
#define DUSK_WIDE __attribute__((target_clones("arch=haswell", "default")))
#else
#define DUSK_WIDE
#endif

namespace dusk {
namespace {

/// exp(-d) nearly, and exactly 0 from 4 on.
inline float falloff(float d) {
  const float t = std::max(0.0f, 1 - 0.25f * std::max(0.0f, d)), t2 = t * t;
  return t2 * t2;
}

/// Rows for which both a pixel and the one at (dx, dy) lie in the area, and the columns likewise.
struct Span {
  int x0, x1, y0, y1;
  Span(const Area& a, int dx, int dy)
      : x0(a.x0 + std::max(0, -dx)), x1(a.x1 - std::max(0, dx)), y0(a.y0), y1(a.y1 - dy) {}
  int count() const { return std::max(0, x1 - x0); }
};

constexpr float noiseTolerance = 0.5f;  // k of the papers: how many deviations still count as alike
constexpr float normalTolerance = 0.15f, albedoTolerance = 0.06f, planeTolerance = 0.004f;

DUSK_WIDE void distances(const float* u, const float* v, const float* uq, const float* vq, int n, float* d) {
  for (int i = 0; i < n; ++i) {
    const float difference = u[i] - uq[i], noise = v[i] + vq[i];
    const float floor = 1e-8f + 4e-5f * (u[i] * u[i] + uq[i] * uq[i]);
    d[i] = (difference * difference - noise) / (floor + noiseTolerance * noiseTolerance * noise);
  }
}

DUSK_WIDE void sumRows(const float* d, int stride, int n, float* out) {
  for (int i = 0; i < n; ++i) {
    float sum = 0;
    for (int k = -patchRadius; k <= patchRadius; ++k) sum += d[i + k * stride];
    out[i] = sum;
  }
}

DUSK_WIDE void weightsOf(const float* sums, int n, float* w) {
  constexpr float share = 1.0f / ((2 * patchRadius + 1) * (2 * patchRadius + 1));
  for (int i = 0; i < n; ++i) {
    float sum = 0;
    for (int k = -patchRadius; k <= patchRadius; ++k) sum += sums[i + k];
    w[i] = falloff(sum * share);
  }
}

DUSK_WIDE void featureWeight(const float* const* p, const float* const* q, int n, float* w) {
  // 0..2 normal, 3..5 position, 6..8 albedo, 9 and 10 their variances, 11 reach, 12 cover
  for (int i = 0; i < n; ++i) {
    float normal = 0, albedo = 0, off = 0, offOther = 0;
    for (int c = 0; c < 3; ++c) {
      const float dn = p[c][i] - q[c][i], da = p[6 + c][i] - q[6 + c][i], dp = p[3 + c][i] - q[3 + c][i];
      normal += dn * dn, albedo += da * da, off += dp * p[c][i], offOther += dp * q[c][i];
    }
    const float normalNoise = p[9][i] + q[9][i], albedoNoise = p[10][i] + q[10][i];
    const float dNormal = (normal - normalNoise) / (normalTolerance * normalTolerance + normalNoise),
                dAlbedo = (albedo - albedoNoise) / (albedoTolerance * albedoTolerance + albedoNoise),
                tolerance = planeTolerance * std::min(p[11][i], q[11][i]),
                plane = std::max(off * off, offOther * offOther) / (tolerance * tolerance + 1e-12f);
    // What is not covered by the product has no features, and no part in this.
    const float both = p[12][i] > 0 && q[12][i] > 0 ? 1.0f : 0.0f;
    w[i] = both * falloff(std::max(std::max(dNormal, dAlbedo), plane - 1));
  }
}

DUSK_WIDE void behindWeight(const float* const* p, const float* const* q, int n, float* w) {
  for (int i = 0; i < n; ++i) {
    float away = 0;
    for (int c = 0; c < 3; ++c) {
      const float d = p[c][i] - q[c][i];
      away += d * d;
    }
    const float noise = std::max(p[3][i], 0.0f) + std::max(q[3][i], 0.0f);
    const float known = p[3][i] >= 0 && q[3][i] >= 0 ? 1.0f : 0.0f;
    const float d = (away - noise) / (albedoTolerance * albedoTolerance + noise);
    w[i] *= 1 - known + known * falloff(d);
  }
}

DUSK_WIDE void addWeighted(const float* w, const float* reliability, const float* in, int n, float* out) {
  for (int i = 0; i < n; ++i) out[i] += w[i] * reliability[i] * in[i];
}
DUSK_WIDE void addWeights(const float* w, const float* reliability, int n, float* out) {
  for (int i = 0; i < n; ++i) out[i] += w[i] * reliability[i];
}

}  // namespace

void FeaturePlanes::make(const Block& b) {
  for (int c = 0; c < 3; ++c) normal[c] = b.plane(), position[c] = b.plane(), albedo[c] = b.plane();
  normalVariance = b.plane(), albedoVariance = b.plane(), reach = b.plane(), cover = b.plane();
}

void FeaturePlanes::gather(const Film::Pixel& p, size_t i) {
  const float n = p.alpha;
  const Vec3f meanNormal = p.normal / n, meanPosition = p.position / n;
  const Rgb meanAlbedo = (p.diffuse + p.specular) / n;
  for (int c = 0; c < 3; ++c)
    normal[c][i] = meanNormal[c], position[c][i] = meanPosition[c], albedo[c][i] = meanAlbedo[c];
  normalVariance[i] = std::max(0.0f, 1 - meanNormal.length2()) / n;
  const float l = luminance(meanAlbedo);
  albedoVariance[i] = std::max(0.0f, p.albedo2 / n - l * l) / n;
  reach[i] = p.depth / n;
  cover[i] = n / p.count;
}

void FeaturePlanes::gatherBehind(const Film::Pixel& p, size_t i) {
  if (p.passed <= 0) return;
  if (behindVariance.empty()) {
    for (Plane& plane : behind) plane.assign(cover.size(), 0.0f);
    behindVariance.assign(cover.size(), -1.0f);
  }
  const Rgb meanBehind = p.behind / p.passed;
  for (int c = 0; c < 3; ++c) behind[c][i] = meanBehind[c];
  const float b = luminance(meanBehind);
  behindVariance[i] = std::max(0.0f, p.behind2 / p.passed - b * b) / p.passed;
}

Area areaOf(const Block& b, const Plane& present) {
  Area a{b.width, b.height, 0, 0};
  for (int y = 0; y < b.height; ++y)
    for (int x = 0; x < b.width; ++x)
      if (present[size_t(y) * size_t(b.width) + size_t(x)] > 0)
        a = {std::min(a.x0, x), std::min(a.y0, y), std::max(a.x1, x + 1), std::max(a.y1, y + 1)};
  return {std::max(0, a.x0 - patchRadius), std::max(0, a.y0 - patchRadius),
          std::min(b.width, a.x1 + patchRadius), std::min(b.height, a.y1 + patchRadius)};
}

void smooth(const Block& b, Plane& variance) {
  Plane out = variance;
  for (int y = 1; y + 1 < b.height; ++y)
    for (int x = 1; x + 1 < b.width; ++x) {
      float sum = 0;
      for (int k = -1; k <= 1; ++k)
        for (int m = -1; m <= 1; ++m)
          sum += variance[size_t(y + k) * size_t(b.width) + size_t(x + m)] *
                 float((2 - std::abs(k)) * (2 - std::abs(m)));
      out[size_t(y) * size_t(b.width) + size_t(x)] = sum / 16;
    }
  variance = std::move(out);
}

void featureWeights(const Block& b, const Area& area, const FeaturePlanes& f, int dx, int dy, Plane& weight) {
  const Span s(area, dx, dy);
  const Plane* planes[13] = {&f.normal[0],      &f.normal[1], &f.normal[2], &f.position[0], &f.position[1],
                             &f.position[2],    &f.albedo[0], &f.albedo[1], &f.albedo[2],   &f.normalVariance,
                             &f.albedoVariance, &f.reach,     &f.cover};
  for (int y = s.y0; y < s.y1; ++y) {
    const long at = long(y) * b.width + s.x0, other = long(y + dy) * b.width + s.x0 + dx;
    const float *p[13], *q[13];
    for (int k = 0; k < 13; ++k) p[k] = planes[k]->data() + at, q[k] = planes[k]->data() + other;
    featureWeight(p, q, s.count(), weight.data() + at);
  }
}

void multiplyByBehind(const Block& b, const Area& area, const FeaturePlanes& f, int dx, int dy,
                      Plane& weight) {
  const Span s(area, dx, dy);
  const Plane* planes[4] = {&f.behind[0], &f.behind[1], &f.behind[2], &f.behindVariance};
  for (int y = s.y0; y < s.y1; ++y) {
    const long at = long(y) * b.width + s.x0, other = long(y + dy) * b.width + s.x0 + dx;
    const float *p[4], *q[4];
    for (int k = 0; k < 4; ++k) p[k] = planes[k]->data() + at, q[k] = planes[k]->data() + other;
    behindWeight(p, q, s.count(), weight.data() + at);
  }
}

void signalWeights(const Block& b, const Area& area, const Plane& guide, const Plane& variance, int dx,
                   int dy, Plane& scratch, Plane& weight) {
  const Span s(area, dx, dy);
  for (int y = area.y0; y < area.y1; ++y)
    std::fill_n(weight.begin() + long(y) * b.width + area.x0, area.x1 - area.x0, 0.0f);
  const int n = s.count();
  if (n <= 2 * patchRadius) return;
  for (int y = s.y0; y < s.y1; ++y) {
    const long at = long(y) * b.width + s.x0, other = long(y + dy) * b.width + s.x0 + dx;
    distances(guide.data() + at, variance.data() + at, guide.data() + other, variance.data() + other, n,
              scratch.data() + at);
  }
  Plane row(size_t(b.width));
  for (int y = s.y0 + patchRadius; y < s.y1 - patchRadius; ++y) {
    const long at = long(y) * b.width + s.x0;
    sumRows(scratch.data() + at, b.width, n, row.data());
    weightsOf(row.data() + patchRadius, n - 2 * patchRadius, weight.data() + at + patchRadius);
  }
}

void multiply(const Block& b, const Area& area, Plane& weight, const Plane& by) {
  for (int y = area.y0; y < area.y1; ++y)
    for (size_t i = size_t(y) * size_t(b.width) + size_t(area.x0), n = i + size_t(area.x1 - area.x0); i < n;
         ++i)
      weight[i] *= by[i];
}

void average(const Block& b, const Area& area, const Plane& weight, const Plane& reliability, const Plane& in,
             int dx, int dy, Plane& out) {
  const Span s(area, dx, dy);
  for (int y = s.y0; y < s.y1; ++y) {
    const long at = long(y) * b.width + s.x0, other = long(y + dy) * b.width + s.x0 + dx;
    const float* w = weight.data() + at;
    addWeighted(w, reliability.data() + other, in.data() + other, s.count(), out.data() + at);
    if (dx != 0 || dy != 0)
      addWeighted(w, reliability.data() + at, in.data() + at, s.count(), out.data() + other);
  }
}

void gatherWeights(const Block& b, const Area& area, const Plane& weight, const Plane& reliability, int dx,
                   int dy, Plane& sum) {
  const Span s(area, dx, dy);
  for (int y = s.y0; y < s.y1; ++y) {
    const long at = long(y) * b.width + s.x0, other = long(y + dy) * b.width + s.x0 + dx;
    const float* w = weight.data() + at;
    addWeights(w, reliability.data() + other, s.count(), sum.data() + at);
    if (dx != 0 || dy != 0) addWeights(w, reliability.data() + at, s.count(), sum.data() + other);
  }
}

}  // namespace dusk
