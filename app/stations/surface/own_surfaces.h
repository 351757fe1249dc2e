#pragma once
#include <QStringList>
#include <optional>
#include <vector>

#include "core/assets/asset_store.h"

namespace dusk {

/// Surfaces the person keeps between projects: files of the clipboard's own form in the folder for such
/// things, one a surface. Their ids begin with "own-".
std::vector<Surface> ownSurfaces();
std::optional<Surface> ownSurface(const std::string& id);
/// Error: the folder cannot be written to.
Outcome keepOwnSurface(Surface surface, const AssetStore& assets);
QString ownSurfaceFolder();

/// Which are marked as liked, and which were used last, the latest first; by id, kept between sessions.
QStringList likedSurfaces();
void setLiked(const QString& id, bool on);
QStringList recentSurfaces();
void noteUsed(const QString& id);

}  // namespace dusk
