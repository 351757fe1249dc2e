// Mistakes of the trade, each sown into a picture that is right: each is found, and nothing else.
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/project/hand_over_edit.h"
#include "core/proof/checks.h"
#include "core/proof/mend.h"
#include "tests/program.h"
#include "tests/sown_mistakes.h"

Q_DECLARE_METATYPE(dusk::Sow)
Q_DECLARE_METATYPE(dusk::By)

using namespace dusk;
namespace fs = std::filesystem;

class TestProofStudy : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver quay_{"brackwater", "brackwater.dusk"};
  Project good_;
  SownMistakes mistakes_{quay_, good_, folder_};
  Passes passes_;
  std::optional<PhotoCharacter> photo_;  ///< the same in all
  /// What was found where a mistake was sown, for who mends it.
  struct Seen {
    Passes passes;
    std::vector<Finding> findings;
  };
  std::map<std::string, Seen> seen_;
  std::vector<Finding> right_;  ///< of the project as it is
  const Seen& sown(const Project& p, By by) {
    Seen& seen = seen_[QTest::currentDataTag()];
    if (!seen.findings.empty()) return seen;
    seen.passes = by == By::trace ? traced(p) : passes_;
    seen.findings = proved(p, seen.passes, by);
    return seen;
  }

  std::vector<Finding> proved(const Project& p, const Passes& passes, By by) {
    const ProofOf of{p, p.shots[0], quay_.assets, &passes, Models::wait, quay_.progress};
    Findings found;
    switch (by) {
      case By::quick:
      case By::trace:
        return prove(p, 0, quay_.assets, &passes, Models::loaded);
      case By::photo:
        compareCharacter(of, *photo_, found);
        break;
      case By::shadow:
        checkLight(of, found);
        break;
      case By::panorama:
        checkPanorama(of, found);
        break;
      case By::shapes:
        for (const Product& product : p.products) (void)quay_.assets.model(product, quay_.progress);
        checkSurfaces(of, found), checkPrints(of, found), checkFaces(of, found);
    }
    for (Finding& f : found) f.says = clientWords(f);
    return found;
  }

  static std::set<std::string> offs(const std::vector<Finding>& findings) {
    std::set<std::string> ids;
    // The study's picture is smaller than the photo.
    for (const Finding& f : findings)
      if (!f.ok() && f.id != "resolution") ids.insert(f.id);
    return ids;
  }
  Passes traced(const Project& p) {
    DeliverOptions o;
    o.folder = fs::path(folder_.path().toStdString()) / "x", o.size = std::pair(720, 480), o.samples = 16;
    o.ifThere = IfThere::replace;
    const auto report = deliver(p, 0, quay_.assets, quay_.cache, o, quay_.progress);
    if (!report) qFatal("%s", report.error().message.c_str());
    return report->passes;
  }

 private slots:
  void initTestCase() {
    good_ = quay_.project();
    good_.shots[0].deliverables = {usualOf(DeliverableKind::png, "picture")};
    good_.shots[0].frames.clear();
    passes_ = traced(good_);
    photo_ = *measurePhoto(good_.shots[0], quay_.assets, quay_.progress);
  }
  void whatIsRightIsNotBlamed_data();
  void whatIsRightIsNotBlamed();
  void mistakesAreFound_data();
  void mistakesAreFound();
  void whatCanBeIsMended_data();
  void whatCanBeIsMended();
  void numbersAreSaid();
};

void TestProofStudy::whatIsRightIsNotBlamed_data() {
  QTest::addColumn<Sow>("how");
  QTest::newRow("as it is") << Sow([](Project&) {});
  QTest::newRow("square frame") << Sow([](Project& p) {
    const std::string id = addFrame(p.shots[0], {"Square", 900, 900});
    p.shots[0].frames[0].width = 0.5, setAboutProduct(p.shots[0].frames[0], true, {0, 0});
    p.shots[0].frames[0].centre = {0, -0.12};
    addDeliverable(p.shots[0], DeliverableKind::jpeg, id);
  });
  QTest::newRow("turned product") << Sow([](Project& p) { p.shots[0].placements[0].turnDegrees += 25; });
  QTest::newRow("a third of a stop") << Sow([](Project& p) { p.shots[0].blend.exposureEv += 0.05; });
  QTest::newRow("passes with shadow") << Sow([](Project& p) {
    Deliverable d = usualOf(DeliverableKind::exr, "passes");
    d.passes = {"beauty", "shadow_ratio"};
    p.shots[0].deliverables.push_back(d);
  });
  QTest::newRow("two products") << Sow([](Project& p) {
    Placement other = p.shots[0].placements[0];
    other.id = "other", other.xM += 0.5, other.yM += 0.4;
    p.shots[0].placements.push_back(other);
  });
  QTest::newRow("turned about its whole circle")
      << Sow([](Project& p) { p.shots[0].surroundings.turnDegrees += 360; });
  QTest::newRow("a lamp that is off") << Sow([](Project& p) {
    Lamp lamp;
    lamp.id = "lamp-9", lamp.on = false;
    p.shots[0].lamps.push_back(lamp);
  });
  QTest::newRow("a part hidden") << Sow(
      [](Project& p) { p.products[0].hiddenParts.insert(p.products[0].surfaceOfPart.begin()->first); });
  QTest::newRow("another surface") << Sow(
      [](Project& p) { p.products[0].surfaceOfPart.begin()->second = p.surfaces.back().id; });
  QTest::newRow("rougher") << Sow([](Project& p) {
    for (Surface& s : p.surfaces) s.roughness = 0.6;
  });
  QTest::newRow("without a gnomon") << Sow([](Project& p) { p.shots[0].gnomon.reset(); });
  QTest::newRow("with a crate farther off") << Sow([](Project& p) {
    StandIn crate;
    crate.id = "stand-in-x", crate.name = "Box", crate.positionM = {4, 5, 0};
    p.shots[0].standIns.push_back(crate);
  });
  QTest::newRow("all passes with occlusion") << Sow([](Project& p) {
    Deliverable d = usualOf(DeliverableKind::exr, "passes");
    d.passes = {"beauty", "shadow_alpha", "occlusion"};
    p.shots[0].deliverables.push_back(d);
    p.shots[0].render.extraPasses.insert("occlusion");
  });
  QTest::newRow("more samples") << Sow([](Project& p) { p.shots[0].render.samples = 512; });
  QTest::newRow("other file kinds") << Sow([](Project& p) {
    for (const auto kind : {DeliverableKind::jpeg, DeliverableKind::tiff, DeliverableKind::webp})
      p.shots[0].deliverables.push_back(usualOf(kind, "picture"));
  });
  QTest::newRow("a fine weave") << Sow([](Project& p) {
    Feed f;
    f.kind = FeedKind::weave, f.sizeMm = 1;
    p.surfaces[0].feeds[SurfaceValue::baseColour] = {f};
  });
  QTest::newRow("a few degrees by hand")
      << Sow([](Project& p) { p.shots[0].surroundings.turnDegrees += 1.5; });
  QTest::newRow("a spot cleaned") << Sow([](Project& p) {
    CleanUp up;
    up.id = "clean-1", up.on = false;
    p.shots[0].cleanUps.push_back(up);
  });
  QTest::newRow("other names") << Sow([](Project& p) { p.name = "Other", p.shots[0].name = "Another"; });
}

