// Insertion truth: the demo's set rendered with the product physically in it, against our composite made only
// from photo, panorama and vantage. Arguments: [WIDTH] [SAMPLES] [FOLDER for pictures] [true-camera].
#include <cstdio>
#include <cstdlib>

#include "core/picture/write.h"
#include "demo/insertion.h"

int main(int argc, char** argv) {
  using namespace dusk;
  const int width = argc > 1 ? std::atoi(argv[1]) : 480, samples = argc > 2 ? std::atoi(argv[2]) : 256;
  auto made = demo::insertionTruth(DUSK_SOURCE "/demo/brackwater", width, samples, argc > 4);
  if (!made) return std::puts(made.error().message.c_str()), 1;
  std::printf("insertion truth, %d px wide, %d samples      mean dE00    worst    pixels\n", width, samples);
  const char* names[] = {"on the product", "where it changes the ground", "outside"};
  for (int i = 0; i < 3; ++i)
    std::printf("%-42s %9.2f %8.2f %9zu\n", names[i], made->off[i].mean(), made->off[i].worst,
                made->off[i].count);
  std::printf("%-42s %9.2f\n", "no product at all, everywhere", made->untouched.mean());
  if (argc < 4) return 0;
  const std::filesystem::path folder = argv[3];
  std::filesystem::create_directories(folder);
  Picture shown = Picture::rgb(made->difference.width, made->difference.height);
  for (size_t i = 0; i < shown.pixels.size(); ++i)
    shown.pixels[i] = std::min(1.0f, made->difference.pixels[i / 3] / 10);
  for (const auto& [name, picture] : {std::pair("truth.png", &made->truth),
                                      {"composite.png", &made->composite},
                                      {"difference.png", &shown}})
    if (const auto written = writePng8(folder / name, *picture); !written)
      return std::puts(written.error().message.c_str()), 1;
  return 0;
}
