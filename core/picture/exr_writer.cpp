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

namespace dusk {

Error pictureNotWritten(const std::filesystem::path& file, std::string why) {
  if (!why.ends_with('.')) why += '.';
  return {"Writing " + file.string() + " failed: " + why +
          " Check the folder and the free space on its disk."};
}

namespace {

Imf::Header headerOf(const ExrPartHeader& part, int width, int height) {
  Imf::Header header(width, height);
  header.compression() = Imf::ZIP_COMPRESSION;
  header.setName(part.name);
  header.setType(Imf::SCANLINEIMAGE);
  for (const std::string& channel : part.channels)
    header.channels().insert(channel, Imf::Channel(part.fullFloat ? Imf::FLOAT : Imf::HALF));
  for (const auto& [key, text] : part.metadata) header.insert(key, Imf::StringAttribute(text));
  return header;
}

half asHalf(float v) {
  // A half of more than it can hold would be an infinity, which spoils every sum in other programs.
  constexpr float mostInHalf = 65504;
  return half(std::isnan(v) ? 0.0f : std::clamp(v, -mostInHalf, mostInHalf));
}

}  // namespace

struct ExrWriter::State {
  State(const std::filesystem::path& file, std::vector<ExrPartHeader> all)
      : whole(file), parts(std::move(all)), rowsDone(parts.size()) {}
  AtomicFile whole;
  std::vector<ExrPartHeader> parts;
  std::vector<int> rowsDone;
  std::vector<Imf::Header> headers{};
  std::unique_ptr<Imf::MultiPartOutputFile> out{};
  std::vector<std::unique_ptr<Imf::OutputPart>> outs{};
};

ExrWriter::ExrWriter(std::unique_ptr<State> state) : state_(std::move(state)) {}
ExrWriter::~ExrWriter() = default;

Result<std::unique_ptr<ExrWriter>> ExrWriter::open(const std::filesystem::path& file, int width, int height,
                                                   std::vector<ExrPartHeader> parts) {
  static std::once_flag once;
  std::call_once(once, [] { Imf::setGlobalThreadCount(int(std::thread::hardware_concurrency())); });
  auto state = std::make_unique<State>(file, std::move(parts));
  try {
    for (const ExrPartHeader& part : state->parts) state->headers.push_back(headerOf(part, width, height));
    state->out = std::make_unique<Imf::MultiPartOutputFile>(
        state->whole.temporary().c_str(), state->headers.data(), int(state->headers.size()));
    for (size_t i = 0; i < state->parts.size(); ++i)
      state->outs.push_back(std::make_unique<Imf::OutputPart>(*state->out, int(i)));
  } catch (const std::exception& error) {
    return pictureNotWritten(file, error.what());
  }
  return std::unique_ptr<ExrWriter>(new ExrWriter(std::move(state)));
}

Outcome ExrWriter::write(size_t part, const Picture& rows) {
  const ExrPartHeader& of = state_->parts[part];
  const size_t n = of.channels.size(), size = of.fullFloat ? sizeof(float) : sizeof(half);
  int& done = state_->rowsDone[part];
  std::vector<half> halves;
  if (!of.fullFloat) {
    halves.resize(rows.pixels.size());
    std::transform(rows.pixels.begin(), rows.pixels.end(), halves.begin(), asHalf);
  }
  const char* values = of.fullFloat ? reinterpret_cast<const char*>(rows.pixels.data())
                                    : reinterpret_cast<const char*>(halves.data());
  try {
    Imf::FrameBuffer buffer;
    const IMATH_NAMESPACE::Box2i window({0, done}, {rows.width - 1, done + rows.height - 1});
    for (size_t c = 0; c < n; ++c)
      buffer.insert(of.channels[c], Imf::Slice::Make(of.fullFloat ? Imf::FLOAT : Imf::HALF, values + c * size,
                                                     window, n * size, n * size * size_t(rows.width)));
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
    // The compressed rows of what stays are copied as they are.
    AtomicFile kept(state_->whole.file());
    std::vector<Imf::Header> headers;
    for (size_t i = 0; i < keeps.size(); ++i)
      if (keeps[i]) headers.push_back(state_->headers[i]);
    {
      Imf::MultiPartInputFile from(state_->whole.temporary().c_str());
      Imf::MultiPartOutputFile to(kept.temporary().c_str(), headers.data(), int(headers.size()));
      for (int i = 0, k = 0; i < int(keeps.size()); ++i) {
        if (!keeps[size_t(i)]) continue;
        Imf::InputPart in(from, i);
        Imf::OutputPart(to, k++).copyPixels(in);
      }
    }
    return kept.commit();
  } catch (const std::exception& error) {
    return pictureNotWritten(state_->whole.file(), error.what());
  }
}

}  // namespace dusk
