#include "app/stations/shelf_panel.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/stations/workbench.h"
#include "app/widgets/clearing.h"
#include "app/widgets/look.h"
#include "app/widgets/picture_icon.h"
#include "app/widgets/words.h"
#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/base/words.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr const char* addressesKey = "shelves";
const QSize pictureSize{112, 56};

}  // namespace

ShelfPanel::ShelfPanel(Workbench& bench, ShelfKind kind, std::function<void(const QString&, int)> use)
    : bench_(bench), kind_(kind), use_(std::move(use)) {
  build();
  connect(look_, &QPushButton::clicked, this,
          [this] { bench_.jobs.isRunning(jobKey()) ? bench_.jobs.find(jobKey())->cancel() : look(); });
  connect(address_->lineEdit(), &QLineEdit::returnPressed, this, &ShelfPanel::look);
  connect(words_, &QLineEdit::textChanged, this, &ShelfPanel::fill);
  connect(list_, &QListWidget::currentItemChanged, this, &ShelfPanel::showInHand);
  connect(list_, &QListWidget::itemActivated, this, &ShelfPanel::fetch);
  connect(try_, &QPushButton::clicked, this, &ShelfPanel::tryIt);
  connect(fetch_, &QPushButton::clicked, this, [this] {
    Job* running = bench_.jobs.find(jobKey());
    running ? running->cancel() : fetch();
  });
  connect(&bench_.jobs, &Jobs::changed, this, &ShelfPanel::showInHand);
  showInHand();
}

ShelfPanel::~ShelfPanel() { pictures_->cancel(); }

void ShelfPanel::build() {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  address_ = new QComboBox;
  address_->setEditable(true);
  address_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  address_->setMinimumContentsLength(12);
  address_->setAccessibleName(words("Address of the shelf"));
  address_->setToolTip(
      words("Where a shelf is, as in http://192.168.1.20:8710/ (docs/shelf.md says what one is)"));
  address_->lineEdit()->setPlaceholderText("http://…");
  address_->addItems(QSettings().value(addressesKey).toStringList());
  look_ = new QPushButton(words("Look"));
  look_->setToolTip(words("Asks the shelf what it has"));
  row->addWidget(address_, 1), row->addWidget(look_);
  column->addLayout(row);
  words_ = new QLineEdit;
  words_->setPlaceholderText(words("Find by words"));
  offerClearing(*words_);
  words_->setAccessibleName(words("Find on the shelf"));
  words_->setToolTip(words("Words of a title, an author or a tag"));
  column->addWidget(words_);
  list_ = new QListWidget;
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize(pictureSize);
  list_->setGridSize({look::px(126), 56 + look::px(24)});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setUniformItemSizes(true);
  list_->setFixedHeight(2 * (56 + look::px(24)) + 8);
  list_->setAccessibleName(words("On the shelf"));
  list_->setToolTip(words("Enter or a double click fetches one and uses it"));
  column->addWidget(list_);
  const auto note = [&] {
    auto* label = new QLabel;
    label->setWordWrap(true);
    look::setRole(*label, "small");
    column->addWidget(label);
    return label;
  };
  auto* act = new QHBoxLayout;
  try_ = new QPushButton(words("Try it"));
  try_->setToolTip(words("Uses a small version at once; Ctrl+Z takes it away again"));
  fetch_ = new QPushButton(words("Fetch and use"));
  fetch_->setToolTip(
      words("Fetches all of it, going on where an earlier try broke off, and checks what came"));
  act->addWidget(try_), act->addWidget(fetch_);
  column->addLayout(act);
  about_ = note(), says_ = note();  // below: what is chosen may say more or less, and no button moves away
  for (QWidget* w : std::initializer_list<QWidget*>{words_, list_, about_, says_, try_, fetch_}) w->hide();
}

std::string ShelfPanel::jobKey() const { return kind_ == ShelfKind::panorama ? "shelf p" : "shelf s"; }

void ShelfPanel::look() {
  const QString address = address_->currentText().trimmed();
  if (address.isEmpty()) return bench_.session.refuse(words("Type the address of a shelf first."));
  auto shelf = std::make_shared<const Shelf>(address.toStdString());
  bench_.jobs.run<Shelf::Contents>(
      {words("Asking the shelf"), jobKey()}, [shelf](Progress& progress) { return shelf->look(progress); },
      [this, shelf, address](Shelf::Contents& contents) {
        shelf_ = shelf, index_ = std::move(contents.index);
        pictures_->cancel();
        pictures_ = std::make_shared<Progress>(), pictureOf_.clear(), fetchingPicture_ = false;
        QStringList known = QSettings().value(addressesKey).toStringList();
        known.removeAll(address), known.prepend(address);
        QSettings().setValue(addressesKey, known.mid(0, 8));
        if (address_->findText(address) < 0) address_->insertItem(0, address);
        words_->show(), list_->show(), try_->show(), fetch_->show(), about_->show();
        says_->setText(shown(contents.offline) + words(" What was fetched before can be used."));
        says_->setVisible(!contents.offline.empty());
        fill();
      });
}

