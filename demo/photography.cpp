#include "demo/photography.h"

#include <OpenImageIO/imageio.h>
#include <tbb/parallel_for.h>

#include "core/base/files.h"
#include "core/base/srgb.h"
#include "core/vantage/camera.h"

namespace dusk::demo {

Picture photographed(const Scene& scene, int width, int height, int samples, Progress& progress,
                     const RayOf& rayOf) {
  const Integrator integrator(scene);
  Picture picture = Picture::rgb(width, height);
  std::atomic<int> rows{0};
  tbb::parallel_for(0, height, [&](int y) {
    for (int x = 0; x < width && !progress.cancelled(); ++x) {
      Rgb sum(0);
      for (int i = 0; i < samples; ++i) {
        Sampler sampler(77, x, y, uint32_t(i));
        const Vec2f u = sampler.next2();
        sum += integrator.radiance(rayOf({x + u.x, y + u.y}, sampler), sampler);
      }
      sum /= float(samples);
      std::copy_n(&sum.x, 3, picture.at(x, y));
    }
    progress.report(double(++rows) / height);
  });
  return picture;
}

Picture photographed(const Scene& scene, int samples, Progress& progress) {
  const Integrator integrator(scene);
  return photographed(scene, scene.camera.width, scene.camera.height, samples, progress,
                      [&](const Vec2f& at, Sampler& sampler) {
                        const Vec2f lens = scene.aperture.radiusM > 0 ? sampler.next2() : Vec2f(0);
                        Ray ray = integrator.lensRay({at.x, at.y}, lens);
                        ray.spread = 0;  // as fine as it comes
                        return ray;
                      });
}

Picture photographedAllRound(const Scene& scene, const Vec3f& from, int width, int samples,
                             Progress& progress) {
  const int height = width / 2;
  return photographed(scene, width, height, samples, progress, [&](const Vec2f& at, Sampler&) {
    return Ray{from, panoramaDirection({at.x / float(width), at.y / float(height)})};
  });
}

void encodeSrgb(Picture& picture) {
  for (float& v : picture.pixels) {
    v = srgbEncoded(std::clamp(v, 0.0f, 1.0f));
  }
}

void developed(Picture& picture, const Camera& camera, float noise) {
  std::mt19937 random(20261);
  std::normal_distribution<float> bell;
  Picture grain = Picture::rgb(picture.width, picture.height);
  for (float& v : grain.pixels) v = bell(random);
  const double halfDiagonal = std::hypot(picture.width, picture.height) / 2;
  for (int y = 0; y < picture.height; ++y)
    for (int x = 0; x < picture.width; ++x) {
      const double r = std::hypot(x + 0.5 - camera.cx, y + 0.5 - camera.cy) / halfDiagonal;
      const float vignette = float(1 - 0.30 * r * r + 0.04 * r * r * r * r);
      for (int c = 0; c < 3; ++c) {
        float smeared = 0;
        for (int dy = -1; dy <= 1; ++dy)
          for (int dx = -1; dx <= 1; ++dx) {
            const int sx = std::clamp(x + dx, 0, picture.width - 1),
                      sy = std::clamp(y + dy, 0, picture.height - 1);
            smeared += grain.at(sx, sy)[c] * (dx == 0 && dy == 0   ? 0.64f
                                              : dx == 0 || dy == 0 ? 0.26f
                                                                   : 0.12f);
          }
        float& v = picture.at(x, y)[c];
        v *= vignette;
        v = std::max(0.0f, v + noise * smeared * std::sqrt(2e-5f + 4.5e-4f * v));
      }
    }
}

Outcome writePhotograph(const std::filesystem::path& file, const Picture& picture, const Exif& exif) {
  std::vector<unsigned char> codes(picture.pixels.size());
  for (size_t i = 0; i < codes.size(); ++i) codes[i] = (unsigned char)std::lround(picture.pixels[i] * 255);
  return replaceFileAtomically(file, [&](const std::filesystem::path& temporary) -> Outcome {
    OIIO::ImageSpec spec(picture.width, picture.height, 3, OIIO::TypeUInt8);
    spec.attribute("compression", "jpeg:95");
    spec.attribute("Make", "Saltmarsh Optical");
    spec.attribute("Model", "Saltmarsh S2");
    spec.attribute("Exif:LensModel", exif.lens);
    spec.attribute("Exif:FocalLength", exif.focalMm);
    spec.attribute("Exif:FocalLengthIn35mmFilm", exif.focalMm35);
    spec.attribute("FNumber", exif.fNumber);
    spec.attribute("ExposureTime", float(exif.seconds));
    spec.attribute("Exif:PhotographicSensitivity", 200);
    auto output = OIIO::ImageOutput::create(temporary.string());
    if (!output || !output->open(temporary.string(), spec) ||
        !output->write_image(OIIO::TypeUInt8, codes.data()) || !output->close())
      return Error{"Cannot write " + file.string() + "."};
    return done();
  });
}

Outcome takePhotograph(const Scene& scene, int samples, const std::filesystem::path& file, const Exif& exif,
                       Progress& progress) {
  Picture photo = photographed(scene, samples, progress);
  developed(photo, scene.camera);
  encodeSrgb(photo);
  return writePhotograph(file, photo, exif);
}

Vec2d drawn(const Camera& camera, const Vec3d& world, std::mt19937& random) {
  std::normal_distribution<double> bell(0, 0.4);
  const Vec2d p = *projected(camera, world);
  const auto tenth = [](double v) { return std::round(v * 10) / 10; };
  return {tenth(p.x + bell(random)), tenth(p.y + bell(random))};
}

void addDrawnStroke(std::vector<Stroke>& strokes, const Camera& camera, Run run, const Vec3d& from,
                    const Vec3d& to, int points, std::mt19937& random) {
  Stroke s{"stroke-" + std::to_string(strokes.size() + 1), run, {}};
  for (int i = 0; i < points; ++i)
    s.points.push_back(drawn(camera, from + (to - from) * (double(i) / (points - 1)), random));
  strokes.push_back(std::move(s));
}

}  // namespace dusk::demo
