#pragma once
#include <QString>

#include "core/deliver/deliver.h"

namespace dusk {

class Session;
class Workbench;

/// Key of the delivering job.
inline constexpr const char* deliveryKey = "deliver";

/// What a deliverable of the shot in hand will come to; `name` holds why it cannot be where it cannot.
struct Foreseen {
  QString name, what;
};
Foreseen foresee(const Session& session, const Deliverable& deliverable);

/// Writes the files of the shot in hand into `folder`, in the background; `Workbench::delivered` tells when
/// that ended. One delivery waits for the other. Where files of others would be replaced, the person is asked
/// first.
void deliverInto(Workbench& bench, const QString& folder);
/// Puts the shot in hand, or every one, at the end of the queue's line.
void queueInto(Workbench& bench, const QString& folder, bool allShots);
/// Gives the shot in hand to the farm, in so many parts.
void giveToFarm(Workbench& bench, const QString& folder, int parts);
/// The same of the shot in hand in some of its variants; files are named by them.
void queueVariants(Workbench& bench, const QString& folder, const std::vector<VariantChoice>& choices);

}  // namespace dusk
