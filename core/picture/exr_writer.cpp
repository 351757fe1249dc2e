#include "core/picture/exr_writer.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputPart.h>
#include <ImfMultiPartInputFile.h>
#include <ImfMultiPartOutputFile.h>
#include <ImfOutputPart.h>
#include <ImfPartType.h>
#include <ImfStringAttribute.h>
#include <ImfThreading.h>
#include <half.h>

#include <mutex>
#include <thread>

#include "core/base/files.h"
#include "core/base/words.h"

namespace dusk {

Error pictureNotWritten(const std::filesystem::path& file, std::string why) {
  if (!why.ends_with('.')) why += '.';
  return {words("Writing ") + file.string() + words(" failed: ") + why +
          words(" Check the folder and the free space on its disk.")};
}

namespace {

constexpr Imf::Compression compressions[] = {Imf::ZIP_COMPRESSION, Imf::ZIPS_COMPRESSION,
                                             Imf::PIZ_COMPRESSION, Imf::DWAA_COMPRESSION,
                                             Imf::NO_COMPRESSION};

Imf::Header emptyHeader(int width, int height, const std::string& name, const ExrLayout& layout) {
  Imf::Header header(width, height);
  header.compression() = compressions[size_t(layout.compression)];
  header.setName(name);
  header.setType(Imf::SCANLINEIMAGE);
  return header;
}

std::string layerChannel(const std::vector<ExrPartHeader>& parts, size_t part, size_t channel) {
  const std::string& name = parts[part].channels[channel];
  return part == 0 ? name : parts[part].name + "." + name;
}

void addTo(Imf::Header& header, const ExrPartHeader& part, const std::function<std::string(size_t)>& nameOf) {
  for (size_t c = 0; c < part.channels.size(); ++c)
    header.channels().insert(nameOf(c), Imf::Channel(part.fullFloat ? Imf::FLOAT : Imf::HALF));
  for (const auto& [key, text] : part.metadata) header.insert(key, Imf::StringAttribute(text));
}

/// The file's headers: one for each part that is kept, or a single one with all their channels.
std::vector<Imf::Header> headersOf(const std::vector<ExrPartHeader>& parts, const std::vector<bool>& keeps,
                                   int width, int height, const ExrLayout& layout) {
  std::vector<Imf::Header> headers;
  for (size_t i = 0; i < parts.size(); ++i) {
    if (!keeps[i]) continue;
    if (headers.empty() || !layout.onePart)
      headers.push_back(emptyHeader(width, height, layout.onePart ? "picture" : parts[i].name, layout));
    addTo(headers.back(), parts[i],
          [&](size_t c) { return layout.onePart ? layerChannel(parts, i, c) : parts[i].channels[c]; });
  }
  return headers;
}

half asHalf(float v) {
  // A half of more than it can hold would be an infinity, which spoils every sum in other programs.
  constexpr float mostInHalf = 65504;
  return half(std::isnan(v) ? 0.0f : std::clamp(v, -mostInHalf, mostInHalf));
}

}  // namespace

struct ExrWriter::State {
  State(const std::filesystem::path& file, std::vector<ExrPartHeader> all, const ExrLayout& layout)
      : whole(file), parts(std::move(all)), layout(layout), rowsDone(parts.size()), waiting(parts.size()) {}
  AtomicFile whole;
  std::vector<ExrPartHeader> parts;
  ExrLayout layout;
  std::vector<int> rowsDone;
  /// Of one part alone: rows that wait for those of the others.
  std::vector<std::vector<char>> waiting;
  int width = 0, height = 0, written = 0;
  std::unique_ptr<Imf::MultiPartOutputFile> out{};
  std::vector<std::unique_ptr<Imf::OutputPart>> outs{};

