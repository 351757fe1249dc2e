#include <QtWidgets>

#include "app/desks/desks.h"
#include "app/look.h"
#include "app/tools.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

class VantageDesk : public Desk {
 public:
  explicit VantageDesk(Session& session)
      : Desk(session, "Vantage",
             "The camera that took the photo, from edges you draw. Two directions are enough; a third and "
             "longer strokes make it surer.") {
    heading("Draw");
    auto* group = new QButtonGroup(this);
    const struct {
      const char *label, *tip;
      Drawing drawing;
    } kinds[] = {{"run a", "Strokes along one level direction (world +X). Key 1", Drawing::strokeA},
                 {"run b", "Strokes along the other level direction (world +Y). Key 2", Drawing::strokeB},
                 {"upright", "Strokes along upright edges (world +Z). Key 3", Drawing::strokeUp},
                 {"footprint", "Four corners of a real rectangle on the ground. Key 4", Drawing::footprint}};
    beginRow();
    int key = 0;
    for (const auto& kind : kinds) {
      auto* b = new QToolButton;
      b->setText(kind.label);
      b->setToolTip(kind.tip);
      b->setAccessibleName(QString("Draw ") + kind.label);
      b->setCheckable(true);
      b->setChecked(kind.drawing == vantageChoice().drawing);
      b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
      b->setShortcut(QKeySequence(Qt::Key_1 + key++));
      group->addButton(b);
      connect(b, &QToolButton::clicked, this,
              [drawing = kind.drawing] { vantageChoice().drawing = drawing; });
      add(b);
    }
    endRow();
    heading("What was found");
    answer_ = note();
    advice_ = note();
    onRefresh([this] { showAnswer(); });
    toggle(
        "Lock this vantage", "Keeps the camera as it is, whatever happens to the evidence",
        [](const Project& p) {
          return p.shots[0].vantage.solved ? std::optional(p.shots[0].vantage.locked) : std::nullopt;
        },
        [](Project& p, bool on) { p.shots[0].vantage.locked = on; });
    heading("What is known besides");
    const auto evidenceNumber = [this](const char* label, const Range& range, const char* tip, auto get,
                                       auto set) {
      auto* field = number(
          label, range, tip, [get](const Project& p) { return get(p.shots[0].evidence); },
          [this, set](Project& p, double v) {
            set(p.shots[0].evidence, v);
            resolve(p);
          });
      if (range.low == 0) field->setSpecialValueText("not known");
    };
    evidenceNumber(
        "Footprint, a", {0.001, 1000, 0.01, 3, "m"}, "True length of the footprint along run a",
        [](const Evidence& e) {
          return e.footprint ? std::optional(e.footprint->sizeM.value_or(Vec2d(0, 0)).x) : std::nullopt;
        },
        [](Evidence& e, double v) {
          if (e.footprint) e.footprint->sizeM = Vec2d(v, e.footprint->sizeM ? e.footprint->sizeM->y : v);
        });
    evidenceNumber(
        "Footprint, b", {0.001, 1000, 0.01, 3, "m"}, "True length of the footprint along run b",
        [](const Evidence& e) {
          return e.footprint ? std::optional(e.footprint->sizeM.value_or(Vec2d(0, 0)).y) : std::nullopt;
        },
        [](Evidence& e, double v) {
          if (e.footprint) e.footprint->sizeM = Vec2d(e.footprint->sizeM ? e.footprint->sizeM->x : v, v);
        });
    evidenceNumber(
        "Camera height", {0, 100, 0.01, 2, "m"},
        "Height of the camera above the ground, when you know it; 0 = not known",
        [](const Evidence& e) { return std::optional(e.heightM.value_or(0)); },
        [](Evidence& e, double v) { e.heightM = v > 0 ? std::optional(v) : std::nullopt; });
    evidenceNumber(
        "Focal length", {0, 1000, 0.5, 1, "mm"}, "35 mm equivalent, when you know it (EXIF); 0 = to be found",
        [](const Evidence& e) { return std::optional(e.focalMm35.value_or(0)); },
        [](Evidence& e, double v) { e.focalMm35 = v > 4 ? std::optional(v) : std::nullopt; });
    toggle(
        "The lens bends lines (find k1)",
        "Needs strokes of three or more points, or long ones near the border",
        [](const Project& p) { return std::optional(p.shots[0].evidence.solveK1); },
        [this](Project& p, bool on) { p.shots[0].evidence.solveK1 = on, resolve(p); });
    beginRow();
    button("Delete stroke", "Deletes the selected stroke (Delete)", [this] {
      const std::string id = session_.selectedStroke();
      session_.editEvidence("delete a stroke", [&](Evidence& e) {
        std::erase_if(e.strokes, [&](const Stroke& s) { return s.id == id; });
      });
      session_.selectStroke("");
    });
    button("Start over", "Takes all evidence away; undo brings it back", [this] {
      session_.editShot("clear the evidence", [](Shot& shot) {
        shot.evidence = {};
        if (shot.vantage.locked) return;
        Vantage bare;
        bare.camera.width = shot.vantage.camera.width, bare.camera.height = shot.vantage.camera.height;
        shot.vantage = bare;
      });
    });
    endRow();
    stretch();
  }

 private:
  void resolve(Project& p) {
    if (!p.shots[0].vantage.locked) session_.solveAgain(p.shots[0]);
  }

  void showAnswer() {
    const Vantage& v = session_.shot().vantage;
    const VantageSigma& s = v.sigma;
    if (!v.solved) {
      answer_->setText("No camera yet.");
    } else {
      const double mm = focalMm35(v.camera);
      const auto row = [](const char* name, const QString& value, const QString& margin) {
        return QString(
                   "<tr><td style='padding-right:10px'>%1</td><td align='right' "
                   "style='color:#7cc4d1'>%2</td><td style='padding-left:8px'>%3</td></tr>")
            .arg(name, value, margin);
      };
      const auto pm = [](double x, int decimals, const char* unit) {
        return QString("± %1 %2").arg(x, 0, 'f', decimals).arg(QString::fromUtf8(unit));
      };
      answer_->setText(
          "<table>" +
          row("focal length", QString("%1 mm").arg(mm, 0, 'f', 1),
              pm(mm * s.focalPx / v.camera.focalPx, 1, "mm") + " on 35 mm") +
          row("tilt", QString("%1°").arg(degrees(tilt(v.camera)), 0, 'f', 2), pm(s.tiltDegrees, 2, "°")) +
          row("roll", QString("%1°").arg(degrees(roll(v.camera)), 0, 'f', 2), pm(s.rollDegrees, 2, "°")) +
          row("height", QString("%1 m").arg(v.camera.position.z, 0, 'f', 3),
              session_.answer().scaleKnown ? pm(s.heightM, 3, "m") : "assumed") +
          row("lens k1", QString::number(v.camera.k1, 'f', 4), "") +
          row("fit", QString("%1 px").arg(v.rmsPx, 0, 'f', 2),
              QString("%1 items").arg(session_.answer().items.size())) +
          "</table>");
    }
    QStringList lines;
    for (const std::string& line : session_.answer().advice) lines << QString::fromStdString(line);
    advice_->setText(lines.join("\n"));
    advice_->setVisible(!lines.isEmpty());
    advice_->setStyleSheet(v.solved ? "color: #b1a9bf; font-size: 12px;"
                                    : "color: #ec8fa1; font-size: 12px;");
  }

  QLabel *answer_, *advice_;
};

}  // namespace

Desk* makeVantageDesk(Session& session) { return new VantageDesk(session); }

}  // namespace dusk
