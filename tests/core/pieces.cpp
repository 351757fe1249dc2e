#include <QtTest>
#include <set>

#include "core/product/set/piece_kinds.h"
#include "core/product/settle.h"
#include "core/project/file.h"
#include "core/project/sound.h"
#include "core/set/furnisher.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;

/// Pieces and sets that are made by code: whole, at their measures, the same for the same seed.
class TestPieces : public QObject {
  Q_OBJECT
  static Model made(const Piece& piece) {
    auto model = makePiece(piece);
    return model ? std::move(*model) : Model{};
  }
  /// Edges that only one triangle has, over all: 0 of a closed body.
  static double openShare(const Mesh& mesh) {
    std::map<std::pair<std::array<float, 3>, std::array<float, 3>>, int> edges;
    const auto at = [&](uint32_t i) {
      const Vec3f& p = mesh.positions[i];
      return std::array<float, 3>{p.x + 0.0f, p.y + 0.0f, p.z + 0.0f};
    };
    for (size_t i = 0; i + 2 < mesh.indices.size(); i += 3)
      for (size_t k = 0; k < 3; ++k) {
        const auto a = at(mesh.indices[i + k]), b = at(mesh.indices[i + (k + 1) % 3]);
        ++edges[std::minmax(a, b)];
      }
    size_t open = 0;
    for (const auto& [edge, count] : edges) open += count % 2;
    return double(open) / double(edges.size());
  }
  static void kinds() {
    QTest::addColumn<QString>("kind");
    for (const PieceKind& k : pieceKinds()) QTest::newRow(k.name) << k.name;
  }

 private slots:
  void everyPieceIsSound_data() { kinds(); }
  void everyPieceIsSound();
  void measuresAreKept_data();
  void measuresAreKept();
  void extremesHold_data() { kinds(); }
  void extremesHold();
  void builtBodiesAreClosed();
  void seedsMatter();
  void unknownKindsAreSaid();
  void everySetIsMade_data();
  void everySetIsMade();
  void theCameraComesAsNearAsTheFirstWants();
  void aSetSuitsAProductReadInAnotherUnit();
  void aSetIsAsLargeAsItsProductWants();
  void setsMakeWayForEachOther();
  void whatComesInStandsOnTheStage();
  void whatIsAsDeliveredIsTold();
  void slidersAreTheirOwn();
};

void TestPieces::everyPieceIsSound() {
  QFETCH(QString, kind);
  const PieceKind& info = *pieceKindNamed(kind.toStdString());
  const Model model = made({info.name});
  QVERIFY(!model.parts.empty() && model.triangles() > 10);
  std::set<std::string> paths;
  for (const Part& part : model.parts) {
    QVERIFY2(paths.insert(part.path).second, part.path.c_str());
    QVERIFY(part.material >= 0);
    const Mesh& mesh = model.meshOf(part);
    QCOMPARE(mesh.normals.size(), mesh.positions.size());
    for (const Vec3f& n : mesh.normals) QVERIFY(std::abs(n.length() - 1) < 1e-3f);
    for (const Vec3f& p : mesh.positions) QVERIFY(std::isfinite(p.x + p.y + p.z));
  }
  // The same again, to the bit; its names alone are the same, too.
  const Model again = made({info.name});
  for (size_t i = 0; i < model.meshes.size(); ++i)
    QVERIFY(model.meshes[i].positions == again.meshes[i].positions);
  const auto names = partsOf({info.name});
  QCOMPARE(names.size(), model.parts.size());
  for (size_t i = 0; i < names.size(); ++i) QCOMPARE(names[i].first, model.parts[i].path);
  // What dresses it is there.
  for (const auto& [part, surface] : info.dress) {
    QVERIFY2(librarySurface(std::string("preset-") + surface), surface);
    QVERIFY2(std::any_of(names.begin(), names.end(),
                         [&, p = std::string(part)](const auto& n) { return n.second == p; }) ||
                 kind == "window",
             part);
  }
}

