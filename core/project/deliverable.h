#pragma once
#include <string>

namespace dusk {

enum class DeliverableKind { png, exr };

struct Deliverable {
  DeliverableKind kind = DeliverableKind::png;
  std::string fileName;  ///< without folder
  bool operator==(const Deliverable&) const = default;
};

}  // namespace dusk
