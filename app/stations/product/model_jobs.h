#pragma once
#include <QStringList>

namespace dusk {

class Workbench;

void chooseModels(Workbench& bench);
/// Several are read one beside the other, each a job of its own.
void takeModels(Workbench& bench, const QStringList& files);
/// A newer file of the product in hand: shows what becomes of each part first.
void chooseRevision(Workbench& bench);
void takeRevision(Workbench& bench, const QString& file);

}  // namespace dusk
