#pragma once
#include <QWidget>

class QCheckBox;
class QGridLayout;
class QLabel;

namespace dusk {

class Session;

/// What an empty window shows in the picture's place: how to begin, the demos, the last work. It goes as soon
/// as there is something, or when it is told to; what is dropped on it goes to the window as ever.
class StartPage : public QWidget {
  Q_OBJECT
 public:
  explicit StartPage(Session& session, QWidget* over);

  /// Whether windows begin with it.
  static bool isWanted();
  /// Shows it again where the window is still empty.
  void comeBack();

 signals:
  void photoWanted();
  void furnishedWanted();
  void lessonWanted();
  void fileWanted(const QString& file);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void paintEvent(QPaintEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void showEvent(QShowEvent*) override;

 private:
  void refresh();
  void dismiss();
  void fillRecent();
  bool isEmpty() const;

  Session& session_;
  QGridLayout* recent_;
  QLabel* recentTitle_;
  QCheckBox* keep_;
  bool dismissed_ = false, shown_ = false;
};

}  // namespace dusk
