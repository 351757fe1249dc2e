// Mistakes of the trade, each sown into a picture that is right: each is found, and nothing else.
#include <QtTest>

#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/hand_over_edit.h"
#include "core/proof/checks.h"
#include "core/proof/mend.h"
#include "tests/handed_over.h"

using namespace dusk;
namespace fs = std::filesystem;

using Sow = std::function<void(Project&)>;
Q_DECLARE_METATYPE(Sow)

class TestProofStudy : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver quay_{"brackwater", "brackwater.dusk"};
  Project good_;
  Passes passes_;
  double width_ = 960;
  /// What was found where a mistake was sown, for who mends it.
  struct Seen {
    Passes passes;
    std::vector<Finding> findings;
  };
  std::map<std::string, Seen> seen_;
  const Seen& sown(const Project& p, const QString& id, bool traces) {
    Seen& seen = seen_[QTest::currentDataTag()];
    if (!seen.findings.empty()) return seen;
    seen.passes = traces ? traced(p) : passes_;
    seen.findings = proved(p, seen.passes, isSlow(id));
    return seen;
  }

  /// `slowly`: with what is measured on the photo.
  std::vector<Finding> proved(const Project& p, const Passes& passes, bool slowly = true) {
    return prove(p, 0, quay_.assets, &passes, slowly ? Models::wait : Models::loaded);
  }
  static bool isSlow(const QString& id) { return id == "exposure" || id == "white" || id == "grain"; }
  static std::set<std::string> offs(const std::vector<Finding>& findings) {
    std::set<std::string> ids;
    // The study's picture is half the photo's size.
    for (const Finding& f : findings)
      if (!f.ok() && f.id != "resolution") ids.insert(f.id);
    return ids;
  }
  Passes traced(const Project& p) {
    DeliverOptions o;
    o.folder = fs::path(folder_.path().toStdString()) / "x", o.size = std::pair(960, 640), o.samples = 16;
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
  QTest::newRow("other names") << Sow([](Project& p) { p.name = "Other", p.shots[0].name = "Another"; });
}

void TestProofStudy::whatIsRightIsNotBlamed() {
  QFETCH(Sow, how);
  Project p = good_;
  how(p);
  const auto found = proved(p, passes_);
  for (const Finding& f : found)
    QVERIFY2(f.ok() || f.id == "resolution",
             qPrintable(QString::fromStdString(f.id + ": " + f.what) + QString(" %1").arg(f.value)));
  QVERIFY(found.size() > 15);
}

