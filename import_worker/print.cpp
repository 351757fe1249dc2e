// Draws one page of an SVG or PDF file as pixels. Arguments: FILE OUT PAGE SIDE MEMORY_BYTES; SIDE is the
// longer side in pixels. Writes a TGA with straight alpha, and prints its true size: "WIDTH_MM HEIGHT_MM".
// On failure one sentence follows, and it exits 1. Nothing is fetched, no script runs: an SVG is read from
// memory, without a place that others could be beside. It may crash or never end: that is why it is a process
// of its own.
#include <cairo.h>
#include <librsvg/rsvg.h>
#include <poppler.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <iterator>
#include <string>
#include <vector>

#include "import_worker/confine.h"
#include "import_worker/limits.h"

namespace {

int fail(const std::string& sentence) {
  std::fputs(sentence.c_str(), stdout);
  return 1;
}

std::string nameOf(const std::string& path) { return path.substr(path.rfind('/') + 1); }

struct Sheet {
  cairo_surface_t* surface = nullptr;
  double widthMm = 0, heightMm = 0;
};

/// An empty sheet whose longer side has `side` pixels, and a pen whose unit is the file's.
cairo_t* beginSheet(Sheet& sheet, double width, double height, double mmPerUnit, int side) {
  const double scale = side / std::max(width, height);
  sheet.widthMm = width * mmPerUnit, sheet.heightMm = height * mmPerUnit;
  sheet.surface =
      cairo_image_surface_create(CAIRO_FORMAT_ARGB32, std::max(1, int(std::lround(width * scale))),
                                 std::max(1, int(std::lround(height * scale))));
  cairo_t* pen = cairo_create(sheet.surface);
  cairo_scale(pen, scale, scale);
  return pen;
}

std::string drawSvg(const std::string& bytes, const std::string& name, int side, Sheet& sheet) {
  GError* error = nullptr;
  RsvgHandle* svg =
      rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(bytes.data()), bytes.size(), &error);
  if (!svg)
    return name + " is not a drawing that can be read (" + (error ? error->message : "damaged") + ").";
  rsvg_handle_set_dpi(svg, 96);
  // What a template draws to help the eye is not printed.
  const std::string quiet = "#guide { display: none; }";
  rsvg_handle_set_stylesheet(svg, reinterpret_cast<const guint8*>(quiet.data()), quiet.size(), nullptr);
  double w = 0, h = 0;
  if (!rsvg_handle_get_intrinsic_size_in_pixels(svg, &w, &h) || w <= 0 || h <= 0) {
    gboolean hasWidth, hasHeight, hasBox;
    RsvgLength width, height;
    RsvgRectangle box{};
    rsvg_handle_get_intrinsic_dimensions(svg, &hasWidth, &width, &hasHeight, &height, &hasBox, &box);
    if (!hasBox || box.width <= 0 || box.height <= 0)
      return name + " does not say how large it is. Give its page a size.";
    w = box.width, h = box.height;
  }
  cairo_t* pen = beginSheet(sheet, w, h, 25.4 / 96, side);
  const RsvgRectangle page{0, 0, w, h};
  const bool drawn = rsvg_handle_render_document(svg, pen, &page, &error);
  cairo_destroy(pen);
  return drawn ? "" : name + " cannot be drawn (" + (error ? error->message : "damaged") + ").";
}

std::string drawPdf(const std::string& bytes, const std::string& name, int page, int side, Sheet& sheet) {
  GError* error = nullptr;
  GBytes* content = g_bytes_new(bytes.data(), bytes.size());
  PopplerDocument* pdf = poppler_document_new_from_bytes(content, nullptr, &error);
  if (!pdf) return name + " is not a PDF that can be read (" + (error ? error->message : "damaged") + ").";
  const int pages = poppler_document_get_n_pages(pdf);
  if (page < 1 || page > pages)
    return name + " has " + std::to_string(pages) + (pages == 1 ? " page" : " pages") + ", but page " +
           std::to_string(page) + " is asked for.";
  PopplerPage* sheetOf = poppler_document_get_page(pdf, page - 1);
  double w = 0, h = 0;
  poppler_page_get_size(sheetOf, &w, &h);
  if (w <= 0 || h <= 0) return name + " has a page of no size.";
  cairo_t* pen = beginSheet(sheet, w, h, 25.4 / 72, side);
  poppler_page_render_for_printing(sheetOf, pen);
  cairo_destroy(pen);
  return "";
}

/// Straight alpha, rows from the top.
bool writeTga(const Sheet& sheet, std::ofstream& to) {
  cairo_surface_flush(sheet.surface);
  const int w = cairo_image_surface_get_width(sheet.surface),
            h = cairo_image_surface_get_height(sheet.surface);
  const unsigned char* rows = cairo_image_surface_get_data(sheet.surface);
  if (!rows || w > 65535 || h > 65535) return false;
  std::vector<uint8_t> out = {0,
                              0,
                              2,
                              0,
                              0,
                              0,
                              0,
                              0,
                              0,
                              0,
                              0,
                              0,
                              uint8_t(w & 255),
                              uint8_t(w >> 8),
                              uint8_t(h & 255),
                              uint8_t(h >> 8),
                              32,
                              0x28};
  out.reserve(out.size() + size_t(w) * size_t(h) * 4);
  for (int y = 0; y < h; ++y) {
    const auto* row = reinterpret_cast<const uint32_t*>(
        rows + size_t(y) * size_t(cairo_image_surface_get_stride(sheet.surface)));
    for (int x = 0; x < w; ++x) {
      const uint32_t p = row[x], a = p >> 24;
      for (const int shift : {0, 8, 16})
        out.push_back(a ? uint8_t(std::min(255u, ((p >> shift & 255) * 255 + a / 2) / a)) : 0);
      out.push_back(uint8_t(a));
    }
  }
  return bool(to.write(reinterpret_cast<const char*>(out.data()), std::streamsize(out.size())).flush());
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 6) return std::puts("usage: dusk-print-worker FILE OUT PAGE SIDE MEMORY_BYTES"), 2;
  limitMemory(argv[5]);
  std::ofstream to(argv[2], std::ios::binary);
  confine();  // from here on nothing else can be written to
  const std::string name = nameOf(argv[1]);
  std::ifstream in(argv[1], std::ios::binary);
  if (!in) return fail(name + " is not there, or cannot be read.");
  const std::string bytes{std::istreambuf_iterator<char>(in), {}};
  const int side = std::clamp(std::atoi(argv[4]), 16, 16384);
  Sheet sheet;
  const bool pdf = bytes.compare(0, 5, "%PDF-") == 0;
  const std::string trouble =
      pdf ? drawPdf(bytes, name, std::atoi(argv[3]), side, sheet) : drawSvg(bytes, name, side, sheet);
  if (!trouble.empty()) return fail(trouble);
  if (cairo_surface_status(sheet.surface) != CAIRO_STATUS_SUCCESS)
    return fail(name + " needs more memory than is allowed for one drawing.");
  if (!writeTga(sheet, to))
    return fail("The drawing cannot be kept: the disk is full, or the cache cannot be written to.");
  std::printf("%.6g %.6g\n", sheet.widthMm, sheet.heightMm);
  return 0;
}
