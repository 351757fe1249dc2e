#include "app/widgets/desk.h"

#include <QtWidgets>

#include "app/widgets/colour_popover.h"
#include "app/widgets/colours.h"
#include "app/widgets/folding_row.h"
#include "app/widgets/look.h"
#include "app/widgets/slider_track.h"
#include "app/widgets/words.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// Wheels turn what is in hand; the desk scrolls under everything else.
class CalmWheel : public QObject {
 public:
  using QObject::QObject;
  bool eventFilter(QObject* on, QEvent* e) override {
    if (e->type() != QEvent::Wheel || static_cast<QWidget*>(on)->hasFocus()) return false;
    e->ignore();
    return true;
  }
};

}  // namespace

Desk::Desk(Session& session, const QString& title, const QString& purpose, QWidget* parent)
    : QWidget(parent), session_(session) {
  setObjectName("desk");
  column_ = new QVBoxLayout(this);
  column_->setSpacing(7);
  connect(&session_, &Session::changed, this, &Desk::refreshAll);
  connect(&session_, &Session::selectionChanged, this, &Desk::refreshAll);
  connect(&session_, &Session::assetsChanged, this, &Desk::refreshAll);
  column_->setContentsMargins(0, 0, 0, 0);
  if (title.isEmpty()) return;  // a part of another
  setAccessibleName(title + words(" desk"));
  column_->setContentsMargins(14, 12, 14, 12);
  auto* name = new QLabel(title);
  look::setRole(*name, "title");
  column_->addWidget(name);
  note(purpose);
}

void Desk::refreshAll() {
  stale_ = !isVisible();
  if (stale_) return;
  for (const auto& refresh : refreshers_) refresh();
}

void Desk::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  if (stale_) refreshAll();
}

void Desk::onRefresh(std::function<void()> refresh) {
  refresh();
  refreshers_.push_back(std::move(refresh));
}

void Desk::add(QWidget* widget) {
  if (row_)
    row_->addWidget(widget);
  else
    column_->addWidget(widget);
}

void Desk::stretch() { column_->addStretch(1); }

QWidget* Desk::beginRow() {
  auto* holder = new FoldingRow;
  row_ = holder->row();
  column_->addWidget(holder);
  return holder;
}

void Desk::endRow() { row_ = nullptr; }

void Desk::heading(const QString& text) {
  auto* label = new QLabel(text);
  look::setRole(*label, "heading");
  column_->addWidget(label);
}

QToolButton* Desk::beginFold(const QString& text, bool open) {
  auto* head = new QToolButton;
  head->setText(text);
  head->setCheckable(true);
  head->setChecked(open);
  head->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  head->setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
  head->setToolTip(words("Shows or folds away: ") + text);
  head->setAccessibleName(text);
  head->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  look::setRole(*head, "fold");
  auto* body = new QWidget;
  auto* inside = new QVBoxLayout(body);
  inside->setContentsMargins(0, 0, 0, 4);
  inside->setSpacing(7);
  body->setVisible(open);
  connect(head, &QToolButton::toggled, this, [head, body](bool on) {
    head->setArrowType(on ? Qt::DownArrow : Qt::RightArrow);
    body->setVisible(on);
  });
  column_->addWidget(head);
  column_->addWidget(body);
  whole_ = column_;
  column_ = inside;
  return head;
}

void Desk::endFold() { column_ = whole_; }

QLabel* Desk::note(const QString& text) {
  auto* label = new QLabel(text);
  label->setWordWrap(true);
  look::setRole(*label, "caption");
  add(label);
  return label;
}

QWidget* Desk::labelled(const QString& label, QWidget* field) {
  field->setAccessibleName(label.trimmed());
  auto* number = qobject_cast<NumberField*>(field);
  if (!number) {
    field->setFocusPolicy(Qt::StrongFocus);
    field->installEventFilter(new CalmWheel(field));
  }
  auto* holder = new QWidget;
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  QLabel* text = number ? new ScrubLabel(label, number) : new QLabel(label);
  text->setMinimumWidth(row_ ? 0 : look::px(94));
  text->setBuddy(field);
  row->addWidget(text);
  row->addWidget(field, 1);
  return holder;
}

