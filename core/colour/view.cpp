#include "core/colour/view.h"

#include <tbb/parallel_for.h>

#include <sstream>

#include "core/base/words.h"
#include "core/colour/ocio_view.h"

namespace dusk {
namespace {

// The configuration we ship. Reference space: scene-linear Rec.709; one sRGB display, three views of it.
// The soft shoulder leaves everything below middle grey alone and lets four stops above white roll off.
constexpr const char* shippedConfig = R"yaml(ocio_profile_version: 2
roles: {default: linear, scene_linear: linear}
file_rules:
  - !<Rule> {name: Default, colorspace: default}
displays:
  sRGB:
    - !<View> {name: plain sRGB, colorspace: srgb}
    - !<View> {name: soft shoulder, colorspace: soft}
    - !<View> {name: ACES, colorspace: aces}
active_displays: [sRGB]
active_views: [plain sRGB, soft shoulder, ACES]
colorspaces:
  - !<ColorSpace>
    name: linear
    encoding: scene-linear
  - !<ColorSpace>
    name: srgb
    encoding: sdr-video
    from_scene_reference: !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}
  - !<ColorSpace>
    name: soft
    encoding: sdr-video
    from_scene_reference: !<GroupTransform>
      children:
        - !<LogCameraTransform> {base: 2, log_side_slope: 0.11, log_side_offset: 0.62, lin_side_slope: 1, lin_side_offset: 0.012, lin_side_break: 0.04}
        - !<GradingRGBCurveTransform>
          style: video
          master: {control_points: [-0.1, -0.02, 0, 0.0, 0.17, 0.16, 0.4, 0.44, 0.62, 0.735, 0.86, 0.93, 1.06, 1.0, 1.3, 1.05]}
  - !<ColorSpace>
    name: aces
    encoding: sdr-video
    from_scene_reference: !<GroupTransform>
      children:
        - !<MatrixTransform> {matrix: [0.43963298, 0.38298870, 0.17737832, 0, 0.08977644, 0.81343943, 0.09678413, 0, 0.01754117, 0.11154655, 0.87091228, 0, 0, 0, 0, 1]}
        - !<BuiltinTransform> {style: ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0}
        - !<MatrixTransform> {matrix: [3.24096994, -1.53738318, -0.49861076, 0, -0.96924364, 1.8759675, 0.04155506, 0, 0.05563008, -0.20397696, 1.05697151, 0, 0, 0, 0, 1]}
        - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}
)yaml";

void apply(const OCIO::ConstCPUProcessorRcPtr& processor, float* rgb, size_t count) {
  // OpenColorIO counts pixels in long; a row of at most 1e6 keeps any sum far from its limits.
  for (size_t at = 0; at < count; at += 1'000'000) {
    OCIO::PackedImageDesc block(rgb + at * 3, long(std::min<size_t>(1'000'000, count - at)), 1, 3);
    processor->apply(block);
  }
}

/// Empty where colours tell that channels are mixed.
std::vector<float> tableOf(const OCIO::ConstCPUProcessorRcPtr& toScene, int levels) {
  const float top = float(levels - 1);
  std::vector<float> greys(size_t(levels) * 3), colours(size_t(levels) * 3), table;
  const auto code = [&](int i, int c) {
    return size_t(i * (c == 0 ? 1 : c == 1 ? 7 : 31) + c * 101) % size_t(levels);
  };
  for (int i = 0; i < levels; ++i)
    for (int c = 0; c < 3; ++c) {
      greys[size_t(i) * 3 + size_t(c)] = float(i) / top;
      colours[size_t(i) * 3 + size_t(c)] = float(code(i, c)) / top;
    }
  apply(toScene, greys.data(), size_t(levels));
  apply(toScene, colours.data(), size_t(levels));
  for (int i = 0; i < levels; ++i)
    for (int c = 0; c < 3; ++c)
      if (greys[size_t(i) * 3 + size_t(c)] != greys[size_t(i) * 3] ||
          colours[size_t(i) * 3 + size_t(c)] != greys[code(i, c) * 3])
        return {};
  for (int i = 0; i < levels; ++i) table.push_back(greys[size_t(i) * 3]);
  return table;
}

}  // namespace