void TestProofStudy::mistakesAreFound_data() {
  QTest::addColumn<QString>("id");
  QTest::addColumn<Sow>("sow");
  QTest::addColumn<bool>("traces");
  const auto sow = [](const char* name, const char* id, Sow how, bool traces = false) {
    QTest::newRow(name) << QString(id) << std::move(how) << traces;
  };
  const auto shot = [](auto how) { return Sow([how](Project& p) { how(p.shots[0]); }); };
  sow("hovers", "contact-gap", shot([](Shot& s) { s.placements[0].liftM = 0.012; }));
  sow("sunk", "contact-gap", shot([](Shot& s) { s.placements[0].liftM = -0.01; }));
  sow("stroke on the wrong place", "line-fit", shot([](Shot& s) { s.vantage.rmsPx = 4; }));
  sow("longer lens than the camera's", "focal-length",
      shot([](Shot& s) { s.vantage.camera.focalPx *= 1.3; }));
  sow("panorama turned off", "shadow-angle", shot([](Shot& s) { s.surroundings.turnDegrees += 20; }));
  sow("no light", "lights", shot([](Shot& s) { s.surroundings.panorama = {}, s.lamps.clear(); }));
  sow("light set as it came", "stock-light", shot([](Shot& s) {
        s.surroundings.panorama.path = DUSK_SOURCE "/app/light-sets/dusk.exr",
        s.surroundings.panorama.hash.clear();
      }));
  sow("three stops over", "exposure", shot([](Shot& s) { s.blend.exposureEv = 3; }));
  sow("blue product", "white", shot([](Shot& s) { s.blend.white = {0.6, 1, 1.7}; }));
  sow("far too bright for the place", "ground-tone", shot([](Shot& s) { s.surroundings.gainEv -= 5; }));
  sow("too clean", "grain", shot([](Shot& s) { s.blend.grain = {}; }));
  sow("grain doubled", "grain", shot([](Shot& s) {
        for (Vec3d& v : s.blend.grain.sigma) v *= 4;
      }));
  sow("prints backwards", "print-mirrored", Sow([](Project& p) {
        Decal d;
        d.id = "decal-1", d.name = "Label", d.mirrored = true;
        p.products[0].decals.push_back(d);
      }));
  sow("texture of a millimetre", "texture-size", Sow([](Project& p) {
        Feed f;
        f.picture = p.shots[0].plate, f.sizeMm = 1;
        p.surfaces[0].feeds[SurfaceValue::baseColour] = {f};
        p.products[0].surfaceOfPart.begin()->second = p.surfaces[0].id;
      }));
  sow("texture over ten metres", "texture-size", Sow([](Project& p) {
        Feed f;
        f.picture = p.shots[0].plate, f.sizeMm = 12'000;
        p.surfaces[0].feeds[SurfaceValue::baseColour] = {f};
        p.products[0].surfaceOfPart.begin()->second = p.surfaces[0].id;
      }));
  sow("model gone", "files-missing", Sow([](Project& p) { p.products[0].model.path = "gone.step"; }));
  sow("photo gone", "files-missing", shot([](Shot& s) { s.plate.path = "gone.jpg"; }));
  sow("passes without a shadow", "passes-chosen", shot([](Shot& s) {
        Deliverable d = usualOf(DeliverableKind::exr, "passes");
        d.passes = {"beauty", "depth"};
        s.deliverables.push_back(d);
      }));
  sow("frame through the product", "product-cut", shot([](Shot& s) {
        const std::string id = addFrame(s, {"Tall", 300, 300});
        s.frames[0].width = 0.1, s.frames[0].aboutProduct = true, s.frames[0].centre = {0.04, -0.1};
        addDeliverable(s, DeliverableKind::png, id);
      }));
  sow("frame enlarged", "frame-enlarged", shot([](Shot& s) {
        const std::string id = addFrame(s, {"Square", 4000, 4000});
        addDeliverable(s, DeliverableKind::png, id);
      }));
  sow("out of the picture", "in-picture", shot([](Shot& s) { s.placements[0].yM = -30; }), true);
  sow("stands in a crate", "intersecting", shot([](Shot& s) {
        StandIn crate;
        crate.id = "stand-in-x", crate.name = "Box", crate.sizeM = {0.3, 0.3, 0.5};
        crate.positionM = {s.placements[0].xM + 0.1, s.placements[0].yM, 0};
        s.standIns.push_back(crate);
      }));
  sow("panorama too coarse", "panorama-detail", [this](Project& p) {
    const auto whole = readLight(quay_.assets.pathOf(p.shots[0].surroundings.panorama));
    const fs::path small = fs::path(folder_.path().toStdString()) / "coarse.exr";
    const Picture coarse = resized(*whole, 256, 128);
    if (!whole || !writeExr(small, {{"", &coarse}}).ok()) qFatal("no small panorama");
    p.shots[0].surroundings.panorama = *quay_.assets.refer(small);
    for (Surface& s : p.surfaces) s.metalness = 1, s.roughness = 0.03;
  });
  sow("photo saved to death", "jpeg-worn", [this](Project& p) {
    const QString worn = folder_.filePath("worn.jpg");
    const QImage photo(QString::fromStdString(quay_.assets.pathOf(p.shots[0].plate).string()));
    if (!photo.save(worn, "JPEG", 18)) qFatal("no worn photo");
    p.shots[0].plate = *quay_.assets.refer(worn.toStdString());
  });
  sow("scale off", "height-reference", shot([](Shot& s) {
        HeightReference r;
        r.id = "height-1", r.name = "Bollard", r.metres = 9;
        r.foot = {1150, 560}, r.top = {1150, 440};
        s.heightReferences.push_back(r);
      }));
}

void TestProofStudy::mistakesAreFound() {
  QFETCH(QString, id);
  QFETCH(Sow, sow);
  QFETCH(bool, traces);
  Project p = good_;
  sow(p);
  const std::vector<Finding>& found = sown(p, id, traces).findings;
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
  QFETCH(bool, traces);
  Project p = good_;
  sow(p);
  const auto& [passes, found] = sown(p, id, traces);
  for (const Finding& f : found) {
    if (f.id != id.toStdString() || f.ok()) continue;
    Project mended = p;
    const Outcome outcome = mend(mended, 0, f, quay_.assets, &passes);
    QCOMPARE(outcome.ok(), canMend(f));
    if (!outcome) {
      QVERIFY(mended == p);
      return;
    }
    QVERIFY2(!offs(proved(mended, passes, isSlow(id))).count(f.id), qPrintable(id));
    return;
  }
}

void TestProofStudy::numbersAreSaid() {
  const auto findings = proved(good_, passes_);
  const std::string json = findingsJson(findings);
  QVERIFY(json.find("canMend") != std::string::npos);
  std::set<std::string> ids;
  for (const Finding& f : findings) ids.insert(f.id);
  for (const char* id : {"line-fit", "focal-length", "shadow-angle", "contact-gap", "lights", "stock-light",
                         "grain", "product-cut", "fireflies", "files-missing", "passes-chosen"})
    QVERIFY2(ids.count(id), id);
}

QTEST_APPLESS_MAIN(TestProofStudy)
#include "proof_study.moc"
