#pragma once
#include "core/deliver/deliver.h"

namespace dusk {

/// What becomes of a job whose proofs are off.
enum class OnFindings { ignore, warn, stop };

/// A shot to be handed over, later or elsewhere: as it was when that was asked for.
struct Order {
  Project project;               ///< with the one shot; links are whole paths
  std::filesystem::path folder;  ///< where the files go
  std::optional<std::pair<int, int>> size{};
  std::optional<int> samples{};
  std::optional<double> noise{};
  IfThere ifThere = IfThere::refuse;
  OnFindings onFindings = OnFindings::warn;
  int threads = 0;
  std::string date{};
  const Shot& shot() const { return project.shots.front(); }
  DeliverOptions options() const;
  /// What it is called in a list: "Brackwater · Quay, early evening", and its variant where it has one.
  std::string title() const;
};

/// The project with that shot alone, its links as whole paths.
Project onlyShot(const Project& project, const Shot& shot, const AssetStore& assets);
/// As JSON, and back. Error: none, or of a newer program.
std::string toText(const Order& order);
Result<Order> orderFrom(const std::string& text);

}  // namespace dusk
