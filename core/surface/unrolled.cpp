#include "core/surface/unrolled.h"

#include "core/base/words.h"

#include <cstdio>
#include <opencv2/imgproc.hpp>

namespace dusk {
namespace {

/// More than any print; a sheet is cut at it.
constexpr float widestMm = 5000;

bool isOn(const Decal& decal, const Part& part) {
  return decal.parts.empty() ||
         std::any_of(decal.parts.begin(), decal.parts.end(),
                     [&](const std::string& branch) { return isUnder(part.path, branch); });
}

/// The triangles of the parts that the print would reach, on its sheet.
std::vector<std::array<Vec2f, 3>> trianglesOn(const Decal& decal, const DecalFrame& frame, const Model& model,
                                              double unitMm) {
  std::vector<std::array<Vec2f, 3>> all;
  const float round = 2 * pif * frame.radius;
  for (const Part& part : model.parts) {
    if (!isOn(decal, part)) continue;
    const Mesh& mesh = model.meshOf(part);
    for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
      Vec3f corner[3];
      for (size_t k = 0; k < 3; ++k)
        corner[k] = toFloat(part.place.point(toDouble(mesh.positions[mesh.indices[t + k]])) * unitMm);
      Vec3f out = (corner[1] - corner[0]).cross(corner[2] - corner[0]);
      if (out.length2() <= 0) continue;
      out = out.normalized();
      std::array<Vec2f, 3> on;
      bool reached = true;
      for (size_t k = 0; k < 3 && reached; ++k)
        if (const auto spot = onDecal(decal, frame, corner[k], out))
          on[k] = *spot;
        else
          reached = false;
      if (!reached) continue;
      // Over the seam behind the axis it goes on.
      if (decal.lay == DecalLay::wrapped && decal.turnDegrees == 0)
        for (size_t k = 1; k < 3; ++k) on[k].x -= std::round((on[k].x - on[0].x) / round) * round;
      all.push_back(on);
    }
  }
  return all;
}

std::string number(double v) {
  char text[40];
  std::snprintf(text, sizeof text, "%.3f", v);
  return text;
}

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text)
    out += c == '&' ? std::string("&amp;") : c == '<' ? std::string("&lt;") : std::string(1, c);
  return out;
}

}  // namespace

