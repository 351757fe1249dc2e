#include "core/proof/enlarged.h"

#include <opencv2/core.hpp>

#include "core/base/median.h"

namespace dusk {
namespace {

constexpr int fewest = 192, longest = 4096;  // pixels along a side that are looked at
constexpr int most = 1500;                   // rows and columns that are

/// Mean size of the second derivative of green at each place along a picture's rows, or down its columns.
/// A thing's own edge says nothing and would outweigh all else: it counts as a small one.
std::vector<double> curvatureAlong(const PackedPicture& photo, bool down) {
  const int length = down ? photo.height : photo.width, lines = down ? photo.width : photo.height;
  constexpr float largest = 0.08f;
  std::vector<double> sums(size_t(length) - 2);
  std::vector<float> row(size_t(photo.width) * 3), line(static_cast<size_t>(length));
  for (int l = 0; l < lines; l += 1 + lines / most) {
    if (!down) photo.row(l, row.data());
    for (int i = 0; i < length; ++i) line[size_t(i)] = down ? photo.rgbAt(l, i).y : row[size_t(i) * 3 + 1];
    for (size_t i = 0; i < sums.size(); ++i)
      sums[i] += double(std::min(largest, std::abs(line[i] + line[i + 2] - 2 * line[i + 1])));
  }
  return sums;
}

/// `length` values from there, each over the mean of those around it, running out to both ends.
std::vector<float> windowed(const std::vector<double>& values, size_t from, size_t length) {
  std::vector<float> part(length);
  constexpr int around = 6;  // what changes slowly is the picture's own
  for (size_t i = 0; i < length; ++i) {
    double sum = 0, count = 0;
    for (int d = -around; d <= around; ++d)
      if (const int at = int(from + i) + d; at >= 0 && at < int(values.size()))
        sum += values[size_t(at)], ++count;
    const double window = 0.5 - 0.5 * std::cos(2 * pi * (double(i) + 0.5) / double(length));
    part[i] = float(sum > 0 ? window * (values[from + i] * count / sum - 1) : 0);
  }
  return part;
}

/// The size of each frequency from 0 to half a cycle a pixel, over what is usual beside it.
std::vector<double> standingOut(const std::vector<double>& values, size_t length) {
  std::vector<double> sizes(length / 2 + 1), over(sizes.size());
  const size_t parts = values.size() > length ? 3 : 1;
  for (size_t p = 0; p < parts; ++p) {
    std::vector<float> part =
        windowed(values, parts == 1 ? 0 : p * (values.size() - length) / (parts - 1), length);
    std::vector<cv::Vec2f> out(length);
    cv::dft(cv::Mat(1, int(length), CV_32F, part.data()), cv::Mat(1, int(length), CV_32FC2, out.data()),
            cv::DFT_COMPLEX_OUTPUT);
    for (size_t k = 0; k < sizes.size(); ++k) sizes[k] += std::hypot(double(out[k][0]), double(out[k][1]));
  }
  constexpr int beside = 24;
  for (int k = 0; k < int(sizes.size()); ++k) {
    std::vector<double> others;
    for (int d = -beside; d <= beside; ++d)
      if (const int at = k + d; std::abs(d) > 3 && at > 0 && at < int(sizes.size()))
        others.push_back(sizes[size_t(at)]);
    const double usual = medianInPlace(others);
    over[size_t(k)] = usual > 0 ? sizes[size_t(k)] / usual : 0;
  }
  return over;
}

}  // namespace

std::optional<double> enlargedTrace(const PackedPicture& photo) {
  const int least = std::min(photo.width, photo.height) - 2;
  if (least < fewest) return {};
  const int length = std::min(least, longest) / 8 * 8;  // JPEG's blocks fall on whole frequencies
  const auto across = standingOut(curvatureAlong(photo, false), size_t(length)),
             down = standingOut(curvatureAlong(photo, true), size_t(length));
  double stands = 0;
  for (int k = length / 16; k <= length / 2; ++k) {
    const long blocks = std::lround(k * 8.0 / length) * length / 8;
    if (std::abs(k - blocks) > 2) stands = std::max(stands, std::min(across[size_t(k)], down[size_t(k)]));
  }
  return stands;
}

}  // namespace dusk
