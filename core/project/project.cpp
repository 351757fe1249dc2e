#include "core/project/project.h"

/// What the document's values do as values, made once: each of them holds dozens of lists and texts, and
/// every file that copies one would make all of it anew.
namespace dusk {

Project::Project() = default;
Project::Project(const Project&) = default;
Project::Project(Project&&) noexcept = default;
Project& Project::operator=(const Project&) = default;
Project& Project::operator=(Project&&) noexcept = default;
Project::~Project() = default;
bool Project::operator==(const Project&) const = default;

Shot::Shot() = default;
Shot::Shot(const Shot&) = default;
Shot::Shot(Shot&&) noexcept = default;
Shot& Shot::operator=(const Shot&) = default;
Shot& Shot::operator=(Shot&&) noexcept = default;
Shot::~Shot() = default;
bool Shot::operator==(const Shot&) const = default;

Product::Product() = default;
Product::Product(std::string id, std::string name, AssetRef model)
    : id(std::move(id)), name(std::move(name)), model(std::move(model)) {}
Product::Product(const Product&) = default;
Product::Product(Product&&) noexcept = default;
Product& Product::operator=(const Product&) = default;
Product& Product::operator=(Product&&) noexcept = default;
Product::~Product() = default;
bool Product::operator==(const Product&) const = default;

Surface::Surface() = default;
Surface::Surface(const Surface&) = default;
Surface::Surface(Surface&&) noexcept = default;
Surface& Surface::operator=(const Surface&) = default;
Surface& Surface::operator=(Surface&&) noexcept = default;
Surface::~Surface() = default;
bool Surface::operator==(const Surface&) const = default;

Rig::Rig() = default;
Rig::Rig(const Rig&) = default;
Rig::Rig(Rig&&) noexcept = default;
Rig& Rig::operator=(const Rig&) = default;
Rig& Rig::operator=(Rig&&) noexcept = default;
Rig::~Rig() = default;
bool Rig::operator==(const Rig&) const = default;

Evidence::Evidence() = default;
Evidence::Evidence(const Evidence&) = default;
Evidence::Evidence(Evidence&&) noexcept = default;
Evidence& Evidence::operator=(const Evidence&) = default;
Evidence& Evidence::operator=(Evidence&&) noexcept = default;
Evidence::~Evidence() = default;
bool Evidence::operator==(const Evidence&) const = default;

BlendSettings::BlendSettings() = default;
BlendSettings::BlendSettings(const BlendSettings&) = default;
BlendSettings::BlendSettings(BlendSettings&&) noexcept = default;
BlendSettings& BlendSettings::operator=(const BlendSettings&) = default;
BlendSettings& BlendSettings::operator=(BlendSettings&&) noexcept = default;
BlendSettings::~BlendSettings() = default;
bool BlendSettings::operator==(const BlendSettings&) const = default;

}  // namespace dusk