NumberField* Desk::number(const QString& label, const Range& range, const QString& tip, Get get, Set set) {
  auto* field = new NumberField;
  field->setRange(range.low, range.high);
  field->setSingleStep(range.step);
  field->setDecimals(range.decimals);
  field->setUnit(QString::fromUtf8(range.unit));
  field->setToolTip(tip);
  field->setFixedWidth(look::px(range.slider ? 92 : 112));
  connect(field, &QDoubleSpinBox::valueChanged, this, [this, set, field, label](double value) {
    session_.edit(
        words("set ") + inSentence(label.trimmed()), [&](Project& p) { set(p, value); }, field->gesture());
  });
  QWidget* holder = labelled(label, field);
  auto* row = static_cast<QHBoxLayout*>(holder->layout());
  auto* name = static_cast<ScrubLabel*>(row->itemAt(0)->widget());
  name->setUsual(range.usual);
  name->setToolTip(tip + (range.usual ? QString(words("\nDrag sideways to change it, double click for %1"))
                                            .arg(field->textFromValue(*range.usual) + field->suffix())
                                      : QString(words("\nDrag sideways to change it"))));
  row->setStretchFactor(field, 0);
  QSlider* slider = range.slider ? addSlider(row, range, field, tip) : nullptr;
  if (!slider) row->insertStretch(1, 1);
  add(holder);
  onRefresh([=, this] {
    const auto value = get(session_.project());
    const QSignalBlocker quiet(field);
    holder->setVisible(value.has_value());
    if (value && std::abs(field->value() - *value) > 0.5 * std::pow(10.0, -field->decimals()))
      field->setValue(*value);
    if (!slider) return;
    const QSignalBlocker quieter(slider);
    if (value && !slider->isSliderDown())
      slider->setValue(SliderTrack{range.low, range.high, range.usual}.placeOf(*value));
  });
  return field;
}

QSlider* Desk::addSlider(QHBoxLayout* row, const Range& range, NumberField* field, const QString& tip) {
  auto* slider = new QSlider(Qt::Horizontal);
  slider->setRange(0, SliderTrack::end);
  slider->setToolTip(tip);
  slider->setAccessibleName(field->accessibleName() + words(" slider"));
  slider->setMinimumWidth(50);
  slider->setFocusPolicy(Qt::StrongFocus);
  slider->installEventFilter(new CalmWheel(slider));
  row->insertWidget(1, slider, 1);
  // One pull is one step, however long it pauses.
  connect(slider, &QSlider::sliderPressed, field, &NumberField::beginPull);
  connect(slider, &QSlider::sliderReleased, field, &NumberField::endPull);
  const SliderTrack track{range.low, range.high, range.usual};
  connect(slider, &QSlider::valueChanged, field, [=](int at) {
    const double value = track.valueAt(at), scale = std::pow(10.0, range.decimals);
    field->setValue(std::round(value * scale) / scale);
  });
  return slider;
}

NumberField* Desk::length(const QString& label, const QString& tip, Get get, Set set) {
  const auto unit = [this]() -> const ShownUnit& { return session_.shownUnit(); };
  NumberField* field = number(
      label, {-1e6, 1e6, 1, 1, "mm"}, tip,
      [=](const Project& p) {
        const auto metres = get(p);
        return metres ? std::optional(*metres * unit().perMetre) : std::nullopt;
      },
      [=](Project& p, double v) { set(p, v / unit().perMetre); });
  // Before the value is shown: the unit it is shown in.
  refreshers_.insert(refreshers_.end() - 1, [=] {
    const QSignalBlocker quiet(field);
    field->setUnit(unit().name);
    field->setDecimals(unit().decimals);
    field->setSingleStep(unit().step);
  });
  refreshAll();
  return field;
}

