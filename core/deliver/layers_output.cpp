#include <zip.h>

#include <pugixml.hpp>
#include <sstream>

#include "core/base/files.h"
#include "core/deliver/apart.h"
#include "core/deliver/output_file.h"
#include "core/picture/exr_writer.h"
#include "core/picture/row_scaler.h"
#include "core/project/correction_kinds.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;

/// The group of the layer stack that a row of the blend belongs to; the person's own layers have none.
std::string groupOf(const std::string& stage) {
  for (const char* of : {"Plate", "Contact", "Reflections"})
    if (stage == of) return "Place";
  for (const char* of : {"Product", "Glow of parts", "In front", "Lens", "Grain"})
    if (stage == of) return "Product";
  return {};
}

/// Each row of the blend as a layer that makes the picture up to it of the picture below it, in an OpenRaster
/// file (freedesktop.org's "OpenRaster File Layout Specification"). What the rows do in scene light no stack
/// of layers in code values can do; what they come to over this very picture, it can.
class LayersOutput : public OutputFile {
 public:
  LayersOutput(const OutputPlan& plan, std::shared_ptr<const ColourView> view)
      : plan_(plan), view_(std::move(view)), half_(plan.file) {
    scratch_ = half_.temporary().string() + ".layers";
  }
  ~LayersOutput() override {
    layers_.clear(), merged_.reset();
    std::error_code ignored;
    fs::remove_all(scratch_, ignored);
  }

  Outcome add(const FinishedRows& rows, const std::vector<std::string>& names) override {
    if (rows.area.height() <= 0) return done();
    if (layers_.empty())
      if (const Outcome begun = begin(names); !begun) return begun;
    const Picture cover = coverScaler_ ? coverScaler_->add(rows.cover) : rows.cover;
    Picture below, above;
    for (size_t i = 0; i < layers_.size(); ++i) {
      Layer& layer = layers_[i];
      if (layer.scaler) {
        const Picture light = layer.scaler->add(rows.stageLight[i]);
        above = light.empty() ? Picture() : displayed(light, *view_);
      } else {
        above = rows.stages[i];
      }
      if (above.empty()) return done();
      if (const Outcome wrote = write(layer, i, below, above, cover); !wrote) return wrote;
      below = std::move(above);
    }
    if (const Outcome wrote = merged_->write(below); !wrote) return wrote;
    const Picture thumb = thumbScaler_->add(below);
    thumb_.insert(thumb_.end(), thumb.pixels.begin(), thumb.pixels.end());
    return done();
  }

  Outcome close(const std::vector<bool>&) override {
    for (Layer& layer : layers_)
      if (const Outcome closed = layer.writer->close(); !closed) return closed;
    if (const Outcome closed = merged_->close(); !closed) return closed;
    if (const Outcome wrote = writeThumb(); !wrote) return wrote;
    if (const Outcome packed = pack(); !packed) return packed;
    return half_.commit();
  }

 private:
  struct Layer {
    std::string name, file;
    std::unique_ptr<PictureWriter> writer;
    std::optional<RowScaler> scaler;
    bool shows = false;
  };
  int width() const { return plan_.frame.width; }
  int height() const { return plan_.frame.height; }
  Error failed(const std::string& why) const { return pictureNotWritten(plan_.file, why); }

