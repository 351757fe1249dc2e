#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/project/file.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/trace/bsdf.h"
#include "core/trace/sampler.h"
#include "core/trace/thin_film.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;

/// Edits of surfaces as a whole, the library, files, and the lobes that came with them.
class TestSurfaceEdits : public QObject {
  Q_OBJECT
 private slots:
  void placesLeadToTheirFeeds();
  void begunFeedsAreOfUseAtOnce();
  void usedAndShinyTogether();
  void shineGoesThereAndBack();
  void useIsPutOnAndTakenOff();
  void oneValueIsShownAlone();
  void theLibraryIsSound();
  void filesKeepThemAll();
  void filmsStayWithinLight();
  void specularScalesTheMirror();
};

void TestSurfaceEdits::placesLeadToTheirFeeds() {
  Surface s;
  s.feeds[SurfaceValue::roughness] = {plain(0.1), plain(0.2)};
  Coat coat;
  coat.name = "Paint", coat.mask = {plain(0.3)};
  coat.surface.feeds[SurfaceValue::bump] = {plain(0.4)};
  s.coats = {coat};
  const auto high = [&](const FeedPlace& place) {
    const Feed* feed = feedAt(s, place);
    return feed ? feed->high.x : -1;
  };
  QCOMPARE(high({-1, false, SurfaceValue::roughness, 1}), 0.2);
  QCOMPARE(high({0, true, SurfaceValue::roughness, 0}), 0.3);  // a mask is no value's
  QCOMPARE(high({0, false, SurfaceValue::bump, 0}), 0.4);
  // Beside every list there is nothing.
  for (const FeedPlace& beside :
       {FeedPlace{-1, false, SurfaceValue::roughness, 2}, FeedPlace{-1, false, SurfaceValue::roughness, -1},
        FeedPlace{-1, false, SurfaceValue::sheen, 0}, FeedPlace{1, false, SurfaceValue::bump, 0},
        FeedPlace{-1, true, SurfaceValue::bump, 0}})
    QVERIFY(!feedAt(s, beside));
  QVERIFY(!layerAt(s, 1) && layerAt(s, 0) == &s.coats[0].surface && layerAt(s, -1) == &s);
  // A writable list is there when it is asked for, and gone again when it stays empty.
  const Surface before = s;
  feedsAt(s, {-1, false, SurfaceValue::sheen, -1});
  QVERIFY(!(s == before));
  tidy(s);
  QVERIFY(s == before);
  QVERIFY(!feedsAt(s, {5, false, SurfaceValue::sheen, -1}) &&
          !feedsAt(s, {-1, true, SurfaceValue::sheen, -1}));
}

void TestSurfaceEdits::begunFeedsAreOfUseAtOnce() {
  Surface s;
  s.baseColour = Vec3d(0.2, 0.4, 0.1), s.roughness = 0.95;
  const auto begun = [&](SurfaceValue value, FeedKind kind) {
    return begunFeed(kind, {-1, false, value, -1}, s);
  };
  for (const FeedKindInfo& info : feedKinds()) {
    for (const SurfaceValue value :
         {SurfaceValue::metalness, SurfaceValue::roughness, SurfaceValue::clearcoat}) {
      const Feed f = begun(value, info.kind);
      for (const double end : {f.low.x, f.high.x}) QVERIFY(end >= 0 && end <= 1);
      QVERIFY(f.low != f.high);
    }
    const Feed colour = begun(SurfaceValue::baseColour, info.kind),
               bump = begun(SurfaceValue::bump, info.kind);
    QVERIFY(colour.low != colour.high && bump.join == FeedJoin::add && bump.high.x > 0);
  }
  // A picture's colours come as they are; a normal map lies as the mesh says.
  QCOMPARE(begun(SurfaceValue::baseColour, FeedKind::picture).high, Vec3d(1));
  QVERIFY(begun(SurfaceValue::normal, FeedKind::picture).mapping.kind == MappingKind::coordinates);
  QVERIFY(begunFeed(FeedKind::cloud, {0, true, SurfaceValue::baseColour, -1}, s) == newFeed(FeedKind::cloud));
}

void TestSurfaceEdits::usedAndShinyTogether() {
  // Each is its own: what one sets, the other leaves.
  const Surface s = withShine(withUse(*librarySurface("preset-signal-enamel"), {0.4, 0.4, 0, 0}), 0.3);
  QVERIFY(close(useOf(s).edges, 0.4) && close(useOf(s).dust, 0.4) && std::abs(shineOf(s) - 0.3) < 0.02);
  // A coat that is switched off by hand counts as no use, and setting it switches it on again.
  Surface off = s;
  for (Coat& coat : off.coats) coat.on = false;
  QVERIFY(useOf(off) == Use{});
  QVERIFY(close(useOf(withUse(off, {0.2, 0, 0, 0})).edges, 0.2));
}

