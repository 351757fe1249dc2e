#pragma once
#include <QtTest>

#include "core/assets/asset_store.h"
#include "core/picture/file_writer.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/vantage/camera.h"

namespace dusk {

/// A project of the demo whose first shots' photo is `width` pixels wide and whose panorama a fourth of its
/// own: where neither is what is asked about, each process reads and traces a fraction. The pictures are put
/// into `folder`; all links are whole paths.
inline Project smallDemo(const std::filesystem::path& folder, const char* name = "brackwater.dusk",
                         int width = 480) {
  const std::filesystem::path demo = std::filesystem::path(DUSK_SOURCE) / "demo/brackwater";
  Project p = *loadProject(demo / name);
  AssetStore from(demo), to(folder);
  const int height = width * 2 / 3;
  const Photo photo = **from.photo(p.shots[0].plate);
  Picture codes = Picture::rgb(photo.picture.width, photo.picture.height);
  for (int y = 0; y < codes.height; ++y) photo.picture.row(y, codes.at(0, y));
  const std::filesystem::path plate = folder / "small-quay.png", light = folder / "small-quay.exr";
  PictureFileKind kind;
  kind.width = width, kind.height = height;
  const Picture sky = resized((*from.panorama(p.shots[0].surroundings.panorama))->picture(), 512, 256);
  if (!writePicture(plate, kind, resized(codes, width, height)).ok() || !writeExr(light, {{"", &sky}}).ok())
    qFatal("no room for a small demo");
  const AssetRef photoThere = *to.refer(plate), skyThere = *to.refer(light);
  for (Shot& s : p.shots) {
    s.blend.lens.softPx *= double(width) / s.vantage.camera.width;  // told in pixels of the photo
    s.plate = photoThere, s.surroundings.panorama = skyThere;
    s.vantage.camera = resized(s.vantage.camera, width, height), s.vantage.locked = true;
    s.evidence = {}, s.gnomon.reset(), s.otherGnomon.reset(), s.heightReferences.clear(),
    s.blend.cutOuts.clear();
  }
  eachLink(p, [&](AssetRef& ref, LinkKind) {
    ref.path = (ref == photoThere || ref == skyThere ? to : from).pathOf(ref).string();
  });
  return p;
}

}  // namespace dusk