  Outcome begin(const std::vector<std::string>& names) {
    std::error_code code;
    fs::create_directories(scratch_, code);
    if (code) return failed(code.message());
    const PixelArea& from = plan_.frame.area;
    PictureFileKind kind;
    kind.width = width(), kind.height = height(), kind.dpi = plan_.frame.dpi;
    for (size_t i = 0; i < names.size(); ++i) {
      kind.hasAlpha = i > 0, kind.bits = 16;
      Layer layer{names[i], "layer" + std::to_string(i) + ".png", nullptr, {}, i == 0};
      auto writer = PictureWriter::open(scratch_ / layer.file, kind);
      if (!writer) return writer.error();
      layer.writer = std::move(*writer);
      if (from.width() != width() || from.height() != height())
        layer.scaler.emplace(from.width(), from.height(), width(), height(), 3);
      layers_.push_back(std::move(layer));
    }
    if (layers_.front().scaler) coverScaler_.emplace(from.width(), from.height(), width(), height(), 3);
    kind.hasAlpha = false, kind.bits = 8;
    auto merged = PictureWriter::open(scratch_ / "mergedimage.png", kind);
    if (!merged) return merged.error();
    merged_ = std::move(*merged);
    constexpr double longest = 256;  // by the specification
    const double by = std::min(1.0, longest / std::max(width(), height()));
    thumbWidth_ = std::max(1, int(width() * by)), thumbHeight_ = std::max(1, int(height() * by));
    thumbScaler_.emplace(width(), height(), thumbWidth_, thumbHeight_, 3);
    return done();
  }
  Outcome write(Layer& layer, size_t index, const Picture& below, const Picture& above,
                const Picture& cover) {
    if (index == 0) return layer.writer->write(above);
    // The product hides what is behind it even where the two look alike.
    const bool isProduct = layer.name == infoOf(BlendRole::product).title;
    const Picture over = layerOver(below, above, isProduct ? cover : Picture(), 65535, false);
    for (size_t i = 3; i < over.pixels.size(); i += 4) layer.shows |= over.pixels[i] > 0;
    return layer.writer->write(over);
  }
  Outcome writeThumb() {
    Picture thumb = Picture::rgb(thumbWidth_, thumbHeight_);
    thumb.pixels = thumb_;
    return writePicture(scratch_ / "thumbnail.png", {}, thumb);
  }
  /// The list of layers, the top one first, alike ones in groups.
  std::string stackXml() const {
    pugi::xml_document doc;
    pugi::xml_node image = doc.append_child("image");
    image.append_attribute("version") = "0.0.3";
    image.append_attribute("w") = width(), image.append_attribute("h") = height();
    pugi::xml_node root = image.append_child("stack"), group;
    std::string groupName;
    for (auto layer = layers_.rbegin(); layer != layers_.rend(); ++layer) {
      if (!layer->shows) continue;
      const std::string in = groupOf(layer->name);
      if (in.empty() || in != groupName || !group) {
        group = in.empty() ? root : root.append_child("stack");
        if (!in.empty()) group.append_attribute("name") = in.c_str();
        groupName = in;
      }
      pugi::xml_node node = group.append_child("layer");
      node.append_attribute("name") = layer->name.c_str();
      node.append_attribute("src") = ("data/" + layer->file).c_str();
      node.append_attribute("composite-op") = "svg:src-over";
      for (const char* at : {"x", "y"}) node.append_attribute(at) = 0;
      node.append_attribute("opacity") = 1, node.append_attribute("visibility") = "visible";
    }
    std::ostringstream text;
    doc.save(text, " ");
    return text.str();
  }
  Outcome pack() {
    int trouble = 0;
    zip_t* archive = zip_open(half_.temporary().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &trouble);
    if (!archive) return failed("the archive cannot be made.");
    const std::string type = "image/openraster", xml = stackXml();
    const auto add = [&](const std::string& name, zip_source_t* source, bool stored) {
      const zip_int64_t at = source ? zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
      return at >= 0 &&
             (!stored || zip_set_file_compression(archive, zip_uint64_t(at), ZIP_CM_STORE, 0) == 0);
    };
    const auto file = [&](const std::string& name) {
      return zip_source_file(archive, (scratch_ / name).c_str(), 0, -1);
    };
    // The type comes first and as it is: that is how such a file is known.
    bool ok = add("mimetype", zip_source_buffer(archive, type.data(), type.size(), 0), true) &&
              add("stack.xml", zip_source_buffer(archive, xml.data(), xml.size(), 0), false);
    for (const Layer& layer : layers_)
      if (layer.shows) ok = ok && add("data/" + layer.file, file(layer.file), true);
    ok = ok && add("mergedimage.png", file("mergedimage.png"), true) &&
         add("Thumbnails/thumbnail.png", file("thumbnail.png"), true);
    if (ok && zip_close(archive) == 0) return done();
    const std::string why = zip_strerror(archive);
    zip_discard(archive);
    return failed(why);
  }

  OutputPlan plan_;
  std::shared_ptr<const ColourView> view_;
  AtomicFile half_;
  fs::path scratch_;
  std::vector<Layer> layers_;
  std::unique_ptr<PictureWriter> merged_;
  std::optional<RowScaler> thumbScaler_, coverScaler_;
  std::vector<float> thumb_;
  int thumbWidth_ = 0, thumbHeight_ = 0;
};

}  // namespace

Result<std::unique_ptr<OutputFile>> beginLayers(const OutputPlan& plan,
                                                std::shared_ptr<const ColourView> view) {
  return std::unique_ptr<OutputFile>(std::make_unique<LayersOutput>(plan, std::move(view)));
}

}  // namespace dusk
