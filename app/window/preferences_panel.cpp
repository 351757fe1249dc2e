#include "app/window/preferences_panel.h"

#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/jobs/aside.h"
#include "app/widgets/clearing.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "app/window/key_list.h"
#include "core/base/cache_folder.h"
#include "core/base/memory.h"
#include "core/base/words.h"

namespace dusk {
namespace {

constexpr const char* keysPage = marked("Keys");

/// A line of a page, and the words it is found by.
QWidget* rowOf(const QString& label, const QString& tip, QWidget* field) {
  auto* row = new QWidget;
  row->setProperty("words", label + " " + tip);
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 3, 0, 3);
  auto* text = new QVBoxLayout;
  text->setSpacing(1);
  auto* name = new QLabel(label);
  name->setFont(look::heading());
  auto* more = new QLabel(tip);
  more->setWordWrap(true);
  look::setRole(*more, "muted");
  text->addWidget(name);
  text->addWidget(more);
  line->addLayout(text, 1);
  field->setToolTip(tip);
  field->setFixedWidth(look::px(210));
  line->addWidget(field, 0, Qt::AlignVCenter);
  return row;
}

/// Names of things stay as they are: no catalogue has them.
QStringList choicesOf(const Preference& p) {
  QStringList choices = words(p.words).split('|');
  for (QString& each : choices) each = words(each);
  return choices;
}

uintmax_t bytesIn(const std::filesystem::path& folder) {
  uintmax_t sum = 0;
  std::error_code code;
  for (auto at = std::filesystem::recursive_directory_iterator(
           folder, std::filesystem::directory_options::skip_permission_denied, code);
       !code && at != std::filesystem::recursive_directory_iterator(); at.increment(code))
    if (at->is_regular_file(code)) sum += at->file_size(code);
  return sum;
}

}  // namespace

PreferencesPanel::PreferencesPanel(QWidget* window)
    : QDialog(window),
      words_(new QLineEdit),
      names_(new QListWidget),
      pages_(new QStackedWidget),
      keys_(new KeyList(window)) {
  setWindowTitle(words("Preferences"));
  resize(look::px(720), look::px(470));
  auto* whole = new QVBoxLayout(this);
  words_->setPlaceholderText(words("Search all preferences and keys"));
  words_->setAccessibleName(words("Search the preferences"));
  words_->setToolTip(words("Shows only what has these words"));
  offerClearing(*words_);
  whole->addWidget(words_);
  auto* middle = new QHBoxLayout;
  names_->setAccessibleName(words("Pages"));
  names_->setFixedWidth(look::px(120));
  look::setRole(*names_, "pages");
  middle->addWidget(names_);
  middle->addWidget(pages_, 1);
  whole->addLayout(middle, 1);
  for (const QString& name : preferencePages()) addPage(name, pageOf(name));
  addPage(keysPage, keys_);
  connect(names_, &QListWidget::currentRowChanged, pages_, &QStackedWidget::setCurrentIndex);
  connect(words_, &QLineEdit::textChanged, this, &PreferencesPanel::find);
  names_->setCurrentRow(0);
}

void PreferencesPanel::showPage(const QString& name) {
  for (int i = 0; i < names_->count(); ++i)
    if (names_->item(i)->data(Qt::UserRole) == name) names_->setCurrentRow(i);
}

void PreferencesPanel::addPage(const QString& name, QWidget* page) {
  auto* item = new QListWidgetItem(words(name), names_);
  item->setData(Qt::UserRole, name);
  pages_->addWidget(page);
}

QWidget* PreferencesPanel::pageOf(const QString& name) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(10, 0, 4, 0);
  for (const Preference& p : preferences())
    if (name == p.page) column->addWidget(rowOf(words(p.label), words(p.tip), fieldFor(p)));
  if (name == "Files") addCache(column);
  column->addStretch(1);
  auto* usual = new QPushButton(words("Usual values"));
  usual->setToolTip(words("Sets all of this page as it was at first"));
  connect(usual, &QPushButton::clicked, this, [name] { Preferences::own().reset(name); });
  column->addWidget(usual, 0, Qt::AlignRight);
  return page;
}

