#include <QGuiApplication>
#include <QtTest>

#include "core/deliver/pass_list.h"
#include "tests/core/in_bodies.h"
#include "tests/program.h"

using namespace dusk;

/// What parts do in the picture, and what lets rays by.
class TestRoles : public QObject {
  Q_OBJECT
 private slots:
  void gauzeLetsItsShareThrough();
  void rolesAreKept();
  void unseenPartsThrowTheirShadow();
  void partsOutOfTheAlphaOnlyAddLight();
};

void TestRoles::gauzeLetsItsShareThrough() {
  Bodies all;
  BsdfParameters gauze = black();
  gauze.specular = 0, gauze.opacity = 0.3f;
  all.add(slab(0, 0.01f), gauze);  // twice: both sides
  const double seen = all.seen({0, 0, 2}, {0, 0, 0}, 20'000).y;
  QVERIFY2(std::abs(seen - 0.49) < 0.01, qPrintable(QString::number(seen)));
  // And its shadow: white below it.
  BsdfParameters white;
  white.base = Rgb(1), white.ior = 1, white.specular = 0, white.roughness = 1;
  Bodies below;
  below.add(slab(0, 0.01f), gauze).add(slab(-0.6f, -0.5f), white);
  const double lit = below.seen({0, 0, -0.2f}, {0, 0, -1}, 20'000).y;
  QVERIFY2(std::abs(lit - 0.49) < 0.02, qPrintable(QString::number(lit)));
}

void TestRoles::rolesAreKept() {
  BsdfParameters white, dark = black();
  white.base = Rgb(0.5f), white.ior = 1, white.specular = 0, white.roughness = 1, dark.specular = 0;
  const auto floorBelow = [&](const PartRole& roof) {
    Bodies all;
    all.add(slab(-0.1f, 0), white).add(slab(0.5f, 0.51f), dark);
    all.scene.roles = {{PartRole{}, roof}};
    return all.seen({0, 0, 0.2f}, {0, 0, 0}, 400).y;
  };
  QVERIFY(floorBelow({}) < 0.01);
  PartRole noShadow;
  noShadow.shadow = false;
  // Light from lights passes; what a bounce meets is still dark.
  QVERIFY(floorBelow(noShadow) > 0.2);

  // A lamp between two white walls: one of them may be told to take the lamp's light alone.
  const auto floor = [&](bool lit) {
    Bodies all;
    all.add(slab(-0.1f, 0), white).add(slab(0.5f, 0.51f), white);
    PartRole role;
    role.lit = lit;
    all.scene.roles = {{role, PartRole{}}};
    Lamp lamp;
    lamp.kind = LampKind::sphere, lamp.positionM = {0, 0, 0.25}, lamp.radiusM = 0.05;
    all.scene.lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp}, Rgb(0));
    return all.seen({1, 0, 0.2f}, {0.3f, 0, 0}, 3000).y;
  };
  const double a = floor(true), b = floor(false);
  QVERIFY2(b < 0.9 * a && b > 0.2 * a, qPrintable(QString("%1 and %2").arg(a).arg(b)));

  Bodies all;
  all.add(slab(-0.1f, 0), white);
  PartRole unmirrored;
  unmirrored.mirrored = false;
  all.scene.roles = {{unmirrored}};
  QVERIFY(std::abs(all.seen({0, 0, 1}, {0, 0, 0}, 100).y - 1) < 1e-3);  // a lone ray counts as a mirror's
}

// Not before the camera, and still between the sky and the ground.
void TestRoles::unseenPartsThrowTheirShadow() {
  Stage stage(disc(0.5f, 0.3f), black(), evenSky(), lookAt(9, 9, 9 * 40, {0, -0.2, 3}, {0, 0, 0}), true);
  PartRole unseen;
  unseen.seen = false;
  stage.scene.roles = {{unseen}};
  const Passes passes = traced(stage, 9, 1500);
  QCOMPARE(passes.alpha.at(4, 4)[0], 0.0f);
  const double ratio = double(passes.ratio.at(4, 4)[1]), expected = 0.09 / (0.25 + 0.09);
  QVERIFY2(std::abs(ratio - expected) < 0.015, qPrintable(QString::number(ratio)));
  PartRole lighter;
  lighter.shadow = false;
  stage.scene.roles = {{lighter}};
  const Passes none = traced(stage, 9, 64);
  QCOMPARE(none.alpha.at(4, 4)[0], 1.0f);
  // White, and told to throw none of its light: black to the ground, as if it were soot.
  BsdfParameters white;
  white.base = Rgb(1), white.ior = 1, white.roughness = 1;
  Stage bright(disc(0.5f, 0.3f), white, evenSky(), lookAt(9, 9, 9 * 40, {0, -3, 0.2}, {0, 0, 0}), true);
  const double thrown = double(traced(bright, 9, 800).ratio.at(4, 4)[1]);
  PartRole soot;
  soot.bounce = 0;
  bright.scene.roles = {{soot}};
  const double kept = double(traced(bright, 9, 800).ratio.at(4, 4)[1]);
  QVERIFY2(thrown > kept + 0.02 && std::abs(kept - expected) < 0.02,
           qPrintable(QString("%1 and %2").arg(thrown).arg(kept)));
}

void TestRoles::partsOutOfTheAlphaOnlyAddLight() {
  Stage stage(sphere(0.5f), BsdfParameters{}, evenSky(), lookAt(16, 16, 30, {0, -3, 0.5}, {0, 0, 0}), false);
  const auto alphaOf = [&] {
    Film film(16, 16);
    Progress progress;
    (void)render(stage.scene, film, 16, progress);
    for (const NamedPass& pass : namedPasses(film.resolve(true), stage.scene))
      if (pass.name == "beauty") return std::pair(pass.picture.at(8, 8)[3], pass.picture.at(8, 8)[1]);
    return std::pair(-1.0f, -1.0f);
  };
  const auto counted = alphaOf();
  QCOMPARE(counted.first, 1.0f);
  PartRole out;
  out.alpha = false;
  stage.scene.roles = {{out}};
  const auto added = alphaOf();
  QVERIFY(added.first == 0.0f && added.second == counted.second);
}

DUSK_TEST(TestRoles, QGuiApplication);
#include "roles.moc"
