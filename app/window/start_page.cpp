#include "app/window/start_page.h"

#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/document/session.h"
#include "app/widgets/look.h"
#include "app/window/demos.h"
#include "app/window/recent.h"
#include "core/base/words.h"
#include "core/project/shots.h"

namespace dusk {
namespace {

constexpr int columns = 4, pictureHeight = 96;

/// A button that is a picture with a name under it.
class Tile : public QAbstractButton {
 public:
  /// The picture is asked for when it is first seen: most windows open a project at once.
  Tile(std::function<QImage()> picture, const QString& name, const QString& about)
      : load_(std::move(picture)), about_(about) {
    setText(name);
    setAccessibleName(about.isEmpty() ? name : name + ": " + about);
    setToolTip(about.isEmpty() ? name : name + "\n" + about);
    setFixedHeight(look::px(pictureHeight + 44));
    setMinimumWidth(look::px(110));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAttribute(Qt::WA_Hover);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    if (load_) picture_ = std::exchange(load_, {})();
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const QRectF frame = QRectF(rect()).adjusted(1, 1, -1, -1);
    p.setPen(QPen(hasFocus()     ? look::ember()
                  : underMouse() ? look::muted()
                                 : look::line(),
                  hasFocus() ? 2 : 1));
    p.setBrush(look::panel());
    p.drawRoundedRect(frame, 7, 7);
    QRectF top = frame.adjusted(5, 5, -5, 0);
    top.setHeight(look::px(pictureHeight));
    if (picture_.isNull()) {
      p.fillRect(top, look::field());
      p.setPen(look::muted());
      p.drawText(top, Qt::AlignCenter, words("no picture yet"));
    } else {
      // Filled from side to side: what is cut is sky and ground.
      const QSizeF whole = QSizeF(picture_.size()).scaled(top.size(), Qt::KeepAspectRatioByExpanding);
      const double scale = picture_.width() / whole.width();
      const QSizeF part = top.size() * scale;
      p.drawImage(
          top, picture_,
          QRectF({(picture_.width() - part.width()) / 2, (picture_.height() - part.height()) / 2}, part));
    }
    const QRectF words = frame.adjusted(8, 8 + look::px(pictureHeight), -8, -3);
    p.setPen(look::text());
    p.setFont(look::heading());
    const auto fitted = [&](const QString& text) {
      return p.fontMetrics().elidedText(text, Qt::ElideRight, int(words.width()));
    };
    p.drawText(words, Qt::AlignLeft | Qt::AlignTop, fitted(text()));
    p.setPen(look::muted());
    p.setFont(look::small());
    p.drawText(words.adjusted(0, look::px(17), 0, 0), Qt::AlignLeft | Qt::AlignTop, fitted(about_));
  }

