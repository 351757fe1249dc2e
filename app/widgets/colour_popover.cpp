#include "app/widgets/colour_popover.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/widgets/colours.h"
#include "app/widgets/look.h"
#include "app/widgets/number_field.h"
#include "app/widgets/palette_shelf.h"
#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/colour/difference.h"
#include "core/colour/view.h"

namespace dusk {
namespace {

constexpr int sides[] = {1, 3, 5, 11, 31};
constexpr int recentCount = 12;

struct Samplers {
  ColourPopover::PhotoSampler shown, lit;
};
Samplers& samplers() {
  static Samplers both;
  return both;
}

/// What a photographer's grey card sends back.
constexpr double greyCard = 0.18;

/// A square of the screen about a place. Our own windows are asked themselves, which works without a screen,
/// too.
QImage screenAround(const QPoint& global, int side) {
  const QRect square(global - QPoint(side / 2, side / 2), QSize(side, side));
  if (const QWidget* over = QApplication::widgetAt(global)) {
    QWidget* window = over->window();
    return window->grab(QRect(window->mapFromGlobal(square.topLeft()), square.size())).toImage();
  }
  const QScreen* screen = QGuiApplication::screenAt(global);
  if (!screen) return {};
  const QPoint at = square.topLeft() - screen->geometry().topLeft();
  return const_cast<QScreen*>(screen)->grabWindow(0, at.x(), at.y(), side, side).toImage();
}

}  // namespace

Vec3d meanOfScreen(const QPoint& global, int side) {
  const QImage image = screenAround(global, side);
  Vec3d sum(0, 0, 0);
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) sum += linearColour(image.pixelColor(x, y));
  return image.isNull() ? sum : sum / (double(image.width()) * image.height());
}

void ColourPopover::setPhotoSamplers(PhotoSampler shown, PhotoSampler lit) {
  samplers() = {std::move(shown), std::move(lit)};
}

ColourPopover* ColourPopover::current() {
  for (QWidget* top : QApplication::topLevelWidgets())
    if (auto* open = top->findChild<ColourPopover*>(); open && open->isVisible()) return open;
  return nullptr;
}

ColourPopover* ColourPopover::open(Session& session, QWidget* beside, const QString& name, const Vec3d& now,
                                   Write write) {
  if (ColourPopover* before = current()) before->hide();
  QWidget* window = beside->window();
  auto* popover = new ColourPopover(session, window, name, now, std::move(write));
  popover->adjustSize();
  // Left of what it was opened from, as far as there is room.
  QPoint at = beside->mapTo(window, QPoint(-popover->width() - 8, -40));
  at.setX(std::clamp(at.x(), 8, std::max(8, window->width() - popover->width() - 8)));
  at.setY(std::clamp(at.y(), 8, std::max(8, window->height() - popover->height() - 8)));
  popover->move(at);
  popover->QFrame::show();
  popover->raise();
  popover->code_->setFocus();
  popover->code_->selectAll();
  return popover;
}

ColourPopover::ColourPopover(Session& session, QWidget* window, const QString& name, const Vec3d& now,
                             Write write)
    : QFrame(window),
      session_(session),
      document_(session.documentNumber()),
      write_(std::move(write)),
      colour_(now),
      before_(now),
      gesture_(Session::newGesture()) {
  setObjectName("colour");
  setAccessibleName(words("Colour: ") + name);
  setAttribute(Qt::WA_StyledBackground);
  look::setRole(*this, "popover");
  build(name);
  show(nullptr);
  // What it writes to is what was in hand when it opened: with another thing in hand it has nothing to say.
  connect(&session_, &Session::selectionChanged, this, &QWidget::hide);
  connect(&session_, &Session::shotChanged, this, &QWidget::hide);
  connect(&session_, &Session::documentChanged, this, &QWidget::hide);
}

void ColourPopover::build(const QString& name) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 10, 12, 12);
  column->setSpacing(6);
  auto* top = new QHBoxLayout;
  auto* title = new QLabel(name);
  look::setRole(*title, "bold");
  top->addWidget(title, 1);
  auto* close = new QToolButton;
  close->setText(words("Done"));
  close->setToolTip(words("Keeps the colour (Enter). Esc puts the old one back"));
  connect(close, &QToolButton::clicked, this, &QWidget::hide);
  top->addWidget(close);
  column->addLayout(top);
  swatch_ = new QLabel;
  swatch_->setFixedHeight(34);
  column->addWidget(swatch_);
  coded_ = new QLabel;
  look::setRole(*coded_, "muted");
  coded_->setAccessibleName(words("Values, linear and coded"));
  column->addWidget(coded_);
  auto* form = new QFormLayout;
  form->setSpacing(5);
  code_ = new QLineEdit;
  code_->setMaxLength(7);
  code_->setAccessibleName(words("Code"));
  code_->setToolTip(words("The colour as it is delivered: #rrggbb"));
  connect(code_, &QLineEdit::textEdited, this, [this](const QString& text) {
    const QString full = text.startsWith('#') ? text : "#" + text;
    if (full.size() == 7 && QColor::isValidColor(full)) set(linearColour(QColor(full)));
  });
  form->addRow(words("Code"), code_);
  column->addLayout(form);
  addThirds(form);
  kelvin_ =
      number(words("Temperature"), words("A white light of this temperature, as bright as the colour is now"),
             1700, 20000, 100, 0, "K", [this](double k) {
               const Rgb c = kelvinColour(k);
               set(toDouble(c * (luminance(toFloat(colour_)) / std::max(maxComponent(c), 1e-6f))));
             });
  form->addRow(words("Temperature"), kelvin_);
  addPickers(column);
  auto* palette = new PaletteShelf(session_);
  connect(palette, &PaletteShelf::chosen, this, [this](const QColor& c) { set(linearColour(c)); });
  connect(palette, &PaletteShelf::grown, this, [this] { adjustSize(); });
  column->addWidget(palette);
  addRecent(column);
}

