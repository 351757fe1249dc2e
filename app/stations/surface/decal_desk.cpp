#include "app/stations/surface/decal_desk.h"

#include <QtWidgets>

#include "app/stations/outside.h"
#include "app/stations/surface/print_jobs.h"
#include "app/widgets/look.h"
#include "app/widgets/rows.h"
#include "core/base/words.h"

namespace dusk {

DecalDesk::DecalDesk(Workbench& bench) : Desk(bench.session, {}, {}), list_(new QListWidget) {
  setAccessibleName(words("Prints"));
  list(bench);
  fields();
  finish();
  narrowChoices();
}

void DecalDesk::list(Workbench& bench) {
  list_->setAccessibleName(words("Prints on this product"));
  list_->setToolTip(words("What is printed on the product, the topmost first. A tick shows it"));
  add(list_);
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item) session_.selectDecal(item->data(Qt::UserRole).toString().toStdString());
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString();
    const bool on = item->checkState() == Qt::Checked;
    session_.edit(on ? words("show a print") : words("hide a print"), [&](Project& p) {
      if (Product* product = session_.productIn(p))
        if (Decal* d = byId(product->decals, id)) d->on = on;
    });
  });
  beginRow();
  button(words("Print on it…"),
         words("A picture, SVG or PDF printed on the part in hand. Files can be dropped on the product, too"),
         [&bench] { choosePrint(bench); });
  auto* sheet = button(
      words("Template…"),
      words("The outline that the print in hand could cover, in true millimetres, to draw into with any "
            "program: what is saved there shows here"),
      [&bench] { makeTemplate(bench); });
  endRow();
  beginRow();
  auto* up = button(words("Up"), words("Lays the print over the one above it"), [this] { move(1); });
  auto* away = button(words("Take it off"), words("Takes the print away (Delete in the picture)"),
                      [this] { takeOffPrint(session_); });
  auto* outside = button(words("Open outside"), openOutsideTip, [this] {
    const Product* product = session_.product();
    if (const Decal* d = product ? byId(product->decals, session_.selectedDecal()) : nullptr)
      openOutside(session_, d->picture);
  });
  endRow();
  onRefresh([=, this] {
    const QSignalBlocker quiet(list_);
    const Product* product = session_.product();
    list_->clear();
    for (size_t i = product ? product->decals.size() : 0; i-- > 0;) {
      const Decal& d = product->decals[i];
      auto* item = new QListWidgetItem(QString::fromStdString(d.name), list_);
      item->setData(Qt::UserRole, QString::fromStdString(d.id));
      item->setCheckState(d.on ? Qt::Checked : Qt::Unchecked);
      if (d.id == session_.selectedDecal()) list_->setCurrentItem(item);
    }
    list_->setVisible(list_->count() > 0);
    fitToRows(*list_, 5);
    for (QPushButton* b : {up, away, sheet, outside}) b->setVisible(now(session_.project()));
  });
}

void DecalDesk::move(int by) {
  session_.edit(words("lay a print higher"), [&](Project& p) {
    Product* product = session_.productIn(p);
    const Decal* d = product ? byId(product->decals, session_.selectedDecal()) : nullptr;
    if (!d) return;
    const long at = d - product->decals.data(), to = at + by;
    if (to >= 0 && to < long(product->decals.size()))
      std::swap(product->decals[size_t(at)], product->decals[size_t(to)]);
  });
}

const Decal* DecalDesk::now(const Project& p) const { return session_.decalInHand(p); }

