#include "app/stations/deliver/files_desk.h"

#include <QtWidgets>

#include "app/stations/deliver/delivery.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/deliver/names.h"
#include "core/deliver/pass_list.h"
#include "core/project/hand_over_edit.h"

namespace dusk {
namespace {

constexpr int whatRole = Qt::UserRole + 1;

/// A file's name, and under it what it will be.
class FileRow : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {100, look::px(44)};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    QStyleOptionViewItem box = option;
    initStyleOption(&box, index);
    const QString name = box.text;
    box.text.clear();
    box.widget->style()->drawControl(QStyle::CE_ItemViewItem, &box, p, box.widget);
    const QRect r = option.rect.adjusted(look::px(28), 3, -6, -3);
    p->save();
    p->setFont(look::heading());
    p->setPen(index.data(Qt::CheckStateRole).toInt() == Qt::Checked ? look::text() : look::muted());
    p->drawText(QRect(r.left(), r.top(), r.width(), look::px(18)), Qt::AlignVCenter,
                p->fontMetrics().elidedText(name, Qt::ElideMiddle, r.width()));
    p->setFont(look::small());
    p->setPen(look::muted());
    p->drawText(r.adjusted(0, look::px(17), 0, 0), Qt::AlignTop | Qt::TextWordWrap,
                index.data(whatRole).toString());
    p->restore();
  }
};

}  // namespace

const Deliverable* FilesDesk::inHand(const Project& p) const {
  const auto& all = session_.shotIn(p).deliverables;
  const int at = session_.selectedFile();
  return at >= 0 && at < int(all.size()) ? &all[size_t(at)] : nullptr;
}
Deliverable* FilesDesk::inHand(Project& p) const {
  return const_cast<Deliverable*>(inHand(static_cast<const Project&>(p)));
}

FilesDesk::FilesDesk(Workbench& bench) : Desk(bench.session, {}, {}), list_(new QListWidget) {
  setAccessibleName(words("Files"));
  list_->setAccessibleName(words("Files to hand over"));
  list_->setToolTip(
      words("What is written when you deliver. A tick takes part; the fields below are of the one in hand"));
  list_->setItemDelegate(new FileRow(list_));
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row >= 0) session_.selectFile(row);
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const size_t at = size_t(list_->row(item));
    const bool on = item->checkState() == Qt::Checked;
    session_.editShot(on ? words("ask for a file") : words("leave a file out"), [&](Shot& shot) {
      if (at < shot.deliverables.size()) shot.deliverables[at].on = on;
    });
  });
  add(list_);
  beginRow();
  auto* more = button(words("Add a file"), words("Another file of this shot, by its kind"), {});
  auto* kinds = new QMenu(more);
  kinds->setToolTipsVisible(true);
  for (const DeliverableKindInfo& info : deliverableKinds())
    kinds
        ->addAction(words(info.title), this,
                    [this, kind = info.kind] {
                      size_t at = 0;
                      const std::string frame = byId(session_.shot().frames, session_.selectedFrame())
                                                    ? session_.selectedFrame()
                                                    : std::string();
                      session_.editShot(words("add a file"),
                                        [&](Shot& shot) { at = addDeliverable(shot, kind, frame); });
                      session_.selectFile(int(at));
                    })
        ->setToolTip(words(info.tip));
  more->setMenu(kinds);
  auto* away = button(words("Take it away"), words("The file in hand is no longer asked for"), [this] {
    const size_t at = size_t(session_.selectedFile());
    session_.editShot(words("take a file away"), [&](Shot& shot) {
      if (at < shot.deliverables.size()) shot.deliverables.erase(shot.deliverables.begin() + long(at));
    });
    session_.selectFile(std::max(0, int(at) - 1));
  });
  endRow();
  addName();
  addShown();
  addAlpha();
  addNumbers();
  addPasses();
  onRefresh([=, this] {
    fillList();
    away->setEnabled(inHand(session_.project()));
  });
}

