// How quickly a blend is made anew after a change of any of its corrections, at 1920 x 1280 with twelve rows
// and layers: `dusk-bench-blend`. The same as the window shows it while one pulls, and the time of all of it
// against the same chain of OpenCV calls.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <opencv2/imgproc.hpp>

#include "app/preview/quick_blend.h"
#include "tests/made_up_passes.h"

using namespace dusk;

namespace {

constexpr int width = 1920, height = 1280;

double secondsOf(const std::function<void()>& work) {
  const auto begun = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

Shot twelveRows() {
  Shot shot;
  BlendSettings& b = shot.blend;
  using K = CorrectionKind;
  b.exposureEv = 0.3, b.warmth = 0.1;
  b.rows["contact"].corrections = {{K::blur, true, 1, {{"px", 3}}}};
  b.rows["product"].corrections = {{K::contrast, true, 1, {{"amount", 1.1}}},
                                   {K::saturation, true, 1, {{"amount", 0.9}}}};
  b.lens.softPx = {0.6, 0.5, 0.7};
  b.grain.sigma.assign(17, Vec3d(2));
  b.rows["view"].corrections = {{K::curve},
                                {K::hue, true, 1, {{"turn", 8}}},
                                {K::glow, true, 1, {{"px", 100}, {"threshold", 0.7}}},
                                {K::vignette},
                                {K::exposure, true, 1, {{"ev", 0.1}}}};
  b.rows["view"].corrections[0].curve = {{0, 0.02}, {0.5, 0.52}, {1, 0.97}};
  const LayerMode modes[] = {LayerMode::normal,  LayerMode::multiply, LayerMode::screen,
                             LayerMode::overlay, LayerMode::plus,     LayerMode::softLight};
  for (int i = 0; i < 6; ++i) {
    ExtraLayer l;
    l.kind = LayerKind::gradient, l.colour = Vec3d(0.4 + 0.1 * i), l.end = Vec3d(0.6, 0.5, 0.4),
    l.mode = modes[i];
    l.row.strength = 0.2, l.above = i < 3 ? BlendRole::product : BlendRole::grain;
    if (i == 2) l.row.corrections = {{K::blur, true, 1, {{"px", 100}}}};
    b.layers.push_back(l);
  }
  return shot;
}

/// The rows that cost, as one would write them with the other library, on the same two cores.
void withOpenCv(const cv::Mat& plate, const cv::Mat& beauty, const cv::Mat& alpha, const cv::Mat& ratio,
                cv::Mat& codes) {
  cv::Mat shade, product, light, tmp, a3;
  cv::GaussianBlur(ratio, shade, {}, 3);
  cv::multiply(plate, shade, light);
  product = beauty * 1.23;
  cv::pow(product / 0.18, 1.1, product), product *= 0.18;
  const auto saturate = [&](cv::Mat& m, float amount) {
    const float k = 1 - amount, r = 0.2126f * k, g = 0.7152f * k, bl = 0.0722f * k;
    cv::transform(m, m, cv::Matx33f(r + amount, g, bl, r, g + amount, bl, r, g, bl + amount));
  };
  saturate(product, 0.9f);
  cv::GaussianBlur(product, product, {}, 0.6), cv::merge(std::vector<cv::Mat>{alpha, alpha, alpha}, a3);
  cv::GaussianBlur(a3, a3, {}, 0.6);
  cv::multiply(light, cv::Scalar::all(1) - a3, light), light += product;
  const auto encode = [](const cv::Mat& m, cv::Mat& out) {
    cv::pow(cv::max(m, 0), 1 / 2.4, out), out = out * 1.055 - 0.055;
  };
  const auto decode = [](const cv::Mat& m, cv::Mat& out) {
    cv::pow(cv::max((m + 0.055) / 1.055, 0), 2.4, out);
  };
  cv::Mat layer(light.size(), CV_32FC3, cv::Scalar(0.5, 0.5, 0.5)), mode;
  for (int i = 0; i < 6; ++i) {
    if (i == 2) cv::GaussianBlur(layer, layer, {}, 100);
    if (i == 1) cv::multiply(light, layer, mode);
    if (i == 0) mode = layer;
    if (i == 4) mode = light + layer;
    if (i == 2 || i == 3 || i == 5) {
      encode(light, tmp), encode(layer, mode);
      cv::multiply(tmp, mode, a3), mode = tmp + mode - a3;
      decode(mode, mode);
    }
    cv::addWeighted(light, 0.8, mode, 0.2, 0, light);
  }
  encode(light, tmp), tmp = tmp * 0.95 + 0.02, decode(tmp, light);
  saturate(light, 1.02f);
  cv::Mat bright = cv::max(light - 0.7, 0) * 0.1, glow = cv::Mat::zeros(light.size(), CV_32FC3);
  for (const double s : {100.0, 50.0, 25.0, 12.5}) cv::GaussianBlur(bright, tmp, {}, s), glow += tmp * 0.25;
  light = light - bright + glow;
  cv::Mat shadeMap(light.size(), CV_32FC3, cv::Scalar::all(0.95));
  cv::multiply(light, shadeMap, light), light *= 1.07;
  cv::Mat noise(light.size(), CV_32FC3);
  cv::randn(noise, 0, 0.008), light += noise;
  encode(light, tmp), tmp.convertTo(codes, CV_8U, 255);
}

cv::Mat matOf(const Picture& p) {
  return cv::Mat(p.height, p.width, CV_32FC(int(p.channels.size())), const_cast<float*>(p.pixels.data()))
      .clone();
}

}  // namespace

int main() {
  BlendSources sources;
  sources.passes = std::make_shared<Passes>(madeUpPasses(width, height));
  sources.plate = std::make_shared<Picture>(madeUpPlate(width, height));
  const auto view = ColourView::make("plain sRGB");
  Shot shot = twelveRows();
  std::vector<uint8_t> codes(size_t(width) * height * 3);
  Evaluator evaluator;
  const auto frame = [&](Evaluator& by) {
    return secondsOf([&] {
      codes8Of(buildStack(shot, sources), **view, by, [&](int y, int x, int count, const uint8_t* rgb) {
        std::copy_n(rgb, count * 3, &codes[(size_t(y) * width + size_t(x)) * 3]);
      });
    });
  };
  (void)frame(evaluator);
  std::vector<double> all, first;
  BlendInput input;
  input.passes = sources.passes, input.plate = sources.plate, input.assets = std::make_shared<AssetStore>();
  input.wholeWidth = width, input.wholeHeight = height, input.area = {0, 0, width, height};
  Blended blended;
  QuickBlend quick;
  std::vector<double> shown;
  const auto show = [&](bool first) {
    return secondsOf([&] {
      const auto no = [] { return false; };
      std::vector<std::string> notes;
      if (const int step = quick.step(first); step > 1)
        return (void)quick.image(shot, input, **view, step, no);
      const auto made = blended.image(Blended::State::present, shot, input, **view, {}, notes, no);
      quick.fine(made->picture, made->seconds, shot, input);
    });
  };
  (void)show(false), (void)show(true);
  const auto pull = [&](const char* what, const std::function<void(int)>& change) {
    std::vector<double> own;
    for (int i = 0; i < 12; ++i) {
      change(i);
      own.push_back(frame(evaluator));
    }
    for (int i = 0; i < 12; ++i) {
      change(i + 12);
      shown.push_back(show(i == 0));
    }
    first.push_back(own[0]), all.insert(all.end(), own.begin() + 1, own.end());
    std::sort(own.begin() + 1, own.end());
    std::printf("%-28s first %5.1f ms, then median %5.1f, worst %5.1f\n", what, 1e3 * own[0], 1e3 * own[6],
                1e3 * own.back());
  };
  for (auto& [name, row] : shot.blend.rows)
    for (Correction& c : row.corrections) {
      if (c.kind == CorrectionKind::curve) continue;
      const CorrectionField& f = infoOf(c.kind).fields[0];
      const double was = valueOf(c, f.name);
      pull((name + ": " + infoOf(c.kind).name).c_str(),
           [&](int i) { c.values[f.name] = was + f.step * (i + 1); });
    }
  pull("product: exposure", [&](int i) { shot.blend.exposureEv = 0.01 * i; });
  pull("lens: softness", [&](int i) { shot.blend.lens.softPx = Vec3d(0.5 + 0.02 * i); });
  for (size_t k = 0; k < shot.blend.layers.size(); ++k)
    pull(("layer " + std::to_string(k + 1)).c_str(),
         [&](int i) { shot.blend.layers[k].row.strength = 0.2 + 0.01 * i; });
  std::sort(all.begin(), all.end()), std::sort(first.begin(), first.end());
  std::printf(
      "after a change: median %.1f ms, nine of ten within %.1f, worst %.1f (first of a pull: median %.1f, "
      "worst %.1f); held %.0f MB\n",
      1e3 * all[all.size() / 2], 1e3 * all[all.size() * 9 / 10], 1e3 * all.back(),
      1e3 * first[first.size() / 2], 1e3 * first.back(), evaluator.bytes() / 1e6);
  std::sort(shown.begin(), shown.end());
  std::printf("as the window shows it while one pulls: median %.1f ms, nine of ten within %.1f, worst %.1f\n",
              1e3 * shown[shown.size() / 2], 1e3 * shown[shown.size() * 9 / 10], 1e3 * shown.back());
  std::vector<double> ours, theirs;
  const cv::Mat plate = matOf(*sources.plate), beauty = matOf(sources.passes->beauty),
                alpha = matOf(sources.passes->alpha), ratio = matOf(sources.passes->ratio);
  for (int i = 0; i < 5; ++i) {
    Evaluator fresh;
    ours.push_back(frame(fresh));
    cv::Mat out;
    theirs.push_back(secondsOf([&] { withOpenCv(plate, beauty, alpha, ratio, out); }));
  }
  std::sort(ours.begin(), ours.end()), std::sort(theirs.begin(), theirs.end());
  std::printf("all of it anew: %.0f ms; with OpenCV: %.0f ms, %.1f times as long\n", 1e3 * ours[2],
              1e3 * theirs[2], theirs[2] / ours[2]);
}
