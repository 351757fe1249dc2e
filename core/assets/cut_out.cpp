#include "core/assets/cut_out.h"

#include <opencv2/imgproc.hpp>
#include <sstream>

#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/picture/matte.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

std::vector<cv::Point> onto(const std::vector<Vec2d>& line, double scale, const PixelArea& area) {
  std::vector<cv::Point> points;
  for (const Vec2d& p : line) points.emplace_back(int(p.x * scale) - area.x0, int(p.y * scale) - area.y0);
  return points;
}

/// The loop's box with some of the surroundings, within the picture.
PixelArea boxOf(const CutOut& what, double scale, int width, int height) {
  double x0 = 1e30, y0 = 1e30, x1 = -1e30, y1 = -1e30;
  for (const Vec2d& p : what.loop)
    x0 = std::min(x0, p.x * scale), x1 = std::max(x1, p.x * scale), y0 = std::min(y0, p.y * scale),
    y1 = std::max(y1, p.y * scale);
  const double margin = 8 + 0.06 * std::max(x1 - x0, y1 - y0);
  return {int(std::clamp(x0 - margin, 0.0, double(width))), int(std::clamp(y0 - margin, 0.0, double(height))),
          int(std::clamp(x1 + margin + 1, 0.0, double(width))),
          int(std::clamp(y1 + margin + 1, 0.0, double(height)))};
}

cv::Mat codes8(const Picture& light) {
  cv::Mat codes(light.height, light.width, CV_8UC3);
  for (int y = 0; y < light.height; ++y)
    for (int x = 0; x < light.width; ++x)
      for (int c = 0; c < 3; ++c)
        codes.at<cv::Vec3b>(y, x)[2 - c] =
            uint8_t(255 * std::clamp(srgbEncoded(light.at(x, y)[c]), 0.0f, 1.0f) + 0.5f);
  return codes;
}

/// What GrabCut says belongs to the thing: 0 or 1, [row][column].
cv::Mat found(const cv::Mat& codes, const CutOut& what, double scale, const PixelArea& area) {
  cv::Mat mask(codes.size(), CV_8U, cv::Scalar(cv::GC_BGD)), inside(codes.size(), CV_8U, cv::Scalar(0));
  cv::fillPoly(inside, std::vector{onto(what.loop, scale, area)}, 255);
  mask.setTo(cv::GC_PR_FGD, inside);
  const int thick = std::max(1, int(what.softPx * scale / 2));
  const auto draw = [&](const auto& lines, int as) {
    for (const auto& line : lines)
      cv::polylines(mask, std::vector{onto(line, scale, area)}, false, cv::Scalar(as), thick);
  };
  draw(what.keeps, cv::GC_FGD), draw(what.leaves, cv::GC_BGD);
  if (cv::countNonZero(mask == cv::GC_BGD) == 0 || cv::countNonZero(inside) == 0) return {};
  cv::Mat back, front;
  cv::setRNGSeed(1);
  cv::grabCut(codes, mask, {}, back, front, 5, cv::GC_INIT_WITH_MASK);
  return (mask == cv::GC_FGD) | (mask == cv::GC_PR_FGD);
}

/// Where inside the loop a pixel is not what lies about it on the other side: a strand that was not found.
cv::Mat strange(const Picture& light, const cv::Mat& thing, float reach) {
  cv::Mat back = cv::Mat::zeros(thing.size(), CV_32FC3), weight, codes(thing.size(), CV_32FC3);
  for (int y = 0; y < light.height; ++y)
    for (int x = 0; x < light.width; ++x)
      for (int c = 0; c < 3; ++c)
        codes.at<cv::Vec3f>(y, x)[c] = srgbEncoded(std::max(0.0f, light.at(x, y)[c]));
  cv::Mat outside = ~thing;
  codes.copyTo(back, outside), outside.convertTo(weight, CV_32F, 1 / 255.0);
  // The middle of what lies about, first with the strands in it, then without.
  cv::Mat odd = cv::Mat::zeros(thing.size(), CV_8U);
  const cv::Size around(2 * int(reach) + 9, 2 * int(reach) + 9);
  for (int round = 0; round < 3; ++round) {
    cv::Mat sum, count, deviation(thing.size(), CV_32F);
    back.setTo(cv::Scalar::all(0), odd), weight.setTo(0, odd);
    cv::boxFilter(back, sum, -1, around, {-1, -1}, false),
        cv::boxFilter(weight, count, -1, around, {-1, -1}, false);
    for (int y = 0; y < thing.rows; ++y)
      for (int x = 0; x < thing.cols; ++x) {
        const float n = std::max(1e-3f, count.at<float>(y, x));
        const cv::Vec3f off = codes.at<cv::Vec3f>(y, x) - sum.at<cv::Vec3f>(y, x) / n;
        deviation.at<float>(y, x) = std::sqrt(off.dot(off));
      }
    cv::Mat spread;
    cv::blur(cv::min(deviation, 0.2), spread, around);
    odd = deviation > cv::max(spread * 1.3, 0.03);
  }
  return odd;
}