void TestProofStudy::whatIsRightIsNotBlamed() {
  QFETCH(Sow, how);
  const bool slow = QByteArray(QTest::currentDataTag()) == "as it is";
  Project p = good_;
  how(p);
  const auto found = prove(p, 0, quay_.assets, &passes_, slow ? Models::wait : Models::loaded);
  if (slow) right_ = found;
  for (const Finding& f : found)
    QVERIFY2(f.ok() || f.id == "resolution",
             qPrintable(QString::fromStdString(f.id + ": " + f.what) + QString(" %1").arg(f.value)));
  QVERIFY(found.size() > 15);
}

void TestProofStudy::mistakesAreFound_data() {
  QTest::addColumn<QString>("id");
  QTest::addColumn<Sow>("sow");
  QTest::addColumn<By>("by");
  const SownMistakes::Add add = [](const char* name, const char* id, By by, Sow sow) {
    QTest::newRow(name) << QString(id) << std::move(sow) << by;
  };
  mistakes_.eachAdded(add);
}

void TestProofStudy::mistakesAreFound() {
  QFETCH(QString, id);
  QFETCH(Sow, sow);
  QFETCH(By, by);
  Project p = good_;
  sow(p);
  const std::vector<Finding>& found = sown(p, by).findings;
  const auto off = offs(found);
  QVERIFY2(off.count(id.toStdString()),
           qPrintable(QString("found only %1")
                          .arg(off.empty() ? QString("nothing") : QString::fromStdString(*off.begin()))));
  for (const Finding& f : found)
    if (f.id == id.toStdString() && !f.ok()) {
      QVERIFY2(!f.says.empty() && f.says.ends_with('.') | f.says.ends_with('?'), qPrintable(id));
      QVERIFY(!f.remedy.empty() && !f.station.empty());
    }
}

void TestProofStudy::whatCanBeIsMended_data() { mistakesAreFound_data(); }

void TestProofStudy::whatCanBeIsMended() {
  QFETCH(QString, id);
  QFETCH(Sow, sow);
  QFETCH(By, by);
  Project p = good_;
  sow(p);
  const auto& [passes, found] = sown(p, by);
  for (const Finding& f : found) {
    if (f.id != id.toStdString() || f.ok()) continue;
    Project mended = p;
    const Outcome outcome = mend(mended, 0, f, quay_.assets, &passes);
    QCOMPARE(outcome.ok(), canMend(f));
    if (!outcome) {
      QVERIFY(mended == p);
      return;
    }
    const Surroundings &now = mended.shots[0].surroundings, &right = good_.shots[0].surroundings;
    if (by == By::panorama)  // to compare it anew takes seconds
      QVERIFY(std::abs(wrapDegrees(now.turnDegrees - right.turnDegrees)) < 1.5 &&
              now.mirrored == right.mirrored);
    else
      QVERIFY2(!offs(proved(mended, passes, by)).count(f.id), qPrintable(id));
    return;
  }
}

void TestProofStudy::numbersAreSaid() {
  const auto& findings = right_;
  const auto answer = findingsAnswer(findings);
  QCOMPARE(answer.size(), findings.size());
  for (size_t i = 0; i < findings.size(); ++i) {
    QCOMPARE(answer[i]["id"].get<std::string>(), findings[i].id);
    QCOMPARE(answer[i]["ok"].get<bool>(), findings[i].ok());
    QVERIFY(answer[i]["canMend"].is_boolean());
  }
  std::set<std::string> ids;
  for (const Finding& f : findings) ids.insert(f.id);
  for (const char* id :
       {"line-fit", "focal-length", "shadow-angle", "contact-gap", "lights", "stock-light", "grain",
        "product-cut", "fireflies", "files-missing", "passes-chosen", "shadow-darkness", "shadow-softness",
        "shadow-colour", "panorama-turned", "faces-fight"})
    QVERIFY2(ids.count(id), id);
}

DUSK_TEST(TestProofStudy, NoApplication);
#include "proof_study.moc"
