#pragma once
#include "core/deliver/output_file.h"

namespace dusk {

/// What is shown to who has to say yes.
struct ProofSheet {
  std::string title;
  std::string after, before;  ///< JPEGs of one size: the picture, and the place without the product
  int width = 0, height = 0;  ///< of those
  Told told;
};

/// One page of HTML that asks for nothing beside itself: before and after by dragging or by arrow keys, at
/// one pixel for one, findings with their numbers, settings and files.
std::string proofPage(const ProofSheet& sheet);
/// The same as A4 pages. Error: the disk.
Outcome writeProofPdf(const ProofSheet& sheet, const std::filesystem::path& file);

/// A finding's number beside its bounds: "0.4 px (0 to 1.5)".
std::string numbersOf(const Finding& finding);

}  // namespace dusk
