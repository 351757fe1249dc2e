#include "core/light/merge.h"

#include <tbb/parallel_for.h>

#include "core/base/dense.h"
#include "core/base/words.h"

namespace dusk {
namespace {

constexpr int codeCount = 256;
constexpr int middleCode = 128;

int codeOf(float v) { return std::clamp(int(std::lround(v * 255)), 0, 255); }

/// A curve over the codes at a value between them, as photos of 16 bits have.
double between(const std::vector<float>& curve, float v) {
  const float at = std::clamp(v * 255, 0.0f, 255.0f);
  const int z = std::min(int(at), codeCount - 2);
  return std::lerp(double(curve[size_t(z)]), double(curve[size_t(z) + 1]), double(at) - z);
}

// ---- shifts
// ------------------------------------------------------------------------------------------------

struct Bits {
  int width = 0, height = 0;
  std::vector<unsigned char> above, sure;  ///< over the median; far enough from it to count
};

std::vector<unsigned char> greyOf(const Picture& p) {
  std::vector<unsigned char> grey(size_t(p.width) * size_t(p.height));
  for (size_t i = 0; i < grey.size(); ++i)
    grey[i] = (unsigned char)codeOf(
        (54 * p.pixels[i * 3] + 183 * p.pixels[i * 3 + 1] + 19 * p.pixels[i * 3 + 2]) / 256);
  return grey;
}

Bits bitsOf(const std::vector<unsigned char>& grey, int width, int height) {
  std::array<size_t, codeCount> histogram{};
  for (const unsigned char g : grey) ++histogram[g];
  int median = 0;
  for (size_t sum = histogram[0]; sum * 2 < grey.size() && median < 255; sum += histogram[size_t(++median)]) {
  }
  Bits bits{width, height, std::vector<unsigned char>(grey.size()), std::vector<unsigned char>(grey.size())};
  for (size_t i = 0; i < grey.size(); ++i)
    bits.above[i] = grey[i] > median, bits.sure[i] = std::abs(int(grey[i]) - median) > 4;
  return bits;
}

/// How many bits differ when `b` is moved by (dx, dy).
size_t differing(const Bits& a, const Bits& b, int dx, int dy) {
  size_t count = 0;
  for (int y = std::max(0, dy); y < std::min(a.height, a.height + dy); ++y)
    for (int x = std::max(0, dx); x < std::min(a.width, a.width + dx); ++x) {
      const size_t i = size_t(y) * size_t(a.width) + size_t(x),
                   k = size_t(y - dy) * size_t(a.width) + size_t(x - dx);
      count += (a.above[i] ^ b.above[k]) & a.sure[i] & b.sure[k];
    }
  return count;
}

/// Shift of `photo` that brings it onto `onto`: from coarse to fine, a pixel each way at every size.
std::pair<int, int> shiftOf(const Picture& onto, const Picture& photo, int levels) {
  int dx = 0, dy = 0;
  for (int level = levels; level >= 0; --level) {
    const int w = std::max(8, onto.width >> level), h = std::max(8, onto.height >> level);
    const Bits a = bitsOf(greyOf(resized(onto, w, h)), w, h), b = bitsOf(greyOf(resized(photo, w, h)), w, h);
    dx *= 2, dy *= 2;
    size_t best = size_t(-1);
    int bestX = dx, bestY = dy;
    for (const int y : {0, -1, 1})
      for (const int x : {0, -1, 1})
        if (const size_t d = differing(a, b, dx + x, dy + y); d < best)
          best = d, bestX = dx + x, bestY = dy + y;
    dx = bestX, dy = bestY;
  }
  return {dx, dy};
}

Picture moved(const Picture& from, int dx, int dy) {
  if (dx == 0 && dy == 0) return from;
  Picture out = from;
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x)
      std::copy_n(from.at(std::clamp(x - dx, 0, from.width - 1), std::clamp(y - dy, 0, from.height - 1)), 3,
                  out.at(x, y));
  return out;
}

// ---- response
// ----------------------------------------------------------------------------------------------

/// Codes near black and white tell little: a hat over the range.
double trust(int code) { return code < 3 || code > 250 ? 0.0 : std::min(code - 2, 251 - code) / 125.0; }

/// Pixels whose neighbourhood is even in every photo, spread over the codes of the middle one: edges would
/// only tell of blur and shifts.
std::vector<size_t> calmPixels(const std::vector<Exposure>& photos) {
  const Picture& middle = photos[photos.size() / 2].codes;
  std::vector<std::pair<float, size_t>> byCode[32];
  const int step = std::max(1, int(std::sqrt(double(middle.width) * middle.height / 60'000)));
  for (int y = 2; y + 2 < middle.height; y += step)
    for (int x = 2; x + 2 < middle.width; x += step) {
      float rough = 0;
      for (const Exposure& p : photos)
        for (const auto& [dx, dy] : {std::pair(-2, 0), {2, 0}, {0, -2}, {0, 2}})
          rough += std::abs(p.codes.at(x + dx, y + dy)[1] - p.codes.at(x, y)[1]);
      // Sorted by the mean code over all photos: so dark and bright places are both there.
      float mean = 0;
      for (const Exposure& p : photos) mean += p.codes.at(x, y)[1];
      const int bin = std::clamp(int(mean / float(photos.size()) * 32), 0, 31);
      byCode[bin].push_back({rough, size_t(y) * size_t(middle.width) + size_t(x)});
    }
  std::vector<size_t> chosen;
  for (auto& bin : byCode) {
    const size_t most = std::min<size_t>(bin.size(), 24);
    std::partial_sort(bin.begin(), bin.begin() + long(most), bin.end());
    for (size_t i = 0; i < most; ++i) chosen.push_back(bin[i].second);
  }
  return chosen;
}

/// log2 of light times seconds for each code of a channel: smooth, 0 in the middle. Solved three times, each
/// time trusting less what does not fit (Huber 1964).
std::vector<float> responseOf(const std::vector<Exposure>& photos, const std::vector<size_t>& pixels,
                              size_t channel) {
  const int unknowns = codeCount + int(pixels.size());
  constexpr double smooth = 1;
  Eigen::VectorXd x = Eigen::VectorXd::Zero(unknowns);
  for (int pass = 0; pass < 3; ++pass) {
    // The pixels' lights couple with the curve only: they are eliminated, 256 unknowns are left (Schur).
    Eigen::MatrixXd a = Eigen::MatrixXd::Zero(codeCount, codeCount);
    Eigen::VectorXd b = Eigen::VectorXd::Zero(codeCount);
    std::vector<std::pair<double, double>> lights(pixels.size());  // weight and right side
    for (size_t i = 0; i < pixels.size(); ++i) {
      std::vector<std::tuple<int, double, double>> seen;  // code, weight, log seconds
      double all = 0, side = 0;
      for (const Exposure& p : photos) {
        const int code = codeOf(p.codes.pixels[pixels[i] * 3 + channel]);
        double w = trust(code);
        w *= w;
        if (w <= 0) continue;
        const double t = std::log2(p.seconds);
        if (pass > 0) {
          const double off = std::abs(x[code] - x[codeCount + int(i)] - t);
          w *= off < 0.1 ? 1 : 0.1 / off;
        }
        seen.emplace_back(code, w, t);
        all += w, side += w * -t;
      }
      if (seen.size() < 2) continue;
      lights[i] = {all, side};
      for (const auto& [code, w, t] : seen) {
        a(code, code) += w, b[code] += w * t;
        b[code] += w * side / all;
        for (const auto& [other, v, s] : seen) a(code, other) -= w * v / all;
      }
    }
    // Exposures in even steps leave open whatever repeats with the step: of all curves that fit, the one that
    // differs most smoothly from a plain power of 2.2, over log2 of the code.
    for (int z = 1; z + 1 < codeCount; ++z) {
      const double w = smooth / z;
      const double at = z + 0.5, k[3] = {at * at - at / 2, -2 * at * at, at * at + at / 2};
      double plain = 0;
      for (int i = 0; i < 3; ++i) plain += k[i] * 2.2 * std::log2(at + i - 1);
      for (int i = 0; i < 3; ++i) {
        b[z + i - 1] += w * k[i] * plain;
        for (int j = 0; j < 3; ++j) a(z + i - 1, z + j - 1) += w * k[i] * k[j];
      }
    }
    a(middleCode, middleCode) += 1e4;
    const Eigen::VectorXd curve = solveSymmetric(a, b);
    x.head(codeCount) = curve;
    for (size_t i = 0; i < pixels.size(); ++i) {
      if (lights[i].first <= 0) continue;
      double sum = lights[i].second;
      for (const Exposure& p : photos) {
        const int code = codeOf(p.codes.pixels[pixels[i] * 3 + channel]);
        sum += trust(code) * trust(code) * curve[code];
      }
      x[codeCount + int(i)] = sum / lights[i].first;
    }
  }
  std::vector<float> response(codeCount);
  for (int z = 0; z < codeCount; ++z) response[size_t(z)] = float(x[z] - x[middleCode]);
  for (int z = 1; z < codeCount; ++z)
    response[size_t(z)] = std::max(response[size_t(z)], response[size_t(z - 1)]);
  return response;
}

/// Brings the photos over each other, from the middle one outwards; how far each was moved.
std::vector<std::pair<int, int>> alignExposures(std::vector<Exposure>& photos) {
  const size_t count = photos.size(), middle = count / 2;
  std::vector<std::pair<int, int>> shifts(count, {0, 0});
  // Neighbours in exposure have most in common; the shifts add up from the middle outwards.
  const int levels = std::clamp(int(std::log2(std::max(photos[0].codes.width, 64) / 64.0)), 0, 4);
  std::vector<std::pair<int, int>> steps(count);
  tbb::parallel_for(size_t{0}, count, [&](size_t i) {
    if (i != middle) steps[i] = shiftOf(photos[i < middle ? i + 1 : i - 1].codes, photos[i].codes, levels);
  });
  for (size_t i = middle; i-- > 0;)
    shifts[i] = {shifts[i + 1].first + steps[i].first, shifts[i + 1].second + steps[i].second};
  for (size_t i = middle + 1; i < count; ++i)
    shifts[i] = {shifts[i - 1].first + steps[i].first, shifts[i - 1].second + steps[i].second};
  for (size_t i = 0; i < count; ++i)
    photos[i].codes = moved(photos[i].codes, shifts[i].first, shifts[i].second);
  return shifts;
}

using Curves = decltype(Merged::response);

/// What one code's step is in log2 of light: how exactly a code can say it.
std::array<std::vector<float>, 3> slopesOf(const Curves& response) {
  std::array<std::vector<float>, 3> slope;
  for (size_t c = 0; c < 3; ++c) {
    slope[c].resize(codeCount);
    for (int z = 0; z < codeCount; ++z) {
      const int a = std::max(0, z - 2), b = std::min(255, z + 2);
      slope[c][size_t(z)] = std::max(1e-4f, (response[c][size_t(b)] - response[c][size_t(a)]) / float(b - a));
    }
  }
  return slope;
}

/// One row of the merged light; how many values were left out as moved things, and of how many.
std::pair<size_t, size_t> mergeRow(const std::vector<Exposure>& photos, const Curves& response,
                                   const std::array<std::vector<float>, 3>& slope, int y, Picture& light) {
  const size_t count = photos.size(), middle = count / 2;
  size_t left = 0, all = 0;
  for (int x = 0; x < light.width; ++x) {
    // The photo that says most about this pixel in all channels; the others must agree with it.
    size_t best = middle;
    double most = -1;
    for (size_t i = 0; i < count; ++i) {
      const float* p = photos[i].codes.at(x, y);
      double worst = 1;
      for (int c = 0; c < 3; ++c) worst = std::min(worst, trust(codeOf(p[c])));
      if (worst > most) most = worst, best = i;
    }
    // All channels out of every photo's range: the shortest says what is brightest, the longest what is
    // dark.
    if (most <= 0) best = photos[middle].codes.at(x, y)[1] > 0.5f ? 0 : count - 1;
    for (size_t c = 0; c < 3; ++c) {
      const auto says = [&](size_t i) {
        return between(response[c], photos[i].codes.at(x, y)[c]) - std::log2(photos[i].seconds);
      };
      const double reference = says(best);
      const int referenceCode = codeOf(photos[best].codes.at(x, y)[c]);
      double sum = 0, weight = 0;
      for (size_t i = 0; i < count; ++i) {
        const int code = codeOf(photos[i].codes.at(x, y)[c]);
        if (trust(code) <= 0 && i != best) continue;
        const double sigma = double(slope[c][size_t(code)]);
        // Two codes of noise each, and a tenth of an EV for the response.
        const double may = 0.1 + 4 * std::hypot(sigma, double(slope[c][size_t(referenceCode)]));
        ++all;
        if (i != best && std::abs(says(i) - reference) > may) {
          ++left;
          continue;
        }
        const double k = std::max(1e-3, std::min(1.0, 4 * trust(code))) / (sigma * sigma);
        sum += k * std::exp2(says(i)), weight += k;
      }
      light.at(x, y)[c] = weight > 0 ? float(sum / weight) : float(std::exp2(reference));
    }
  }
  return {left, all};
}

}  // namespace

Result<Merged> mergeBracket(std::vector<Exposure> photos, Progress& progress) {
  if (photos.size() < 2)
    return Error{words("Choose at least two photos of the same view at different exposures.")};
  for (const Exposure& p : photos) {
    if (p.codes.width != photos[0].codes.width || p.codes.height != photos[0].codes.height ||
        p.codes.channels.size() < 3)
      return Error{words("The photos of a bracket must all have the same size.")};
    if (!(p.seconds > 0))
      return Error{words("Every photo needs its exposure: the files do not say it. Type it in EV.")};
  }
  std::sort(photos.begin(), photos.end(),
            [](const Exposure& a, const Exposure& b) { return a.seconds < b.seconds; });
  if (photos.back().seconds < photos.front().seconds * 1.2)
    return Error{words("The photos all have the same exposure: there is nothing to merge.")};
  Merged out;
  const size_t middle = photos.size() / 2;
  out.shifts = alignExposures(photos);
  progress.report(0.4);
  if (progress.cancelled()) return cancelledError();

  const std::vector<size_t> calm = calmPixels(photos);
  tbb::parallel_for(size_t{0}, size_t{3}, [&](size_t c) { out.response[c] = responseOf(photos, calm, c); });
  progress.report(0.7);
  if (progress.cancelled()) return cancelledError();

  const int w = photos[0].codes.width, h = photos[0].codes.height;
  out.light = Picture::rgb(w, h);
  const auto slope = slopesOf(out.response);
  std::atomic<size_t> ghosts{0}, values{0};
  tbb::parallel_for(0, h, [&](int y) {
    const auto [left, all] = mergeRow(photos, out.response, slope, y, out.light);
    ghosts += left, values += all;
  });
  out.ghostShare = values ? double(ghosts) / double(values) : 0;
  // As the middle exposure saw it: its white is 1.
  const double scale = photos[middle].seconds / std::exp2(double(out.response[1][255]));
  std::vector<float> grey;
  for (size_t i = 0; i < out.light.pixels.size(); ++i) out.light.pixels[i] *= float(scale);
  for (size_t i = 0; i < out.light.pixels.size(); i += 3)
    grey.push_back(luminance({out.light.pixels[i], out.light.pixels[i + 1], out.light.pixels[i + 2]}));
  const auto low = grey.begin() + long(grey.size() / 1000);
  std::nth_element(grey.begin(), low, grey.end());
  const float darkest = *low;
  out.rangeEv =
      std::log2(double(*std::max_element(grey.begin(), grey.end())) / std::max(1e-9, double(darkest)));
  progress.report(1);
  return out;
}

}  // namespace dusk
