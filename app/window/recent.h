#pragma once
#include <QImage>
#include <QStringList>

/// The projects that were open last, and a small picture of each as it was left.
namespace dusk::recent {

/// Newest first; files that are gone are left out of what is shown, not out of what is remembered.
QStringList files();
void remember(const QString& file);
void forgetAll();

/// Keeps a small picture of how a project looked, in the person's cache.
void keepPicture(const QString& file, const QImage& picture);
/// That picture; none where there never was one.
QImage pictureOf(const QString& file);

}  // namespace dusk::recent
