#pragma once
#include <QFile>
#include <QImage>
#include <QTemporaryDir>

#include "core/light/sun.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/hand_over_edit.h"
#include "tests/handed_over.h"

namespace dusk {

using Sow = std::function<void(Project&)>;
using SowShot = std::function<void(Shot&)>;

/// By which of the checks a mistake is looked for: most are quick, some measure photo, shadows or panorama.
enum class By { quick, trace, photo, shadow, panorama, shapes };

/// Mistakes of the trade, each to be sown into a project that is right. What is added lives as long as this.
class SownMistakes {
 public:
  using Add = std::function<void(const char* name, const char* id, By by, Sow sow)>;
  SownMistakes(HandedOver& quay, const Project& good, const QTemporaryDir& folder)
      : quay_(quay), good_(good), folder_(folder) {}
  void eachAdded(const Add& add) { sowPlace(add), sowLight(add), sowSurfaces(add), sowPicture(add); }

 private:
  std::string in(const char* name) { return folder_.filePath(name).toStdString(); }
  static Sow shot(SowShot how) {
    return [how](Project& p) { how(p.shots[0]); };
  }
  AssetRef madePicture(const char* name, int width, int height) {
    QImage image(width, height, QImage::Format_RGB32);
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x)
        image.setPixel(x, y, qRgb(60 + 160 * x / width, 90 + 120 * y / height, 80));
    if (!image.save(folder_.filePath(name))) qFatal("no picture");
    return *quay_.assets.refer(in(name));
  }
  /// The panorama with its light bounded, so that its sun is gone.
  AssetRef clipped(float most) {
    const std::string name = in("clipped.exr");
    Picture light = *readLight(quay_.assets.pathOf(good_.shots[0].surroundings.panorama));
    for (float& v : light.pixels) v = std::min(v, most);
    if (!writeExr(name, {{"", &light}}).ok()) qFatal("no clipped panorama");
    return *quay_.assets.refer(name);
  }
  Lamp sunOfGnomon(double ev) {
    Lamp sun;
    sun.id = "sun", sun.powerEv = ev, sun.elevationDegrees = 30;
    sun.azimuthDegrees =
        readGnomon(good_.shots[0].vantage.camera, *good_.shots[0].gnomon)->sun.azimuthDegrees;
    return sun;
  }
  void sowPlace(const Add& add);
  void sowLight(const Add& add);
  void sowSurfaces(const Add& add);
  void sowPicture(const Add& add);

  HandedOver& quay_;
  const Project& good_;
  const QTemporaryDir& folder_;
};

inline void SownMistakes::sowPlace(const Add& add) {
  add("hovers", "contact-gap", By::quick, shot([](Shot& s) { s.placements[0].liftM = 0.012; }));
  add("sunk", "contact-gap", By::quick, shot([](Shot& s) { s.placements[0].liftM = -0.01; }));
  add("stroke on the wrong place", "line-fit", By::quick, shot([](Shot& s) { s.vantage.rmsPx = 4; }));
  add("longer lens than the camera's", "focal-length", By::quick,
      shot([](Shot& s) { s.vantage.camera.focalPx *= 1.3; }));
  add("scale off", "height-reference", By::quick, shot([](Shot& s) {
        HeightReference r;
        r.id = "height-1", r.name = "Bollard", r.metres = 9;
        r.foot = {1150, 560}, r.top = {1150, 440};
        s.heightReferences.push_back(r);
      }));
  add("stands in a crate", "intersecting", By::quick, shot([](Shot& s) {
        StandIn crate;
        crate.id = "stand-in-x", crate.name = "Box", crate.sizeM = {0.3, 0.3, 0.5};
        crate.positionM = {s.placements[0].xM + 0.1, s.placements[0].yM, 0};
        s.standIns.push_back(crate);
      }));
}

