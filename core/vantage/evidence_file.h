#pragma once
#include <filesystem>
#include <string>

#include "core/base/result.h"
#include "core/vantage/solve.h"

namespace dusk {

/// An evidence file (DESIGN section 8): what was drawn, and the photo's size.
struct EvidenceFile {
  Evidence evidence;
  int width = 0, height = 0;
  std::string imageFile;  ///< empty when not said
};

/// Error (unreadable): not JSON, a wrong kind, or no usable image size; says which.
Result<EvidenceFile> parseEvidence(const std::string& text);

/// The answer as the JSON of DESIGN section 8.
std::string answerJson(const VantageAnswer& answer);

}  // namespace dusk
