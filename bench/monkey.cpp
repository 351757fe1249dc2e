#include "bench/monkey.h"

#include <QtTest>
#include <QtWidgets>
#include <array>

#include "app/window/key_list.h"
#include "app/window/main_window.h"

namespace dusk {
namespace {

// What ends the program, asks for another document or writes beside it.
const QStringList leftAlone{"Quit",
                            "New",
                            "Open…",
                            "Save as…",
                            "Save",
                            "Gather…",
                            "Deliver",
                            "Preferences…",
                            "How to begin",
                            "Show me how",
                            "Show me how: a first picture"};

bool isUsable(const QWidget* w) { return w->isVisible() && w->isEnabled(); }

/// What can be met with the mouse: scrolled to where it lies in a scroll area.
void bringIntoView(QWidget* w) {
  for (QWidget* p = w->parentWidget(); p; p = p->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(p)) area->ensureWidgetVisible(w);
}

template <typename T>
std::vector<T*> usableIn(const QWidget& window) {
  std::vector<T*> all;
  for (T* w : window.findChildren<T*>())
    if (isUsable(w)) all.push_back(w);
  return all;
}

std::string wordsOf(const QWidget* w) {
  return (w->accessibleName().isEmpty() ? w->objectName() : w->accessibleName()).toStdString();
}

QWidget* shownView(MainWindow& window) {
  auto* stack = qobject_cast<QStackedWidget*>(window.picture().parentWidget());
  return stack ? stack->currentWidget() : &window.picture();
}

}  // namespace

Monkey::Monkey(MainWindow& window, unsigned seed) : window_(window), random_(seed) {
  closes_.setInterval(15);
  QObject::connect(&closes_, &QTimer::timeout, [this] { closeDialogs(); });
  closes_.start();
}

template <typename T>
T* Monkey::any(const std::vector<T*>& all) {
  return all.empty() ? nullptr : all[size_t(upTo(int(all.size())))];
}

void Monkey::closeDialogs() {
  if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
  if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
}

std::string Monkey::act() {
  using Act = std::string (Monkey::*)();
  // A desk's controls and the picture most often, as with people.
  static constexpr std::array<Act, 14> acts{&Monkey::pressButton,   &Monkey::pressButton,
                                            &Monkey::chooseItem,    &Monkey::turnNumber,
                                            &Monkey::turnNumber,    &Monkey::pullSlider,
                                            &Monkey::dragInView,    &Monkey::dragInView,
                                            &Monkey::clickInView,   &Monkey::clickInView,
                                            &Monkey::triggerAction, &Monkey::takeInHand,
                                            &Monkey::pressLetter,   nullptr};
  const Act act = acts[size_t(upTo(int(acts.size())))];
  std::string done;
  if (act) {
    done = (this->*act)();
  } else {
    const int station = upTo(stationCount);
    window_.session().setStation(Station(station));
    done = "station " + std::to_string(station + 1);
  }
  QCoreApplication::processEvents(QEventLoop::AllEvents, 4);
  return done;
}

std::string Monkey::pressButton() {
  auto* button = any(usableIn<QAbstractButton>(window_));
  if (!button || leftAlone.contains(button->text()) || button->objectName() == "primary") return "nothing";
  const std::string words = "press " + wordsOf(button) + " " + button->text().toStdString();
  bringIntoView(button);
  QTest::mouseClick(button, Qt::LeftButton, {}, button->rect().center());
  return words;
}

std::string Monkey::chooseItem() {
  auto* box = any(usableIn<QComboBox>(window_));
  if (!box) return "nothing";
  const std::string words = "choose in " + wordsOf(box);
  bringIntoView(box);
  box->setFocus();
  QTest::keyClick(box, upTo(2) ? Qt::Key_Down : Qt::Key_Up);
  return words;
}

std::string Monkey::turnNumber() {
  auto* field = any(usableIn<QDoubleSpinBox>(window_));
  if (!field) return "nothing";
  const std::string words = "turn " + wordsOf(field);
  bringIntoView(field);
  field->setFocus();
  static constexpr std::array keys{Qt::Key_Up, Qt::Key_Down, Qt::Key_PageUp, Qt::Key_PageDown};
  const QPointer<QDoubleSpinBox> kept = field;
  for (int i = 1 + upTo(4); i > 0 && kept; --i) QTest::keyClick(field, keys[size_t(upTo(4))]);
  if (kept && upTo(4) == 0) {
    field->selectAll();
    QTest::keyClicks(field, QString::number(upTo(2000) - 500));
    if (kept) QTest::keyClick(field, Qt::Key_Return);
  }
  return words;
}

std::string Monkey::pullSlider() {
  auto* slider = any(usableIn<QSlider>(window_));
  if (!slider) return "nothing";
  const std::string words = "pull " + wordsOf(slider);
  bringIntoView(slider);
  QTest::mousePress(slider, Qt::LeftButton, {}, slider->rect().center());
  QTest::mouseMove(slider, QPoint(upTo(std::max(1, slider->width())), slider->height() / 2));
  QTest::mouseRelease(slider, Qt::LeftButton);
  return words;
}

std::string Monkey::dragInView() {
  QWidget* view = shownView(window_);
  const auto at = [&] { return QPoint(upTo(std::max(1, view->width())), upTo(std::max(1, view->height()))); };
  static constexpr std::array<Qt::KeyboardModifiers, 4> held{Qt::NoModifier, Qt::NoModifier,
                                                             Qt::ShiftModifier, Qt::ControlModifier};
  const auto modifiers = held[size_t(upTo(4))];
  const Qt::MouseButton button = upTo(6) ? Qt::LeftButton : Qt::MiddleButton;
  QPoint p = at();
  QTest::mousePress(view, button, modifiers, p);
  for (int i = upTo(5); i >= 0; --i) {
    p = at();
    QMouseEvent move(QEvent::MouseMove, p, view->mapToGlobal(QPointF(p)), Qt::NoButton, button, modifiers);
    QCoreApplication::sendEvent(view, &move);
  }
  const bool reverts = upTo(8) == 0;
  if (reverts) QTest::keyClick(view, Qt::Key_Escape);
  QTest::mouseRelease(view, button, modifiers, p);
  return std::string("drag in ") + wordsOf(view) + (reverts ? ", reverted" : "");
}

std::string Monkey::clickInView() {
  QWidget* view = shownView(window_);
  const QPoint p(upTo(std::max(1, view->width())), upTo(std::max(1, view->height())));
  if (upTo(5) == 0) {
    QWheelEvent wheel(p, view->mapToGlobal(QPointF(p)), {}, {0, upTo(2) ? 120 : -120}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(view, &wheel);
    return "wheel in " + wordsOf(view);
  }
  if (upTo(6) == 0) {
    // The toolkit's double click for widgets comes without the release that a hand ends it with.
    QTest::mouseDClick(view, Qt::LeftButton, {}, p);
    QTest::mouseRelease(view, Qt::LeftButton, {}, p);
  } else {
    QTest::mouseClick(view, Qt::LeftButton, {}, p);
  }
  return "click in " + wordsOf(view);
}

std::string Monkey::triggerAction() {
  std::vector<QAction*> all;
  for (const auto& [name, action] : menuActions(&window_))
    if (action->isEnabled() && !leftAlone.contains(action->text())) all.push_back(action);
  // Undo and redo as often as people use them.
  for (QAction* action : std::vector(all))
    if (action->text().startsWith("Undo") || action->text().startsWith("Redo"))
      all.insert(all.end(), 12, action);
  QAction* action = any(all);
  if (!action) return "nothing";
  const std::string words = "menu " + action->text().toStdString();
  action->trigger();
  return words;
}

std::string Monkey::takeInHand() {
  auto* list = any(usableIn<QAbstractItemView>(window_));
  if (!list || !list->model() || list->model()->rowCount() == 0) return "nothing";
  QModelIndex index = list->model()->index(upTo(list->model()->rowCount()), 0);
  for (int deep = upTo(4); deep > 0 && list->model()->rowCount(index) > 0; --deep)
    index = list->model()->index(upTo(list->model()->rowCount(index)), 0, index);
  list->scrollTo(index);
  const std::string words = "take in hand in " + wordsOf(list);
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(index).center());
  return words;
}

std::string Monkey::pressLetter() {
  QWidget& view = window_.picture();
  static constexpr std::array keys{Qt::Key_F,     Qt::Key_G,      Qt::Key_M,    Qt::Key_B,
                                   Qt::Key_V,     Qt::Key_Up,     Qt::Key_Left, Qt::Key_Escape,
                                   Qt::Key_Right, Qt::Key_Return, Qt::Key_Tab,  Qt::Key_Space};
  const Qt::Key key = keys[size_t(upTo(int(keys.size())))];
  view.setFocus();
  QTest::keyClick(&view, key);
  return "key " + QKeySequence(key).toString().toStdString();
}

}  // namespace dusk
