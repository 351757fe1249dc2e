#include "core/project/deliverable_kinds.h"

#include "core/base/words.h"

#include <algorithm>
#include <array>

namespace dusk {
namespace {

constexpr int codes[] = {8, 16}, codesOrLight[] = {8, 16, 32}, eight[] = {8}, sixteen[] = {16},
              halfOrFull[] = {16, 32};

const DeliverableKindInfo table[] = {
    {DeliverableKind::png, "png", "PNG", ".png",
     marked("Loses nothing; with alpha, product and shadow on nothing"), codes, true},
    {DeliverableKind::exr, "exr", marked("EXR with passes"), ".exr",
     marked("Scene light: the composite and every pass, for who goes on with it"), halfOrFull, false, true,
     false, true},
    {DeliverableKind::jpeg, "jpeg", "JPEG", ".jpg", marked("Small, for the web and for mail"), eight, false,
     false, true},
    {DeliverableKind::tiff, "tiff", "TIFF", ".tif", marked("For print; in 32 bits scene light"), codesOrLight,
     true, true},
    {DeliverableKind::webp, "webp", "WebP", ".webp", marked("Smaller than JPEG, with alpha too"), eight, true,
     false, true},
    {DeliverableKind::avif, "avif", "AVIF", ".avif", marked("The smallest; not every program reads it"),
     eight, false, false, true},
    {DeliverableKind::openRaster, "openRaster", marked("OpenRaster layers"), ".ora",
     marked("The blend's rows as layers over one another, for a colleague's picture editor"), sixteen},
    {DeliverableKind::proofPage, "proofPage", marked("Proof sheet, web page"), ".html",
     marked("The picture before and after, with every finding: one file that opens anywhere"), eight},
    {DeliverableKind::proofPdf, "proofPdf", marked("Proof sheet, PDF"), ".pdf",
     marked("The same, to be printed and filed"), eight},
    {DeliverableKind::mp4, "mp4", marked("Film, MP4"), ".mp4",
     marked("All that moves, as H.264: plays everywhere"), eight, false, false, true, false, true},
    {DeliverableKind::webm, "webm", marked("Film, WebM"), ".webm",
     marked("All that moves, as VP9: for web pages, with alpha too"), eight, true, false, true, false, true},
    {DeliverableKind::gif, "gif", marked("Film, GIF"), ".gif",
     marked("A short loop of 256 colours that shows anywhere"), eight, false, false, false, false, true},
    {DeliverableKind::webpLoop, "webpLoop", marked("Film, WebP"), ".webp",
     marked("A short loop in full colours, with alpha too"), eight, true, false, true, false, true},
    {DeliverableKind::gltfScene, "gltfScene", marked("Scene, glTF"), ".glb",
     marked("Products as they stand and are dressed, camera and lamps, for who goes on in three dimensions"),
     eight},
};
static_assert(std::size(table) == size_t(DeliverableKind::gltfScene) + 1);

constexpr FrameShape shapes[] = {{marked("Square"), 1080, 1080},    {marked("Portrait 4:5"), 1080, 1350},
                                 {marked("Tall 9:16"), 1080, 1920}, {marked("Wide 16:9"), 1920, 1080},
                                 {marked("Banner 3:1"), 1800, 600}, {marked("A4 upright"), 2480, 3508}};

template <typename T>
bool has(std::span<const T> all, T one) {
  return std::find(all.begin(), all.end(), one) != all.end();
}

}  // namespace

std::span<const DeliverableKindInfo> deliverableKinds() { return table; }
const DeliverableKindInfo& infoOf(DeliverableKind kind) { return table[size_t(kind)]; }
const DeliverableKindInfo* deliverableKindNamed(std::string_view name) {
  for (const DeliverableKindInfo& info : table)
    if (info.name == name) return &info;
  return nullptr;
}

bool isOfFilm(const Deliverable& d) {
  return infoOf(d.kind).isFilm || d.fileName.find(pictureWord) != std::string::npos;
}

std::string unsoundIn(const Deliverable& d) {
  const DeliverableKindInfo& info = infoOf(d.kind);
  if (d.fileName.empty() || d.fileName.find('/') != std::string::npos || d.fileName == "." ||
      d.fileName == "..")
    return "has a deliverable whose file name is empty or holds a folder";
  if (d.kind != DeliverableKind::openRaster && d.kind != DeliverableKind::exr && !has(info.bits, d.bits))
    return "has a " + std::string(info.title) + " with " + std::to_string(d.bits) + " bits a channel";
  if ((d.alpha == DeliveredAlpha::straight && !info.straight) ||
      (d.alpha == DeliveredAlpha::premultiplied && !info.premultiplied))
    return "has \"" + d.fileName + "\" with an alpha that a " + info.title + " cannot hold; it may be none" +
           (info.straight ? " or straight" : "") + (info.premultiplied ? " or premultiplied" : "");
  return {};
}

Deliverable usualOf(DeliverableKind kind, const std::string& stem) {
  Deliverable d;
  d.kind = kind, d.fileName = stem + infoOf(kind).ending, d.bits = infoOf(kind).bits.front();
  return d;
}

std::span<const FrameShape> frameShapes() { return shapes; }

}  // namespace dusk