void FilesDesk::fillList() {
  const QSignalBlocker quiet(list_);
  list_->clear();
  const Shot& shot = session_.shot();
  for (const Deliverable& d : shot.deliverables) {
    const Foreseen seen = foresee(session_, d);
    auto* item = new QListWidgetItem(seen.name, list_);
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
    item->setCheckState(d.on ? Qt::Checked : Qt::Unchecked);
    item->setData(whatRole, seen.what);
    item->setData(Qt::AccessibleTextRole, seen.name + ": " + seen.what);
    item->setToolTip(seen.name + "\n" + seen.what);
  }
  list_->setCurrentRow(std::min(session_.selectedFile(), list_->count() - 1));
  list_->setFixedHeight(std::clamp(list_->count(), 1, 4) * look::px(44) + 6);
}

void FilesDesk::fileNumber(const QString& label, const Range& range, const QString& tip,
                           const std::function<bool(const Deliverable&)>& has,
                           const std::function<double(const Deliverable&)>& get,
                           const std::function<void(Deliverable&, double)>& set) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        const Deliverable* d = inHand(p);
        return d && has(*d) ? std::optional(get(*d)) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Deliverable* d = inHand(p)) set(*d, v);
      });
}

void FilesDesk::addName() {
  text(
      words("Name"),
      words("Without folder; the ending comes by itself. {project}, {shot}, {variant}, {frame}, {size}, "
            "{date} and "
            "{version} stand for what they say"),
      [this](const Project& p) {
        const Deliverable* d = inHand(p);
        return d ? std::optional(d->fileName) : std::nullopt;
      },
      [this](Project& p, const std::string& v) {
        const std::string refused = refusedIn(v);
        if (!refused.empty())
          session_.say(words("Some systems take no ") + QString::fromStdString(refused) +
                       words(" in a file's name: it becomes a dash there."));
        std::string name = v;
        std::replace(name.begin(), name.end(), '/', '-');
        if (Deliverable* d = inHand(p); d && !name.empty() && name != "." && name != "..") d->fileName = name;
      });
}

void FilesDesk::varied(const QString& label, const QString& tip,
                       const std::function<QStringList(const Deliverable&)>& items,
                       const std::function<int(const Shot&, const Deliverable&)>& get,
                       const std::function<void(Shot&, Deliverable&, int)>& set) {
  auto* box = new QComboBox;
  box->setToolTip(tip);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  QWidget* holder = labelled(label, box);
  add(holder);
  connect(box, &QComboBox::activated, this, [=, this](int index) {
    session_.edit(words("choose ") + inSentence(label), [&](Project& p) {
      if (Deliverable* d = inHand(p)) set(session_.shotIn(p), *d, index);
    });
  });
  onRefresh([=, this] {
    const QSignalBlocker quiet(box);
    const Deliverable* d = inHand(session_.project());
    box->clear();
    if (d) box->addItems(items(*d));
    holder->setVisible(box->count() > 1);
    if (d) box->setCurrentIndex(get(session_.shot(), *d));
  });
}

void FilesDesk::addShown() {
  varied(
      words("Shows"), words("All of the picture, or one of the frames below"),
      [this](const Deliverable&) {
        QStringList names{words("the whole picture")};
        for (const PictureFrame& f : session_.shot().frames) names << QString::fromStdString(f.name);
        return names;
      },
      [](const Shot& shot, const Deliverable& d) {
        for (size_t i = 0; i < shot.frames.size(); ++i)
          if (shot.frames[i].id == d.frameId) return int(i) + 1;
        return 0;
      },
      [](Shot& shot, Deliverable& d, int i) {
        d.frameId = i > 0 ? shot.frames[size_t(i) - 1].id : std::string();
      });
  varied(
      words("Depth"),
      words("Bits of a channel: 8 for the screen, 16 for print and grading, 32 for scene light as it is"),
      [](const Deliverable& d) {
        QStringList names;
        for (const int bits : infoOf(d.kind).bits)
          names << (bits == 32                       ? QString(words("32 bit floats"))
                    : d.kind == DeliverableKind::exr ? QString(words("16 bit floats"))
                                                     : QString(words("%1 bit")).arg(bits));
        return names;
      },
      [](const Shot&, const Deliverable& d) {
        const auto bits = infoOf(d.kind).bits;
        return int(std::max<long>(0, std::find(bits.begin(), bits.end(), d.bits) == bits.end()
                                         ? 0
                                         : std::find(bits.begin(), bits.end(), d.bits) - bits.begin()));
      },
      [](Shot&, Deliverable& d, int i) { d.bits = infoOf(d.kind).bits[size_t(i)]; });
}