  size_t valueBytes(size_t part) const { return parts[part].fullFloat ? sizeof(float) : sizeof(half); }
  size_t rowBytes(size_t part) const {
    return size_t(width) * parts[part].channels.size() * valueBytes(part);
  }
  /// Lays `rows` of a part, from row `first` on, into the buffer.
  void slice(Imf::FrameBuffer& buffer, size_t part, const char* values, int first, int rows) const {
    const size_t n = parts[part].channels.size(), size = valueBytes(part);
    const IMATH_NAMESPACE::Box2i window({0, first}, {width - 1, first + rows - 1});
    for (size_t c = 0; c < n; ++c)
      buffer.insert(layout.onePart ? layerChannel(parts, part, c) : parts[part].channels[c],
                    Imf::Slice::Make(parts[part].fullFloat ? Imf::FLOAT : Imf::HALF, values + c * size,
                                     window, n * size, rowBytes(part)));
  }
  /// Writes the rows that all layers have.
  void flush() {
    const int ready = *std::min_element(rowsDone.begin(), rowsDone.end()) - written;
    if (ready <= 0) return;
    Imf::FrameBuffer buffer;
    for (size_t i = 0; i < parts.size(); ++i) slice(buffer, i, waiting[i].data(), written, ready);
    outs[0]->setFrameBuffer(buffer);
    outs[0]->writePixels(ready);
    written += ready;
    for (size_t i = 0; i < parts.size(); ++i)
      waiting[i].erase(waiting[i].begin(), waiting[i].begin() + long(rowBytes(i) * size_t(ready)));
  }
  /// The finished file without some layers: its rows are packed anew.
  void copyLayers(const std::filesystem::path& to, const std::vector<bool>& keeps) const {
    const auto headers = headersOf(parts, keeps, width, height, layout);
    Imf::MultiPartInputFile from(whole.temporary().c_str());
    Imf::InputPart in(from, 0);
    Imf::MultiPartOutputFile file(to.c_str(), headers.data(), 1);
    Imf::OutputPart kept(file, 0);
    constexpr int atOnce = 64;
    for (int y = 0; y < height; y += atOnce) {
      const int rows = std::min(atOnce, height - y);
      Imf::FrameBuffer buffer;
      std::vector<std::vector<char>> values(parts.size());
      for (size_t i = 0; i < parts.size(); ++i) {
        if (!keeps[i]) continue;
        values[i].resize(rowBytes(i) * size_t(rows));
        slice(buffer, i, values[i].data(), y, rows);
      }
      in.setFrameBuffer(buffer), in.readPixels(y, y + rows - 1);
      kept.setFrameBuffer(buffer), kept.writePixels(rows);
    }
  }
  /// The finished file without some parts: the packed rows of the others are copied as they are.
  void copyParts(const std::filesystem::path& to, const std::vector<bool>& keeps) const {
    const auto headers = headersOf(parts, keeps, width, height, layout);
    Imf::MultiPartInputFile from(whole.temporary().c_str());
    Imf::MultiPartOutputFile file(to.c_str(), headers.data(), int(headers.size()));
    for (int i = 0, k = 0; i < int(keeps.size()); ++i) {
      if (!keeps[size_t(i)]) continue;
      Imf::InputPart in(from, i);
      Imf::OutputPart(file, k++).copyPixels(in);
    }
  }
};

ExrWriter::ExrWriter(std::unique_ptr<State> state) : state_(std::move(state)) {}
ExrWriter::~ExrWriter() = default;

Result<std::unique_ptr<ExrWriter>> ExrWriter::open(const std::filesystem::path& file, int width, int height,
                                                   std::vector<ExrPartHeader> parts,
                                                   const ExrLayout& layout) {
  static std::once_flag once;
  std::call_once(once, [] { Imf::setGlobalThreadCount(int(std::thread::hardware_concurrency())); });
  auto state = std::make_unique<State>(file, std::move(parts), layout);
  state->width = width, state->height = height;
  try {
    const auto headers =
        headersOf(state->parts, std::vector<bool>(state->parts.size(), true), width, height, layout);
    state->out = std::make_unique<Imf::MultiPartOutputFile>(state->whole.temporary().c_str(), headers.data(),
                                                            int(headers.size()));
    for (int i = 0; i < int(headers.size()); ++i)
      state->outs.push_back(std::make_unique<Imf::OutputPart>(*state->out, i));
  } catch (const std::exception& error) {
    return pictureNotWritten(file, error.what());
  }
  return std::unique_ptr<ExrWriter>(new ExrWriter(std::move(state)));
}

Outcome ExrWriter::write(size_t part, const Picture& rows) {
  const ExrPartHeader& of = state_->parts[part];
  std::vector<half> halves;
  if (!of.fullFloat) {
    halves.resize(rows.pixels.size());
    std::transform(rows.pixels.begin(), rows.pixels.end(), halves.begin(), asHalf);
  }
  const char* values = of.fullFloat ? reinterpret_cast<const char*>(rows.pixels.data())
                                    : reinterpret_cast<const char*>(halves.data());
  int& done = state_->rowsDone[part];
  try {
    if (state_->layout.onePart) {
      state_->waiting[part].insert(state_->waiting[part].end(), values,
                                   values + state_->rowBytes(part) * size_t(rows.height));
      done += rows.height;
      state_->flush();
      return dusk::done();
    }
    Imf::FrameBuffer buffer;
    state_->slice(buffer, part, values, done, rows.height);
    state_->outs[part]->setFrameBuffer(buffer);
    state_->outs[part]->writePixels(rows.height);
  } catch (const std::exception& error) {
    return pictureNotWritten(state_->whole.file(), error.what());
  }
  done += rows.height;
  return dusk::done();
}

Outcome ExrWriter::close(const std::vector<bool>& keeps) {
  try {
    state_->outs.clear();
    state_->out.reset();
    if (std::find(keeps.begin(), keeps.end(), false) == keeps.end()) return state_->whole.commit();
    AtomicFile kept(state_->whole.file());
    if (state_->layout.onePart)
      state_->copyLayers(kept.temporary(), keeps);
    else
      state_->copyParts(kept.temporary(), keeps);
    return kept.commit();
  } catch (const std::exception& error) {
    return pictureNotWritten(state_->whole.file(), error.what());
  }
}

}  // namespace dusk
