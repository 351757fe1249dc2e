#include "core/project/correction_kinds.h"

#include "core/base/words.h"

#include <algorithm>

namespace dusk {
namespace {

using K = CorrectionKind;
using Field = CorrectionField;

constexpr unsigned bit(BlendRole role) { return 1u << unsigned(role); }
constexpr unsigned onThings = bit(BlendRole::plate) | bit(BlendRole::product) | bit(BlendRole::front) |
                              bit(BlendRole::view) | bit(BlendRole::glow),
                   onLight = onThings | bit(BlendRole::reflections),
                   onAll = onLight | bit(BlendRole::contact), onProduct = bit(BlendRole::product),
                   onWhole = bit(BlendRole::view) | bit(BlendRole::plate) | onProduct;

constexpr Field exposure[] = {
    {"ev", marked("Exposure"), "EV", -8, 8, 0.05, 0, 2, marked("Twice the light for each step")}};
constexpr Field white[] = {
    {"mired", marked("Warmth"), "mired", -200, 200, 1, 0, 0, marked("Above 0 warmer, below 0 bluer")},
    {"tint", marked("Tint"), "%", -50, 50, 0.5, 0, 1,
     marked("Above 0 towards magenta, below 0 towards green")}};
constexpr Field contrast[] = {
    {"amount", marked("Contrast"), "x", 0.2, 4, 0.01, 1, 2, marked("How far stops lie apart; 1 leaves them")},
    {"pivot", marked("About"), "", 0.001, 10, 0.01, 0.18, 3,
     marked("The light that stays as it is; 0.18 is middle grey")}};
constexpr Field liftGammaGain[] = {
    {"liftR", marked("Lift, red"), "", -0.5, 0.5, 0.002, 0, 3, marked("Light added where it is darkest")},
    {"liftG", marked("Lift, green"), "", -0.5, 0.5, 0.002, 0, 3, marked("Light added where it is darkest")},
    {"liftB", marked("Lift, blue"), "", -0.5, 0.5, 0.002, 0, 3, marked("Light added where it is darkest")},
    {"gammaR", marked("Gamma, red"), "", 0.2, 5, 0.01, 1, 2, marked("Above 1 brightens the middle")},
    {"gammaG", marked("Gamma, green"), "", 0.2, 5, 0.01, 1, 2, marked("Above 1 brightens the middle")},
    {"gammaB", marked("Gamma, blue"), "", 0.2, 5, 0.01, 1, 2, marked("Above 1 brightens the middle")},
    {"gainR", marked("Gain, red"), "x", 0, 8, 0.01, 1, 2, marked("Times the light")},
    {"gainG", marked("Gain, green"), "x", 0, 8, 0.01, 1, 2, marked("Times the light")},
    {"gainB", marked("Gain, blue"), "x", 0, 8, 0.01, 1, 2, marked("Times the light")}};
constexpr Field levels[] = {
    {"black", marked("Black at"), "", -0.2, 0.9, 0.002, 0, 3,
     marked("The code value that becomes the lowest")},
    {"white", marked("White at"), "", 0.1, 2, 0.002, 1, 3, marked("The code value that becomes the highest")},
    {"gamma", marked("Gamma"), "", 0.2, 5, 0.01, 1, 2, marked("Above 1 brightens the middle")},
    {"low", marked("Lowest"), "", -0.2, 0.9, 0.002, 0, 3, marked("The code value that black becomes")},
    {"high", marked("Highest"), "", 0.1, 2, 0.002, 1, 3, marked("The code value that white becomes")}};
constexpr Field saturation[] = {
    {"amount", marked("Saturation"), "x", 0, 3, 0.01, 1, 2, marked("0 is grey, 1 as it is")}};
constexpr Field hue[] = {
    {"at", marked("Hue"), "deg", 0, 360, 1, 0, 0, marked("Middle of the range: 0 red, 120 green, 240 blue")},
    {"width", marked("Width"), "deg", 5, 360, 1, 60, 0, marked("Of the range that is taken in full")},
    {"soft", marked("Soft over"), "deg", 0, 120, 1, 30, 0, marked("On each side, on to what is not taken")},
    {"turn", marked("Turn"), "deg", -180, 180, 1, 0, 0, marked("Hues turn by so much")},
    {"saturation", marked("Saturation"), "x", 0, 3, 0.01, 1, 2, marked("Of the range; 1 as it is")},
    {"ev", marked("Lightness"), "EV", -4, 4, 0.05, 0, 2, marked("Of the range")}};
constexpr Field split[] = {
    {"shadowHue", marked("Hue of shadows"), "deg", 0, 360, 1, 220, 0,
     marked("The colour that shadows are brought to")},
    {"shadowAmount", marked("In shadows"), "%", 0, 100, 1, 0, 0, marked("How much of it")},
    {"lightHue", marked("Hue of lights"), "deg", 0, 360, 1, 40, 0,
     marked("The colour that highlights are brought to")},
    {"lightAmount", marked("In lights"), "%", 0, 100, 1, 0, 0, marked("How much of it")},
    {"pivot", marked("Parted at"), "", 0.001, 10, 0.01, 0.18, 3,
     marked("The light where shadows become lights")}};
constexpr Field blur[] = {
    {"px", marked("Blur"), "px", 0, 400, 0.1, 2, 2, marked("Sigma of the Gaussian, in pixels of the plate")}};
constexpr Field sharpen[] = {
    {"amount", marked("Sharpen"), "%", 0, 400, 1, 50, 0,
     marked("How much of what a blur takes away is put on top")},
    {"px", marked("Over"), "px", 0.3, 50, 0.1, 1, 2, marked("Sigma of that blur, in pixels of the plate")}};
constexpr Field defocus[] = {
    {"atM", marked("Sharp at"), "m", 0.05, 1000, 0.01, 1, 2, marked("Distance along the optical axis")},
    {"px", marked("Far blur"), "px", 0, 100, 0.5, 0, 1,
     marked("Diameter of the blur at infinity, in pixels of the plate")}};
constexpr Field glow[] = {{"threshold", marked("From"), "", 0, 50, 0.05, 1, 2,
                           marked("Light above this spreads; 1 is photo white")},
                          {"px", marked("Reach"), "px", 1, 400, 1, 30, 0,
                           marked("Sigma of the widest blur, in pixels of the plate")},
                          {"amount", marked("Amount"), "%", 0, 100, 1, 10, 0,
                           marked("The share of that light that spreads; none is added")},
                          {"spread", marked("Spread"), "", 0, 1, 0.05, 0.5, 2,
                           marked("0: all in the widest blur, 1: evenly over all scales")}};
constexpr Field vignette[] = {
    {"ev", marked("At the corner"), "EV", -4, 4, 0.05, -0.5, 2,
     marked("Light at the picture's corner; below 0 darker")},
    {"power", marked("Falls with"), "", 1, 8, 0.1, 2, 1, marked("Power of the distance from the middle")}};
constexpr Field fringes[] = {{"red", marked("Red"), "px", -20, 20, 0.1, 0, 2,
                              marked("Shift of red at the corner, in pixels of the plate")},
                             {"blue", marked("Blue"), "px", -20, 20, 0.1, 0, 2,
                              marked("Shift of blue at the corner, in pixels of the plate")}};
constexpr Field edge[] = {
    {"shift", marked("Shift"), "px", -20, 20, 0.1, 0, 2, marked("Moves the alpha's edge out, or in below 0")},
    {"feather", marked("Feather"), "px", 0, 50, 0.1, 0, 2, marked("Sigma by which the edge is softened")}};
constexpr Field addedNoise[] = {
    {"sigma", marked("Noise"), "codes", 0, 40, 0.1, 2, 1,
     marked("Deviation in 8-bit code values at middle grey")},
    {"px", marked("Grain"), "px", 0, 10, 0.1, 0, 1, marked("Sigma of a grain; 0: each pixel by itself")},
    {"colour", marked("Colour"), "%", 0, 100, 1, 50, 0,
     marked("0: all channels alike, 100: each by itself")}};

const CorrectionKindInfo correctionTable[] = {
    {K::exposure, "exposure", marked("Exposure"), marked("Brighter or darker, in stops"), exposure, onLight},
    {K::white, "white", marked("White"), marked("White balance: warmth and tint"), white, onAll},
    {K::contrast, "contrast", marked("Contrast"), marked("Stops further apart or closer, about a pivot"),
     contrast, onThings},
    {K::liftGammaGain, "liftGammaGain", marked("Lift, gamma, gain"),
     marked("Shadows, middle and lights per channel"), liftGammaGain, onThings},
    {K::curve,
     "curve",
     marked("Tone curve"),
     marked("A curve drawn through points, code value to code value"),
     {},
     onThings,
     true},
    {K::levels, "levels", marked("Levels"), marked("Black and white point, and what they become"), levels,
     onThings},
    {K::saturation, "saturation", marked("Saturation"), marked("More or less colour"), saturation, onLight},
    {K::hue, "hue", marked("Range of hue"), marked("Turns, saturates or lightens one range of hues"), hue,
     onThings},
    {K::split, "split", marked("Split colours"),
     marked("One colour into the shadows, another into the lights"), split, onThings},
    {K::table,
     "table",
     marked("Colour table"),
     marked("A table from a file: .cube, .spi1d, .spi3d, .csp"),
     {},
     onThings,
     false,
     true},
    {K::blur, "blur", marked("Blur"), marked("An even blur"), blur, onAll},
    {K::sharpen, "sharpen", marked("Sharpen"), marked("Unsharp mask"), sharpen, onThings},
    {K::defocus, "defocus", marked("Defocus by depth"), marked("Out of focus by the distance from a plane"),
     defocus, onProduct},
    {K::glow, "glow", marked("Glow"), marked("Bright light spreads, as in a lens"), glow,
     onWhole | bit(BlendRole::glow)},
    {K::vignette, "vignette", marked("Vignette"), marked("Darker or brighter towards the corners"), vignette,
     onWhole},
    {K::fringes, "fringes", marked("Fringes"), marked("Red and blue drawn a little larger or smaller"),
     fringes, bit(BlendRole::plate) | bit(BlendRole::view)},
    {K::edge, "edge", marked("Edge of the alpha"), marked("Shifts the outline in or out, and softens it"),
     edge, onProduct},
    {K::noise, "noise", marked("Noise"), marked("Noise of one strength; Match measures the photo's own"),
     addedNoise, onThings},
};

constexpr BlendRoleInfo roles[] = {
    {BlendRole::plate, "plate", marked("Plate"), marked("The photo, or what is made in its place")},
    {BlendRole::contact, "contact", marked("Contact"),
     marked("What the product takes from and throws onto the place")},
    {BlendRole::reflections, "reflections", marked("Reflections"), marked("What a glossy ground mirrors")},
    {BlendRole::product, "product", marked("Product"),
     marked("The rendered product, all its lights together")},
    {BlendRole::glow, "glow", marked("Glow of parts"), marked("What spreads from parts that shine")},
    {BlendRole::front, "front", marked("In front"), marked("Cut-outs of the photo that hide the product")},
    {BlendRole::lens, "lens", marked("Lens"),
     marked("The photo's softness, halos, fringes and vignette, on the product")},
    {BlendRole::grain, "grain", marked("Grain"), marked("The photo's grain, on the product")},
    {BlendRole::view, "view", marked("View"), marked("The whole picture, and how it is shown")},
};

}  // namespace

std::span<const CorrectionKindInfo> correctionKinds() { return correctionTable; }

const CorrectionKindInfo& infoOf(CorrectionKind kind) {
  return *std::find_if(std::begin(correctionTable), std::end(correctionTable) - 1,
                       [&](const CorrectionKindInfo& k) { return k.kind == kind; });
}

const CorrectionKindInfo* correctionKindNamed(std::string_view name) {
  const auto found = std::find_if(std::begin(correctionTable), std::end(correctionTable),
                                  [&](const CorrectionKindInfo& k) { return k.name == name; });
  return found == std::end(correctionTable) ? nullptr : found;
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