 private:
  std::function<QImage()> load_;
  QImage picture_;
  QString about_;
};

QLabel* titleIn(QVBoxLayout* column, const QString& text, const QFont& font) {
  auto* label = new QLabel(text);
  label->setFont(font);
  column->addWidget(label);
  return label;
}

QPushButton* begin(QHBoxLayout* row, const QString& text, const QString& tip, bool first) {
  auto* button = new QPushButton(text);
  button->setToolTip(tip);
  if (first) button->setObjectName("primary");
  button->setMinimumHeight(look::px(36));
  row->addWidget(button, 1);
  return button;
}

}  // namespace

bool StartPage::isWanted() { return Preferences::own().value("startPage").toBool(); }

StartPage::StartPage(Session& session, QWidget* over) : QWidget(over), session_(session) {
  setObjectName("start");
  setAccessibleName(words("How to begin"));
  setFocusPolicy(Qt::StrongFocus);
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(0, 0, 0, 0);
  auto* scroll = new QScrollArea;
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->viewport()->setAutoFillBackground(false);
  whole->addWidget(scroll);
  auto* inside = new QWidget;
  inside->setAutoFillBackground(false);
  scroll->setWidget(inside);
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(28, 20, 28, 14);
  column->setSpacing(8);
  look::setRole(*titleIn(column, words("A new picture"), look::large()), "large");
  auto* row = new QHBoxLayout;
  QPushButton* first = begin(row, words("Start from a photo…"),
                             words("The photograph that the product will stand in; or drop it here"), true);
  setFocusProxy(first);
  connect(first, &QPushButton::clicked, this, &StartPage::photoWanted);
  connect(
      begin(row, words("Start without one"), words("A set made here: sweep, shelf, corner, garden…"), false),
      &QPushButton::clicked, this, &StartPage::furnishedWanted);
  connect(begin(row, words("Show me how"),
                words("A first picture in ten steps, on the demo's photo and model"), false),
          &QPushButton::clicked, this, &StartPage::lessonWanted);
  column->addLayout(row);
  column->addSpacing(6);
  titleIn(column, words("Demos"), look::heading());
  auto* shelf = new QGridLayout;
  shelf->setSpacing(8);
  int at = 0;
  for (const Demo& demo : demos()) {
    auto* tile = new Tile([&demo] { return QImage(pictureOf(demo)); }, demo.name, demo.about);
    connect(tile, &QAbstractButton::clicked, this, [this, &demo] {
      const auto file = ownDemo(demo);
      if (!file) return session_.say(QString::fromStdString(file.error().message), true);
      emit fileWanted(*file);
    });
    shelf->addWidget(tile, 0, at++);
  }
  column->addLayout(shelf);
  column->addSpacing(6);
  recentTitle_ = titleIn(column, words("Last work"), look::heading());
  recent_ = new QGridLayout;
  recent_->setSpacing(8);
  column->addLayout(recent_);
  column->addStretch(1);
  auto* foot = new QHBoxLayout;
  keep_ = new QCheckBox(words("Begin with this page"));
  keep_->setToolTip(words("Whether an empty window shows this page; the menu Help has it either way"));
  keep_->setChecked(isWanted());
  connect(keep_, &QCheckBox::toggled, this, [](bool on) { Preferences::own().set("startPage", on); });
  foot->addWidget(keep_);
  foot->addStretch(1);
  auto* away = new QPushButton(words("Close this page"));
  away->setToolTip(words("Shows the empty picture (Esc)"));
  connect(away, &QPushButton::clicked, this, &StartPage::dismiss);
  foot->addWidget(away);
  column->addLayout(foot);
  over->installEventFilter(this);
  connect(&Preferences::own(), &Preferences::changed, this, [this] { keep_->setChecked(isWanted()); });
  connect(&session_, &Session::changed, this, &StartPage::refresh);
  connect(&session_, &Session::documentChanged, this, [this] { dismissed_ = !isWanted(), refresh(); });
  dismissed_ = !isWanted();
  setGeometry(over->rect());
  hide();
  refresh();
}

void StartPage::comeBack() {
  dismissed_ = false;
  refresh();
  setFocus();
}

void StartPage::dismiss() {
  dismissed_ = true;
  refresh();
}

void StartPage::showEvent(QShowEvent* e) {
  if (!e->spontaneous()) setFocus();  // Enter begins
  QWidget::showEvent(e);
}

void StartPage::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape) return dismiss();
  QWidget::keyPressEvent(e);
}

bool StartPage::isEmpty() const { return session_.needsPlace() && session_.base() == emptyProject(); }

void StartPage::refresh() {
  const bool shown = !dismissed_ && isEmpty();
  if (shown == shown_) return;
  shown_ = shown;
  if (shown) fillRecent();
  setVisible(shown);
  if (shown) raise();
}

void StartPage::fillRecent() {
  while (QLayoutItem* item = recent_->takeAt(0)) {
    item->widget()->deleteLater();
    delete item;
  }
  int at = 0;
  for (const QString& file : recent::files()) {
    if (at == columns) break;
    const QFileInfo info(file);
    auto* tile = new Tile([file] { return recent::pictureOf(file); }, info.completeBaseName(),
                          QDir::toNativeSeparators(info.path()));
    connect(tile, &QAbstractButton::clicked, this, [this, file] { emit fileWanted(file); });
    recent_->addWidget(tile, 0, at++);
  }
  for (int i = 0; i < columns; ++i) recent_->setColumnStretch(i, 1);
  recentTitle_->setVisible(at > 0);
}

bool StartPage::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize) setGeometry(static_cast<QWidget*>(watched)->rect());
  return false;
}

void StartPage::paintEvent(QPaintEvent*) { QPainter(this).fillRect(rect(), look::chrome()); }

}  // namespace dusk