const std::vector<float>& ColourView::sceneTable(int levels) const {
  const size_t which = levels > 256;
  std::call_once(processors_->made[which],
                 [&] { processors_->tables[which] = tableOf(processors_->toScene, levels); });
  return processors_->tables[which];
}

ColourView::ColourView(std::unique_ptr<Processors> processors) : processors_(std::move(processors)) {}
ColourView::~ColourView() = default;

std::vector<std::string> ColourView::names() { return {"plain sRGB", "soft shoulder", "ACES"}; }

std::shared_ptr<const ColourView> viewFrom(const OCIO::ConstConfigRcPtr& config,
                                           const OCIO::ConstTransformRcPtr& toDisplay, bool isSrgb) {
  const auto processor = [&](const OCIO::ConstTransformRcPtr& way, OCIO::TransformDirection direction) {
    // Lossless: the fast power approximations would cost the identity rule its exactness.
    return config->getProcessor(way, direction)
        ->getOptimizedCPUProcessor(OCIO::BIT_DEPTH_F32, OCIO::BIT_DEPTH_F32, OCIO::OPTIMIZATION_LOSSLESS);
  };
  auto both = std::make_unique<ColourView::Processors>();
  both->isSrgb = isSrgb;
  both->toDisplay = processor(toDisplay, OCIO::TRANSFORM_DIR_FORWARD);
  try {
    both->toScene = processor(toDisplay, OCIO::TRANSFORM_DIR_INVERSE);
  } catch (const OCIO::Exception&) {
    const auto curve = OCIO::ExponentWithLinearTransform::Create();
    constexpr double gamma[] = {2.4, 2.4, 2.4, 1}, offset[] = {0.055, 0.055, 0.055, 0};
    curve->setGamma(gamma), curve->setOffset(offset);
    both->toScene = processor(curve, OCIO::TRANSFORM_DIR_FORWARD), both->undone = false;
  }
  return std::make_shared<ColourView>(std::move(both));
}

std::string saidBy(const std::exception& error) {
  std::string why = error.what();
  if (const size_t end = why.find('\n'); end != std::string::npos) why.resize(end);
  return why.substr(0, 200);
}

Result<std::shared_ptr<const ColourView>> ColourView::make(const std::string& name) {
  try {
    std::istringstream text(shippedConfig);
    const auto view = OCIO::DisplayViewTransform::Create();
    view->setSrc("linear");
    view->setDisplay("sRGB");
    view->setView(name.c_str());
    return viewFrom(OCIO::Config::CreateFromStream(text), view, true);
  } catch (const OCIO::Exception& error) {
    return Error{words("The view '") + name + words("' is not available: ") + error.what()};
  }
}

bool ColourView::isSrgb() const { return processors_->isSrgb; }

const RoundTrip& ColourView::roundTrip() const {
  std::call_once(processors_->tripMade, [this] {
    constexpr int step = 15;
    std::vector<float> in;
    for (int r = 0; r < 256; r += step)
      for (int g = 0; g < 256; g += step)
        for (int b = 0; b < 256; b += step)
          in.insert(in.end(), {float(r) / 255, float(g) / 255, float(b) / 255});
    std::vector<float> out = in;
    toScene(out.data(), out.size() / 3), toDisplay(out.data(), out.size() / 3);
    RoundTrip trip{processors_->undone};
    size_t others = 0;
    for (size_t i = 0; i < in.size(); i += 3) {
      bool other = false;
      for (size_t c = i; c < i + 3; ++c) {
        trip.worstCodes = std::max(trip.worstCodes, 255.0 * std::abs(double(out[c]) - double(in[c])));
        other = other || nearestCode(out[c]) != nearestCode(in[c]);
      }
      others += other;
    }
    trip.share = double(others) / double(in.size() / 3);
    processors_->trip = trip;
  });
  return processors_->trip;
}

void ColourView::toDisplay(float* rgb, size_t count) const { apply(processors_->toDisplay, rgb, count); }
void ColourView::toScene(float* rgb, size_t count) const { apply(processors_->toScene, rgb, count); }

