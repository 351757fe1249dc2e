#include "app/stations/surface/decal_desk.h"

#include <QtWidgets>

#include "app/stations/outside.h"
#include "app/stations/surface/print_jobs.h"
#include "app/widgets/look.h"

namespace dusk {

DecalDesk::DecalDesk(Workbench& bench) : Desk(bench.session, {}, {}), list_(new QListWidget) {
  setAccessibleName("Prints");
  list(bench);
  fields();
  finish();
  narrowChoices();
}

void DecalDesk::list(Workbench& bench) {
  list_->setAccessibleName("Prints on this product");
  list_->setToolTip("What is printed on the product, the topmost first. A tick shows it");
  add(list_);
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item) session_.selectDecal(item->data(Qt::UserRole).toString().toStdString());
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString();
    const bool on = item->checkState() == Qt::Checked;
    session_.edit(on ? "show a print" : "hide a print", [&](Project& p) {
      if (Product* product = session_.productIn(p))
        if (Decal* d = byId(product->decals, id)) d->on = on;
    });
  });
  beginRow();
  button("Print on it…",
         "A picture, SVG or PDF printed on the part in hand. Files can be dropped on the product, too",
         [&bench] { choosePrint(bench); });
  auto* sheet =
      button("Template…",
             "The outline that the print in hand could cover, in true millimetres, to draw into with any "
             "program: what is saved there shows here",
             [&bench] { makeTemplate(bench); });
  endRow();
  beginRow();
  auto* up = button("Up", "Lays the print over the one above it", [this] { move(1); });
  auto* away = button("Take it off", "Takes the print away (Delete in the picture)",
                      [this] { takeOffPrint(session_); });
  auto* outside = button("Open outside", openOutsideTip, [this] {
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
    list_->setFixedHeight(std::min(list_->count(), 5) * look::px(26) + 8);
    for (QPushButton* b : {up, away, sheet, outside}) b->setVisible(now(session_.project()));
  });
}

void DecalDesk::move(int by) {
  session_.edit("lay a print higher", [&](Project& p) {
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
      "Lies", {"flat", "wrapped", "as the mesh unrolls"},
      "Pressed on flat, rolled round an axis, or once across the mesh's own coordinates",
      [this](const Project& p) { return now(p) ? int(now(p)->lay) : -1; },
      [this](Project& p, int i) {
        if (Decal* d = session_.decalInHand(p)) d->lay = DecalLay(i);
      });
  choice(
      "On", {"both sides", "the outside", "the inside"},
      "Which faces of the body take it: on glass, the outer wall or the inner one",
      [this](const Project& p) { return now(p) ? int(now(p)->side) : -1; },
      [this](Project& p, int i) {
        if (Decal* d = session_.decalInHand(p)) d->side = DecalSide(i);
      });
  field("Width", {0.1, 1e5, 1, 2, "mm"}, "On the real product; round an axis, along the curve",
        &Decal::widthMm);
  field("Height", {0, 1e5, 1, 2, "mm"}, "0: as the picture's proportions ask", &Decal::heightMm);
  field("Turn", {-360, 360, 5, 1, "°", false, 0}, "Anticlockwise, as seen from outside", &Decal::turnDegrees);
  field("Reach", {0.1, 1e5, 1, 1, "mm"}, "How far before and behind its sheet faces are printed on",
        &Decal::reachMm);
  field("Steepest face", {0, 180, 5, 0, "°"}, "Faces that lean away by more get nothing",
        &Decal::steepDegrees);
  number(
      "Wraps by", {0, 360, 5, 1, "°"}, "How far round it goes; the width follows",
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
      "Page", {1, 9999, 1, 0, ""}, "Of a PDF",
      [this](const Project& p) {
        const Decal* d = now(p);
        return d && QString::fromStdString(d->picture.path).endsWith(".pdf", Qt::CaseInsensitive)
                   ? std::optional(double(d->page))
                   : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Decal* d = session_.decalInHand(p)) d->page = int(v);
      });
  toggle(
      "Mirrored", "As a transfer seen from behind",
      [this](const Project& p) { return now(p) ? std::optional(now(p)->mirrored) : std::nullopt; },
      [this](Project& p, bool on) {
        if (Decal* d = session_.decalInHand(p)) d->mirrored = on;
      });
}

void DecalDesk::finish() {
  field("Ink opacity", {0, 1, 0.05, 2, "", true, 1}, "How much of it covers", &Decal::opacity);
  beginFold("Finish of the print", false);
  finishField("Ink roughness", "0 varnished, 1 matte; else as what is below", &Decal::roughness);
  finishField("Foil", "1: metal foil in the print's colours", &Decal::metalness);
  finishField("Varnish", "A clear coat over the print", &Decal::clearcoat);
  field("Relief", {-10, 10, 0.01, 2, "mm"}, "How far it stands out; below 0 it is stamped in",
        &Decal::reliefMm);
  endFold();
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