void FilesDesk::addAlpha() {
  static const auto alphas = [](const Deliverable& d) {
    std::vector<DeliveredAlpha> all{DeliveredAlpha::none};
    if (infoOf(d.kind).straight) all.push_back(DeliveredAlpha::straight);
    if (infoOf(d.kind).premultiplied) all.push_back(DeliveredAlpha::premultiplied);
    return all;
  };
  varied(
      words("Behind it"),
      words("The plate, or nothing: product and shadow alone, with what makes the picture when laid over the "
            "plate"),
      [](const Deliverable& d) {
        QStringList names;
        for (const DeliveredAlpha a : alphas(d))
          names << (a == DeliveredAlpha::none        ? words("the plate")
                    : a == DeliveredAlpha::straight  ? words("nothing (straight alpha)")
                    : d.kind == DeliverableKind::exr ? words("the plate, and a part on nothing")
                                                     : words("nothing (premultiplied)"));
        return names;
      },
      [](const Shot&, const Deliverable& d) {
        const auto all = alphas(d);
        return int(std::find(all.begin(), all.end(), d.alpha) - all.begin());
      },
      [](Shot&, Deliverable& d, int i) { d.alpha = alphas(d)[size_t(i)]; });
}

void FilesDesk::addNumbers() {
  fileNumber(
      words("Quality"), {1, 100, 1, 0, "", true, 92.0}, words("How much is kept: 100 as good as all"),
      [](const Deliverable& d) { return infoOf(d.kind).losesSome; },
      [](const Deliverable& d) { return d.quality; }, [](Deliverable& d, double v) { d.quality = v; });
  fileNumber(
      words("At most"), {0, 1e6, 50, 0, "kB", false, 0.0},
      words("The quality is lowered until the file is no larger; 0: any size"),
      [](const Deliverable& d) { return d.kind == DeliverableKind::jpeg; },
      [](const Deliverable& d) { return double(d.mostKb); },
      [](Deliverable& d, double v) { d.mostKb = int(v); });
  varied(
      words("Packed by"),
      words("ZIP and PIZ lose nothing; DWAA is a fifth as large and gives up what the eye does not see"),
      [](const Deliverable& d) {
        return d.kind == DeliverableKind::exr
                   ? QStringList{"ZIP", words("ZIP, line by line"), "PIZ", "DWAA", words("nothing")}
                   : QStringList{};
      },
      [](const Shot&, const Deliverable& d) { return int(d.compression); },
      [](Shot&, Deliverable& d, int i) { d.compression = ExrCompression(i); });
}

void FilesDesk::addPasses() {
  auto* row = beginRow();
  auto* one = toggle(
      words("One part"), words("All passes as layers of one part, for programs that read no others"),
      [this](const Project& p) {
        const Deliverable* d = inHand(p);
        return d ? std::optional(d->onePart) : std::nullopt;
      },
      [this](Project& p, bool on) {
        if (Deliverable* d = inHand(p)) d->onePart = on;
      });
  auto* passes =
      button(words("All passes"), words("Which passes the file holds; none ticked: all there are"), {});
  auto* menu = new QMenu(passes);
  for (const std::string& name : passFamilies()) {
    auto* action = menu->addAction(QString::fromStdString(name));
    action->setCheckable(true);
    connect(action, &QAction::triggered, this, [this, name](bool on) {
      session_.edit(on ? words("ask for a pass") : words("leave a pass out"), [&](Project& p) {
        Deliverable* d = inHand(p);
        if (!d) return;
        std::erase(d->passes, name);
        if (on) d->passes.push_back(name);
      });
    });
  }
  passes->setMenu(menu);
  endRow();
  onRefresh([=, this] {
    const Deliverable* d = inHand(session_.project());
    row->setVisible(d && infoOf(d->kind).hasPasses);
    if (!d) return;
    for (QAction* a : menu->actions())
      a->setChecked(std::find(d->passes.begin(), d->passes.end(), a->text().toStdString()) !=
                    d->passes.end());
    const size_t n = d->passes.size();
    passes->setText(n == 0 ? QString(words("All passes"))
                           : QString(words("%1 pass", "%1 passes", long(n))).arg(n));
    one->setMinimumWidth(0);
  });
}

}  // namespace dusk