void DecalDesk::fields() {
  const auto isRound = [](const Decal& d) { return d.lay == DecalLay::wrapped; };
  choice(
      words("Lies"), {words("flat"), words("wrapped"), words("as the mesh unrolls")},
      words("Pressed on flat, rolled round an axis, or once across the mesh's own coordinates"),
      [this](const Project& p) { return now(p) ? int(now(p)->lay) : -1; },
      [this](Project& p, int i) {
        if (Decal* d = session_.decalInHand(p)) d->lay = DecalLay(i);
      });
  choice(
      words("On"), {words("both sides"), words("the outside"), words("the inside")},
      words("Which faces of the body take it: on glass, the outer wall or the inner one"),
      [this](const Project& p) { return now(p) ? int(now(p)->side) : -1; },
      [this](Project& p, int i) {
        if (Decal* d = session_.decalInHand(p)) d->side = DecalSide(i);
      });
  field(words("Width"), {0.1, 1e5, 1, 2, "mm"}, words("On the real product; round an axis, along the curve"),
        &Decal::widthMm);
  number(
      words("Height"), {0, 1e5, 1, 2, "mm"}, words("0: as the picture's proportions ask"),
      [this](const Project& p) {
        const Decal* d = now(p);
        return d ? std::optional(d->widthMm * double(proportionOf(session_, *d))) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Decal* d = session_.decalInHand(p)) d->heightMm = v;
      });
  field(words("Turn"), {-360, 360, 5, 1, "°", false, 0}, words("Anticlockwise, as seen from outside"),
        &Decal::turnDegrees);
  field(words("Reach"), {0.1, 1e5, 1, 1, "mm"},
        words("How far before and behind its sheet faces are printed on"), &Decal::reachMm);
  field(words("Steepest face"), {0, 180, 5, 0, "°"}, words("Faces that lean away by more get nothing"),
        &Decal::steepDegrees);
  number(
      words("Wraps by"), {0, 360, 5, 1, "°"}, words("How far round it goes; the width follows"),
      [this, isRound](const Project& p) {
        const Decal* d = now(p);
        const double r =
            d ? (d->at - d->pivot - d->axis.normalized() * (d->at - d->pivot).dot(d->axis.normalized()))
                    .length()
              : 0;
        const Product* product = session_.product();
        return d && isRound(*d) && r > 0 && product
                   ? std::optional(degrees(d->widthMm / (r * product->metresPerUnit * 1000)))
                   : std::nullopt;
      },
      [this](Project& p, double v) {
        Decal* d = session_.decalInHand(p);
        const Product* product = session_.product();
        if (!d || !product) return;
        const Vec3d axis = d->axis.normalized(), to = d->at - d->pivot;
        const double r = (to - axis * to.dot(axis)).length() * product->metresPerUnit * 1000;
        // With its proportions, unless the height was given.
        d->widthMm = std::max(0.1, radians(v) * r);
      });
  number(
      words("Page"), {1, 9999, 1, 0, ""}, words("Of a PDF"),
      [this](const Project& p) {
        const Decal* d = now(p);
        return d && QString::fromStdString(d->picture.path).endsWith(".pdf", Qt::CaseInsensitive)
                   ? std::optional(double(d->page))
                   : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Decal* d = session_.decalInHand(p)) d->page = int(v);
      });
  auto* mirrored = toggle(
      words("Mirrored"), words("As a transfer seen from behind"),
      [this](const Project& p) { return now(p) ? std::optional(now(p)->mirrored) : std::nullopt; },
      [this](Project& p, bool on) {
        if (Decal* d = session_.decalInHand(p)) d->mirrored = on;
      });
  onRefresh([=, this] { mirrored->setVisible(now(session_.project())); });
}

void DecalDesk::finish() {
  field(words("Ink opacity"), {0, 1, 0.05, 2, "", true, 1}, words("How much of it covers"), &Decal::opacity);
  auto* head = beginFold(words("Finish of the print"), false);
  finishField(words("Ink roughness"), words("0 varnished, 1 matte; else as what is below"),
              &Decal::roughness);
  finishField(words("Foil"), words("1: metal foil in the print's colours"), &Decal::metalness);
  finishField(words("Varnish"), words("A clear coat over the print"), &Decal::clearcoat);
  field(words("Relief"), {-10, 10, 0.01, 2, "mm"}, words("How far it stands out; below 0 it is stamped in"),
        &Decal::reliefMm);
  endFold();
  onRefresh([=, this] {
    const bool some = now(session_.project());
    if (!some) head->setChecked(false);
    head->setVisible(some);
  });
}

void DecalDesk::field(const QString& label, const Range& range, const QString& tip, double Decal::*member,
                      bool (*has)(const Decal&)) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        const Decal* d = now(p);
        return d && has(*d) ? std::optional(d->*member) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Decal* d = session_.decalInHand(p)) d->*member = v;
      });
}

void DecalDesk::finishField(const QString& label, const QString& tip, std::optional<double> Decal::*member) {
  number(
      label, {0, 1, 0.05, 2, "", true}, tip,
      [=, this](const Project& p) {
        const Decal* d = now(p);
        return d ? std::optional((d->*member).value_or(0)) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Decal* d = session_.decalInHand(p)) d->*member = v;
      });
}

}  // namespace dusk
