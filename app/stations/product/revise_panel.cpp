#include "app/stations/product/revise_panel.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {

QString lastOf(const std::string& path) { return QString::fromStdString(path.substr(path.rfind('/') + 1)); }

struct FateLook {
  const char* word;
  QColor colour;
  const char* tip;
};
FateLook lookOf(PartFate::Kind kind) {
  switch (kind) {
    case PartFate::guessed:
      return {words("≈ guessed"), look::tide(), words("Matched by its shape; untick it when that is wrong")};
    case PartFate::gone:
      return {words("✕ gone"), look::rose(), words("No longer in the file; what was said of it is dropped")};
    case PartFate::fresh:
      return {words("+ new"), look::ember(), words("New in the file; it shows the file's own material")};
    case PartFate::kept:
      break;
  }
  return {words("✓ kept"), look::moss(), words("The same part: its surface, moves and visibility stay")};
}

}  // namespace

RevisePanel::RevisePanel(Session& session, std::string productId, AssetRef model, std::vector<PartFate> fates,
                         QWidget* parent)
    : QDialog(parent), session_(session), productId_(std::move(productId)), model_(std::move(model)) {
  setAttribute(Qt::WA_DeleteOnClose);
  setObjectName("revise");
  setWindowTitle(words("Revise the product"));
  resize(620, 460);
  // What asks for a look comes first.
  const auto rank = [](const PartFate& f) {
    return f.kind == PartFate::guessed ? 0 : f.kind == PartFate::gone ? 1 : f.kind == PartFate::fresh ? 2 : 3;
  };
  std::stable_sort(fates.begin(), fates.end(),
                   [&](const PartFate& a, const PartFate& b) { return rank(a) < rank(b); });
  fates_ = std::move(fates);
  int counts[4] = {};
  for (const PartFate& f : fates_) ++counts[int(f.kind)];

  auto* column = new QVBoxLayout(this);
  auto* summary =
      new QLabel(QString(words("%1 parts kept, %2 guessed by shape, %3 gone, %4 new. Surfaces, moves and "
                               "visibility go with them."))
                     .arg(counts[PartFate::kept])
                     .arg(counts[PartFate::guessed])
                     .arg(counts[PartFate::gone])
                     .arg(counts[PartFate::fresh]));
  summary->setWordWrap(true);
  column->addWidget(summary);
  auto* table = new QTableWidget(int(fates_.size()), 4);
  table->setAccessibleName(words("What becomes of each part"));
  table->setHorizontalHeaderLabels({"", words("Part before"), words("Part after"), words("Likeness")});
  table->verticalHeader()->hide();
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setShowGrid(false);
  for (int row = 0; row < int(fates_.size()); ++row) {
    const PartFate& fate = fates_[size_t(row)];
    const FateLook how = lookOf(fate.kind);
    auto* kind = new QTableWidgetItem(how.word);
    kind->setForeground(how.colour);
    if (fate.kind == PartFate::guessed) {
      kind->setFlags(kind->flags() | Qt::ItemIsUserCheckable);
      kind->setCheckState(Qt::Checked);
    }
    table->setItem(row, 0, kind);
    table->setItem(row, 1, new QTableWidgetItem(lastOf(fate.before)));
    table->setItem(row, 2, new QTableWidgetItem(lastOf(fate.after)));
    table->setItem(row, 3,
                   new QTableWidgetItem(fate.kind == PartFate::guessed
                                            ? QString("%L1 %").arg(100 * fate.likeness, 0, 'f', 0)
                                            : QString()));
    const std::string* paths[] = {&fate.before, &fate.before, &fate.after};
    for (int c = 0; c < 3; ++c)
      table->item(row, c)->setToolTip(QString(how.tip) +
                                      (paths[c]->empty() ? "" : "\n" + QString::fromStdString(*paths[c])));
  }
  table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
  table->setColumnWidth(0, 110), table->setColumnWidth(3, 76);
  connect(table, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (item->column() == 0) fates_[size_t(item->row())].accepted = item->checkState() == Qt::Checked;
  });
  column->addWidget(table, 1);
  auto* buttons = new QDialogButtonBox;
  auto* apply = buttons->addButton(words("Revise"), QDialogButtonBox::AcceptRole);
  apply->setObjectName("primary");
  apply->setToolTip(words("Replaces the file and carries everything over, as one step that can be undone"));
  buttons->addButton(words("Leave as it is"), QDialogButtonBox::RejectRole)
      ->setToolTip(words("Closes this; nothing is changed"));
  connect(buttons, &QDialogButtonBox::accepted, this, [this] { this->apply(); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
}

void RevisePanel::apply() {
  session_.edit(words("revise the product"),
                [this](Project& p) { p = revised(std::move(p), productId_, model_, fates_); });
  accept();
}

}  // namespace dusk
