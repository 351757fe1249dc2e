// Proofs: of a shot as it has chosen, of one variant, or of all.
#include "core/proof/prove.h"

#include <unistd.h>

#include <cmath>
#include <cstdio>
#include <filesystem>

#include "batch/answer.h"
#include "batch/variants.h"
#include "core/deliver/together.h"
#include "core/motion/at.h"

namespace dusk::batch {
namespace {

namespace fs = std::filesystem;

using Findings = std::vector<Finding>;

/// Each is traced and proved; what can be traced together is. The files are not wanted: they go to a folder
/// that is removed again.
Result<std::vector<Findings>> provedAll(const std::vector<Project>& stills, size_t shot,
                                        const Request& request, Progress& progress) {
  std::vector<Project> plain = stills;
  for (size_t i = 0; i < plain.size(); ++i)
    plain[i].shots[shot].deliverables = {{DeliverableKind::png, "proof-" + std::to_string(i) + ".png"}};
  AssetStore assets(fs::absolute(request.file).parent_path());
  GeometryCache cache;
  DeliverOptions options;
  options.folder = fs::temp_directory_path() / ("gentle-dusk-prove-" + std::to_string(::getpid()));
  options.samples = request.samples.value_or(16);
  std::vector<Findings> all;
  const auto reports = [&] {
    const Ticker ticker(progress);
    return deliverTogether(plain, shot, assets, cache, options, progress, [&](DeliverReport& report) {
      const Progress::Part part = progress.part();
      progress.reportWithin(1, 1);  // it does not go back
      all.push_back(dusk::prove(stills[all.size()], shot, assets, &report.passes, Models::wait, progress));
      progress.reportWithin(part);
      report.passes = {};
    });
  }();
  std::error_code ignored;
  fs::remove_all(options.folder, ignored);
  for (const auto& report : reports)
    if (!report) return report.error();
  if (progress.cancelled()) return cancelledError();
  return all;
}

bool allHold(const Findings& findings) {
  return std::all_of(findings.begin(), findings.end(), [](const Finding& f) { return f.ok(); });
}

void printFindings(const Findings& findings) {
  for (const Finding& f : findings) {
    const double value = std::abs(f.value) < 0.005 ? 0 : f.value;  // no -0.00
    std::printf("%s %-18s %8.2f %-5s  (%g to %g)  %s\n", f.ok() ? "proved" : "off   ", f.id.c_str(), value,
                f.unit.c_str(), f.low, f.high, f.ok() ? f.what.c_str() : f.remedy.c_str());
  }
}

}  // namespace

int prove(const Request& request, Progress& progress) {
  const auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  const auto& [project, shot] = *asked;
  const auto variants = chosen(project, shot, request.variant);
  if (!variants) return fail(variants.error());
  std::vector<Project> stills;
  for (const Project& one : *variants) stills.push_back(asStill(one, shot));
  const ThreadLimit limit(request.threads.value_or(0));
  const auto proved = provedAll(stills, shot, request, progress);
  if (!proved) return fail(proved.error());
  const bool several = request.variant == "all";
  json answer = json::array();
  for (size_t i = 0; i < proved->size(); ++i) {
    const Findings& findings = (*proved)[i];
    const std::string name = several ? variantName(project, (*variants)[i].shots[shot].choice) : "";
    if (several)
      answer.push_back(
          {{"variant", name}, {"holds", allHold(findings)}, {"proofs", findingsAnswer(findings)}});
    else
      answer = findingsAnswer(findings);
    if (request.json) continue;
    if (several) std::printf("%s%s\n", i ? "\n" : "", name.c_str());
    printFindings(findings);
  }
  if (request.json) print(several ? json{{"variants", answer}} : answer, true);
  return std::all_of(proved->begin(), proved->end(), allHold) ? 0 : 1;
}

}  // namespace dusk::batch
