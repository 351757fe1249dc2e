#pragma once
#include <QList>

class QApplication;
class QWidget;

/// The window by keys alone.
namespace dusk {

/// Gives the keyboard to the next (`by` 1) or previous (-1) of the areas that are seen, to what had it there
/// last, or to the first that takes it.
void focusNextArea(const QList<QWidget*>& areas, int by);

/// Enter presses the button that has the keyboard, as Space does; not in dialogs, where it answers.
void letEnterPress(QApplication& app);

}  // namespace dusk
