#pragma once
#include <QStringList>

namespace dusk {

class Workbench;

void choosePanorama(Workbench& bench);
/// Steps that share a non-zero gesture join.
void takePanorama(Workbench& bench, const QString& file, int gesture = 0);
/// Panoramas made of photos are written beside the first of them, and light the shot.
void chooseBrackets(Workbench& bench);
void takeBrackets(Workbench& bench, const QStringList& files);
void chooseBalls(Workbench& bench);
void takeBalls(Workbench& bench, const QStringList& files);
void chooseFisheyes(Workbench& bench);
void takeFisheyes(Workbench& bench, const QStringList& files);
/// What the lamp in hand shines with.
void chooseLampPicture(Workbench& bench);
/// The products as the lamp in hand sees them.
void lookAlongLamp(Workbench& bench);

}  // namespace dusk
