#pragma once
#include <QPointer>
#include <QTimer>
#include <random>
#include <string>

class QAction;

namespace dusk {

class MainWindow;

/// Does at random what a person could do in a window: goes to stations, presses, turns and types in desks,
/// drags in pictures, undoes. By real events, the same for the same seed as far as what comes back from other
/// threads allows. Dialogs it opens are closed again; what ends the program or writes files elsewhere it
/// leaves alone.
class Monkey {
 public:
  Monkey(MainWindow& window, unsigned seed);

  /// One action; what it was, in words.
  std::string act();

 private:
  template <typename T>
  T* any(const std::vector<T*>& all);
  int upTo(int most) { return int(random_() % unsigned(most)); }
  std::string pressButton();
  std::string chooseItem();
  std::string turnNumber();
  std::string pullSlider();
  std::string dragInView();
  std::string clickInView();
  std::string triggerAction();
  std::string takeInHand();
  std::string pressLetter();
  void closeDialogs();

  MainWindow& window_;
  std::mt19937 random_;
  QTimer closes_;
};

}  // namespace dusk
