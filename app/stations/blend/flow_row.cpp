#include "app/stations/blend/flow_row.h"

#include <vector>

namespace dusk {

class FlowRow::Flow : public QLayout {
 public:
  using QLayout::QLayout;
  ~Flow() override {
    for (QLayoutItem* item : items_) delete item;
  }
  void addItem(QLayoutItem* item) override { items_.push_back(item); }
  int count() const override { return int(items_.size()); }
  QLayoutItem* itemAt(int i) const override { return i >= 0 && i < count() ? items_[size_t(i)] : nullptr; }
  QLayoutItem* takeAt(int i) override {
    QLayoutItem* item = itemAt(i);
    if (item) items_.erase(items_.begin() + i);
    return item;
  }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override { return laid(QRect(0, 0, width, 0), false); }
  QSize sizeHint() const override { return minimumSize(); }
  QSize minimumSize() const override {
    QSize size;
    for (const QLayoutItem* item : items_) size = size.expandedTo(item->minimumSize());
    return size;
  }
  void setGeometry(const QRect& rect) override {
    QLayout::setGeometry(rect);
    laid(rect, true);
  }

 private:
  int laid(const QRect& rect, bool place) const {
    constexpr int gap = 5;
    int x = rect.x(), y = rect.y(), line = 0;
    for (QLayoutItem* item : items_) {
      const QSize size = item->sizeHint();
      if (x > rect.x() && x + size.width() > rect.right() + 1) x = rect.x(), y += line + gap, line = 0;
      if (place) item->setGeometry({QPoint(x, y), size});
      x += size.width() + gap, line = std::max(line, size.height());
    }
    return y + line - rect.y();
  }
  std::vector<QLayoutItem*> items_;
};

FlowRow::FlowRow() {
  auto* flow = new Flow;
  flow->setContentsMargins(0, 0, 0, 0);
  setLayout(flow);
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Minimum);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
}

void FlowRow::addWidget(QWidget* widget) { layout()->addWidget(widget); }

}  // namespace dusk