/// The colour as three numbers, three ways.
void ColourPopover::addThirds(QFormLayout* form) {
  struct Third {
    const char* name;
    double low, high, step;
    const char* unit;
  };
  const auto rowOf = [&](const QString& label, const std::array<Third, 3>& thirds, int decimals,
                         NumberField** fields, auto setOne) {
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    for (int i = 0; i < 3; ++i) {
      const Third& t = thirds[size_t(i)];
      fields[i] = number(label + " " + t.name, QString("%1: %2").arg(label, t.name), t.low, t.high, t.step,
                         decimals, t.unit, [=, this](double v) { setOne(i, v); });
      fields[i]->setFixedWidth(look::px(76));
      row->addWidget(fields[i]);
    }
    form->addRow(label, row);
  };
  rowOf(words("Linear"),
        {{{words("red"), 0, 1, 0.01, ""}, {words("green"), 0, 1, 0.01, ""}, {words("blue"), 0, 1, 0.01, ""}}},
        4, linear_, [this](int i, double v) {
          Vec3d c = colour_;
          c[i] = v;
          set(c);
        });
  rowOf("HSV",
        {{{words("hue"), 0, 360, 1, "°"},
          {words("saturation"), 0, 100, 1, "%"},
          {words("value"), 0, 100, 1, "%"}}},
        1, hsv_, [this](int, double) {
          set(linearColour(QColor::fromHsvF(float(std::min(hsv_[0]->value() / 360, 0.99999)),
                                            float(hsv_[1]->value() / 100), float(hsv_[2]->value() / 100))));
        });
  rowOf("Lab",
        {{{words("lightness"), 0, 100, 1, ""},
          {words("green to red"), -128, 128, 1, ""},
          {words("blue to yellow"), -128, 128, 1, ""}}},
        1, lab_, [this](int, double) {
          const Vec3d code = srgbOfLab({lab_[0]->value(), lab_[1]->value(), lab_[2]->value()});
          Vec3d linear;
          for (int i = 0; i < 3; ++i) linear[i] = srgbDecoded(std::clamp(code[i], 0.0, 1.0));
          set(linear);
        });
}

void ColourPopover::addPickers(QVBoxLayout* column) {
  auto* pickers = new QGridLayout;
  pickers->setSpacing(4);
  int place = 0;
  const auto picker = [&](const QString& label, const QString& tip, Picking from) {
    auto* b = new QPushButton(label);
    b->setToolTip(tip);
    connect(b, &QPushButton::clicked, this, [this, from] { beginPicking(from); });
    pickers->addWidget(b, place / 2, place % 2);
    ++place;
  };
  picker(words("From the screen"), words("Click anywhere, also outside this window; Esc leaves"),
         Picking::screen);
  picker(words("From the photo"), words("Click in the picture: the photo's own value there, product or not"),
         Picking::photo);
  picker(
      words("As lit there"),
      words(
          "Click the ground or a stand-in in the photo: its value divided by the light that falls there, so "
          "that a surface of this colour looks so once it is lit. As true as light and shapes of the place "
          "are"),
      Picking::lit);
  picker(words("Beside a grey card"),
         words("For a paint that was photographed: click the grey card (18 %), then the paint"),
         Picking::card);
  side_ = new QComboBox;
  for (const int s : sides) side_->addItem(s == 1 ? QString("1 px") : QString("%1 × %1 px").arg(s), s);
  side_->setCurrentIndex(1);
  side_->setToolTip(words("How large a patch is averaged"));
  side_->setAccessibleName(words("Patch that is averaged"));
  pickers->addWidget(side_, place / 2, 0, 1, 2);
  column->addLayout(pickers);
}

void ColourPopover::addRecent(QVBoxLayout* column) {
  auto* recent = new QHBoxLayout;
  recent->setSpacing(3);
  for (const QString& code : QSettings().value("colours").toStringList()) {
    auto* b = new ColourChip(QColor(code), words("Used lately: ") + code);
    b->setAccessibleName(code);
    connect(b, &QToolButton::clicked, this, [this, code] { set(linearColour(QColor(code))); });
    recent->addWidget(b);
  }
  recent->addStretch(1);
  column->addLayout(recent);
}

