#pragma once
#include <QStackedWidget>
#include <QWidget>

class QButtonGroup;
class QVBoxLayout;

namespace dusk {

/// One drawer at a time at the window's foot, changed by small tabs at its left; which, is kept between
/// sessions.
class Drawer : public QWidget {
  Q_OBJECT
 public:
  explicit Drawer(QWidget* parent = nullptr);
  /// The first one added is open at the very first start.
  void add(const QString& name, const QString& tip, QWidget* content, int height = 112);
  void open(const QString& name);
  QString current() const;

 signals:
  void opened(const QString& name);

 private:
  void show(int index);
  QVBoxLayout* tabs_;
  QButtonGroup* group_;
  QStackedWidget* contents_;
  QStringList names_;
  std::vector<int> heights_;
};

}  // namespace dusk