void TestSurfaceEdits::shineGoesThereAndBack() {
  for (const LibrarySurface& entry : surfaceLibrary()) {
    const Surface& s = entry.surface;
    for (const double to : {0.1, 0.5, 0.9}) {
      const Surface moved = withShine(s, to);
      QVERIFY2(std::abs(shineOf(moved) - to) < 0.02,
               qPrintable(QString("%1: %2 for %3").arg(s.name.c_str()).arg(shineOf(moved)).arg(to)));
      QCOMPARE(moved.baseColour, s.baseColour);
      QCOMPARE(moved.metalness, s.metalness);
    }
    QVERIFY(std::abs(shineOf(withShine(s, shineOf(s))) - shineOf(s)) < 1e-6);
  }
}

void TestSurfaceEdits::useIsPutOnAndTakenOff() {
  Surface s = *librarySurface("preset-harbour-enamel");
  const Surface fresh = s;
  QVERIFY(useOf(s) == Use{});
  const Use use{0.5, 0.3, 0.8, 0.4};
  s = withUse(s, use);
  QCOMPARE(s.coats.size(), size_t(4));
  const Use read = useOf(s);
  QVERIFY(close(read.edges, 0.5) && close(read.dust, 0.3) && close(read.smudges, 0.8) &&
          close(read.waves, 0.4));
  QCOMPARE(s.coats.front().name, std::string("Settled dust"));  // what fell last lies on top
  // What was changed by hand stays when the amount is.
  s.coats.front().surface.baseColour = Vec3d(0.9, 0.1, 0.1);
  s = withUse(s, {0.5, 0.9, 0.8, 0.4});
  QCOMPARE(s.coats.front().surface.baseColour, Vec3d(0.9, 0.1, 0.1));
  QVERIFY(withUse(s, {}) == fresh);
}

void TestSurfaceEdits::oneValueIsShownAlone() {
  Project p;
  p.surfaces = {withFeeds({plain(0.8), newFeed(FeedKind::cloud)}), Surface{}};
  p.surfaces[0].id = "a", p.surfaces[1].id = "b", p.surfaces[1].emission = Vec3d(4);
  p.shots.emplace_back();
  const LitSheet sheet;
  FeedPlace place;
  place.value = SurfaceValue::roughness;
  const Project alone = shownAlone(p, "a", place);
  const auto glow = [&](const Project& of, size_t i) {
    return sheet.made(of.surfaces[i]).valueAt(SurfaceValue::emission, sheet.at(3, 3)).x;
  };
  QVERIFY(close(glow(alone, 0), 0.8) && close(glow(alone, 1), 0));
  place.row = 1;
  Feed cloud = newFeed(FeedKind::cloud);
  QVERIFY(close(glow(shownAlone(p, "a", place), 0), sheet.value(withFeeds({cloud}, 0), 3, 3)));
  place.row = 0, place.coat = 7;  // a coat that is gone
  QVERIFY(close(glow(shownAlone(p, "a", place), 0), 0));
}

void TestSurfaceEdits::theLibraryIsSound() {
  std::set<std::string> ids, families;
  for (const LibrarySurface& entry : surfaceLibrary()) {
    QVERIFY(ids.insert(entry.surface.id).second);
    families.insert(entry.family);
    Project p;
    p.surfaces = {entry.surface};
    p.shots.emplace_back();
    const auto again = fromText(toText(p));
    QVERIFY2(again, again ? "" : again.error().message.c_str());
    QVERIFY(again->surfaces == p.surfaces);
    const LitSheet sheet;
    const MadeSurface made = sheet.made(entry.surface);
    for (int i = 0; i < 40; ++i) {
      BsdfParameters out;
      SurfacePoint at = sheet.at(-45 + 2.2 * i, 40 - 1.9 * i);
      at.width = i % 2 ? 0.0f : 0.0005f;
      Vec3f n(0, 0, 1);
      made.at(at, out, n);
      for (const float v :
           {out.base.x, out.roughness, out.metalness, out.clearcoat, out.transmission, out.sheen})
        QVERIFY2(v >= 0 && v <= 1, entry.surface.name.c_str());
      QVERIFY2(close(n.length(), 1, 1e-3) && n.z > 0.05f, entry.surface.name.c_str());
    }
  }
  QVERIFY(ids.size() >= 120 && families.size() >= 10);
  QVERIFY(!librarySurface("preset-none"));
}

