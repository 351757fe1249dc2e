// A colleague who composites, for trying and testing: takes a delivered EXR or OpenRaster apart with
// libraries that Gentle Dusk does not write by, lays its parts over each other again, and says how far that
// is from what was delivered with them.
//
//   dusk-outside-compositor FILE.exr [--plate PLATE.exr]
//   dusk-outside-compositor FILE.ora
//
// Prints one line a comparison: its name, the largest difference and the mean one. Exit 0 where all are as
// small as rounding makes them, 1 where one is not, 2 where the file cannot be read.
#include <tinyexr.h>
#include <zip.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <opencv2/imgcodecs.hpp>
#include <optional>
#include <pugixml.hpp>
#include <string>
#include <vector>

namespace {

/// Channels by name, row by row.
struct Layer {
  int width = 0, height = 0;
  std::map<std::string, std::vector<float>> channels;
  const std::vector<float>* channel(const std::string& name) const {
    const auto at = channels.find(name);
    return at == channels.end() ? nullptr : &at->second;
  }
};
using Layers = std::map<std::string, Layer>;
constexpr const char* rgb[] = {"R", "G", "B"};

class Report {
 public:
  /// `allowed`: of the difference, against 1 or the value itself where that is larger.
  void compare(const std::string& what, const std::vector<float>& built, const std::vector<float>& told,
               double allowed) {
    double largest = 0, sum = 0;
    size_t worst = 0;
    for (size_t i = 0; i < told.size(); ++i) {
      const double off = std::abs(double(built[i]) - told[i]) / std::max(1.0, std::abs(double(told[i])));
      if (off > largest) worst = i;
      largest = std::max(largest, std::isfinite(off) ? off : 1e9), sum += off;
    }
    std::printf("%s: largest %.6f, mean %.7f%s\n", what.c_str(), largest, sum / double(told.size()),
                largest <= allowed ? "" : " - TOO MUCH");
    if (largest > allowed)
      std::printf("  worst: %zu built %g told %g\n", worst, double(built[worst]), double(told[worst]));
    ++compared_, off_ += largest > allowed;
  }
  int code() const { return compared_ == 0 ? 2 : off_ > 0 ? 1 : 0; }

