#include "core/trace/slabs.h"

#include <cstring>

namespace dusk {

std::vector<Film::Window> slabsOf(const Film::Window& w) {
  std::vector<Film::Window> slabs;
  const auto next = [](int at, int end) { return std::min(end, (at / slabSize + 1) * slabSize); };
  for (int y = w.y0; y < w.y1; y = next(y, w.y1))
    for (int x = w.x0; x < w.x1; x = next(x, w.x1)) slabs.push_back({x, y, next(x, w.x1), next(y, w.y1)});
  return slabs;
}

size_t activeIn(const Film& film, const Film::Window& w) {
  if (film.samplingMask.empty()) return size_t(w.x1 - w.x0) * size_t(w.y1 - w.y0);
  size_t count = 0;
  for (int y = w.y0; y < w.y1; ++y) {
    const auto row = film.samplingMask.begin() + long(size_t(y) * size_t(film.width()));
    count += size_t(std::count_if(row + w.x0, row + w.x1, [](unsigned char m) { return m != 0; }));
  }
  return count;
}

std::string packed(const Film& film, const Film::Window& w) {
  std::string bytes;
  const bool isMasked = !film.samplingMask.empty();
  bytes.push_back(isMasked);
  for (int y = w.y0; isMasked && y < w.y1; ++y)
    bytes.append(
        reinterpret_cast<const char*>(&film.samplingMask[size_t(y) * size_t(film.width()) + size_t(w.x0)]),
        size_t(w.x1 - w.x0));
  film.eachTile(w, [&](int tile) {
    bytes.push_back(film.isKept(tile));
    if (film.isKept(tile)) film.appendTile(tile, bytes);
  });
  return bytes;
}

bool unpack(const std::string& bytes, const Film::Window& w, Film& film) {
  size_t at = 0;
  const auto left = [&] { return bytes.size() - at; };
  if (left() < 1) return false;
  const bool isMasked = bytes[at++] != 0;
  const size_t row = size_t(w.x1 - w.x0);
  if (isMasked) {
    if (left() < row * size_t(w.y1 - w.y0)) return false;
    film.samplingMask.resize(size_t(film.width()) * size_t(film.height()), 1);
    for (int y = w.y0; y < w.y1; ++y, at += row)
      std::memcpy(&film.samplingMask[size_t(y) * size_t(film.width()) + size_t(w.x0)], &bytes[at], row);
  }
  bool whole = true;
  film.eachTile(w, [&](int tile) {
    if (!whole || left() < 1) return void(whole = false);
    if (bytes[at++] == 0) return film.forgetTile(tile);
    if (left() < film.tileBytes()) return void(whole = false);
    film.setTile(tile, &bytes[at]);
    at += film.tileBytes();
  });
  return whole && left() == 0;
}

}  // namespace dusk