void TestSurfaceEdits::filesKeepThemAll() {
  Project p;
  p.shots.emplace_back();
  Surface s = *librarySurface("preset-worn-enamel");
  Feed f = newFeed(FeedKind::picture);
  f.picture = {"grain.png", "abc"}, f.channel = PictureChannel::green, f.texture = 2, f.indent = 1;
  f.mapping = {MappingKind::cylinder, MappingAxis::y, {12, 3}, {1, 2}, 33, 4};
  s.feeds[SurfaceValue::normal] = {newFeed(FeedKind::plain), f};
  p.surfaces = {s};
  Product product;
  Decal d;
  d.id = "decal-1", d.picture = {"label.svg", "def"}, d.parts = {"a/b"}, d.lay = DecalLay::wrapped,
  d.side = DecalSide::inside;
  d.roughness = 0.2, d.turnDegrees = 12;
  product.decals = {d};
  p.products = {product};
  const auto again = fromText(toText(p));
  QVERIFY2(again, again ? "" : again.error().message.c_str());
  QVERIFY(*again == p);
  // Numbers out of their range, and words nobody knows, are one sentence.
  Project bad = p;
  bad.surfaces[0].feeds[SurfaceValue::normal][0].sizeMm = -1;
  QVERIFY(!fromText(toText(bad)));
  bad = p;
  bad.products[0].decals[0].normal = Vec3d(0);
  QVERIFY(!fromText(toText(bad)));
  std::string text = toText(p);
  text.replace(text.find("\"cylinder\""), 10, "\"sideways\"");
  const auto refused = fromText(text);
  QVERIFY(!refused && refused.error().message.find("cylinder") != std::string::npos);
}

void TestSurfaceEdits::filmsStayWithinLight() {
  for (const float base : {0.04f, 0.5f, 0.95f})
    for (float nm = 0; nm < 1500; nm += 37)
      for (const float cosine : {0.05f, 0.4f, 1.0f}) {
        const Rgb r = filmedReflectance(Rgb(base), nm, 1.4f, cosine, schlickRise(cosine));
        for (int c = 0; c < 3; ++c) QVERIFY(r[c] >= 0 && r[c] <= 1);
      }
  // Nothing of a film is no film; a thick one has lost its colour.
  QVERIFY((filmedReflectance(Rgb(0.5f), 0, 1.4f, 1, 0) - Rgb(0.5f)).length() < 0.05f);
  const Rgb thick = filmedReflectance(Rgb(0.5f), 20000, 1.4f, 1, 0);
  QVERIFY(std::abs(thick.x - thick.y) < 0.02f && std::abs(thick.y - thick.z) < 0.02f);
  const Rgb thin = filmedReflectance(Rgb(0.04f), 350, 2.0f, 1, 0);
  QVERIFY(maxComponent(thin) - std::min({thin.x, thin.y, thin.z}) > 0.05f);
}

void TestSurfaceEdits::specularScalesTheMirror() {
  BsdfParameters p;
  p.base = Rgb(0), p.roughness = 0.3f;
  const auto returned = [](const BsdfParameters& of) {
    const Bsdf bsdf(of, Vec3f(0.3f, 0, 0.954f));
    Rgb sum(0);
    for (uint32_t i = 0; i < 20000; ++i) {
      Sampler sampler(1, 2, 0, i);
      const Vec2f u = sampler.next2();
      const auto drawn = bsdf.sample(u, sampler.next1());
      if (drawn.pdf > 0) sum += drawn.weight.sum() / 20000.0f;
    }
    return sum;
  };
  const float whole = returned(p).x;
  p.specular = 0.5f;
  QVERIFY(std::abs(returned(p).x / whole - 0.5f) < 0.03f);
  p.specular = 0;
  QVERIFY(returned(p).x < 1e-4f);
  // White furnace: with a film or less mirror, nothing comes back that was not sent, and matte white loses
  // none.
  p.base = Rgb(1), p.roughness = 1, p.specular = 0;
  QVERIFY(std::abs(returned(p).x - 1) < 0.01f);
  for (const float nm : {200.0f, 450.0f}) {
    p = {};
    p.base = Rgb(1), p.metalness = 1, p.roughness = 0.4f, p.filmNm = nm;
    const float ofMetal = maxComponent(returned(p));
    QVERIFY2(ofMetal <= 1.02f, qPrintable(QString::number(double(ofMetal))));
    p.metalness = 0, p.specular = 1;
    const float ofPaint = maxComponent(returned(p));
    QVERIFY2(ofPaint <= 1.01f, qPrintable(QString::number(double(ofPaint))));
  }
}

DUSK_TEST(TestSurfaceEdits, NoApplication);
#include "surface_edits.moc"