inline void SownMistakes::sowLight(const Add& add) {
  add("panorama turned off", "shadow-angle", By::quick,
      shot([](Shot& s) { s.surroundings.turnDegrees += 20; }));
  add("no light", "lights", By::quick, shot([](Shot& s) { s.surroundings.panorama = {}, s.lamps.clear(); }));
  add("light set as it came", "stock-light", By::quick, shot([](Shot& s) {
        s.surroundings.panorama = {DUSK_SOURCE "/app/light-sets/dusk.exr", ""};
      }));
  add("far too bright for the place", "ground-tone", By::quick,
      shot([](Shot& s) { s.surroundings.gainEv -= 5; }));
  add("sun too high", "shadow-length", By::quick,
      shot([](Shot& s) { s.gnomon->top = s.gnomon->base - Vec2d(0, 520); }));
  add("panorama of eight bits", "panorama-range", By::quick,
      shot([this](Shot& s) { s.surroundings.panorama = madePicture("eight.png", 256, 128); }));
  add("sun too strong", "shadow-darkness", By::shadow, shot([this](Shot& s) { s.lamps = {sunOfGnomon(5)}; }));
  add("sun clipped away", "shadow-darkness", By::shadow,
      shot([this](Shot& s) { s.surroundings.panorama = clipped(1.5f); }));
  add("hazy sun", "shadow-softness", By::shadow,
      shot([](Shot& s) { s.surroundings.sunApart = true, s.surroundings.sunDiscDegrees = 14; }));
  add("red sun", "shadow-colour", By::shadow, shot([this](Shot& s) {
        s.surroundings.panorama = clipped(1.5f), s.lamps = {sunOfGnomon(1.5)};
        s.lamps[0].colour = Vec3d(2.6, 0.6, 0.2);
      }));
  add("panorama mirrored", "panorama-mirrored", By::panorama,
      shot([](Shot& s) { s.surroundings.mirrored = true; }));
  add("panorama turned, no gnomon", "panorama-turned", By::panorama,
      shot([](Shot& s) { s.gnomon.reset(), s.surroundings.turnDegrees += 40; }));
  add("panorama of elsewhere", "panorama-elsewhere", By::panorama, shot([](Shot& s) {
        s.surroundings.panorama = {DUSK_SOURCE "/demo/boathouse/boathouse-panorama.exr", ""};
      }));
  add("panorama too coarse", "panorama-detail", By::quick, [this](Project& p) {
    const auto whole = readLight(quay_.assets.pathOf(p.shots[0].surroundings.panorama));
    const Picture coarse = resized(*whole, 256, 128);
    if (!whole || !writeExr(in("coarse.exr"), {{"", &coarse}}).ok()) qFatal("no small panorama");
    p.shots[0].surroundings.panorama = *quay_.assets.refer(in("coarse.exr"));
    for (Surface& s : p.surfaces) s.metalness = 1, s.roughness = 0.03;
  });
}

