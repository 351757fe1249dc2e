#include "core/deliver/output_file.h"

namespace dusk {
namespace {

class MadeOutput : public OutputFile {
 public:
  explicit MadeOutput(OutputPlan plan) : plan_(std::move(plan)) {}
  Outcome add(const FinishedRows&, const std::vector<std::string>&) override { return done(); }
  Outcome close(const std::vector<bool>&) override {
    const auto notes = plan_.make(plan_.file);
    if (!notes) return notes.error();
    for (const std::string& note : *notes) note_ += (note_.empty() ? "" : " ") + note;
    return done();
  }
  std::string note() const override { return note_; }

 private:
  OutputPlan plan_;
  std::string note_;
};

}  // namespace

Result<std::unique_ptr<OutputFile>> beginMade(const OutputPlan& plan) {
  return std::unique_ptr<OutputFile>(std::make_unique<MadeOutput>(plan));
}

}  // namespace dusk
