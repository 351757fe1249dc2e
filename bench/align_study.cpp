// How right panoramas are found that were taken among near things: `dusk-bench-align [CASES] [FIRST] [LEAN]
// [FOLDER for pictures]`. Made-up rooms, streets and tables; panorama at the product's spot, half a metre and
// one and a half away, at 0.1 to 2 m, leaning by so many degrees; exposure and white differ, the sun is
// clipped and in a third has moved on.
#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "bench/box_world.h"
#include "core/light/align.h"
#include "core/light/lights.h"
#include "core/picture/write.h"

namespace dusk::bench {
namespace {

struct Case {
  Camera camera;
  Picture photo;
  std::shared_ptr<const Panorama> panorama;
  Surroundings truth;
  Vec3d captureM;
};

Case made(BoxWorld::Kind kind, int number, int panoramaWidth, double lean) {
  std::mt19937 random(unsigned(number) * 77 + 5);
  std::uniform_real_distribution<> u(0, 1);
  BoxWorld world(kind, unsigned(number) + 100);
  Case c;
  const bool table = kind == BoxWorld::Kind::table;
  const double away = table ? 0.9 + 0.8 * u(random) : 1.4 + 1.2 * u(random);
  for (int tries = 0; tries < 200; ++tries) {
    const double azimuth = u(random) * 2 * pi;
    const Vec3d eye(std::sin(azimuth) * away, std::cos(azimuth) * away,
                    table ? 0.3 + 0.5 * u(random) : 0.6 + 1.0 * u(random));
    c.camera =
        lookAt(960, 640, focalPxFromMm35(22 + 16 * u(random), 960, 640), eye, {0, 0, table ? 0.1 : 0.4});
    if (!world.isTaken(toFloat(eye))) break;
  }
  const double offs[] = {0, 0.5, 1.5}, heights[] = {0.1, 0.3, 0.8, 1.4, 2.0};
  for (int tries = 0; tries < 200; ++tries) {
    const double off = offs[number % 3] * (table ? 0.6 : 1), around = u(random) * 2 * pi;
    c.captureM = Vec3d(std::sin(around) * off, std::cos(around) * off,
                       heights[(number / 3 + tries) % 5] * (table ? 0.6 : 1));
    if (!world.isTaken(toFloat(c.captureM))) break;
  }
  c.photo = world.photo(c.camera);
  for (float& v : c.photo.pixels) v = std::min(v, 1.0f);
  if (number % 3 == 1) world.moveSun(10);
  Surroundings& s = c.truth;
  s.turnDegrees = u(random) * 360 - 180, s.gainEv = 4 * u(random) - 2, s.mirrored = number % 2;
  s.white = {std::exp2(0.6 * u(random) - 0.3), 1, std::exp2(0.6 * u(random) - 0.3)};
  if (lean > 0) {
    const double towards = 2 * pi * u(random);
    s.tiltDegrees = lean * std::cos(towards), s.rollDegrees = lean * std::sin(towards);
  }
  Picture p = world.panorama(toFloat(c.captureM), panoramaWidth,
                             [&](const Vec3f& d) { return worldFromPanorama(s, d); });
  for (size_t i = 0; i < p.pixels.size(); ++i) {
    const float v = p.pixels[i] * float(std::exp2(-s.gainEv) / s.white[int(i % 3)]);
    p.pixels[i] = std::min(v, 40.0f * float(std::exp2(-s.gainEv)));
  }
  c.panorama = Panorama::make(std::move(p));
  return c;
}

}  // namespace
}  // namespace dusk::bench

int main(int argc, char** argv) {
  using namespace dusk;
  using namespace dusk::bench;
  const int cases = argc > 1 ? std::atoi(argv[1]) : 60, first = argc > 2 ? std::atoi(argv[2]) : 0;
  const double lean = argc > 3 ? std::atof(argv[3]) : 0;
  const char* names[] = {"interior", "street", "table"};
  int right[3]{}, all[3]{}, mirrors = 0, unflagged = 0, flaggedRight = 0, within = 0, rights = 0;
  double seconds = 0, slowest = 0;
  for (int i = first; i < first + cases; ++i) {
    const int kind = i / 2 % 3;
    const Case c = made(BoxWorld::Kind(kind), i, 2048, lean);
    if (argc > 4) {
      Picture shown = resized(c.panorama->picture(), 1024, 512);
      for (float& v : shown.pixels) v = std::pow(std::min(1.0f, v), 1 / 2.2f);
      Picture photo = c.photo;
      for (float& v : photo.pixels) v = std::pow(v, 1 / 2.2f);
      (void)writePng8(std::filesystem::path(argv[4]) / ("pano-" + std::to_string(i) + ".png"), shown);
      (void)writePng8(std::filesystem::path(argv[4]) / ("photo-" + std::to_string(i) + ".png"), photo);
    }
    CaptureGuess guess;
    guess.reachM = std::clamp(0.7 * c.camera.position.length(), 0.3, 5.0);
    const auto begun = std::chrono::steady_clock::now();
    Progress progress;
    const auto found = align(c.photo, c.camera, *c.panorama, guess, progress);
    const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    seconds += took, slowest = std::max(slowest, took);
    ++all[kind];
    if (!found) {
      std::printf("%3d %-9s %s\n", i, names[kind], found.error().message.c_str());
      continue;
    }
    const Alignment::Peak& best = found->best();
    const double off = std::abs(wrapDegrees(best.turnDegrees - c.truth.turnDegrees)),
                 ev = std::abs(best.gainEv - c.truth.gainEv);
    const bool mirrored = best.mirrored == c.truth.mirrored, good = mirrored && off < 1 && ev < 0.15;
    const double upright = std::hypot(best.tiltDegrees - c.truth.tiltDegrees,
                                      (mirrored ? 1 : -1) * best.rollDegrees - c.truth.rollDegrees);
    right[kind] += good, rights += good, mirrors += mirrored;
    within += good && off < found->turnSigma;
    unflagged += !good && !found->ambiguous, flaggedRight += good && found->ambiguous;
    std::printf(
        "%3d %-9s %s off %6.2f deg +/- %.2f %5.2f EV%s%s score %.2f, taken %.1f m off at %.1f m, found %.2f "
        "m from there, upright off %.2f deg\n",
        i, names[kind], good ? "  right" : "  WRONG", off, found->turnSigma, ev, mirrored ? "" : " MIRRORED",
        found->ambiguous ? " (flagged)" : "", best.score, std::hypot(c.captureM.x, c.captureM.y),
        c.captureM.z, (best.captureM - c.captureM).length(), upright);
    std::fflush(stdout);
  }
  std::printf(
      "right: interior %d of %d, street %d of %d, table %d of %d; mirrored right in %d of %d\n"
      "wrong and not flagged %d, right but flagged %d of %d, %.1f s each (slowest %.1f s)\n",
      right[0], all[0], right[1], all[1], right[2], all[2], mirrors, cases, unflagged, flaggedRight, rights,
      seconds / cases, slowest);
  std::printf("of those right, the true turn within one sigma: %d\n", within);
  return 0;
}
