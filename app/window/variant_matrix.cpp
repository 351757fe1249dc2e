#include "app/window/variant_matrix.h"

#include <QtWidgets>

#include "app/stations/deliver/delivery.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/widgets/picture_icon.h"
#include "app/window/variant_pictures.h"
#include "core/base/words.h"
#include "core/variant/apply.h"

namespace dusk {
namespace {

constexpr size_t most = 400;  // more than can be looked through
const QSize pictureSize{216, 144};

/// The picture in the middle, and in a corner how much is off.
QPixmap stamp(const QImage& image, const QString& off) {
  QPixmap picture(pictureSize);
  picture.fill(look::field());
  QPainter p(&picture);
  p.setRenderHints(QPainter::SmoothPixmapTransform | QPainter::Antialiasing);
  if (!image.isNull()) {
    const QSize size = image.size().scaled(pictureSize, Qt::KeepAspectRatio);
    p.drawImage(
        QRect({(pictureSize.width() - size.width()) / 2, (pictureSize.height() - size.height()) / 2}, size),
        image);
  }
  if (off.isEmpty()) return picture;
  QRectF mark = QFontMetricsF(p.font()).boundingRect(off).adjusted(-7, -3, 7, 3);
  mark.moveTopRight({pictureSize.width() - 6.0, 6.0});
  p.setPen(look::rose());
  p.setBrush(look::panel());
  p.drawRoundedRect(mark, 4, 4);
  p.drawText(mark, Qt::AlignCenter, off);
  return picture;
}

}  // namespace

VariantMatrix::VariantMatrix(Workbench& bench, VariantPictures& pictures, QWidget* parent)
    : QWidget(parent), bench_(bench), pictures_(pictures) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 8);
  auto* row = new QHBoxLayout;
  says_ = new QLabel;
  look::setRole(*says_, "muted");
  row->addWidget(says_, 1);
  queue_ = new QPushButton(words("Queue them"));
  queue_->setToolTip(words(
      "Puts those that are selected, or all, into the queue: the shot's files once for each, named by it"));
  connect(queue_, &QPushButton::clicked, this, &VariantMatrix::queue);
  row->addWidget(queue_);
  auto* back = new QPushButton(words("Back to the picture"));
  back->setToolTip(words("Shows the variant that is chosen (Escape)"));
  connect(back, &QPushButton::clicked, this, &VariantMatrix::pictureWanted);
  row->addWidget(back);
  column->addLayout(row);
  list_ = new QListWidget;
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize(pictureSize);
  list_->setGridSize({pictureSize.width() + 14, pictureSize.height() + look::px(30)});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setSelectionMode(QListView::ExtendedSelection);
  list_->setUniformItemSizes(true);
  list_->setAccessibleName(words("Every variant"));
  list_->setToolTip(words("Click chooses, Ctrl and Shift select several, Enter goes to the picture"));
  column->addWidget(list_, 1);
  connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
    const size_t at = size_t(list_->row(item));
    bench_.session.editShot(words("show ") + item->text(), [&](Shot& s) { s.choice = choices_[at]; });
  });
  connect(list_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
    const size_t at = size_t(list_->row(item));
    bench_.session.editShot(words("show ") + item->text(), [&](Shot& s) { s.choice = choices_[at]; });
    emit pictureWanted();
  });
  connect(list_, &QListWidget::itemSelectionChanged, this, [this] {
    const size_t n = selected().size();
    queue_->setText(n == choices_.size() ? QString(words("Queue all %1")).arg(n)
                                         : QString(words("Queue %1")).arg(n));
  });
  connect(&bench_.session, &Session::changed, this, [this] {
    if (isVisible() && of_ != bench_.session.base().axes) fill();
  });
  connect(&pictures_, &VariantPictures::drawn, this, &VariantMatrix::showPictures);
}

void VariantMatrix::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  fill();
  list_->setFocus();
}
void VariantMatrix::hideEvent(QHideEvent* e) {
  QWidget::hideEvent(e);
  pictures_.want(this, {});
}
void VariantMatrix::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape) return emit pictureWanted();
  QWidget::keyPressEvent(e);
}

void VariantMatrix::fill() {
  const Project& base = bench_.session.base();
  of_ = base.axes;
  list_->clear();
  choices_.clear();
  const auto every = everyChoice(base, most);
  queue_->setEnabled(every.ok());
  if (!every) return says_->setText(QString::fromStdString(every.error().message));
  choices_ = *every;
  for (const VariantChoice& choice : choices_) {
    auto* item = new QListWidgetItem(QString::fromStdString(variantName(base, choice)), list_);
    QPixmap blank(pictureSize);  // all are as large as the first
    blank.fill(look::field());
    item->setIcon(QIcon(blank));
    if (variantName(base, choice) == variantName(base, bench_.session.shot().choice))
      list_->setCurrentItem(item);
  }
  showPictures();
  pictures_.want(this, choices_);
}

void VariantMatrix::showPictures() {
  if (!isVisible()) return;
  long withOff = 0;
  for (int i = 0; i < list_->count(); ++i) {
    const VariantChoice& choice = choices_[size_t(i)];
    const QStringList off = pictures_.offIn(choice);
    const QString count =
        off.isEmpty() ? QString() : QString(words("%1 off", "%1 off", long(off.size()))).arg(off.size());
    QListWidgetItem* item = list_->item(i);
    item->setIcon(pictureIcon(stamp(pictures_.of(choice), count)));
    item->setToolTip((QStringList(item->text()) + off).join("\n"));
    item->setData(Qt::AccessibleDescriptionRole, count);
    withOff += !off.isEmpty();
  }
  const QString all =
      QString(words("%1 variant.", "%1 variants.", long(choices_.size()))).arg(choices_.size());
  says_->setText(withOff == 0
                     ? all
                     : all + " " +
                           QString(words("In %1 of them something is off: its tooltip says what.",
                                         "In %1 of them something is off: their tooltips say what.", withOff))
                               .arg(withOff));
}

/// One alone, or none, means all: it is what a click leaves.
std::vector<VariantChoice> VariantMatrix::selected() const {
  std::vector<VariantChoice> some;
  for (const QListWidgetItem* item : list_->selectedItems())
    some.push_back(choices_[size_t(list_->row(item))]);
  return some.size() > 1 ? some : choices_;
}

void VariantMatrix::queue() {
  const QString folder = chooseFolder(this, words("Where the variants' files go"), FileKind::delivery);
  if (!folder.isEmpty()) queueVariants(bench_, folder, selected());
}

}  // namespace dusk
