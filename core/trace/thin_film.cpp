#include "core/trace/thin_film.h"

#include <array>
#include <complex>

#include "core/trace/fresnel.h"

namespace dusk {
namespace {

/// The eye's curves in the frequency domain, as sums of Gaussians, at an optical path difference in metres:
/// XYZ brought to linear Rec.709.
Rgb sensitivity(float path, const Rgb& shift) {
  const float phase = 2 * pif * path * 1e-9f;
  const Rgb val(5.4856e-13f, 4.4201e-13f, 5.2481e-13f), pos(1.6810e+06f, 1.7953e+06f, 2.2084e+06f),
      var(4.3278e+09f, 9.3046e+09f, 6.6121e+09f);
  Rgb xyz;
  for (int c = 0; c < 3; ++c)
    xyz[c] = val[c] * std::sqrt(2 * pif * var[c]) * std::cos(pos[c] * phase + shift[c]) *
             std::exp(-phase * phase * var[c]);
  xyz.x += 9.7470e-14f * std::sqrt(2 * pif * 4.5282e+09f) * std::cos(2.2399e+06f * phase + shift.x) *
           std::exp(-4.5282e+09f * phase * phase);
  xyz /= 1.0685e-7f;
  return {3.2404542f * xyz.x - 1.5371385f * xyz.y - 0.4985314f * xyz.z,
          -0.9692660f * xyz.x + 1.8760108f * xyz.y + 0.0415560f * xyz.z,
          0.0556434f * xyz.x - 0.2040259f * xyz.y + 1.0572252f * xyz.z};
}

}  // namespace

Rgb filmedReflectance(const Rgb& base, float filmNm, float filmIor, float cosine, float rise) {
  const float c1 = std::clamp(cosine, 0.02f, 1.0f);
  // A film that is hardly there must not show.
  const float eta = 1 + (filmIor - 1) * std::min(1.0f, filmNm / 30);
  const float c2 = std::sqrt(std::max(0.0f, 1 - (1 - c1 * c1) / (eta * eta)));
  const float r12 = schlickReflectance(normalReflectance(eta), c1), t121 = 1 - r12;
  Rgb r23, phase, r123;
  for (int c = 0; c < 3; ++c) {
    const float root = std::sqrt(std::clamp(base[c], 0.0f, 0.9999f)),
                ior = (1 + root) / std::max(1e-4f, 1 - root);
    const float at = (ior - eta) / (ior + eta);
    r23[c] = schlickReflectance(at * at, c2);
    phase[c] = pif + (ior < eta ? pif : 0.0f);  // half a wave where the film is the denser, at its top always
    if (eta < 1) phase[c] -= pif;
    r123[c] = std::clamp(r12 * r23[c], 1e-5f, 0.9999f);
  }
  const float path = 2 * eta * filmNm * c2;
  Rgb sum, term;
  for (int c = 0; c < 3; ++c) {
    const float rs = t121 * t121 * r23[c] / (1 - r123[c]);
    sum[c] = r12 + rs, term[c] = rs - t121;
  }
  for (int m = 1; m <= 2; ++m) {
    for (int c = 0; c < 3; ++c) term[c] *= std::sqrt(r123[c]);
    const Rgb s = sensitivity(float(m) * path, phase * float(m));
    for (int c = 0; c < 3; ++c) sum[c] += term[c] * 2 * s[c];
  }
  for (int c = 0; c < 3; ++c) {  // back to normal incidence
    const float seen = std::clamp(sum[c], 0.0f, 1.0f);
    sum[c] = std::clamp((seen - rise) / std::max(1e-3f, 1 - rise), 0.0f, 1.0f);
  }
  return sum;
}

}  // namespace dusk
