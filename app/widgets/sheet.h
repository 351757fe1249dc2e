#pragma once
#include <QString>

#include "app/widgets/theme.h"

namespace dusk::look {

/// The style sheet of a window in that theme, with text so many times the usual size.
QString sheetOf(const Theme& theme, double textScale);

}  // namespace dusk::look