void ColourView::toCodes8(const float* r, const float* g, const float* b, int count, uint8_t* rgb) const {
  std::call_once(processors_->stepsMade, [&] {
    if (!sceneTable(256).empty())
      processors_->steps = CodeSteps([this](float* values, size_t n) { toDisplay(values, n); });
  });
  if (processors_->steps.known()) {
    const float* const rows[] = {r, g, b};
    for (int c = 0; c < 3; ++c) processors_->steps.find(rows[c], count, rgb + c, 3);
    return;
  }
  std::vector<float> codes(size_t(count) * 3);
  for (size_t i = 0; i < size_t(count); ++i)
    codes[i * 3] = r[i], codes[i * 3 + 1] = g[i], codes[i * 3 + 2] = b[i];
  toDisplay(codes.data(), size_t(count));
  for (size_t i = 0; i < codes.size(); ++i) rgb[i] = nearestCode(codes[i]);
}

namespace {

/// Rows of a photo in scene-linear light: by table where that is the same thing.
RowSource sceneLinearRows(const Photo& photo, const ColourView& view) {
  const PackedPicture& p = photo.picture;
  const size_t count = size_t(p.width);
  if (photo.sceneLinear) return [&p](int y, float* rgb) { p.row(y, rgb); };
  const RowSource slow = [&p, &view, count](int y, float* rgb) {
    p.row(y, rgb);
    view.toScene(rgb, count);
  };
  return std::visit(
      [&]<typename T>(const std::vector<T>& values) -> RowSource {
        if constexpr (std::is_same_v<T, float>) {
          return slow;
        } else {
          const std::vector<float>& table = view.sceneTable(sizeof(T) == 1 ? 256 : 65536);
          if (table.empty()) return slow;
          return [&values, &table, count](int y, float* rgb) {
            const T* from = values.data() + size_t(y) * count * 3;
            for (size_t i = 0; i < count * 3; ++i) rgb[i] = table[from[i]];
          };
        }
      },
      p.values);
}

}  // namespace

Picture sceneLinear(const Photo& photo, const ColourView& view) {
  Picture linear = Picture::rgb(photo.picture.width, photo.picture.height);
  const RowSource rowOf = sceneLinearRows(photo, view);
  tbb::parallel_for(0, linear.height, [&](int y) { rowOf(y, linear.at(0, y)); });
  return linear;
}

Picture sceneLinearArea(const Photo& photo, const ColourView& view, int width, int height,
                        const PixelArea& area) {
  return resizedArea(photo.picture.width, photo.picture.height, sceneLinearRows(photo, view), width, height,
                     area);
}

Picture displayed(const Picture& linear, const ColourView& view) {
  Picture codes = linear;
  view.toDisplay(codes.pixels.data(), size_t(codes.width) * codes.height);
  return codes;
}

Rgb kelvinColour(double kelvin) {
  const double t = std::clamp(kelvin, 1667.0, 25000.0), i = 1e3 / t;
  const double x = t <= 4000 ? -0.2661239 * i * i * i - 0.2343589 * i * i + 0.8776956 * i + 0.179910
                             : -3.0258469 * i * i * i + 2.1070379 * i * i + 0.2226347 * i + 0.240390;
  const double y = t <= 2222   ? -1.1063814 * x * x * x - 1.34811020 * x * x + 2.18555832 * x - 0.20219683
                   : t <= 4000 ? -0.9549476 * x * x * x - 1.37418593 * x * x + 2.09137015 * x - 0.16748867
                               : 3.0817580 * x * x * x - 5.87338670 * x * x + 3.75112997 * x - 0.37001483;
  const double X = x / y, Z = (1 - x - y) / y;
  const Vec3d rgb(3.24096994 * X - 1.53738318 - 0.49861076 * Z, -0.96924364 * X + 1.8759675 + 0.04155506 * Z,
                  0.05563008 * X - 0.20397696 + 1.05697151 * Z);
  return {float(std::max(rgb.x, 0.0)), float(std::max(rgb.y, 0.0)), float(std::max(rgb.z, 0.0))};
}

}  // namespace dusk