 private:
  int compared_ = 0, off_ = 0;
};

Layers readExr(const std::string& file) {
  EXRVersion version;
  if (ParseEXRVersionFromFile(&version, file.c_str()) != TINYEXR_SUCCESS) return {};
  EXRHeader** headers = nullptr;
  int count = 0;
  const char* why = nullptr;
  std::vector<EXRHeader*> all;
  if (version.multipart) {
    if (ParseEXRMultipartHeaderFromFile(&headers, &count, &version, file.c_str(), &why) != TINYEXR_SUCCESS)
      return {};
    all.assign(headers, headers + count);
  } else {
    all.push_back(new EXRHeader);
    InitEXRHeader(all[0]);
    if (ParseEXRHeaderFromFile(all[0], &version, file.c_str(), &why) != TINYEXR_SUCCESS) return {};
  }
  for (EXRHeader* h : all)
    for (int c = 0; c < h->num_channels; ++c)
      if (h->pixel_types[c] == TINYEXR_PIXELTYPE_HALF) h->requested_pixel_types[c] = TINYEXR_PIXELTYPE_FLOAT;
  std::vector<EXRImage> images(all.size());
  for (EXRImage& image : images) InitEXRImage(&image);
  const int read = version.multipart ? LoadEXRMultipartImageFromFile(
                                           images.data(), const_cast<const EXRHeader**>(all.data()),
                                           unsigned(all.size()), file.c_str(), &why)
                                     : LoadEXRImageFromFile(images.data(), all[0], file.c_str(), &why);
  if (read != TINYEXR_SUCCESS) return {};
  Layers layers;
  for (size_t i = 0; i < all.size(); ++i)
    for (int c = 0; c < all[i]->num_channels; ++c) {
      // One part with layers names its channels "layer.R".
      const std::string name = all[i]->channels[c].name;
      const size_t dot = name.rfind('.');
      const std::string part = dot != std::string::npos ? name.substr(0, dot)
                               : version.multipart      ? all[i]->name
                                                        : "composite";
      Layer& layer = layers[part];
      layer.width = images[i].width, layer.height = images[i].height;
      const auto* pixels = reinterpret_cast<const float*>(images[i].images[c]);
      layer.channels[dot == std::string::npos ? name : name.substr(dot + 1)].assign(
          pixels, pixels + size_t(layer.width) * size_t(layer.height));
    }
  return layers;
}

int compositeExr(const std::string& file, const std::string& plateFile) {
  const Layers layers = readExr(file), plates = plateFile.empty() ? Layers{} : readExr(plateFile);
  if (layers.empty() || (!plateFile.empty() && plates.empty()))
    return std::fprintf(stderr, "%s cannot be read.\n", (layers.empty() ? file : plateFile).c_str()), 2;
  Report report;
  const auto layer = [](const Layers& of, const char* name) {
    const auto at = of.find(name);
    return at == of.end() ? nullptr : &at->second;
  };
  // What light did on its ways adds up to what was seen; the noise is taken out of each by itself.
  if (const Layer* beauty = layer(layers, "beauty"))
    for (const char* c : rgb) {
      std::vector<float> sum(beauty->channel(c)->size(), 0.0f);
      int ways = 0;
      for (const char* of : {"diffuse", "specular", "transmission"})
        for (const char* way : {"_direct", "_indirect"})
          if (const Layer* part = layer(layers, (std::string(of) + way).c_str())) {
            for (size_t i = 0; i < sum.size(); ++i) sum[i] += (*part->channel(c))[i];
            ++ways;
          }
      if (const Layer* glow = layer(layers, "emission"))
        for (size_t i = 0; i < sum.size(); ++i) sum[i] += (*glow->channel(c))[i];
      if (ways > 1)
        report.compare(std::string("ways of light against beauty, ") + c, sum, *beauty->channel(c), 0.01);
    }
  const Layer *over = layer(layers, "product_and_shadow"), *whole = layer(layers, "composite"),
              *plate = layer(plates, "composite");
  if (over && whole && plate && plate->width == whole->width && plate->height == whole->height)
    for (const char* c : rgb) {
      std::vector<float> built = *over->channel(c);
      for (size_t i = 0; i < built.size(); ++i)
        built[i] += (*plate->channel(c))[i] * (1 - (*over->channel("A"))[i]);
      // A layer cannot hold less than no light, as beside sharpened edges.
      std::vector<float> told = *whole->channel(c);
      for (float& v : told) v = std::max(v, 0.0f);
      report.compare(std::string("product and shadow over the plate, ") + c, built, told, 0.0005);
    }
  return report.code();
}

/// A picture of an archive, straight alpha in 0..1, B G R A.
std::optional<cv::Mat> pictureIn(zip_t* archive, const std::string& name) {
  zip_stat_t found;
  if (zip_stat(archive, name.c_str(), 0, &found) != 0) return {};
  std::vector<unsigned char> bytes(found.size);
  zip_file_t* file = zip_fopen(archive, name.c_str(), 0);
  if (!file) return {};
  const bool read = zip_fread(file, bytes.data(), bytes.size()) == zip_int64_t(bytes.size());
  zip_fclose(file);
  cv::Mat codes = read ? cv::imdecode(bytes, cv::IMREAD_UNCHANGED) : cv::Mat();
  if (codes.empty()) return {};
  cv::Mat all;
  codes.convertTo(all, CV_32F, codes.depth() == CV_16U ? 1 / 65535.0 : 1 / 255.0);
  if (all.channels() == 4) return all;
  cv::Mat opaque(all.size(), CV_32FC4);
  for (int y = 0; y < all.rows; ++y)
    for (int x = 0; x < all.cols; ++x) {
      const auto& p = all.at<cv::Vec3f>(y, x);
      opaque.at<cv::Vec4f>(y, x) = {p[0], p[1], p[2], 1};
    }
  return opaque;
}

int compositeLayers(const std::string& name) {
  int error = 0;
  zip_t* archive = zip_open(name.c_str(), ZIP_RDONLY, &error);
  if (!archive) return std::fprintf(stderr, "%s cannot be read.\n", name.c_str()), 2;
  std::string text(1 << 20, '\0');
  zip_file_t* stack = zip_fopen(archive, "stack.xml", 0);
  text.resize(size_t(std::max<zip_int64_t>(0, stack ? zip_fread(stack, text.data(), text.size()) : 0)));
  if (stack) zip_fclose(stack);
  pugi::xml_document doc;
  const auto merged = pictureIn(archive, "mergedimage.png");
  if (!doc.load_string(text.c_str()) || !merged) return std::fprintf(stderr, "It holds no layers.\n"), 2;
  cv::Mat built(merged->size(), CV_32FC4, cv::Scalar(0, 0, 0, 0));
  const auto layers = doc.select_nodes("//layer");
  for (size_t i = layers.size(); i-- > 0;) {
    const auto picture = pictureIn(archive, layers[i].node().attribute("src").value());
    if (!picture || picture->size() != built.size()) return std::fprintf(stderr, "A layer is missing.\n"), 2;
    for (int y = 0; y < built.rows; ++y)
      for (int x = 0; x < built.cols; ++x) {
        const auto& p = picture->at<cv::Vec4f>(y, x);
        auto& b = built.at<cv::Vec4f>(y, x);
        for (int c = 0; c < 3; ++c) b[c] = b[c] * (1 - p[3]) + p[c] * p[3];
        b[3] = b[3] * (1 - p[3]) + p[3];
      }
  }
  zip_close(archive);
  Report report;
  for (int c = 0; c < 3; ++c) {
    std::vector<float> told, laid;
    for (int y = 0; y < built.rows; ++y)
      for (int x = 0; x < built.cols; ++x)
        told.push_back(merged->at<cv::Vec4f>(y, x)[c]), laid.push_back(built.at<cv::Vec4f>(y, x)[c]);
    report.compare(std::string("layers against the picture, ") + "BGR"[c], laid, told, 1.01 / 255);
  }
  return report.code();
}

}  // namespace

int main(int argc, char** argv) {
  CLI::App app("Rebuilds a composite from its delivered parts.");
  std::string file, plate;
  app.add_option("file", file, "EXR or OpenRaster")->required();
  app.add_option("--plate", plate, "the plate as an EXR of the same size");
  CLI11_PARSE(app, argc, argv);
  return file.ends_with(".ora") ? compositeLayers(file) : compositeExr(file, plate);
}
