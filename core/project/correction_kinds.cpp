#include "core/project/correction_kinds.h"

#include <algorithm>

namespace dusk {
namespace {

using K = CorrectionKind;
using F = CorrectionField;

constexpr unsigned bit(BlendRole role) { return 1u << unsigned(role); }
constexpr unsigned onThings = bit(BlendRole::plate) | bit(BlendRole::product) | bit(BlendRole::front) |
                              bit(BlendRole::view) | bit(BlendRole::glow),
                   onLight = onThings | bit(BlendRole::reflections),
                   onAll = onLight | bit(BlendRole::contact), onProduct = bit(BlendRole::product),
                   onWhole = bit(BlendRole::view) | bit(BlendRole::plate) | onProduct;

constexpr F exposure[] = {{"ev", "Exposure", "EV", -8, 8, 0.05, 0, 2, "Twice the light for each step"}};
constexpr F white[] = {
    {"mired", "Warmth", "mired", -200, 200, 1, 0, 0, "Above 0 warmer, below 0 bluer"},
    {"tint", "Tint", "%", -50, 50, 0.5, 0, 1, "Above 0 towards magenta, below 0 towards green"}};
constexpr F contrast[] = {
    {"amount", "Contrast", "x", 0.2, 4, 0.01, 1, 2, "How far stops lie apart; 1 leaves them"},
    {"pivot", "About", "", 0.001, 10, 0.01, 0.18, 3, "The light that stays as it is; 0.18 is middle grey"}};
constexpr F liftGammaGain[] = {
    {"liftR", "Lift, red", "", -0.5, 0.5, 0.002, 0, 3, "Light added where it is darkest"},
    {"liftG", "Lift, green", "", -0.5, 0.5, 0.002, 0, 3, "Light added where it is darkest"},
    {"liftB", "Lift, blue", "", -0.5, 0.5, 0.002, 0, 3, "Light added where it is darkest"},
    {"gammaR", "Gamma, red", "", 0.2, 5, 0.01, 1, 2, "Above 1 brightens the middle"},
    {"gammaG", "Gamma, green", "", 0.2, 5, 0.01, 1, 2, "Above 1 brightens the middle"},
    {"gammaB", "Gamma, blue", "", 0.2, 5, 0.01, 1, 2, "Above 1 brightens the middle"},
    {"gainR", "Gain, red", "x", 0, 8, 0.01, 1, 2, "Times the light"},
    {"gainG", "Gain, green", "x", 0, 8, 0.01, 1, 2, "Times the light"},
    {"gainB", "Gain, blue", "x", 0, 8, 0.01, 1, 2, "Times the light"}};
constexpr F levels[] = {
    {"black", "Black at", "", -0.2, 0.9, 0.002, 0, 3, "The code value that becomes the lowest"},
    {"white", "White at", "", 0.1, 2, 0.002, 1, 3, "The code value that becomes the highest"},
    {"gamma", "Gamma", "", 0.2, 5, 0.01, 1, 2, "Above 1 brightens the middle"},
    {"low", "Lowest", "", -0.2, 0.9, 0.002, 0, 3, "The code value that black becomes"},
    {"high", "Highest", "", 0.1, 2, 0.002, 1, 3, "The code value that white becomes"}};
constexpr F saturation[] = {{"amount", "Saturation", "x", 0, 3, 0.01, 1, 2, "0 is grey, 1 as it is"}};
constexpr F hue[] = {{"at", "Hue", "deg", 0, 360, 1, 0, 0, "Middle of the range: 0 red, 120 green, 240 blue"},
                     {"width", "Width", "deg", 5, 360, 1, 60, 0, "Of the range that is taken in full"},
                     {"soft", "Soft over", "deg", 0, 120, 1, 30, 0, "On each side, on to what is not taken"},
                     {"turn", "Turn", "deg", -180, 180, 1, 0, 0, "Hues turn by so much"},
                     {"saturation", "Saturation", "x", 0, 3, 0.01, 1, 2, "Of the range; 1 as it is"},
                     {"ev", "Lightness", "EV", -4, 4, 0.05, 0, 2, "Of the range"}};
constexpr F split[] = {
    {"shadowHue", "Hue of shadows", "deg", 0, 360, 1, 220, 0, "The colour that shadows are brought to"},
    {"shadowAmount", "In shadows", "%", 0, 100, 1, 0, 0, "How much of it"},
    {"lightHue", "Hue of lights", "deg", 0, 360, 1, 40, 0, "The colour that highlights are brought to"},
    {"lightAmount", "In lights", "%", 0, 100, 1, 0, 0, "How much of it"},
    {"pivot", "Parted at", "", 0.001, 10, 0.01, 0.18, 3, "The light where shadows become lights"}};
constexpr F blur[] = {
    {"px", "Blur", "px", 0, 400, 0.1, 2, 2, "Sigma of the Gaussian, in pixels of the plate"}};
constexpr F sharpen[] = {
    {"amount", "Sharpen", "%", 0, 400, 1, 50, 0, "How much of what a blur takes away is put on top"},
    {"px", "Over", "px", 0.3, 50, 0.1, 1, 2, "Sigma of that blur, in pixels of the plate"}};
constexpr F defocus[] = {
    {"atM", "Sharp at", "m", 0.05, 1000, 0.01, 1, 2, "Distance along the optical axis"},
    {"px", "Far blur", "px", 0, 100, 0.5, 0, 1, "Diameter of the blur at infinity, in pixels of the plate"}};
constexpr F glow[] = {
    {"threshold", "From", "", 0, 50, 0.05, 1, 2, "Light above this spreads; 1 is photo white"},
    {"px", "Reach", "px", 1, 400, 1, 30, 0, "Sigma of the widest blur, in pixels of the plate"},
    {"amount", "Amount", "%", 0, 100, 1, 10, 0, "The share of that light that spreads; none is added"},
    {"spread", "Spread", "", 0, 1, 0.05, 0.5, 2, "0: all in the widest blur, 1: evenly over all scales"}};
constexpr F vignette[] = {
    {"ev", "At the corner", "EV", -4, 4, 0.05, -0.5, 2, "Light at the picture's corner; below 0 darker"},
    {"power", "Falls with", "", 1, 8, 0.1, 2, 1, "Power of the distance from the middle"}};
constexpr F fringes[] = {
    {"red", "Red", "px", -20, 20, 0.1, 0, 2, "Shift of red at the corner, in pixels of the plate"},
    {"blue", "Blue", "px", -20, 20, 0.1, 0, 2, "Shift of blue at the corner, in pixels of the plate"}};
constexpr F edge[] = {
    {"shift", "Shift", "px", -20, 20, 0.1, 0, 2, "Moves the alpha's edge out, or in below 0"},
    {"feather", "Feather", "px", 0, 50, 0.1, 0, 2, "Sigma by which the edge is softened"}};
constexpr F noise[] = {
    {"sigma", "Noise", "codes", 0, 40, 0.1, 2, 1, "Deviation in 8-bit code values at middle grey"},
    {"px", "Grain", "px", 0, 10, 0.1, 0, 1, "Sigma of a grain; 0: each pixel by itself"},
    {"colour", "Colour", "%", 0, 100, 1, 50, 0, "0: all channels alike, 100: each by itself"}};

const CorrectionKindInfo kinds[] = {
    {K::exposure, "exposure", "Exposure", "Brighter or darker, in stops", exposure, onLight},
    {K::white, "white", "White", "White balance: warmth and tint", white, onAll},
    {K::contrast, "contrast", "Contrast", "Stops further apart or closer, about a pivot", contrast, onThings},
    {K::liftGammaGain, "liftGammaGain", "Lift, gamma, gain", "Shadows, middle and lights per channel",
     liftGammaGain, onThings},
    {K::curve,
     "curve",
     "Tone curve",
     "A curve drawn through points, code value to code value",
     {},
     onThings,
     true},
    {K::levels, "levels", "Levels", "Black and white point, and what they become", levels, onThings},
    {K::saturation, "saturation", "Saturation", "More or less colour", saturation, onLight},
    {K::hue, "hue", "Range of hue", "Turns, saturates or lightens one range of hues", hue, onThings},
    {K::split, "split", "Split colours", "One colour into the shadows, another into the lights", split,
     onThings},
    {K::table,
     "table",
     "Colour table",
     "A table from a file: .cube, .spi1d, .spi3d, .csp",
     {},
     onThings,
     false,
     true},
    {K::blur, "blur", "Blur", "An even blur", blur, onAll},
    {K::sharpen, "sharpen", "Sharpen", "Unsharp mask", sharpen, onThings},
    {K::defocus, "defocus", "Defocus by depth", "Out of focus by the distance from a plane", defocus,
     onProduct},
    {K::glow, "glow", "Glow", "Bright light spreads, as in a lens", glow, onWhole | bit(BlendRole::glow)},
    {K::vignette, "vignette", "Vignette", "Darker or brighter towards the corners", vignette, onWhole},
    {K::fringes, "fringes", "Fringes", "Red and blue drawn a little larger or smaller", fringes,
     bit(BlendRole::plate) | bit(BlendRole::view)},
    {K::edge, "edge", "Edge of the alpha", "Shifts the outline in or out, and softens it", edge, onProduct},
    {K::noise, "noise", "Noise", "Noise of one strength; Match measures the photo's own", noise, onThings},
};

constexpr BlendRoleInfo roles[] = {
    {BlendRole::plate, "plate", "Plate", "The photo, or what is made in its place"},
    {BlendRole::contact, "contact", "Contact", "What the product takes from and throws onto the place"},
    {BlendRole::reflections, "reflections", "Reflections", "What a glossy ground mirrors"},
    {BlendRole::product, "product", "Product", "The rendered product, all its lights together"},
    {BlendRole::glow, "glow", "Glow of parts", "What spreads from parts that shine"},
    {BlendRole::front, "front", "In front", "Cut-outs of the photo that hide the product"},
    {BlendRole::lens, "lens", "Lens", "The photo's softness, halos, fringes and vignette, on the product"},
    {BlendRole::grain, "grain", "Grain", "The photo's grain, on the product"},
    {BlendRole::view, "view", "View", "The whole picture, and how it is shown"},
};

}  // namespace

std::span<const CorrectionKindInfo> correctionKinds() { return kinds; }

const CorrectionKindInfo& infoOf(CorrectionKind kind) {
  return *std::find_if(std::begin(kinds), std::end(kinds) - 1,
                       [&](const CorrectionKindInfo& k) { return k.kind == kind; });
}

const CorrectionKindInfo* correctionKindNamed(std::string_view name) {
  const auto found = std::find_if(std::begin(kinds), std::end(kinds),
                                  [&](const CorrectionKindInfo& k) { return k.name == name; });
  return found == std::end(kinds) ? nullptr : found;
}

double valueOf(const Correction& correction, std::string_view field) {
  if (const auto own = correction.values.find(std::string(field)); own != correction.values.end())
    return own->second;
  for (const CorrectionField& f : infoOf(correction.kind).fields)
    if (f.name == field) return f.usual;
  return 0;
}

std::span<const BlendRoleInfo> blendRoles() { return roles; }
const BlendRoleInfo& infoOf(BlendRole role) { return roles[size_t(role)]; }

const BlendRow& rowOf(const BlendSettings& blend, const std::string& name) {
  static const BlendRow none;
  const auto found = blend.rows.find(name);
  return found == blend.rows.end() ? none : found->second;
}

}  // namespace dusk
