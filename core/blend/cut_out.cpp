#include "core/blend/cut_out.h"

#include <opencv2/imgproc.hpp>

#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/blend/combine.h"
#include "core/blend/matte.h"

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

Result<std::shared_ptr<const CutOutPicture>> cutOut(const CutOut& what, const Picture& photo, double scale) {
  const Error nothing{
      words("The cut-out \"") + what.name +
      words("\" shows nothing: draw its loop round something that differs from what lies behind it.")};
  if (what.loop.size() < 3) return nothing;
  auto made = std::make_shared<CutOutPicture>();
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
  return std::shared_ptr<const CutOutPicture>(made);
}

std::string CutOutStore::keyOf(const Photo& photo, const CutOut& what) const {
  NodeKey key("cut-out");
  key.with(&photo).with(what.loop).with(what.softPx);
  for (const auto* lines : {&what.keeps, &what.leaves})
    for (const auto& line : *lines) key.with(line);
  return key.text();
}

namespace {
/// Loops that were drawn otherwise since, and bands of a large picture that are done, are not needed again.
void trim(AssetCache<CutOutPicture>& cache) {
  constexpr size_t most = size_t{256} << 20;
  while (cache.bytes() > most && cache.oldestUse()) cache.dropOldest();
}
}  // namespace

Result<std::shared_ptr<const CutOutPicture>> CutOutStore::find(const Shot& shot, const CutOut& what) {
  const auto photo = assets_.photo(shot);
  if (!photo) return photo.error();
  trim(made_);
  return made_.get(keyOf(**photo, what), [&]() -> Result<std::shared_ptr<const CutOutPicture>> {
    const auto plate = assets_.plate(shot);
    if (!plate) return plate.error();
    return cutOut(what, **plate, double((*plate)->width) / (*photo)->picture.width);
  });
}

Result<std::shared_ptr<const CutOutPicture>> CutOutStore::inFrame(const Shot& shot, const CutOut& what,
                                                                  const BlendFrame& frame) {
  const auto photo = assets_.photo(shot);
  if (!photo) return photo.error();
  trim(framed_);
  const std::string key = NodeKey(keyOf(**photo, what)).with(frame.whole).with(frame.width).text();
  return framed_.get(key, [&]() -> Result<std::shared_ptr<const CutOutPicture>> {
    const auto plate = assets_.plate(shot);
    if (!plate) return plate.error();
    const auto made = find(shot, what);
    if (!made || ((*plate)->width == frame.width && (*plate)->height == frame.height)) return made;
    // Made smaller or larger as the plate is, so that a pixel of both shows the same.
    Picture all((*plate)->width, (*plate)->height, {"R", "G", "B", "A"});
    const CutOutPicture& own = **made;
    for (int y = 0; y < own.light.height; ++y)
      std::copy_n(own.light.at(0, y), own.light.width * 4, all.at(own.area.x0, y + own.area.y0));
    return std::make_shared<const CutOutPicture>(
        CutOutPicture{resizedArea(all, frame.width, frame.height, frame.whole), frame.whole});
  });
}

namespace {

/// Nothing outside of a smaller picture's area.
class Placed : public Node {
 public:
  Placed(std::shared_ptr<const CutOutPicture> made, const PixelArea& whole)
      : Node(whole, 4, {}, NodeKey("placed").with(made.get()).with(whole)), made_(std::move(made)) {}
  void make(std::span<const Sheet>, Sheet& to) const override {
    const PixelArea& a = made_->area;
    for (int c = 0; c < 4; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        for (int x = to.area.x0; x < to.area.x1; ++x)
          to.row(c, y)[x - to.area.x0] =
              x >= a.x0 && x < a.x1 && y >= a.y0 && y < a.y1 ? made_->light.at(x - a.x0, y - a.y0)[c] : 0.0f;
  }

 private:
  std::shared_ptr<const CutOutPicture> made_;
};

}  // namespace

NodePtr cutOutNode(std::shared_ptr<const CutOutPicture> made, const CutOut& what, const BlendFrame& frame) {
  const NodePtr thing = held(std::make_shared<Placed>(std::move(made), frame.whole));
  if (what.standsAtM <= 0 || !frame.depth) return thing;
  const float at = float(what.standsAtM);
  return combined({thing, frame.depth}, 4, NodeKey("stands at").with(at),
                  [at](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < 4; ++c)
                      for (int i = 0; i < count; ++i)
                        out[c][i] = in[1][0][i] > 0 && in[1][0][i] < at ? 0.0f : in[0][c][i];
                  });
}

}  // namespace dusk
