#include "core/colour/table.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <fstream>
#include <string>
#include <vector>

#include "core/base/words.h"
#include "core/colour/ocio_view.h"

namespace dusk {
namespace {

class FileTable : public ColourTable {
 public:
  explicit FileTable(OCIO::ConstCPUProcessorRcPtr processor) : processor_(std::move(processor)) {}
  void apply(float* rgb, size_t count) const override {
    OCIO::PackedImageDesc row(rgb, long(count), 1, 3);
    processor_->apply(row);
  }

 private:
  OCIO::ConstCPUProcessorRcPtr processor_;
};

/// Whether colours all through the cube come out as numbers.
bool isSound(const ColourTable& table) {
  constexpr int steps = 33;
  std::vector<float> codes;
  for (int r = 0; r < steps; ++r)
    for (int g = 0; g < steps; ++g)
      for (int b = 0; b < steps; ++b)
        for (const int v : {r, g, b}) codes.push_back(float(v) / (steps - 1));
  table.apply(codes.data(), codes.size() / 3);
  for (const float v : codes)
    if (!std::isfinite(v) || std::abs(v) > 1e4f) return false;
  return true;
}

/// Whether a text has a number in it that is none: the reader would take it for 0.
bool namesNoNumber(const std::filesystem::path& file) {
  std::ifstream in(file);
  for (std::string word; in >> word;) {
    std::transform(word.begin(), word.end(), word.begin(), [](unsigned char c) { return std::tolower(c); });
    if (word[0] == '-' || word[0] == '+') word.erase(0, 1);
    if (word == "nan" || word == "inf" || word == "infinity") return true;
  }
  return false;
}

}  // namespace

Result<std::shared_ptr<const ColourTable>> readColourTable(const std::filesystem::path& file) {
  constexpr uintmax_t most = uintmax_t{64} << 20;
  const std::string name = words("The colour table ") + file.string();
  std::error_code code;
  const auto size = std::filesystem::file_size(file, code);
  if (code) return Error{name + words(" cannot be read: ") + code.message() + ".", ErrorKind::unreadable};
  if (size > most) return Error{name + words(" is larger than 64 MB."), ErrorKind::unreadable};
  try {
    const auto transform = OCIO::FileTransform::Create();
    transform->setSrc(std::filesystem::absolute(file).c_str());
    transform->setInterpolation(OCIO::INTERP_BEST);
    const auto processor = OCIO::Config::CreateRaw()->getProcessor(transform)->getDefaultCPUProcessor();
    auto table = std::make_shared<FileTable>(processor);
    if (namesNoNumber(file) || !isSound(*table))
      return Error{name + words(" holds values that are no colours."), ErrorKind::unreadable};
    return std::shared_ptr<const ColourTable>(table);
  } catch (const std::exception& error) {
    return Error{name + words(" cannot be read: ") + saidBy(error), ErrorKind::unreadable};
  }
}

}  // namespace dusk