void TestPieces::measuresAreKept_data() {
  QTest::addColumn<QString>("kind");
  QTest::addColumn<Vec3d>("size");
  const auto row = [](const char* kind, double x, double y, double z) {
    QTest::newRow(kind) << QString(kind) << Vec3d(x, y, z);
  };
  row("plinth-round", 0.42, 0.42, 0.31), row("plinth-square", 0.42, 0.27, 0.31),
      row("plinth-stepped", 0.42, 0.27, 0.31);
  row("slab", 0.42, 0.27, 0.05), row("stairs", 0.42, 0.27, 0.31), row("arch", 0.42, 0.27, 0.51);
  row("niche", 1.42, 0, 1.6), row("table", 1.42, 0.67, 0.71), row("bench", 1.42, 0.37, 0.41),
      row("stool", 0.42, 0.42, 0.51);
  row("crate", 0.42, 0.27, 0.31), row("vessel", 0.2, 0.2, 0.31), row("curtain", 0, 0, 1.9),
      row("wall", 2.2, 0, 2.1);
}

void TestPieces::measuresAreKept() {
  QFETCH(QString, kind);
  QFETCH(Vec3d, size);
  Piece piece{kind.toStdString()};
  const char* names[] = {"width", "depth", "height"};
  for (int i = 0; i < 3; ++i)
    if (size[i] > 0) piece.measures[names[i]] = size[i];
  if (kind == "slab") piece.measures["rough"] = 0;
  const Vec3d is = made(piece).box().size();
  for (int i = 0; i < 3; ++i) {
    if (size[i] <= 0) continue;
    // Boards end a little off; a vessel is widest a little below its name.
    const double within = kind == "vessel" ? 0.08 * size[i] : 0.006;
    QVERIFY2(std::abs(is[i] - size[i]) < within,
             qPrintable(QString("%1: %2, not %3").arg(names[i]).arg(is[i]).arg(size[i])));
  }
}

void TestPieces::extremesHold() {
  QFETCH(QString, kind);
  const PieceKind& info = *pieceKindNamed(kind.toStdString());
  for (const bool high : {false, true}) {
    Piece piece{info.name};
    for (const PieceMeasure& m : info.measures) piece.measures[m.name] = high ? m.high * 2 : m.low - 1;
    // Many of everything at once would be a heap, not a piece.
    for (const char* many : {"count", "leaves", "folds", "width", "depth"})
      if (high && piece.measures.count(many))
        piece.measures[many] = pieceKindNamed(info.name)->measures[0].usual;
    const Model model = made(piece);
    QVERIFY(model.triangles() > 0);
    for (const Mesh& mesh : model.meshes)
      for (const Vec3f& p : mesh.positions) QVERIFY(std::isfinite(p.x + p.y + p.z));
  }
}

void TestPieces::builtBodiesAreClosed() {
  for (const char* kind : {"plinth-round", "plinth-square", "disc", "slab", "arch", "stairs", "wall", "table",
                           "bench", "crate", "vessel", "pebbles", "rope", "niche"}) {
    const Model model = made({kind});
    for (const Part& part : model.parts)
      QVERIFY2(openShare(model.meshOf(part)) < 0.002,
               qPrintable(QString("%1/%2: %3")
                              .arg(kind, QString::fromStdString(part.name))
                              .arg(openShare(model.meshOf(part)))));
  }
}

void TestPieces::seedsMatter() {
  for (const char* kind : {"plinth-stacked", "slab", "curtain", "boards", "leaves", "pebbles", "driftwood"})
    QVERIFY2(made({kind, {}, 1}).meshes[0].positions != made({kind, {}, 2}).meshes[0].positions, kind);
}

void TestPieces::unknownKindsAreSaid() {
  const auto none = makePiece({"fountain"});
  QVERIFY(!none && none.error().message.find("fountain") != std::string::npos);
}

void TestPieces::everySetIsMade_data() {
  QTest::addColumn<QString>("kind");
  for (const SetKind& k : setKinds()) QTest::newRow(k.name) << k.name;
}

