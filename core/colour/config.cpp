#include "core/colour/config.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

#include "core/base/lower.h"
#include "core/base/words.h"
#include "core/colour/ocio_view.h"

namespace dusk {
namespace fs = std::filesystem;

struct ColourConfig::Held {
  OCIO::ConstConfigRcPtr config;
};

namespace {

/// What linear Rec.709 is called: by configurations' common names and aliases.
constexpr const char* linearNames[] = {"lin_rec709",
                                       "lin_rec709_srgb",
                                       "lin_srgb",
                                       "Linear Rec.709 (sRGB)",
                                       "Linear Rec.709",
                                       "Utility - Linear - Rec.709",
                                       "Utility - Linear - sRGB",
                                       "linear_rec709",
                                       "linear_srgb"};

constexpr const char* joining = "aces_interchange";

/// Linear Rec.709 to ACES2065-1: primaries of both, whites brought together by Bradford's matrix.
constexpr double toAces[16] = {0.43963298, 0.38298870, 0.17737832, 0, 0.08977644, 0.81343943, 0.09678413, 0,
                               0.01754117, 0.11154655, 0.87091228, 0, 0,          0,          0,          1};

void eachFile(const OCIO::ConstTransformRcPtr& transform, std::set<std::string>& files) {
  if (!transform) return;
  if (const auto file = OCIO::DynamicPtrCast<const OCIO::FileTransform>(transform))
    files.insert(file->getSrc());
  if (const auto group = OCIO::DynamicPtrCast<const OCIO::GroupTransform>(transform))
    for (int i = 0; i < group->getNumTransforms(); ++i) eachFile(group->getTransform(i), files);
}

/// Every file that any of its transforms names.
std::set<std::string> filesOf(const OCIO::ConstConfigRcPtr& config) {
  std::set<std::string> files;
  const auto every = OCIO::SEARCH_REFERENCE_SPACE_ALL;
  for (int i = 0; i < config->getNumColorSpaces(every, OCIO::COLORSPACE_ALL); ++i) {
    const auto space =
        config->getColorSpace(config->getColorSpaceNameByIndex(every, OCIO::COLORSPACE_ALL, i));
    eachFile(space->getTransform(OCIO::COLORSPACE_DIR_TO_REFERENCE), files);
    eachFile(space->getTransform(OCIO::COLORSPACE_DIR_FROM_REFERENCE), files);
  }
  for (int i = 0; i < config->getNumLooks(); ++i) {
    const auto look = config->getLook(config->getLookNameByIndex(i));
    eachFile(look->getTransform(), files), eachFile(look->getInverseTransform(), files);
  }
  for (int i = 0; i < config->getNumViewTransforms(); ++i) {
    const auto view = config->getViewTransform(config->getViewTransformNameByIndex(i));
    eachFile(view->getTransform(OCIO::VIEWTRANSFORM_DIR_TO_REFERENCE), files);
    eachFile(view->getTransform(OCIO::VIEWTRANSFORM_DIR_FROM_REFERENCE), files);
  }
  return files;
}

bool isSound(const ColourView& view) {
  const auto colours = [](std::initializer_list<float> values) {
    std::vector<float> all;
    for (const float v : values) all.insert(all.end(), {v, v, v, v, 0, 0, 0, v, 0, 0, 0, v});
    return all;
  };
  std::vector<float> codes = colours({0.0f, 0.001f, 0.02f, 0.18f, 0.5f, 1.0f, 4.0f, 30.0f}),
                     light = colours({0.0f, 0.004f, 0.05f, 0.4f, 0.7f, 1.0f});
  view.toDisplay(codes.data(), codes.size() / 3);
  view.toScene(light.data(), light.size() / 3);
  const auto odd = [](float v) { return !std::isfinite(v); };
  return std::none_of(codes.begin(), codes.end(), odd) && std::none_of(light.begin(), light.end(), odd);
}

bool holds(const std::vector<std::string>& all, const std::string& one) {
  return std::find(all.begin(), all.end(), one) != all.end();
}

}  // namespace

ColourConfig::ColourConfig(std::unique_ptr<Held> held) : held_(std::move(held)) {}
ColourConfig::~ColourConfig() = default;

Result<std::shared_ptr<const ColourConfig>> ColourConfig::read(const fs::path& file) {
  const std::string name = words("The colour configuration ") + file.string();
  const auto refused = [&](const std::string& why) {
    return Error{name + words(" cannot be used: ") + why, ErrorKind::unreadable};
  };
  std::error_code code;
  const auto size = fs::file_size(file, code);
  if (code) return refused(code.message() + ".");
  if (size > (uintmax_t{16} << 20)) return refused(words("it is larger than 16 MB."));
  try {
    auto held = std::make_unique<Held>();
    held->config = OCIO::Config::CreateFromFile(fs::absolute(file).c_str());
    const OCIO::ConstConfigRcPtr config = held->config;
    std::shared_ptr<ColourConfig> made(new ColourConfig(std::move(held)));
    made->name_ = name;
    for (int d = 0; d < config->getNumDisplays(); ++d) {
      Display display{config->getDisplay(d), {}};
      for (int v = 0; v < config->getNumViews(display.name.c_str()); ++v)
        display.views.emplace_back(config->getView(display.name.c_str(), v));
      if (!display.views.empty()) made->displays_.push_back(std::move(display));
    }
    if (made->displays_.empty()) return refused(words("it has no view of any display."));
    for (int i = 0; i < config->getNumLooks(); ++i) made->looks_.emplace_back(config->getLookNameByIndex(i));
    for (int i = 0; i < config->getNumColorSpaces(); ++i)
      made->spaces_.emplace_back(config->getColorSpaceNameByIndex(i));
    for (const char* known : linearNames)
      if (const auto space = config->getColorSpace(known); space && made->linear_.empty())
        made->linear_ = space->getName();
    made->joins_ = config->hasRole(joining);
    const fs::path folder = fs::absolute(file).parent_path();
    for (const std::string& named : filesOf(config)) try {
        const fs::path there = config->getCurrentContext()->resolveFileLocation(named.c_str());
        const fs::path from = fs::absolute(there).lexically_normal().lexically_relative(folder);
        if (!from.empty() && *from.begin() != "..")
          made->files_.push_back(from);
        else
          made->outside_.push_back(there.string());
      } catch (const OCIO::Exception&) {
        made->missing_.push_back(named);
      }
    return std::shared_ptr<const ColourConfig>(std::move(made));
  } catch (const std::exception& error) {
    return refused(saidBy(error));
  }
}

Result<std::shared_ptr<const ColourView>> ColourConfig::view(const ConfigView& what) const {
  const auto refused = [&](const std::string& why) {
    return Error{name_ + ' ' + why, ErrorKind::unreadable};
  };
  const OCIO::ConstConfigRcPtr config = held_->config;
  const std::string display = what.display.empty() ? config->getDefaultDisplay() : what.display;
  const auto on =
      std::find_if(displays_.begin(), displays_.end(), [&](const Display& d) { return d.name == display; });
  if (on == displays_.end())
    return refused(words("has no display '") + display + words("'. Choose another in Blend, View."));
  const std::string view = what.view.empty() ? config->getDefaultView(display.c_str()) : what.view;
  if (!holds(on->views, view))
    return refused(words("has no view '") + view + words("' of '") + display +
                   words("'. Choose another in Blend, View."));
  if (!what.look.empty() && !holds(looks_, what.look))
    return refused(words("has no look '") + what.look + words("'. Choose another in Blend, View."));
  if (!what.linear.empty() && !holds(spaces_, what.linear))
    return refused(words("has no space '") + what.linear + words("'. Choose another in Blend, View."));
  try {
    const auto way = OCIO::GroupTransform::Create();
    std::string linear = what.linear.empty() ? linear_ : what.linear;
    if (linear.empty() && joins_) {
      const auto matrix = OCIO::MatrixTransform::Create();
      matrix->setMatrix(toAces);
      way->appendTransform(matrix);
      linear = joining;
    }
    if (linear.empty()) linear = OCIO::ROLE_SCENE_LINEAR;
    if (!what.look.empty()) {
      const auto look = OCIO::LookTransform::Create();
      look->setSrc(linear.c_str()), look->setDst(linear.c_str()), look->setLooks(what.look.c_str());
      way->appendTransform(look);
    }
    const auto shown = OCIO::DisplayViewTransform::Create();
    shown->setSrc(linear.c_str()), shown->setDisplay(display.c_str()), shown->setView(view.c_str());
    shown->setLooksBypass(!what.look.empty());
    way->appendTransform(shown);
    auto made = viewFrom(config, way, lower(display).find("srgb") != std::string::npos);
    if (!isSound(*made))
      return refused(words("gives values that are no colours in the view '") + view + "'.");
    return made;
  } catch (const std::exception& error) {
    return refused(words("cannot show the view '") + view + "': " + saidBy(error));
  }
}

}  // namespace dusk
