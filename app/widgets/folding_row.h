#pragma once
#include <QBoxLayout>
#include <QEvent>
#include <QWidget>

namespace dusk {

/// Widgets side by side where there is room for all that they say, else below one another: in other languages
/// words are longer.
class FoldingRow : public QWidget {
 public:
  FoldingRow() : row_(new QBoxLayout(QBoxLayout::LeftToRight, this)) {
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(6);
  }
  QBoxLayout* row() { return row_; }

  QSize minimumSizeHint() const override {
    int widest = 0;
    forEach([&](int wide) { widest = std::max(widest, wide); });
    return {widest, QWidget::minimumSizeHint().height()};
  }

 protected:
  void resizeEvent(QResizeEvent*) override { fold(); }
  bool event(QEvent* e) override {
    if (e->type() == QEvent::LayoutRequest) fold();
    return QWidget::event(e);
  }

 private:
  template <typename Act>
  void forEach(const Act& act) const {
    for (int i = 0; i < row_->count(); ++i)
      if (!row_->itemAt(i)->isEmpty()) act(row_->itemAt(i)->minimumSize().width());
  }
  void fold() {
    int all = -row_->spacing();
    forEach([&](int wide) { all += wide + row_->spacing(); });
    row_->setDirection(all <= width() ? QBoxLayout::LeftToRight : QBoxLayout::TopToBottom);
  }

  QBoxLayout* row_;
};

}  // namespace dusk