void ShelfPanel::fill() {
  const QString was = list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toString() : QString();
  {
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const ShelfEntry* e : entriesWith(index_, kind_, words_->text().toStdString())) {
      auto* item = new QListWidgetItem(shown(e->title), list_);
      item->setData(Qt::UserRole, shown(e->id));
      item->setToolTip(shown(e->title + (e->author.empty() ? "" : words(", by ") + e->author)));
      QPixmap picture(pictureSize);
      picture.fill(Qt::transparent);
      if (const auto known = pictureOf_.find(e->id); known != pictureOf_.end())
        picture = QPixmap::fromImage(known->second);
      item->setIcon(pictureIcon(picture));
      if (shown(e->id) == was) list_->setCurrentItem(item);
    }
  }
  showInHand();
  picturesNext();
}

/// Fetches the pictures of what is listed, one after the other, beside everything else.
void ShelfPanel::picturesNext() {
  if (!shelf_ || fetchingPicture_) return;
  for (int i = 0; i < list_->count(); ++i) {
    const std::string id = list_->item(i)->data(Qt::UserRole).toString().toStdString();
    const ShelfEntry* entry = byId(index_.entries, id);
    if (!entry || pictureOf_.count(id)) continue;
    fetchingPicture_ = true;
    auto* watcher = new QFutureWatcher<QImage>(this);
    connect(watcher, &QFutureWatcher<QImage>::finished, this, [this, watcher, id, of = shelf_] {
      watcher->deleteLater();
      if (of != shelf_) return;
      fetchingPicture_ = false;
      const QImage& picture = pictureOf_[id] = watcher->result();
      for (int k = 0; k < list_->count(); ++k)
        if (list_->item(k)->data(Qt::UserRole).toString().toStdString() == id && !picture.isNull())
          list_->item(k)->setIcon(pictureIcon(QPixmap::fromImage(picture)));
      picturesNext();
    });
    watcher->setFuture(runAside([shelf = shelf_, entry = *entry, progress = pictures_] {
      const auto file = guarded(words("fetching a picture"),
                                [&] { return shelf->fetch(entry, Shelf::What::thumbnail, *progress); });
      const QImage read = file ? QImage(shown(file->string())) : QImage();
      return read.scaled(pictureSize, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    }));
    return;
  }
}

const ShelfEntry* ShelfPanel::inHand() const {
  const QListWidgetItem* item = list_->currentItem();
  return item ? byId(index_.entries, item->data(Qt::UserRole).toString().toStdString()) : nullptr;
}

void ShelfPanel::showInHand() {
  const bool busy = bench_.jobs.isRunning(jobKey());
  const ShelfEntry* e = inHand();
  look_->setText(busy && !shelf_ ? words("Cancel") : words("Look"));
  fetch_->setText(busy                                        ? words("Cancel")
                  : e && shelf_->here(*e, Shelf::What::files) ? words("Use it")
                                                              : words("Fetch and use"));
  fetch_->setEnabled(e || busy);
  try_->setEnabled(e && !busy && !e->preview.empty());
  if (!e) {
    about_->setText(list_->count() ? words("Choose one.")
                                   : words("Nothing on the shelf has all these words."));
    return;
  }
  QStringList facts{shown(e->author), shown(e->licence), shown(bytesText(size_t(e->bytes())))};
  if (shelf_->here(*e, Shelf::What::files)) facts << words("fetched");
  facts.removeAll({});
  about_->setText(facts.join(" · ") + (e->about.empty() ? QString() : "\n" + shown(e->about)));
}

void ShelfPanel::tryIt() {
  const ShelfEntry* e = inHand();
  if (!e || bench_.jobs.isRunning(jobKey())) return;
  bench_.jobs.run<fs::path>(
      {words("Fetching a small ") + shown(e->title), jobKey()},
      [shelf = shelf_, entry = *e](Progress& progress) {
        return shelf->fetch(entry, Shelf::What::preview, progress);
      },
      [this](fs::path& file) {
        bench_.session.revert(trial_);
        trial_ = Session::newGesture();
        use_(shown(file.string()), trial_);
      });
}

/// What was tried on makes way in the same step.
void ShelfPanel::fetch() {
  const ShelfEntry* e = inHand();
  if (!e || bench_.jobs.isRunning(jobKey())) return;
  bench_.jobs.run<fs::path>(
      {words("Fetching ") + shown(e->title), jobKey()},
      [shelf = shelf_, entry = *e](Progress& progress) {
        return shelf->fetch(entry, Shelf::What::files, progress);
      },
      [this](fs::path& file) {
        bench_.session.revert(std::exchange(trial_, 0));
        use_(shown(file.string()), 0);
      });
}

}  // namespace dusk
