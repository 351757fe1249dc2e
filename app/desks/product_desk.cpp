#include <QtWidgets>

#include "app/desks/desks.h"
#include "core/product/model.h"
#include "core/product/settle.h"

namespace dusk {
namespace {

const double units[] = {0.001, 0.01, 1.0, 0.0254, 0.3048};

class ProductDesk : public Desk {
 public:
  ProductDesk(Session& session, Errands& errands)
      : Desk(session, "Product",
             "The CAD model at its true size. Its lowest point stands on the photo's ground.") {
    button(
        "Bring in a model…", "STEP, OBJ, glTF, FBX, STL or PLY; or drop one on the picture",
        [&errands] { emit errands.chooseModel(); }, true);
    heading("What came in");
    facts_ = note();
    onRefresh([this] { showFacts(); });
    choice(
        "Unit", {"millimetre", "centimetre", "metre", "inch", "foot"}, "What one unit of the file means",
        [](const Project& p) {
          if (p.products.empty()) return -1;
          int best = 0;
          for (int i = 0; i < 5; ++i)
            if (std::abs(std::log(units[i] / p.products[0].metresPerUnit)) <
                std::abs(std::log(units[best] / p.products[0].metresPerUnit)))
              best = i;
          return best;
        },
        [](Project& p, int i) { p.products[0].metresPerUnit = units[i]; });
    choice(
        "Up in the file", {"X", "Y", "Z"}, "Which axis of the file points up",
        [](const Project& p) { return p.products.empty() ? -1 : int(p.products[0].up); },
        [](Project& p, int i) { p.products[0].up = UpAxis(i); });
    heading("Where it stands");
    const auto placed = [this](const char* label, const Range& range, const char* tip,
                               double Placement::*field, double scale) {
      number(
          label, range, tip,
          [=](const Project& p) {
            return p.shots[0].placements.empty() ? std::nullopt
                                                 : std::optional(p.shots[0].placements[0].*field * scale);
          },
          [=](Project& p, double v) {
            if (!p.shots[0].placements.empty()) p.shots[0].placements[0].*field = v / scale;
          });
    };
    placed("Along a", {-1e5, 1e5, 1, 1, "mm"}, "Spot on the ground along run a, from the origin",
           &Placement::xM, 1000);
    placed("Along b", {-1e5, 1e5, 1, 1, "mm"}, "Spot on the ground along run b, from the origin",
           &Placement::yM, 1000);
    placed("Turn", {-360, 360, 1, 1, "°"}, "Turn about the upright, counter-clockwise from above",
           &Placement::turnDegrees, 1);
    placed("Lift", {-1e4, 1e4, 0.5, 1, "mm"}, "Height of the lowest point above the ground",
           &Placement::liftM, 1000);
    placed("Lean about a", {-180, 180, 0.1, 2, "°"},
           "Rotation about the product's own level axis, before the turn: things are a little askew",
           &Placement::leanXDegrees, 1);
    placed("Lean about b", {-180, 180, 0.1, 2, "°"},
           "Rotation about the product's other level axis, before the turn", &Placement::leanYDegrees, 1);
    beginRow();
    button("Settle",
           "Lets the product down on its true contact points, by its hull and centre of mass, until it rests",
           [this] { settle(); });
    button("Stand upright", "No lean, and the lowest point on the ground", [this] {
      session_.editShot("stand upright", [](Shot& shot) {
        for (Placement& p : shot.placements) p.liftM = p.leanXDegrees = p.leanYDegrees = 0;
      });
    });
    endRow();
    stretch();
  }

 private:
  void settle() {
    double leaning = 0;
    session_.editShot("settle", [&](Shot& shot) {
      for (Placement& p : shot.placements)
        if (const Product* product = byId(session_.project().products, p.productId))
          if (const auto model = session_.assets()->loadedModel(product->model)) {
            p = settledPlacement(*product, p, *model);
            leaning = std::max(leaning, std::hypot(p.leanXDegrees, p.leanYDegrees));
          }
    });
    session_.say(leaning < 0.005 ? "It rests upright."
                                 : QString("It rests leaning by %1°.").arg(leaning, 0, 'f', 2));
  }

  void showFacts() {
    const Project& project = session_.project();
    if (project.products.empty()) return facts_->setText("No product yet.");
    const Product& product = project.products[0];
    const auto model = session_.assets()->loadedModel(product.model);
    QString text = "<b>" + QString::fromStdString(product.name).toHtmlEscaped() + "</b>";
    if (model) {
      const Vec3d s = trueSize(product, model->box());
      text += QString(
                  "<br>%1 parts, %2 triangles<br><span style='color:#7cc4d1'>%3 × %4 × %5 mm</span> true "
                  "size<br>%6")
                  .arg(model->parts.size())
                  .arg(QLocale(QLocale::English).toString(qlonglong(model->triangles())))
                  .arg(s.x * 1000, 0, 'f', 0)
                  .arg(s.y * 1000, 0, 'f', 0)
                  .arg(s.z * 1000, 0, 'f', 0)
                  .arg(QString::fromStdString(model->unitReason).toHtmlEscaped());
      if (s.z > 20 || s.z < 0.002)
        text += QString("<br><span style='color:#ec8fa1'>%1 m tall is unlikely: check the unit.</span>")
                    .arg(s.z, 0, 'g', 3);
    }
    facts_->setText(text);
  }

  QLabel* facts_;
};

}  // namespace

Desk* makeProductDesk(Session& session, Errands& errands) { return new ProductDesk(session, errands); }

}  // namespace dusk
