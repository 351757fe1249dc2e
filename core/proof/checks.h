#pragma once
#include <array>

#include "core/proof/match.h"
#include "core/proof/prove.h"
#include "core/vantage/frames.h"

/// The checks that prove() makes, by subject. Each adds what it can tell, whether it holds or not.
namespace dusk {

struct ProofOf {
  const Project& project;
  const Shot& shot;
  AssetStore& assets;
  const Passes* passes;  ///< nullptr: nothing is rendered yet
  Models models;         ///< `loaded`: what is not at hand is left out, and nothing slow is measured
  Progress& progress;
  const Passes* traced =
      nullptr;  ///< what goes beyond the picture, of which `passes` are that; nullptr: none
};
using Findings = std::vector<Finding>;

void checkCamera(const ProofOf& of, Findings& findings);
void checkLight(const ProofOf& of, Findings& findings);
void checkSurfaces(const ProofOf& of, Findings& findings);
void checkPrints(const ProofOf& of, Findings& findings);
void checkFiles(const ProofOf& of, Findings& findings);
/// Faces of two parts in one plane; slow.
void checkFaces(const ProofOf& of, Findings& findings);
/// Whether the panorama stands as the photo's place does; slow.
void checkPanorama(const ProofOf& of, Findings& findings);
/// The photo worn by saving, a panorama too coarse for mirrors, products in what stands in for the place.
void checkWear(const ProofOf& of, Findings& findings);
/// Need passes.
void checkCrops(const ProofOf& of, Findings& findings);
/// Noise and fireflies.
void checkNoise(const ProofOf& of, Findings& findings);
void checkCharacter(const ProofOf& of, Findings& findings);
/// The same of a photo that is measured already; needs a placement.
void compareCharacter(const ProofOf& of, const PhotoCharacter& photo, Findings& findings);

/// The finding of one thing that photo and product are compared by, by name; and back.
inline constexpr std::array<const char*, matchKinds> matchIds{
    "grain", "softness", "halo", "fringes", "vignette", "black", "exposure", "white", "saturation", "blocks"};
std::optional<MatchKind> matchKindOf(const std::string& id);

/// How the shot's panorama stands by the photo: what `align` finds, kept in the user's cache by all that
/// tells.
struct PanoramaStance {
  double turnDegrees = 0, turnSigma = 0;
  bool mirrored = false, ambiguous = false, isElsewhere = false;
  double tiltDegrees = 0, rollDegrees = 0;
  bool leanIsTold = false;
};
/// Nothing where that cannot be asked.
std::optional<PanoramaStance> stanceOf(const Shot& shot, AssetStore& assets, Progress& progress);

/// A linked picture as far as it is at hand, or may be waited for.
std::shared_ptr<const Texture> textureOf(const ProofOf& of, const AssetRef& ref, bool colour, int page);

/// Each product of the shot once, where it stands first: what a pixel there shows of it, and where that is.
struct SeenProduct {
  const Product& product;
  std::shared_ptr<const Model> model;  ///< nullptr: not loaded
  double mmPerPixel;
  std::optional<Vec2d> at;
};
std::vector<SeenProduct> seenProducts(const ProofOf& of);

/// Whether pieces of a set are in the picture: they may fill it, and be cut by its border.
bool hasPieces(const ProofOf& of);

/// Millimetres of a product that a pixel of the photo shows; nothing without a camera.
std::optional<double> mmPerPixel(const Shot& shot, const Placement& placement);

}  // namespace dusk