/// What is known for certain: far enough on either side of the border, and the spine of what is thin.
std::vector<MatteKnown> knownOf(const cv::Mat& thing, const Picture& light, const CutOut& what, double scale,
                                const PixelArea& area) {
  cv::Mat in, out;
  cv::distanceTransform(thing, in, cv::DIST_L2, 5), cv::distanceTransform(~thing, out, cv::DIST_L2, 5);
  const float reach = std::max(1.5f, float(what.softPx * scale / 2)), inner = std::min(reach, 6.0f);
  constexpr float fine = 6;  // so wide a border is asked for where there are strands
  cv::Mat odd = reach > fine ? strange(light, thing, reach) : cv::Mat::zeros(thing.size(), CV_8U);
  cv::Mat inside = cv::Mat::zeros(thing.size(), CV_8U);
  cv::fillPoly(inside, std::vector{onto(what.loop, scale, area)}, 255);
  odd &= inside;
  cv::dilate(odd, odd, cv::Mat::ones(3, 3, CV_8U));
  cv::Mat highest;
  cv::dilate(in, highest, cv::Mat::ones(3, 3, CV_8U));
  std::vector<MatteKnown> known(size_t(thing.rows) * size_t(thing.cols), MatteKnown::nothing);
  for (int y = 0; y < thing.rows; ++y)
    for (int x = 0; x < thing.cols; ++x) {
      const float d = in.at<float>(y, x);
      const bool spine = d >= 1.4f && d >= highest.at<float>(y, x);
      MatteKnown& k = known[size_t(y) * size_t(thing.cols) + size_t(x)];
      if (d > inner || spine) k = MatteKnown::in;
      if (out.at<float>(y, x) > (odd.at<uint8_t>(y, x) ? 1e9f : reach)) k = MatteKnown::out;
    }
  cv::Mat drawn(thing.size(), CV_8U, cv::Scalar(0));
  const int thick = std::max(1, int(what.softPx * scale / 2));
  for (const auto& [lines, as] : {std::pair(&what.keeps, MatteKnown::in), {&what.leaves, MatteKnown::out}}) {
    drawn.setTo(0);
    for (const auto& line : *lines)
      cv::polylines(drawn, std::vector{onto(line, scale, area)}, false, cv::Scalar(255), thick);
    for (size_t i = 0; i < known.size(); ++i)
      if (drawn.data[i]) known[i] = as;
  }
  return known;
}

}  // namespace

Result<std::shared_ptr<CutOutPicture>> cutOut(const CutOut& what, const Picture& photo, double scale) {
  const Error nothing{
      words("The cut-out \"") + what.name +
      words("\" shows nothing: draw its loop round something that differs from what lies behind it.")};
  if (what.loop.size() < 3) return nothing;
  auto made = std::make_shared<CutOutPicture>();
  made->scale = scale;
  made->area = boxOf(what, scale, photo.width, photo.height);
  if (made->area.width() < 4 || made->area.height() < 4) return nothing;
  const Picture light = resizedArea(photo, photo.width, photo.height, made->area);
  try {
    const cv::Mat thing = found(codes8(light), what, scale, made->area);
    if (thing.empty() || cv::countNonZero(thing) == 0) return nothing;
    const std::vector<float> alpha = closedFormMatte(light, knownOf(thing, light, what, scale, made->area));
    const Picture front = foregroundOf(light, alpha);
    made->light = Picture(light.width, light.height, {"R", "G", "B", "A"});
    for (size_t i = 0; i < alpha.size(); ++i) {
      const float a = alpha[i] < 0.004f ? 0 : alpha[i] > 0.996f ? 1 : alpha[i];
      for (size_t c = 0; c < 3; ++c)
        made->light.pixels[i * 4 + c] = a == 1 ? light.pixels[i * 3 + c] : front.pixels[i * 3 + c] * a;
      made->light.pixels[i * 4 + 3] = a;
    }
  } catch (const cv::Exception&) {
    return nothing;
  }
  return made;
}

std::string keyOf(const CutOut& what) {
  std::ostringstream key;
  key.precision(17);
  key << what.softPx;
  const auto add = [&](const std::vector<Vec2d>& line) {
    key << '|';
    for (const Vec2d& p : line) key << p.x << ',' << p.y << ' ';
  };
  add(what.loop);
  for (const auto* lines : {&what.keeps, &what.leaves}) {
    key << '/';
    for (const auto& line : *lines) add(line);
  }
  return key.str();
}

std::optional<StandIn> standInFor(const CutOut& what, const Shot& shot) {
  if (!shot.vantage.solved || what.loop.size() < 3) return {};
  const Camera camera = workingCamera(shot.vantage);
  const Vec3d &eye = camera.position, ahead = camera.axes.z;
  const Vec2d foot = *std::max_element(what.loop.begin(), what.loop.end(),
                                       [](const Vec2d& a, const Vec2d& b) { return a.y < b.y; });
  const Vec3d down = rayThrough(camera, foot);
  double away = 0;
  if (what.standsAtM > 0)
    away = what.standsAtM / down.dot(ahead);
  else if (down.z < 0)
    away = -eye.z / down.z;
  const Vec3d facing = Vec3d(ahead.x, ahead.y, 0);
  if (away <= 0 || facing.length() < 1e-3) return {};
  const Vec3d stands = eye + down * away, n = facing.normalized(), along(n.y, -n.x, 0);
  double least[2]{1e30, 1e30}, most[2]{-1e30, -1e30};
  for (const Vec2d& p : what.loop) {
    const Vec3d ray = rayThrough(camera, p);
    const double t = (stands - eye).dot(n) / ray.dot(n);
    if (!(t > 0) || t > 1e4) return {};
    const Vec3d at = eye + ray * t;
    const double on[2]{(at - stands).dot(along), at.z};
    for (int i = 0; i < 2; ++i) least[i] = std::min(least[i], on[i]), most[i] = std::max(most[i], on[i]);
  }
  StandIn sheet;
  sheet.name = what.name, sheet.kind = StandInKind::sheet, sheet.leanDegrees = 90;
  sheet.turnDegrees = degrees(std::atan2(along.y, along.x));
  sheet.positionM = stands + along * ((least[0] + most[0]) / 2);
  sheet.positionM.z = (least[1] + most[1]) / 2;
  sheet.sizeM = {std::max(0.005, most[0] - least[0]), std::max(0.005, most[1] - least[1]), 0.4};
  return sheet;
}

}  // namespace dusk
