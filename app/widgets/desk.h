#pragma once
#include <QWidget>
#include <functional>
#include <optional>

#include "app/document/session.h"
#include "app/widgets/number_field.h"

class QBoxLayout;
class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QSlider;
class QToolButton;
class QVBoxLayout;

namespace dusk {

/// The tools of one station: rows of labelled fields bound to the project. A field reads the project after
/// every change and writes it through one undoable edit; steps made quickly one after another join.
class Desk : public QWidget {
  Q_OBJECT
 public:
  Desk(Session& session, const QString& title, const QString& purpose, QWidget* parent = nullptr);

 public slots:
  void refreshAll();

 protected:
  using Get = std::function<std::optional<double>(const Project&)>;
  using Set = std::function<void(Project&, double)>;
  struct Range {
    double low, high, step;
    int decimals;
    const char* unit;
    bool slider = false;
    std::optional<double> usual{};  ///< what a double click on the label brings back
  };

  void heading(const QString& text);
  /// What is added until `endFold` can be folded away under its heading, which is down while it is open.
  QToolButton* beginFold(const QString& text, bool open);
  void endFold();
  QLabel* note(const QString& text = {});
  /// A number with its unit; away while `get` has none.
  NumberField* number(const QString& label, const Range& range, const QString& tip, Get get, Set set);
  /// A length in the shown unit; `get` and `set` are in metres.
  NumberField* length(const QString& label, const QString& tip, Get get, Set set);
  QCheckBox* toggle(const QString& label, const QString& tip,
                    std::function<std::optional<bool>(const Project&)> get,
                    std::function<void(Project&, bool)> set);
  /// A line of text, written when it is left; away while `get` has none.
  QLineEdit* text(const QString& label, const QString& tip,
                  std::function<std::optional<std::string>(const Project&)> get,
                  std::function<void(Project&, const std::string&)> set);
  QComboBox* choice(const QString& label, const QStringList& items, const QString& tip,
                    std::function<int(const Project&)> get, std::function<void(Project&, int)> set);
  /// The choices made so far may be narrower than what they offer, and those of which there is nothing to
  /// choose are away.
  void narrowChoices();
  QPushButton* button(const QString& label, const QString& tip, std::function<void()> pressed,
                      bool primary = false);
  /// A button that stays down while the next drag or click in the picture is for it.
  QPushButton* forNextDrag(const QString& label, const QString& tip, Session::NextDrag drag);
  /// A linear colour, shown and chosen as sRGB.
  QPushButton* colour(const QString& label, const QString& tip,
                      std::function<std::optional<Vec3d>(const Project&)> get,
                      std::function<void(Project&, const Vec3d&)> set);
  void add(QWidget* widget);
  void stretch();
  /// Runs after every change of the project or the selection while the desk is seen, when it comes to be
  /// seen, and once at the start.
  void onRefresh(std::function<void()> refresh);
  void showEvent(QShowEvent*) override;
  /// Fields added until `endRow` share one row, which is given back to be shown or put away as a whole.
  QWidget* beginRow();
  void endRow();

  /// A field with its label, for one that is not bound to the project.
  QWidget* labelled(const QString& label, QWidget* field);

  Session& session_;

 private:
  QSlider* addSlider(QHBoxLayout* row, const Range& range, NumberField* field, const QString& tip);

  QVBoxLayout *column_, *whole_ = nullptr;
  QBoxLayout* row_ = nullptr;
  std::vector<std::function<void()>> refreshers_;
  bool stale_ = false;
};

}  // namespace dusk
