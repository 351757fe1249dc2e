// What stands over the picture: views, what they show, and how far it is.
#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/window/horizon_bar.h"
#include "app/window/main_window.h"
#include "app/window/notices.h"
#include "app/window/picture_grip.h"
#include "app/window/shot_strip.h"
#include "core/base/words.h"

namespace dusk {

QAction* MainWindow::headerAction(QWidget* header, const QString& text, const QString& tip,
                                  const QKeySequence& keys, bool checkable) {
  auto* action = new QAction(text, this);
  action->setToolTip(keys.isEmpty() ? tip : QString("%1 (%2)").arg(tip, keys.toString()));
  action->setCheckable(checkable);
  auto* button = new QToolButton;
  button->setDefaultAction(action);
  button->setAccessibleName(tip);
  header->layout()->addWidget(button);
  action->setShortcut(keys);
  if (keys.toString().size() == 1) {  // single letters are for the views alone
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    letterActions_.push_back(action);
  }
  return action;
}

QWidget* MainWindow::buildPictureHeader() {
  auto* header = new QWidget;
  header->setObjectName("header");
  auto* row = new QHBoxLayout(header);
  row->setContentsMargins(8, 4, 8, 4);
  row->setSpacing(4);
  auto* group = new QActionGroup(this);
  const struct {
    const char *name, *tip, *keys;
  } views[] = {
      {words("Picture"), words("Look through the vantage"), "Ctrl+P"},
      {words("Plan"), words("Look from above"), "Ctrl+L"},
      {words("Around"), words("Look at the products from all sides"), "Ctrl+R"},
      {words("Panorama"), words("The light all round, with the camera's frame on it"), "Ctrl+Shift+P"}};
  for (const auto& v : views) {
    QAction* action = headerAction(header, v.name, v.tip, QKeySequence(v.keys), true);
    const View view = View(viewActions_.size());
    connect(action, &QAction::triggered, this, [this, view] { showView(view); });
    group->addAction(action);
    viewActions_.push_back(action);
  }
  viewActions_[0]->setChecked(true);
  row->addSpacing(10);
  connect(headerAction(header, words("Fit"), words("Show all of it"), QKeySequence("F"), false),
          &QAction::triggered, this, [this] { zoom(0); });
  connect(
      headerAction(header, words("Show selected part"),
                   words("Fly to the selected part in the Around view, and back"), QKeySequence("M"), false),
      &QAction::triggered, this, [this] {
        const bool there = views_->currentWidget() == around_;
        showView(View::around);
        if (there || around_->hasPicture())
          around_->showPart();
        else  // the first time, once the products are there
          connect(around_, &AroundView::drawn, around_, &AroundView::showPart, Qt::SingleShotConnection);
      });
  QAction* grid = headerAction(header, words("Grid"),
                               words("Show the ground's grid and the horizon at the Vantage station"),
                               QKeySequence("G"), true);
  grid->setChecked(true);
  // Only there is it drawn.
  QWidget* gridButton = row->itemAt(row->count() - 1)->widget();
  // Its room stays, so that what stands beside it need not move.
  QSizePolicy policy = gridButton->sizePolicy();
  policy.setRetainSizeWhenHidden(true), gridButton->setSizePolicy(policy);
  const auto onlyAtVantage = [=, this] {
    grid->setEnabled(session_.station() == Station::vantage), gridButton->setVisible(grid->isEnabled());
  };
  connect(&session_, &Session::stationChanged, grid, onlyAtVantage), onlyAtVantage();
  connect(grid, &QAction::toggled, this, [this](bool on) { picture_->setGridShown(on); });
  frameText_ = new QLabel;
  frameText_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  // What it says must never ask for room: the picture would be made smaller, traced anew, and it say less.
  frameText_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  look::setRole(*frameText_, "muted");
  frameText_->setAccessibleName(words("State of the render"));
  row->addWidget(frameText_, 1);
  row->addWidget(
      new PictureGrip([this] { return picture_->frame() ? picture_->frame()->picture : QImage(); }));
  return header;
}

void MainWindow::showFrameState() {
  const Frame& frame = *picture_->frame();
  horizon_->setFrame(frame);
  shots_->setFrame(frame);
  const QString told = frame.scene->geometry->empty() ? ""
                       : frame.samples
                           ? QString(words("%1 of %2 samples")).arg(frame.samples).arg(frame.wanted)
                           : words("coarse");
  const bool fits = frameText_->fontMetrics().horizontalAdvance(told) <= frameText_->width();
  frameText_->setText(fits || !frame.samples ? told
                                             : QString("%1 / %2").arg(frame.samples).arg(frame.wanted));
  frameText_->setToolTip(told);
  loader_.lookForChangedFiles();
  if (frame.notes == saidNotes_) return;
  saidNotes_ = frame.notes;
  for (const std::string& note : frame.notes) notices_->say(QString::fromStdString(note), true);
}

}  // namespace dusk
