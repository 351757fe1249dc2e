#include <cairo-pdf.h>

#include <sstream>

#include "core/base/words.h"
#include "core/deliver/proof_sheet.h"
#include "core/picture/exr_writer.h"

namespace dusk {
namespace {

constexpr double pageWidth = 595.28, pageHeight = 841.89, margin = 42;  // A4 in points

struct Colour {
  double r, g, b;
};
constexpr Colour ink{0.176, 0.161, 0.212}, soft{0.416, 0.384, 0.459}, rose{0.64, 0.2, 0.3},
    moss{0.24, 0.42, 0.17};

/// Text that flows down pages.
class Flow {
 public:
  explicit Flow(cairo_t* to) : to_(to) {}

  void text(const std::string& words, double size, const Colour& colour, bool bold = false,
            double indent = 0) {
    font(size, bold);
    cairo_set_source_rgb(to_, colour.r, colour.g, colour.b);
    for (const std::string& line : wrapped(words, pageWidth - 2 * margin - indent)) {
      room(size * 1.35);
      cairo_move_to(to_, margin + indent, y_ + size);
      cairo_show_text(to_, line.c_str());
      y_ += size * 1.35;
    }
  }
  void gap(double by) { y_ += by; }
  /// A JPEG as wide as the page, or as high as there may be room for.
  void picture(const std::string& jpeg, int width, int height, double mostHeight) {
    const double by = std::min((pageWidth - 2 * margin) / width, mostHeight / height);
    room(height * by);
    cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    // The file's own bytes go into the page; the surface only says how large they are.
    cairo_surface_set_mime_data(image, CAIRO_MIME_TYPE_JPEG,
                                reinterpret_cast<const unsigned char*>(jpeg.data()),
                                (unsigned long)jpeg.size(), nullptr, nullptr);
    cairo_save(to_);
    cairo_translate(to_, margin, y_);
    cairo_scale(to_, by, by);
    cairo_set_source_surface(to_, image, 0, 0);
    cairo_paint(to_);
    cairo_restore(to_);
    cairo_surface_destroy(image);
    y_ += height * by + 6;
  }
  void room(double needed) {
    if (y_ + needed <= pageHeight - margin) return;
    cairo_show_page(to_);
    y_ = margin;
  }

 private:
  void font(double size, bool bold) {
    cairo_select_font_face(to_, "Lato, sans-serif", CAIRO_FONT_SLANT_NORMAL,
                           bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(to_, size);
  }
  std::vector<std::string> wrapped(const std::string& words, double width) {
    std::vector<std::string> lines{""};
    std::istringstream in(words);
    for (std::string word; in >> word;) {
      const std::string longer = lines.back().empty() ? word : lines.back() + " " + word;
      cairo_text_extents_t extents;
      cairo_text_extents(to_, longer.c_str(), &extents);
      if (extents.x_advance > width && !lines.back().empty())
        lines.push_back(word);
      else
        lines.back() = longer;
    }
    return lines;
  }

  cairo_t* to_;
  double y_ = margin;
};

}  // namespace

Outcome writeProofPdf(const ProofSheet& sheet, const std::filesystem::path& file) {
  cairo_surface_t* surface = cairo_pdf_surface_create(file.c_str(), pageWidth, pageHeight);
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, sheet.title.c_str());
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, "Gentle Dusk");
  cairo_t* to = cairo_create(surface);
  Flow flow(to);
  flow.text(sheet.title, 20, ink, true);
  flow.gap(8);
  flow.picture(sheet.after, sheet.width, sheet.height, 430);
  flow.text(words("Without the product"), 9, soft);
  flow.picture(sheet.before, sheet.width, sheet.height, 150);
  flow.text(words("Proofs"), 13, ink, true);
  for (const bool ok : {false, true})
    for (const Finding& f : sheet.told.findings) {
      if (f.ok() != ok) continue;
      flow.gap(2);
      flow.text((ok ? words("holds: ") : words("off: ")) + f.what + ", " + numbersOf(f), 9.5,
                ok ? moss : rose);
      if (ok) continue;
      if (!f.says.empty()) flow.text("\u201c" + f.says + "\u201d", 9.5, ink, false, 14);
      flow.text(f.remedy, 9.5, soft, false, 14);
    }
  flow.gap(10);
  flow.text(words("Files"), 13, ink, true);
  for (const std::string& name : sheet.told.files) flow.text(name, 9.5, ink);
  flow.gap(10);
  flow.text(words("Settings"), 13, ink, true);
  for (const auto& [name, value] : sheet.told.settings) flow.text(name + ": " + value, 9.5, ink);
  cairo_show_page(to);
  cairo_destroy(to);
  cairo_surface_finish(surface);
  const cairo_status_t status = cairo_surface_status(surface);
  cairo_surface_destroy(surface);
  if (status != CAIRO_STATUS_SUCCESS) return pictureNotWritten(file, cairo_status_to_string(status));
  return done();
}

}  // namespace dusk