QCheckBox* Desk::toggle(const QString& label, const QString& tip,
                        std::function<std::optional<bool>(const Project&)> get,
                        std::function<void(Project&, bool)> set) {
  auto* box = new QCheckBox(label);
  box->setToolTip(tip);
  box->setAccessibleName(label);
  connect(box, &QCheckBox::toggled, this, [this, set, label](bool on) {
    session_.edit((on ? words("switch on: ") : words("switch off: ")) + label,
                  [&](Project& p) { set(p, on); });
  });
  add(box);
  onRefresh([=, this] {
    const QSignalBlocker quiet(box);
    const auto on = get(session_.project());
    box->setEnabled(on.has_value());
    box->setChecked(on.value_or(false));
  });
  return box;
}

QLineEdit* Desk::text(const QString& label, const QString& tip,
                      std::function<std::optional<std::string>(const Project&)> get,
                      std::function<void(Project&, const std::string&)> set) {
  auto* field = new QLineEdit;
  field->setToolTip(tip);
  field->setMaxLength(400);
  connect(field, &QLineEdit::editingFinished, this, [=, this] {
    const std::string typed = field->text().toStdString();
    if (get(session_.project()) == typed) return;
    session_.edit(words("set ") + inSentence(label), [&](Project& p) { set(p, typed); });
  });
  QWidget* holder = labelled(label, field);
  add(holder);
  onRefresh([=, this] {
    const auto value = get(session_.project());
    holder->setVisible(value.has_value());
    if (value && field->text().toStdString() != *value) field->setText(QString::fromStdString(*value));
  });
  return field;
}

QComboBox* Desk::choice(const QString& label, const QStringList& items, const QString& tip,
                        std::function<int(const Project&)> get, std::function<void(Project&, int)> set) {
  auto* box = new QComboBox;
  box->addItems(items);
  box->setToolTip(tip);
  connect(box, &QComboBox::activated, this, [this, set, label](int index) {
    session_.edit(words("choose ") + inSentence(label), [&](Project& p) { set(p, index); });
  });
  add(labelled(label, box));
  onRefresh([=, this] {
    const QSignalBlocker quiet(box);
    const int index = get(session_.project());
    box->setEnabled(index >= 0);
    box->setCurrentIndex(index);
  });
  return box;
}

void Desk::narrowChoices() {
  for (QComboBox* box : findChildren<QComboBox*>()) {
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
    onRefresh([box] { box->parentWidget()->setVisible(box->isEnabled()); });
  }
}

QPushButton* Desk::button(const QString& label, const QString& tip, std::function<void()> pressed,
                          bool primary) {
  auto* b = new QPushButton(label);
  b->setToolTip(tip);
  if (primary) b->setObjectName("primary");
  connect(b, &QPushButton::clicked, this, [pressed = std::move(pressed)] { pressed(); });
  add(b);
  return b;
}

QPushButton* Desk::forNextDrag(const QString& label, const QString& tip, Session::NextDrag drag) {
  auto* b = new QPushButton(label);
  b->setCheckable(true);
  b->setToolTip(tip);
  connect(b, &QPushButton::clicked, this,
          [this, drag](bool on) { session_.setNextDrag(on ? drag : Session::NextDrag::own); });
  add(b);
  onRefresh([=, this] { b->setChecked(session_.nextDrag() == drag); });
  return b;
}

QPushButton* Desk::colour(const QString& label, const QString& tip,
                          std::function<std::optional<Vec3d>(const Project&)> get,
                          std::function<void(Project&, const Vec3d&)> set) {
  auto* b = new QPushButton;
  b->setToolTip(tip);
  connect(b, &QPushButton::clicked, this, [=, this] {
    const Vec3d now = get(session_.project()).value_or(Vec3d(0.5, 0.5, 0.5));
    ColourPopover::open(session_, b, label, now, [=, this](const Vec3d& c, int gesture) {
      session_.edit(
          words("set ") + inSentence(label), [&](Project& p) { set(p, c); }, gesture);
    });
  });
  add(labelled(label, b));
  onRefresh([=, this] {
    const auto value = get(session_.project());
    b->setEnabled(value.has_value());
    const QColor c = value ? shownColour(*value) : look::panel();
    b->setText(value ? c.name() : QString());
    b->setStyleSheet(value ? QString("background: %1; color: %2;")
                                 .arg(c.name(), qGray(c.rgb()) > 120 ? "#201c28" : "#ece8f1")
                           : QString());
  });
  return b;
}

}  // namespace dusk
