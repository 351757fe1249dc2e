#pragma once
#include <QImage>
#include <filesystem>
#include <vector>

#include "core/deliver/film_file.h"

namespace dusk {

/// Writes an MP4 of one even colour after the other.
inline void makeFilm(const std::filesystem::path& file, const QSize& size, int picturesPerSecond,
                     const std::vector<QColor>& colours) {
  const std::filesystem::path one = file.string() + ".one.png";
  auto film =
      FilmWriter::open(file, {DeliverableKind::mp4, size.width(), size.height(), picturesPerSecond, 100});
  if (!film) qFatal("%s", film.error().message.c_str());
  for (const QColor& colour : colours) {
    QImage picture(size, QImage::Format_RGB888);
    picture.fill(colour);
    if (!picture.save(QString::fromStdString(one.string())) || !(*film)->add(one)) qFatal("not added");
  }
  if (!(*film)->close()) qFatal("not closed");
  std::filesystem::remove(one);
}

}  // namespace dusk