void TestPieces::everySetIsMade() {
  QFETCH(QString, kind);
  const Project table = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
  for (const double end : {0.0, 0.5, 1.0}) {
    Project p = table;
    SetRecipe recipe{kind.toStdString(), 7};
    for (const SetSlider& s : setKindNamed(recipe.kind)->sliders) recipe.sliders[s.name] = end;
    QVERIFY(furnish(p, 0, recipe));
    QCOMPARE(unsound(p), std::string());
    const Shot& shot = p.shots[0];
    QVERIFY(shot.placements.size() > (kind == "sweep" ? 1 : 4));
    QVERIFY(shot.vantage.solved && !shot.lamps.empty());
    // The person's product stands on something, in front of the camera.
    const Placement& own = shot.placements[0];
    QCOMPARE(own.productId, table.shots[0].placements[0].productId);
    const double z = planeHeightM(shot, own);
    bool stands = kind == "sweep" && z > 0;
    for (const Placement& placed : shot.placements) {
      const Product* product = byId(p.products, placed.productId);
      QVERIFY(product);
      if (product->piece.kind.empty()) continue;
      const Model model = made(product->piece);
      const Similarity world = worldFromModel(*product, placed, model, planeHeightM(shot, placed));
      for (const Part& part : model.parts) {
        const Mesh& mesh = model.meshOf(part);
        for (const Vec3f& v : mesh.positions) {
          const Vec3d at = world.point(toDouble(v));
          stands = stands || (std::abs(at.z - z) < 0.004 && std::hypot(at.x - own.xM, at.y - own.yM) < 0.8);
        }
      }
    }
    QVERIFY(stands);
    Project again = table;
    QVERIFY(furnish(again, 0, recipe) && again == p);
    QVERIFY(*fromText(toText(p)) == p);
  }
}

void TestPieces::whatComesInStandsOnTheStage() {
  Placement fresh;
  QVERIFY(!standOnStage(Shot(), fresh));
  for (const SetKind& kind : setKinds()) {
    // As a product that was there when the set was chosen.
    Project before = *loadProject(DUSK_SOURCE "/demo/table/table.dusk"), after = before;
    const Placement own = before.shots[0].placements[0];
    after.shots[0].placements.clear();
    QVERIFY(furnish(before, 0, {kind.name, 3}) && furnish(after, 0, {kind.name, 3}));
    Placement came = own;
    came.xM = 9, came.liftM = 1, came.levelId.clear();
    QVERIFY(standOnStage(after.shots[0], came));
    QVERIFY2(came == *byId(before.shots[0].placements, own.id), kind.name);
    // The next stands beside it.
    after.shots[0].placements.push_back(came);
    Placement next = own;
    QVERIFY(standOnStage(after.shots[0], next));
    QVERIFY(next.xM > came.xM + 0.1 && next.yM == came.yM && next.levelId == came.levelId);
  }
}

void TestPieces::theCameraComesAsNearAsTheFirstWants() {
  for (const SetKind& kind : setKinds()) {
    Project empty = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
    empty.shots[0].placements.clear();
    QVERIFY(furnish(empty, 0, {kind.name, 3}));
    // However large it is, it fills as much of the picture: its foot to its top, seen from the camera.
    const auto seen = [&](double size) {
      Project p = empty;
      Placement came;
      came.id = "own";
      const bool moved = suitFirst(p, 0, size);
      Shot& shot = p.shots[0];
      standOnStage(shot, came);
      const double foot = planeHeightM(shot, came);
      const Camera& camera = shot.vantage.camera;
      const auto low = projected(camera, {came.xM, came.yM, foot}),
                 top = projected(camera, {came.xM, came.yM, foot + size});
      shot.placements.push_back(came);
      const Project once = p;
      // The next one changes nothing, and the slider says where it is: made anew, the camera stays.
      const bool again = suitFirst(p, 0, 5 * size);
      return !moved || !low || !top || again || !(p == once) ? 0 : (*low - *top).length() / camera.height;
    };
    const double usual = seen(0.3), ring = seen(0.05), large = seen(0.8);
    QVERIFY2(usual > 0.2 && std::abs(ring / usual - 1) < 0.1 && std::abs(large / usual - 1) < 0.1,
             qPrintable(QString("%1: %2, %3, %4").arg(kind.name).arg(usual).arg(ring).arg(large)));
    Project near = empty, anew = empty;
    QVERIFY(suitFirst(near, 0, 0.1));
    QVERIFY(furnish(anew, 0, near.shots[0].set));
    QVERIFY((anew.shots[0].vantage.camera.position - near.shots[0].vantage.camera.position).length() < 1e-9);
    near.shots[0].backdrop.locked = true, near.shots[0].set.sliders.clear();
    QVERIFY(!suitFirst(near, 0, 1));
  }
  QCOMPARE(nearFor(0.3), 0.5);
  QVERIFY(nearFor(0.001) == 0 && nearFor(100) == 1);
}

