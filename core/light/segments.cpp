#include "core/light/segments.h"

#include <tbb/parallel_for.h>

#include <opencv2/imgproc.hpp>

namespace dusk {

std::vector<Segment> segmentsOf(const std::vector<Cut>& cuts, double scale, double shortest) {
  std::vector<std::vector<Segment>> each(cuts.size());
  tbb::parallel_for(size_t{0}, cuts.size(), [&](size_t i) {
    std::vector<cv::Vec4f> found;
    cv::Mat grey = cuts[i].grey;
    if (scale < 1) cv::resize(cuts[i].grey, grey, {}, scale, scale, cv::INTER_AREA);
    cv::createLineSegmentDetector(cv::LSD_REFINE_STD)->detect(grey, found);
    for (const cv::Vec4f& s : found) {
      const auto end = [&](float x, float y) {
        return cuts[i].direction((double(x) + 0.5) / scale, (double(y) + 0.5) / scale);
      };
      const Vec3d a = end(s[0], s[1]), b = end(s[2], s[3]), across = a.cross(b);
      const double sine = across.length();
      if (sine >= std::sin(shortest))
        each[i].push_back({across / sine, (a + b).normalized(), std::asin(sine)});
    }
  });
  std::vector<Segment> all;
  for (const auto& some : each) all.insert(all.end(), some.begin(), some.end());
  return all;
}

}  // namespace dusk
