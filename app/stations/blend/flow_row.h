#pragma once
#include <QLayout>
#include <QWidget>

namespace dusk {

/// Small things side by side, on as many lines as they need.
class FlowRow : public QWidget {
 public:
  FlowRow();
  void addWidget(QWidget* widget);

 private:
  class Flow;
};

}  // namespace dusk