NumberField* ColourPopover::number(const QString& label, const QString& tip, double low, double high,
                                   double step, int decimals, const QString& unit,
                                   std::function<void(double)> set) {
  auto* field = new NumberField;
  field->setRange(low, high);
  field->setDecimals(decimals);
  field->setSingleStep(step);
  field->setUnit(unit);
  field->setToolTip(tip);
  field->setAccessibleName(label);
  connect(field, &QDoubleSpinBox::valueChanged, this, [this, set = std::move(set)](double v) {
    if (!quiet_) set(v);
  });
  return field;
}

void ColourPopover::set(const Vec3d& linear) {
  if (document_ != session_.documentNumber()) return;
  colour_ = linear;
  write_(linear, gesture_);
  show(focusWidget());
}

/// Brings every field but the one in hand up to the colour.
void ColourPopover::show(const QWidget* except) {
  const QScopedValueRollback quiet(quiet_, true);
  const QColor c = shownColour(colour_);
  swatch_->setStyleSheet(QString("background: %1; border-radius: 5px;").arg(c.name()));
  coded_->setText(QString(words("linear %1  %2  %3   coded %4  %5  %6"))
                      .arg(colour_.x, 0, 'f', 3)
                      .arg(colour_.y, 0, 'f', 3)
                      .arg(colour_.z, 0, 'f', 3)
                      .arg(c.red())
                      .arg(c.green())
                      .arg(c.blue()));
  if (except != code_) code_->setText(c.name());
  for (int i = 0; i < 3; ++i)
    if (linear_[i] != except) linear_[i]->setValue(colour_[i]);
  if (std::find(std::begin(lab_), std::end(lab_), except) == std::end(lab_)) {
    const Vec3d lab = labOfSrgb({c.redF(), c.greenF(), c.blueF()});
    for (int i = 0; i < 3; ++i) lab_[i]->setValue(lab[i]);
  }
  const bool turning = std::find(std::begin(hsv_), std::end(hsv_), except) != std::end(hsv_);
  if (turning) return;  // a grey must not forget the hue that is being set
  hsv_[0]->setValue(std::max(0.0f, c.hsvHueF()) * 360);
  hsv_[1]->setValue(c.hsvSaturationF() * 100);
  hsv_[2]->setValue(c.valueF() * 100);
}

void ColourPopover::beginPicking(Picking from) {
  picking_ = from;
  setCursor(Qt::CrossCursor);
  card_ = Vec3d(0);
  grabMouse(Qt::CrossCursor);
  grabKeyboard();
  installEventFilter(this);
}

void ColourPopover::endPicking() {
  if (picking_ == Picking::none) return;
  picking_ = Picking::none;
  removeEventFilter(this);
  releaseMouse();
  releaseKeyboard();
  unsetCursor();
}

void ColourPopover::pick(const QPoint& global) {
  const int side = side_->currentData().toInt();
  if (picking_ == Picking::screen) return set(meanOfScreen(global, side));
  const PhotoSampler& sampler = picking_ == Picking::lit ? samplers().lit : samplers().shown;
  const auto mean = sampler ? sampler(global, side) : std::nullopt;
  if (!mean) return;
  if (picking_ == Picking::card) {
    card_ = *mean;
    return session_.say(words("Now the paint beside it."));
  }
  if (picking_ != Picking::byCard) return set(*mean);
  Vec3d c;
  for (int i = 0; i < 3; ++i)
    c[i] = card_[i] > 0 ? std::clamp((*mean)[i] / card_[i] * greyCard, 0.0, 1.0) : 0.0;
  set(c);
}

bool ColourPopover::eventFilter(QObject* on, QEvent* e) {
  if (picking_ == Picking::none) return QFrame::eventFilter(on, e);
  if (e->type() == QEvent::MouseButtonPress || e->type() == QEvent::MouseMove) {
    auto* mouse = static_cast<QMouseEvent*>(e);
    if (e->type() == QEvent::MouseButtonPress || mouse->buttons() & Qt::LeftButton)
      pick(mouse->globalPosition().toPoint());
    return true;
  }
  if (e->type() == QEvent::MouseButtonRelease) {
    if (picking_ == Picking::card && card_ != Vec3d(0)) return picking_ = Picking::byCard, true;
    return endPicking(), true;
  }
  if (e->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(e)->key() == Qt::Key_Escape)
    return endPicking(), true;
  return QFrame::eventFilter(on, e);
}

void ColourPopover::revert() {
  if (colour_ != before_) set(before_);
  colour_ = before_;
}

void ColourPopover::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape) {
    revert();
    return hide();
  }
  if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return hide();
  QFrame::keyPressEvent(e);
}

void ColourPopover::hideEvent(QHideEvent* e) {
  endPicking();
  if (colour_ != before_) remember();
  deleteLater();
  QFrame::hideEvent(e);
}

void ColourPopover::remember() {
  QSettings settings;
  QStringList all = settings.value("colours").toStringList();
  const QString code = shownColour(colour_).name();
  all.removeAll(code);
  all.prepend(code);
  settings.setValue("colours", all.mid(0, recentCount));
}

}  // namespace dusk
