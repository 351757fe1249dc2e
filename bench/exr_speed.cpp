// How long our EXR of every pass takes against the picture library's own for the same parts: `dusk-bench-exr
// [MEGAPIXELS] [PASSES]`. Both are told rows of the same pictures; ours come a band of all passes at a time,
// as a delivery makes them, the library's a part after the other, which is how it wants them.
#include <OpenImageIO/imageio.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "core/picture/exr_writer.h"

using namespace dusk;

namespace {

constexpr int band = 64;

/// Rows as of a traced pass: smooth, with the grain of what was not traced to the end.
Picture rowsOf(int width, int channels, unsigned seed) {
  Picture rows(width, band, std::vector<std::string>(size_t(channels), "v"));
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> grain(0.97f, 1.03f);
  for (int y = 0; y < band; ++y)
    for (int x = 0; x < width; ++x)
      for (int c = 0; c < channels; ++c)
        rows.at(x, y)[c] =
            (0.4f + 0.3f * std::sin(float(x) * 0.01f + float(c)) * std::cos(float(y) * 0.02f)) *
            grain(random);
  return rows;
}

double secondsOf(const std::function<bool()>& work) {
  const auto begun = std::chrono::steady_clock::now();
  if (!work()) std::puts("could not be written"), std::exit(1);
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

struct Measured {
  int width, height;
  std::vector<ExrPartHeader> parts;
  Picture colour, depth;
  const Picture& rows(size_t part) const { return parts[part].channels.size() == 1 ? depth : colour; }
};

bool ours(const Measured& m, const std::filesystem::path& file) {
  auto writer = ExrWriter::open(file, m.width, m.height, m.parts);
  if (!writer) return false;
  for (int y = 0; y < m.height; y += band)
    for (size_t p = 0; p < m.parts.size(); ++p)
      if (!(*writer)->write(p, m.rows(p)).ok()) return false;
  return (*writer)->close(std::vector<bool>(m.parts.size(), true)).ok();
}

bool theirs(const Measured& m, const std::filesystem::path& file) {
  auto out = OIIO::ImageOutput::create(file.string());
  std::vector<OIIO::ImageSpec> specs;
  for (const ExrPartHeader& part : m.parts) {
    OIIO::ImageSpec spec(m.width, m.height, int(part.channels.size()),
                         part.fullFloat ? OIIO::TypeFloat : OIIO::TypeHalf);
    spec.channelnames = part.channels;
    spec.attribute("oiio:subimagename", part.name);
    spec.attribute("compression", "zip");
    specs.push_back(std::move(spec));
  }
  if (!out || !out->open(file.string(), int(specs.size()), specs.data())) return false;
  for (size_t p = 0; p < specs.size(); ++p) {
    if (p > 0 && !out->open(file.string(), specs[p], OIIO::ImageOutput::AppendSubimage)) return false;
    for (int y = 0; y < m.height; y += band)
      if (!out->write_scanlines(y, y + band, 0, OIIO::TypeFloat, m.rows(p).pixels.data())) return false;
  }
  return out->close();
}

}  // namespace

int main(int argc, char** argv) {
  const double megapixels = argc > 1 ? std::atof(argv[1]) : 24;
  const int passes = argc > 2 ? std::atoi(argv[2]) : 16;
  Measured m;
  m.width = int(std::sqrt(megapixels * 1.5e6)) / band * band, m.height = m.width * 2 / 3 / band * band;
  for (int p = 0; p < passes; ++p) m.parts.push_back({"pass" + std::to_string(p), {"R", "G", "B"}});
  m.parts.push_back({"depth", {"Z"}, true});
  m.colour = rowsOf(m.width, 3, 1), m.depth = rowsOf(m.width, 1, 2);
  const std::filesystem::path folder = std::filesystem::temp_directory_path(),
                              a = folder / "dusk-bench-ours.exr", b = folder / "dusk-bench-library.exr";
  const double own = secondsOf([&] { return ours(m, a); }), other = secondsOf([&] { return theirs(m, b); });
  std::printf(
      "%d x %d, %d passes and depth: ours %.1f s, %.0f MB; the library's %.1f s, %.0f MB; ratio %.2f\n",
      m.width, m.height, passes, own, double(std::filesystem::file_size(a)) / 1e6, other,
      double(std::filesystem::file_size(b)) / 1e6, own / other);
  std::filesystem::remove(a), std::filesystem::remove(b);
  return 0;
}