void TestPieces::aSetSuitsAProductReadInAnotherUnit() {
  for (const SetKind& kind : setKinds()) {
    Project empty = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
    empty.shots[0].placements.clear();
    QVERIFY(furnish(empty, 0, {kind.name, 3}));
    const auto suited = [&](double size) {
      Project p = empty;
      Placement own;
      own.id = "own";
      suitFirst(p, 0, size);
      standOnStage(p.shots[0], own);
      p.shots[0].placements.push_back(own);
      return p;
    };
    // Read in metres first, where millimetres were meant.
    Project p = suited(740);
    const Project meant = suited(0.74);
    QVERIFY(suitAgain(p, 0, 740, 0.74));
    const Shot &now = p.shots[0], &other = meant.shots[0];
    QVERIFY(now.set == other.set);
    QVERIFY((now.vantage.camera.position - other.vantage.camera.position).length() < 1e-9);
    for (const Placement& is : now.placements) {
      const Placement& as = *byId(other.placements, is.id);
      QVERIFY(std::hypot(is.xM - as.xM, is.yM - as.yM) < 1e-9);
    }
    // A hand's own size stays, and so does a set with a second product.
    for (auto& [name, value] : p.shots[0].set.sliders) value = 0.4;
    QVERIFY(!suitAgain(p, 0, 0.74, 7.4));
    Project two = meant;
    two.shots[0].placements.push_back(two.shots[0].placements.back());
    QVERIFY(!suitAgain(two, 0, 0.74, 7.4));
  }
}

void TestPieces::aSetIsAsLargeAsItsProductWants() {
  const auto alike = [](double a, double b) { return std::abs(a - b) < 1e-9; };
  for (const char* kind : {"plinths", "sweep"}) {
    Project usual = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
    usual.shots[0].placements.clear();
    QVERIFY(furnish(usual, 0, {kind, 5}));
    Project ring = usual;
    QVERIFY(suitFirst(ring, 0, 0.03) && !ring.shots[0].set.sliders.contains("near"));
    // The same picture, a tenth of its size: what stands where, and what lights it, from where it is seen.
    const Shot &a = usual.shots[0], &b = ring.shots[0];
    QCOMPARE(a.placements.size(), b.placements.size());
    for (size_t i = 0; i < a.placements.size(); ++i) {
      const Placement &of = a.placements[i], &now = b.placements[i];
      QVERIFY(alike(now.xM, of.xM / 10) && alike(now.yM, of.yM / 10) && now.turnDegrees == of.turnDegrees);
      const Product &one = *byId(usual.products, of.productId), &other = *byId(ring.products, now.productId);
      QVERIFY(one.piece == other.piece && alike(other.metresPerUnit, 0.1));
    }
    for (size_t i = 0; i < a.lamps.size(); ++i)
      QVERIFY(alike(b.lamps[i].widthM, a.lamps[i].widthM / 10) &&
              (b.lamps[i].positionM - a.lamps[i].positionM / 10).length() < 1e-9);
    QVERIFY((b.vantage.camera.position - a.vantage.camera.position / 10).length() < 1e-9);
    QVERIFY(b.vantage.camera.focalPx == a.vantage.camera.focalPx);
    // Two of them stand as far apart as they are large.
    Placement first, second;
    first.id = "one", second.id = "two";
    QVERIFY(standOnStage(ring.shots[0], first));
    ring.shots[0].placements.push_back(first);
    QVERIFY(standOnStage(ring.shots[0], second));
    QVERIFY(alike(second.xM - first.xM, 0.022));
    // What a hand did to it stays: the camera comes near instead.
    Project own = usual;
    for (Surface& s : own.surfaces) s.baseColour = Vec3d(0.9, 0.1, 0.1);
    const Project before = own;
    QVERIFY(suitFirst(own, 0, 0.03) && own.surfaces == before.surfaces && own.products == before.products);
    QVERIFY(own.shots[0].set.sliders.contains("near") && !own.shots[0].set.sliders.contains("size"));
  }
  SetRecipe recipe{"plinths", 1, {{"near", 0.2}}};
  suit(recipe, 0.3);
  QVERIFY(recipe.sliders == (std::map<std::string, double>{{"size", 0.5}}));
  recipe.kind = "corner";
  suit(recipe, 0.3);
  QVERIFY(recipe.sliders == (std::map<std::string, double>{{"near", 0.5}}));
}

