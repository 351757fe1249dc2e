#pragma once
#include <QColor>

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
      return {QColor("#f2a65a"), Qt::SolidLine, "run a"};
    case Run::b:
      return {QColor("#7cc4d1"), Qt::DashLine, "run b"};
    case Run::up:
      break;
  }
  return {QColor("#d7a8e6"), Qt::DashDotLine, "upright"};
}

}  // namespace dusk
