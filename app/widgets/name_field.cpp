#include "app/widgets/name_field.h"

#include <QtWidgets>

#include "core/base/words.h"

namespace dusk {
namespace {

class NameField : public QLineEdit {
 public:
  NameField(QWidget* over, const QString& now, std::function<void(const std::string&)> then)
      : QLineEdit(now, over), was_(now), then_(std::move(then)) {}

 protected:
  void keyPressEvent(QKeyEvent* e) override {
    if (e->key() == Qt::Key_Escape) return end(false);
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return end(true);
    QLineEdit::keyPressEvent(e);
  }
  /// The toolkit tells that editing is finished only where something was typed.
  void focusOutEvent(QFocusEvent* e) override {
    QLineEdit::focusOutEvent(e);
    if (e->reason() != Qt::PopupFocusReason && e->reason() != Qt::ActiveWindowFocusReason) end(true);
  }

 private:
  void end(bool taken) {
    if (ended_) return;
    ended_ = true;
    const QString name = text().trimmed();
    hide(), deleteLater();
    if (taken && !name.isEmpty() && name != was_) then_(name.toStdString());
  }

  const QString was_;
  const std::function<void(const std::string&)> then_;
  bool ended_ = false;
};

}  // namespace

void typeName(QWidget* over, const QRect& at, const QString& now, const QString& what,
              std::function<void(const std::string&)> then) {
  auto* field = new NameField(over, now, std::move(then));
  field->setAccessibleName(what);
  field->setToolTip(words("Return keeps the name"));
  field->setGeometry(at);
  field->show();
  // What shows it may be new and not laid out yet: it can be given the keyboard only once it is seen.
  QTimer::singleShot(0, field, [field] { field->setFocus(), field->selectAll(); });
}

}  // namespace dusk
