#pragma once
#include <QColor>

#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/evidence.h"

namespace dusk {

/// Colour and dash of a run: never colour alone.
struct RunLook {
  QColor colour;
  Qt::PenStyle dash;
  const char* name;
};

inline RunLook runLook(Run run) {
  switch (run) {
    case Run::a:
      return {look::mark::ember, Qt::SolidLine, words("run a")};
    case Run::b:
      return {look::mark::tide, Qt::DashLine, words("run b")};
    case Run::up:
      break;
  }
  return {QColor("#d7a8e6"), Qt::DashDotLine, words("upright")};
}

}  // namespace dusk
