#pragma once
#include <OpenColorIO/OpenColorIO.h>

#include <mutex>
#include <string>

#include "core/colour/code_steps.h"
#include "core/colour/view.h"

namespace dusk {
namespace OCIO = OCIO_NAMESPACE;

/// What a view is made of.
struct ColourView::Processors {
  OCIO::ConstCPUProcessorRcPtr toDisplay, toScene;
  bool undone = true, isSrgb = true;
  std::once_flag made[2], stepsMade, tripMade;
  CodeSteps steps;
  std::vector<float> tables[2];
  RoundTrip trip;
};

/// The view that goes the way of `toDisplay`, from scene-linear Rec.709. Where that cannot be gone back,
/// photos enter by the sRGB curve. `isSrgb`: whether its codes are. May throw what OpenColorIO throws.
std::shared_ptr<const ColourView> viewFrom(const OCIO::ConstConfigRcPtr& config,
                                           const OCIO::ConstTransformRcPtr& toDisplay, bool isSrgb);

/// The first line of what OpenColorIO says, short enough for a sentence.
std::string saidBy(const std::exception& error);

}  // namespace dusk