QWidget* PreferencesPanel::fieldFor(const Preference& p) {
  Preferences& own = Preferences::own();
  const QString key = p.key;
  // Keeps what is shown as it is, whoever changes it.
  const auto follow = [&](QWidget* field, const std::function<void()>& show) {
    field->setAccessibleName(words(p.label));
    field->setObjectName(key);
    connect(&own, &Preferences::changed, field, [key, show](const QString& which) {
      if (which == key) show();
    });
    show();
    return field;
  };
  switch (p.kind) {
    case PreferenceKind::choice: {
      auto* box = new QComboBox;
      box->addItems(choicesOf(p));
      connect(box, &QComboBox::activated, this, [&own, key](int i) { own.set(key, i); });
      return follow(box, [=, &own] { box->setCurrentIndex(own.number(key)); });
    }
    case PreferenceKind::number: {
      auto* field = new QSpinBox;
      field->setRange(int(p.low), int(p.high));
      field->setSuffix(unitAfter(p.unit));
      if (!p.words.isEmpty()) field->setSpecialValueText(words(p.words));
      connect(field, &QSpinBox::valueChanged, this, [&own, key](int v) { own.set(key, v); });
      return follow(field, [=, &own] { field->setValue(own.number(key)); });
    }
    case PreferenceKind::yesNo: {
      auto* box = new QCheckBox(words("yes"));
      connect(box, &QCheckBox::toggled, this, [&own, key](bool on) { own.set(key, on); });
      return follow(box, [=, &own] { box->setChecked(own.value(key).toBool()); });
    }
    case PreferenceKind::folder:
    case PreferenceKind::file:
      break;
  }
  return placeField(p);
}

/// A folder or file: chosen by a button that shows its name, taken away by another.
QWidget* PreferencesPanel::placeField(const Preference& p) {
  auto* both = new QWidget;
  both->setObjectName(p.key);
  auto* line = new QHBoxLayout(both);
  line->setContentsMargins(0, 0, 0, 0);
  auto* choose = new QPushButton;
  choose->setAccessibleName(words(p.label));
  auto* none = new QPushButton(words("None"));
  none->setAccessibleName(QString(words("%1: none")).arg(words(p.label)));
  none->setToolTip(words("Takes it away"));
  line->addWidget(choose, 1);
  line->addWidget(none);
  const QString key = p.key;
  connect(choose, &QPushButton::clicked, this, [this, &p] {
    const QString place = p.kind == PreferenceKind::file
                              ? chooseAnyFile(this, words(p.label), words(p.words))
                              : chooseFolder(this, words(p.label), FileKind::panorama);
    if (!place.isEmpty()) Preferences::own().set(p.key, place);
  });
  connect(none, &QPushButton::clicked, this, [key] { Preferences::own().set(key, ""); });
  const auto show = [=] {
    const QString place = Preferences::own().value(key).toString();
    choose->setText(place.isEmpty() ? words("Choose…") : QFileInfo(place).fileName());
    choose->setToolTip(place);
    none->setEnabled(!place.isEmpty());
  };
  connect(&Preferences::own(), &Preferences::changed, both, show);
  show();
  return both;
}

void PreferencesPanel::addCache(QVBoxLayout* column) {
  const QString folder = QString::fromStdString(cacheFolder().string());
  auto* empty = new QPushButton(words("Empty"));
  empty->setObjectName("emptyCache");
  empty->setAccessibleName(words("Empty the cache"));
  auto* row =
      rowOf(words("Cache"),
            words("What can be made again: models as they were read, drawings, small pictures. In ") + folder,
            empty);
  column->addWidget(row);
  // A cache of many files takes its time to be counted; meanwhile one may go on.
  const auto count = [=] {
    runAside([] { return bytesIn(cacheFolder()); }).then(empty, [empty](uintmax_t bytes) {
      empty->setText(words("Empty (") + QString::fromStdString(bytesText(size_t(bytes))) + ")");
      empty->setEnabled(bytes > 0);
    });
  };
  connect(empty, &QPushButton::clicked, empty, [=] {
    empty->setEnabled(false);
    runAside([] {
      std::error_code code;
      for (const auto& entry : std::filesystem::directory_iterator(cacheFolder(), code))
        std::filesystem::remove_all(entry.path(), code);
    }).then(empty, count);
  });
  count();
}

/// Rows that have all the words stay; the page with the first of them is shown.
void PreferencesPanel::find(const QString& typed) {
  const QStringList wanted = wordsOf(typed);
  int first = -1;
  for (int page = 0; page + 1 < pages_->count(); ++page) {
    bool any = false;
    for (QObject* child : pages_->widget(page)->children()) {
      auto* row = qobject_cast<QWidget*>(child);
      if (!row || !row->property("words").isValid()) continue;
      const bool found = hasAll(row->property("words").toString(), wanted);
      row->setVisible(found);
      any |= found;
    }
    names_->item(page)->setHidden(!any);
    if (any && first < 0) first = page;
  }
  const bool keys = keys_->find(wanted);
  names_->item(names_->count() - 1)->setHidden(!keys);
  if (first < 0 && keys) first = names_->count() - 1;
  if (first >= 0 && !wanted.isEmpty()) names_->setCurrentRow(first);
}

}  // namespace dusk
