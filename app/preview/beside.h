#pragma once
#include <QImage>
#include <QRect>

#include "core/assets/asset_store.h"
#include "core/blend/scopes.h"

/// What is laid beside or over a frame for comparison; nothing of it is delivered.
namespace dusk {

CodeView codeView(const QImage& image);

/// The reference where it is laid, with the present picture round it. `present` shows `area` of a picture of
/// `whole`. Error: the file's.
Result<QImage> referenceOver(AssetStore& assets, const BlendReference& reference, const QImage& present,
                             const QSize& whole, const QRect& area);

}  // namespace dusk