void TestPieces::setsMakeWayForEachOther() {
  const Project table = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
  Project p = table;
  const std::string own = addPiece(p, 0, "stool", 0.8, 0.3);
  QVERIFY(furnish(p, 0, {"garden", 3}));
  QVERIFY(furnish(p, 0, {"plinths", 3}));
  Project once = table;
  addPiece(once, 0, "stool", 0.8, 0.3);
  QVERIFY(furnish(once, 0, {"plinths", 3}));
  QCOMPARE(p.shots[0].placements.size(), once.shots[0].placements.size());
  QCOMPARE(p.products.size(), once.products.size());
  QVERIFY(byId(p.shots[0].placements, own));
  unfurnish(p, 0);
  QCOMPARE(p.shots[0].placements.size(), size_t(2));
  QVERIFY(p.shots[0].lamps == table.shots[0].lamps && p.shots[0].standIns == table.shots[0].standIns);
  QVERIFY(!furnish(p, 0, {"ballroom"}));
}

void TestPieces::whatIsAsDeliveredIsTold() {
  Project p = *loadProject(DUSK_SOURCE "/demo/table/table.dusk");
  QVERIFY(asDelivered(p, 0).empty());
  QVERIFY(furnish(p, 0, {"corner"}));
  QCOMPARE(asDelivered(p, 0).size(), size_t(5));
  QVERIFY(furnish(p, 0, {"corner", 12, {{"clutter", 0.8}}}));
  QCOMPARE(asDelivered(p, 0).size(), size_t(3));
  p.shots[0].placements.back().xM += 0.1;
  p.shots[0].lamps.back().powerEv += 1;
  p.shots[0].backdrop.focalMm35 = 90;
  QVERIFY(asDelivered(p, 0).empty());
}

void TestPieces::slidersAreTheirOwn() {
  // Clutter adds and takes away; what stays does not move.
  Project bare = *loadProject(DUSK_SOURCE "/demo/table/table.dusk"), full = bare;
  QVERIFY(furnish(bare, 0, {"corner", 5, {{"clutter", 0}}}) &&
          furnish(full, 0, {"corner", 5, {{"clutter", 1}}}));
  QVERIFY(full.shots[0].placements.size() > bare.shots[0].placements.size());
  size_t same = 0;
  for (const Placement& a : bare.shots[0].placements)
    for (const Placement& b : full.shots[0].placements)
      same += a.xM == b.xM && a.yM == b.yM && a.liftM == b.liftM && a.turnDegrees == b.turnDegrees;
  QVERIFY(same >= bare.shots[0].placements.size());
  // Wear changes surfaces alone, and is the set's own: nothing of it stays behind.
  Project fresh = *loadProject(DUSK_SOURCE "/demo/table/table.dusk"), used = fresh, old = fresh;
  const size_t surfaces = fresh.surfaces.size();
  QVERIFY(furnish(fresh, 0, {"workshop", 5, {}}) && furnish(used, 0, {"workshop", 5, {{"wear", 0.5}}}) &&
          furnish(old, 0, {"workshop", 5, {{"wear", 1}}}));
  QCOMPARE(used.shots[0].placements, fresh.shots[0].placements);
  size_t worn = 0;
  for (size_t i = 0; i < fresh.products.size(); ++i)
    for (const auto& [part, id] : fresh.products[i].surfaceOfPart) {
      if (!isOfSet(fresh.products[i].id)) continue;
      const auto useIn = [&, &path = part](const Project& p) {
        return useOf(*byId(p.surfaces, p.products[i].surfaceOfPart.at(path)));
      };
      QCOMPARE(useIn(fresh), Use{});
      QVERIFY(useIn(used).dust > 0 && useIn(old).dust > useIn(used).dust);
      worn += useIn(old).edges > 0;
    }
  QVERIFY(worn > 5);
  unfurnish(old, 0);
  QCOMPARE(old.surfaces.size(), surfaces);
}

DUSK_TEST(TestPieces, QCoreApplication);
#include "pieces.moc"