inline void SownMistakes::sowSurfaces(const Add& add) {
  const auto textured = [this](MappingKind kind, double sizeMm, int texels) {
    return Sow([=, this](Project& p) {
      Feed f;
      f.kind = FeedKind::picture;
      f.picture = madePicture(("texture-" + std::to_string(texels) + ".png").c_str(), texels, texels);
      f.mapping.kind = kind, f.mapping.sizeMm = {sizeMm, 0};
      p.surfaces[0].feeds[SurfaceValue::baseColour] = {f};
      p.products[0].surfaceOfPart.begin()->second = p.surfaces[0].id;
    });
  };
  const auto printed = [this](int texels, double widthMm, const Vec3d& at, bool mirrored) {
    return Sow([=, this](Project& p) {
      Decal d;
      d.id = "decal-1", d.name = "Label", d.mirrored = mirrored, d.widthMm = widthMm, d.at = at;
      d.picture = madePicture(("print-" + std::to_string(texels) + ".png").c_str(), texels, texels);
      p.products[0].decals.push_back(d);
    });
  };
  add("prints backwards", "print-mirrored", By::quick, printed(64, 20, {0, 0, 0}, true));
  add("print of eight texels", "print-sharpness", By::shapes, printed(8, 90, {0, 0, 0}, false));
  add("print beside the product", "print-cut", By::shapes, printed(64, 20, {0, -4000, 0}, false));
  add("texture of a millimetre", "texture-size", By::shapes, textured(MappingKind::box, 1, 256));
  add("texture over ten metres", "texture-size", By::shapes, textured(MappingKind::box, 12'000, 256));
  add("texture blurred", "texture-sharpness", By::shapes, textured(MappingKind::box, 400, 16));
  add("texture over and over", "texture-repeats", By::shapes, textured(MappingKind::box, 9, 128));
  // Two plates, of which one is let into the other; their coordinates are four times as dense across.
  const auto plates = [this](const char* name, bool flush) {
    return Sow([=, this](Project& p) {
      QFile file(folder_.filePath(QString(name) + ".obj"));
      if (!file.open(QIODevice::WriteOnly)) qFatal("no model");
      const double front = flush ? 0 : -2;
      file.write("vt 0 0\nvt 4 0\nvt 4 1\nvt 0 1\n");
      for (const auto& [y, half, top] : {std::tuple(0.0, 200, 400), {front, 60, 200}})
        file.write(QString("v %1 %2 0\nv %3 %2 0\nv %3 %2 %4\nv %1 %2 %4\n")
                       .arg(-half)
                       .arg(y)
                       .arg(half)
                       .arg(top)
                       .toUtf8());
      file.write("o Plate\nusemtl a\nf 1/1 2/2 3/3 4/4\no Inlay\nusemtl b\nf 5/1 6/2 7/3 8/4\n");
      file.close();
      Product& product = p.products[0];
      product.model = *quay_.assets.refer(in((std::string(name) + ".obj").c_str()));
      product.surfaceOfPart.clear(), product.up = UpAxis::z, product.metresPerUnit = 0.001;
      p.shots[0].placements[0].turnDegrees = 0;
      Feed f;
      f.kind = FeedKind::picture, f.picture = madePicture("grid.png", 128, 128);
      f.mapping.kind = MappingKind::coordinates;
      p.surfaces[0].feeds[SurfaceValue::baseColour] = {f};
      const auto model = quay_.assets.model(product, quay_.progress);
      if (!model || (*model)->parts.size() != 2) qFatal("no plates");
      product.surfaceOfPart[(*model)->parts[0].path] = p.surfaces[0].id;
    });
  };
  add("an inlay flush in its plate", "faces-fight", By::shapes, plates("flush", true));
  add("texture pulled long", "texture-stretched", By::shapes, plates("pulled", false));
}

inline void SownMistakes::sowPicture(const Add& add) {
  add("three stops over", "exposure", By::photo, shot([](Shot& s) { s.blend.exposureEv = 3; }));
  add("blue product", "white", By::photo, shot([](Shot& s) { s.blend.white = {0.6, 1, 1.7}; }));
  add("too clean", "grain", By::photo, shot([](Shot& s) { s.blend.grain = {}; }));
  add("grain doubled", "grain", By::photo, shot([](Shot& s) {
        for (Vec3d& v : s.blend.grain.sigma) v *= 4;
      }));
  add("fringes of another lens", "fringes", By::photo, shot([](Shot& s) { s.blend.lens.fringe = {3, -3}; }));
  add("frame through the product", "product-cut", By::quick, shot([](Shot& s) {
        const std::string id = addFrame(s, {"Tall", 300, 300});
        s.frames[0].width = 0.1, s.frames[0].aboutProduct = true, s.frames[0].centre = {0.04, -0.1};
        addDeliverable(s, DeliverableKind::png, id);
      }));
  add("frame enlarged", "frame-enlarged", By::quick, shot([](Shot& s) {
        const std::string id = addFrame(s, {"Square", 4000, 4000});
        addDeliverable(s, DeliverableKind::png, id);
      }));
  add("out of the picture", "in-picture", By::trace, shot([](Shot& s) { s.placements[0].yM = -30; }));
  add("model gone", "files-missing", By::quick, [](Project& p) { p.products[0].model.path = "gone.step"; });
  add("photo gone", "files-missing", By::quick, shot([](Shot& s) { s.plate.path = "gone.jpg"; }));
  add("photo changed since", "files-changed", By::quick, shot([this](Shot& s) {
        QFile::copy(QString::fromStdString(quay_.assets.pathOf(s.plate).string()),
                    folder_.filePath("changed.jpg"));
        s.plate = {in("changed.jpg"), "0123456789abcdef0123456789abcdef"};
      }));
  add("photo saved to death", "jpeg-worn", By::quick, shot([this](Shot& s) {
        const QImage photo(QString::fromStdString(quay_.assets.pathOf(s.plate).string()));
        if (!photo.save(folder_.filePath("worn.jpg"), "JPEG", 18)) qFatal("no worn photo");
        s.plate = *quay_.assets.refer(in("worn.jpg"));
      }));
  add("photo of a smaller one", "photo-enlarged", By::quick, shot([this](Shot& s) {
        const QImage photo(QString::fromStdString(quay_.assets.pathOf(s.plate).string()));
        if (!photo.scaledToWidth(photo.width() * 2 / 3, Qt::SmoothTransformation)
                 .scaled(photo.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                 .save(folder_.filePath("enlarged.jpg"), "JPEG", 92))
          qFatal("no enlarged photo");
        s.plate = *quay_.assets.refer(in("enlarged.jpg"));
      }));
  const auto passes = [](std::vector<std::string> chosen) {
    return shot([chosen](Shot& s) {
      Deliverable d = usualOf(DeliverableKind::exr, "passes");
      d.passes = chosen;
      s.deliverables.push_back(d);
    });
  };
  add("passes without a shadow", "passes-chosen", By::quick, passes({"beauty", "depth"}));
  add("a pass that nobody traces", "passes-missing", By::quick, passes({"shadow_ratio", "occlusion"}));
}

}  // namespace dusk