Result<Unrolled> unrolled(const Decal& decal, const Model& model, double unitMm, double proportion) {
  if (decal.lay == DecalLay::coordinates)
    return Error{words(
        "A print that lies as the mesh unrolls has no true millimetres. Lay it flat or wrapped first.")};
  DecalFrame frame = frameOf(decal, unitMm, float(proportion));
  Unrolled out;
  out.printMm = {double(frame.size.x), double(frame.size.y)};
  frame.size = Vec2f(2 * widestMm);
  const auto triangles = trianglesOn(decal, frame, model, unitMm);
  Vec2f low(1e30f), high(-1e30f);
  for (const auto& t : triangles)
    for (const Vec2f& p : t)
      for (int i = 0; i < 2; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  if (triangles.empty())
    return Error{words("The print reaches no face of its parts. Lay it on one, or give it a longer reach.")};
  // Finer than the grid where it is small, coarser where a grid so large would not fit.
  const float span = std::max(high.x - low.x, high.y - low.y);
  const double grid = std::max(unrolledGridMm, double(span) / 8000);
  const int margin = 4;
  const auto onGrid = [&](const Vec2f& p) {
    constexpr double fine = 256;
    return cv::Point(int(std::lround(((double(p.x) - double(low.x)) / grid + margin) * fine)),
                     int(std::lround(((double(p.y) - double(low.y)) / grid + margin) * fine)));
  };
  cv::Mat cover = cv::Mat::zeros(int(double(high.y - low.y) / grid) + 2 * margin + 2,
                                 int(double(high.x - low.x) / grid) + 2 * margin + 2, CV_8U);
  for (const auto& t : triangles) {
    const cv::Point corners[] = {onGrid(t[0]), onGrid(t[1]), onGrid(t[2])};
    cv::fillConvexPoly(cover, corners, 3, cv::Scalar(255), cv::LINE_8, 8);
  }
  std::vector<std::vector<cv::Point>> contours;
  cv::findContours(cover, contours, cv::RETR_CCOMP, cv::CHAIN_APPROX_TC89_L1);
  for (const auto& contour : contours) {
    if (cv::contourArea(contour) * grid * grid < 1) continue;  // less than a square millimetre
    std::vector<Vec2d>& outline = out.outlines.emplace_back();
    for (const cv::Point& p : contour)
      outline.push_back({double(low.x) + (p.x - margin) * grid, double(low.y) + (p.y - margin) * grid});
  }
  out.low = {double(low.x), double(low.y)}, out.high = {double(high.x), double(high.y)};
  return out;
}

std::string templateSvg(const Unrolled& u, const std::string& name, double bleedMm) {
  const Vec2d size = u.size() + Vec2d(2 * bleedMm);
  // From the sheet's millimetres, up, to the drawing's, down.
  const auto x = [&](double v) { return number(v - u.low.x + bleedMm); };
  const auto y = [&](double v) { return number(u.high.y - v + bleedMm); };
  std::string svg =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" +
      number(size.x) + "mm\" height=\"" + number(size.y) + "mm\" viewBox=\"0 0 " + number(size.x) + " " +
      number(size.y) + "\">\n<title>" + escaped(name) +
      "</title>\n<!-- Draw in the group \"artwork\". The group \"guide\" is never printed. -->\n"
      "<g id=\"artwork\">\n</g>\n<g id=\"guide\" fill=\"none\" stroke-width=\"0.2\">\n";
  for (const auto& outline : u.outlines) {
    svg += "<path stroke=\"#2b6f80\" d=\"";
    for (size_t i = 0; i < outline.size(); ++i)
      svg += (i ? "L" : "M") + x(outline[i].x) + " " + y(outline[i].y);
    svg += "Z\"/>\n";
  }
  svg += "<rect stroke=\"#a04f60\" stroke-dasharray=\"2 1\" x=\"" + number(bleedMm) + "\" y=\"" +
         number(bleedMm) + "\" width=\"" + number(u.size().x) + "\" height=\"" + number(u.size().y) +
         "\"/>\n";
  svg += "<rect stroke=\"#7a7a7a\" stroke-dasharray=\"1 1\" x=\"" + x(-u.printMm.x / 2) + "\" y=\"" +
         y(u.printMm.y / 2) + "\" width=\"" + number(u.printMm.x) + "\" height=\"" + number(u.printMm.y) +
         "\"/>\n";
  return svg + "</g>\n</svg>\n";
}

Picture templatePixels(const Unrolled& u, double bleedMm, double dpi) {
  const Vec2d size = u.size() + Vec2d(2 * bleedMm);
  const double perMm = std::min(dpi / 25.4, 12'000 / std::max(size.x, size.y));
  cv::Mat ink = cv::Mat::zeros(std::max(1, int(std::lround(size.y * perMm))),
                               std::max(1, int(std::lround(size.x * perMm))), CV_8U);
  const auto pixel = [&](const Vec2d& p) {
    return cv::Point(int(std::lround((p.x - u.low.x + bleedMm) * perMm)),
                     int(std::lround((u.high.y - p.y + bleedMm) * perMm)));
  };
  const int thick = std::max(1, int(std::lround(0.2 * perMm)));
  for (const auto& outline : u.outlines) {
    std::vector<cv::Point> line;
    for (const Vec2d& p : outline) line.push_back(pixel(p));
    cv::polylines(ink, line, true, cv::Scalar(255), thick, cv::LINE_AA);
  }
  cv::rectangle(ink, pixel({u.low.x, u.high.y}), pixel({u.high.x, u.low.y}), cv::Scalar(160), thick);
  Picture out(ink.cols, ink.rows, {"R", "G", "B", "A"});
  std::fill(out.pixels.begin(), out.pixels.end(), 0.2f);
  for (int row = 0; row < ink.rows; ++row)
    for (int column = 0; column < ink.cols; ++column)
      out.at(column, row)[3] = float(ink.at<uint8_t>(row, column)) / 255;
  return out;
}

}  // namespace dusk
