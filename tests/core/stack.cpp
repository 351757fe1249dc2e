#include "core/blend/stack.h"

#include <QtTest>

#include "core/assets/asset_store.h"
#include "core/base/srgb.h"
#include "core/blend/blend.h"
#include "core/blend/blur.h"
#include "core/blend/cut_out.h"
#include "core/blend/layer.h"
#include "core/blend/product_rows.h"
#include "core/picture/file_writer.h"
#include "tests/made_up_passes.h"
#include "tests/program.h"

using namespace dusk;

namespace {

template <typename T>
std::shared_ptr<const T> shared(T value) {
  return std::make_shared<const T>(std::move(value));
}

BlendSources sourcesOf(int w, int h, bool plate = true) {
  BlendSources s;
  s.passes = shared(madeUpPasses(w, h));
  if (plate) s.plate = shared(madeUpPlate(w, h));
  s.partOfId = {"left", "right"};
  return s;
}

Picture made(const Shot& shot, const BlendSources& sources) {
  Evaluator evaluator;
  return lightOf(buildStack(shot, sources), evaluator);
}

double worst(const Picture& a, const Picture& b) {
  double most = a.pixels.size() == b.pixels.size() ? 0 : 1e9;
  for (size_t i = 0; i < a.pixels.size() && most < 1e8; ++i)
    most = std::max(most, double(std::abs(a.pixels[i] - b.pixels[i]) / (1 + std::abs(b.pixels[i]))));
  return most;
}

/// The order of the rows once more, plainly, for the whole picture in doubles: light of both lights with
/// their gains, contact, reflections, product, then layers and a last exposure.
struct Plain {
  const Shot& shot;
  const BlendSources& from;
  double coded(double v) const { return srgbEncoded(std::clamp(v, 0.0, 1.0)); }
  double laid(double below, double light, LayerMode mode) const {
    switch (mode) {
      case LayerMode::normal:
        return light;
      case LayerMode::multiply:
        return below * light;
      case LayerMode::plus:
        return below + light;
      case LayerMode::darken:
        return std::min(below, light);
      case LayerMode::lighten:
        return std::max(below, light);
      default:
        break;
    }
    const double b = coded(below), s = coded(light);
    double out = s;
    if (mode == LayerMode::screen) out = b + s - b * s;
    if (mode == LayerMode::difference) out = std::abs(b - s);
    if (mode == LayerMode::overlay) out = b <= 0.5 ? 2 * b * s : 1 - 2 * (1 - b) * (1 - s);
    if (mode == LayerMode::hardLight) out = s <= 0.5 ? 2 * b * s : 1 - 2 * (1 - b) * (1 - s);
    if (mode == LayerMode::colourDodge) out = b == 0 ? 0 : s >= 1 ? 1 : std::min(1.0, b / (1 - s));
    if (mode == LayerMode::colourBurn) out = b >= 1 ? 1 : s <= 0 ? 0 : 1 - std::min(1.0, (1 - b) / s);
    if (mode == LayerMode::softLight) {
      const double d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
      out = s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * (d - b);
    }
    return below - std::clamp(below, 0.0, 1.0) + srgbDecoded(out);
  }
  double layers(double v, BlendRole role, int c) const {
    for (const ExtraLayer& l : shot.blend.layers)
      if (l.above == role) v += l.row.strength * (laid(v, l.colour[c], l.mode) - v);
    return v;
  }
  Picture picture() const {
    const Passes& p = *from.passes;
    const BlendSettings& b = shot.blend;
    Picture out = Picture::rgb(p.width(), p.height());
    for (int y = 0; y < out.height; ++y)
      for (int x = 0; x < out.width; ++x)
        for (int c = 0; c < 3; ++c) {
          double with = 0, without = 0, mirror = 0, light = 0;
          const double alpha = p.alpha.at(x, y)[0];
          for (const GroupPasses& g : p.groups) {
            const double gain = mixGain(b, g.name)[c];
            with += gain * g.with.at(x, y)[c], without += gain * g.without.at(x, y)[c];
            mirror += gain * g.mirror.at(x, y)[c];
            for (const Picture& part : g.part)
              if (!part.empty()) light += gain * part.at(x, y)[c];
          }
          double change = p.ratio.at(x, y)[c] == 1 ? 0 : with / without - 1;
          if (change < 0) change = std::max(-1.0, change * (1 - b.shadowTint[c]) * b.shadowStrength);
          double v = layers(from.plate->at(x, y)[c], BlendRole::plate, c);
          v = layers(v * (1 + change * rowOf(b, BlendRole::contact).strength), BlendRole::contact, c);
          if (alpha < 0.999) v = std::max(0.0, v + mirror * b.reflectionStrength / (1 - alpha));
          v = layers(v, BlendRole::reflections, c);
          const double share = rowOf(b, BlendRole::product).strength;
          light = light * productGain(b)[c] * (1 - b.veil[c]) + alpha * b.veil[c];
          v = layers(v * (1 - alpha * share) + light * share, BlendRole::product, c);
          for (const BlendRole r : {BlendRole::glow, BlendRole::front, BlendRole::lens, BlendRole::grain})
            v = layers(v, r, c);
          for (const Correction& k : rowOf(b, BlendRole::view).corrections)
            v += k.strength * (v * std::exp2(valueOf(k, "ev")) - v);
          out.at(x, y)[c] = float(layers(v, BlendRole::view, c));
        }
    return out;
  }
};

}  // namespace

class TestStack : public QObject {
  Q_OBJECT
 private slots:
  void randomStacksAreWhatTheirFormulasSay();
  void untouchedPixelsStayToTheBit();
  void piecesAreTheSamePixels();
  void changesAreMadeFromWhatWasHeld();
  void masksTakeTheirShare_data();
  void masksTakeTheirShare();
  void masksTakeWhatALayerCovers();
  void masksStayWithGroundAndProduct();
  void lightsAndPartsAreCorrectedApart();
  void layersKeepTheirAnchors();
  void lensKeepsLightAndMovesColours();
  void theLensActsWhereItsMaskTakes();
  void whatMasksTakeIsTold();
  void grainIsAddedWhereItLacks();
  void cutOutsStandInFront();
  void codesAreTheViewsOwn();
};

void TestStack::randomStacksAreWhatTheirFormulasSay() {
  std::mt19937 random(7);
  const auto any = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  const BlendSources sources = sourcesOf(67, 43);
  for (int round = 0; round < 60; ++round) {
    Shot shot;
    BlendSettings& b = shot.blend;
    b.exposureEv = any(-2, 2), b.warmth = any(-1, 1), b.shadowStrength = any(0, 1.5);
    b.shadowTint = {any(0, 0.5), any(0, 0.5), any(0, 0.5)}, b.reflectionStrength = any(0, 2);
    b.veil = {any(0, 0.05), any(0, 0.05), any(0, 0.05)};
    b.mix["sun"] = {any(-2, 2), any(-100, 100)}, b.mix["surroundings"] = {any(-1, 1), 0};
    b.rows["contact"].strength = any(0, 1), b.rows["product"].strength = any(0.3, 1);
    b.rows["view"].corrections = {{CorrectionKind::exposure, true, any(0, 1), {{"ev", any(-1, 1)}}}};
    for (int i = 0; i < 4; ++i) {
      ExtraLayer l;
      l.kind = LayerKind::colour, l.colour = {any(0, 1.5), any(0, 1), any(0, 1)};
      l.mode = LayerMode(random() % 12), l.above = BlendRole(random() % 9), l.row.strength = any(0, 1);
      b.layers.push_back(l);
    }
    const double off = worst(made(shot, sources), Plain{shot, sources}.picture());
    QVERIFY2(off < 2e-4, qPrintable(QString("stack %1 is off by %2").arg(round).arg(off)));
  }
}

void TestStack::untouchedPixelsStayToTheBit() {
  const BlendSources sources = sourcesOf(64, 48);
  Shot shot;
  shot.blend.lens.softPx = {0.7, 0.6, 0.8}, shot.blend.lens.fringe = {0.5, -0.5};
  shot.blend.grain.sigma.assign(9, Vec3d(2));
  shot.blend.rows["contact"].corrections = {{CorrectionKind::blur, true, 1, {{"px", 2}}}};
  const Picture out = made(shot, sources);
  int same = 0;
  const Passes& p = *sources.passes;
  for (int y = 0; y < 48; ++y)
    for (int x = 0; x < 64; ++x) {
      bool far = true;  // from product and shadow, as far as any blur reaches
      for (int v = std::max(0, y - 10); v < std::min(48, y + 11); ++v)
        for (int u = std::max(0, x - 10); u < std::min(64, x + 11); ++u)
          far = far && p.alpha.at(u, v)[0] == 0 && p.ratio.at(u, v)[0] == 1 && p.reflection.at(u, v)[0] == 0;
      if (!far) continue;
      ++same;
      QVERIFY(out.rgbAt(x, y) == sources.plate->rgbAt(x, y));
    }
  QVERIFY2(same > 100, qPrintable(QString::number(same)));
  QVERIFY(worst(out, *sources.plate) > 0.1);
}

void TestStack::piecesAreTheSamePixels() {
  const BlendSources sources = sourcesOf(150, 120);
  Shot shot;
  for (const auto& [kind, name] : {std::pair(CorrectionKind::blur, "px"), {CorrectionKind::glow, "px"}})
    shot.blend.rows["view"].corrections.push_back({kind, true, 0.7, {{name, 11}}});
  shot.blend.rows["product"].corrections = {
      {CorrectionKind::edge, true, 1, {{"shift", -1.5}, {"feather", 1}}},
      {CorrectionKind::sharpen},
      {CorrectionKind::defocus, true, 1, {{"px", 12}}},
      {CorrectionKind::noise, true, 1, {{"px", 1.5}}}};
  shot.blend.lens = {{0.8, 0.7, 0.9}, 0.3, 1.5, {0.8, -0.6}, {-0.2, 0.05, 0}};
  shot.blend.grain.sigma.assign(9, Vec3d(2));
  const Stack stack = buildStack(shot, sources);
  Evaluator evaluator;
  const Picture whole = lightOf(stack, evaluator);
  for (const PixelArea& a : {PixelArea{0, 0, 150, 120}, PixelArea{13, 7, 90, 40}, PixelArea{61, 77, 150, 120},
                             PixelArea{0, 50, 150, 51}}) {
    Evaluator alone;
    const Picture piece = lightOf(stack, a, alone);
    for (int y = a.y0; y < a.y1; ++y)
      for (int x = a.x0; x < a.x1; ++x)
        QVERIFY2(piece.rgbAt(x - a.x0, y - a.y0) == whole.rgbAt(x, y),
                 qPrintable(QString("%1 %2").arg(x).arg(y)));
  }
}

void TestStack::changesAreMadeFromWhatWasHeld() {
  const BlendSources sources = sourcesOf(90, 60);
  Shot shot;
  shot.blend.rows["product"].corrections = {{CorrectionKind::blur, true, 1, {{"px", 3}}},
                                            {CorrectionKind::exposure}};
  Evaluator evaluator;
  for (double ev = 0; ev < 1; ev += 0.1) {
    shot.blend.rows["product"].corrections[1].values["ev"] = ev;
    Evaluator fresh;
    const Stack stack = buildStack(shot, sources);
    QVERIFY(lightOf(stack, evaluator).pixels == lightOf(stack, fresh).pixels);
  }
  const size_t held = evaluator.bytes();
  QVERIFY(held > 0);
  shot.blend.rows.clear();
  (void)lightOf(buildStack(shot, sources), evaluator);
  QVERIFY(evaluator.bytes() < held);  // what no graph needs any more is let go
}

void TestStack::masksTakeTheirShare_data() {
  QTest::addColumn<int>("kind");
  for (int k = 0; k <= int(MaskKind::parts); ++k) QTest::addRow("%d", k) << k;
}

void TestStack::masksTakeTheirShare() {
  QFETCH(int, kind);
  const BlendSources sources = sourcesOf(80, 60);
  Shot shot;
  Mask m;
  m.kind = MaskKind(kind);
  m.points = {{{20, 15}, 0}, {{42, 15}, 4}, {{42, 45}, 0}, {{20, 45}, 2}};
  m.widthPx = 6;
  m.from = 0.4, m.to = 0.8, m.soft = 0.1, m.parts = {"left"};
  if (m.kind == MaskKind::hue) m.from = 300, m.to = 420, m.soft = 20;
  if (m.kind == MaskKind::depth) m.from = 1.4, m.to = 1.6, m.soft = 0.05;
  BlendRow& row = shot.blend.rows["product"];
  row.corrections = {{CorrectionKind::exposure, true, 1, {{"ev", 1}}}};
  const Picture all = made(shot, sources);
  row.corrections[0].masks = {m};
  const Picture some = made(shot, sources);
  row.corrections[0].masks[0].inverted = true;
  const Picture others = made(shot, sources);
  row.corrections.clear();
  const Picture none = made(shot, sources);
  // What the mask takes and what its inverse takes make up all of it.
  double changed = 0, whole = 0;
  for (size_t i = 0; i < all.pixels.size(); ++i) {
    const float both = some.pixels[i] + others.pixels[i] - none.pixels[i];
    QVERIFY(std::abs(both - all.pixels[i]) < 1e-4f * (1 + all.pixels[i]));
    changed += std::abs(some.pixels[i] - none.pixels[i]), whole += std::abs(all.pixels[i] - none.pixels[i]);
  }
  QVERIFY2(changed > 0.02 * whole && changed < 0.98 * whole,
           qPrintable(QString("%1 of %2").arg(changed).arg(whole)));
}

// A picture that covers the left half: a correction through it acts there alone, whether it shows or not.
void TestStack::masksTakeWhatALayerCovers() {
  QTemporaryDir folder;
  const auto file = std::filesystem::path(folder.path().toStdString()) / "half.png";
  Picture half(96, 64, {"R", "G", "B", "A"});
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 48; ++x) std::fill_n(half.at(x, y), 4, 1.0f);
  PictureFileKind kind;
  kind.width = 96, kind.height = 64, kind.hasAlpha = true, kind.bits = 16;
  QVERIFY(writePicture(file, kind, half).ok());
  AssetStore assets(file.parent_path());
  BlendSources sources = sourcesOf(96, 64);
  sources.assets = &assets;
  Shot plain, masked;
  ExtraLayer layer;
  layer.id = "layer-1", layer.file = *assets.refer(file), layer.row.strength = 0;
  plain.blend.layers = masked.blend.layers = {layer};
  Correction brighter{CorrectionKind::exposure, true, 1, {{"ev", 1}}};
  Mask mask;
  mask.kind = MaskKind::layer, mask.layer = "layer-1";
  brighter.masks = {mask};
  masked.blend.rows["view"].corrections = {brighter};
  const Picture before = made(plain, sources), after = made(masked, sources);
  for (int y = 4; y < 60; y += 7)
    for (const int x : {3, 30, 60, 93})
      QVERIFY((after.rgbAt(x, y) - before.rgbAt(x, y) * (x < 48 ? 2.0f : 1.0f)).length() < 1e-4f);
  masked.blend.rows["view"].corrections[0].masks[0].inverted = true;
  QVERIFY((made(masked, sources).rgbAt(93, 9) - before.rgbAt(93, 9) * 2.0f).length() < 1e-4f);
  // A mask of what is gone takes nothing away.
  masked.blend.rows["view"].corrections[0].masks[0].layer = "gone";
  QVERIFY((made(masked, sources).rgbAt(3, 9) - before.rgbAt(3, 9) * 2.0f).length() < 1e-4f);
}

void TestStack::masksStayWithGroundAndProduct() {
  MaskWorld world;
  world.frame.scale = 1, world.solved = true, world.product = Vec3d(0.1, 2, 0);
  world.camera = {400, 300, 350, 200, 150, 0, 0, {}, {0, 0, 1.2}};
  world.camera.axes.x = {1, 0, 0}, world.camera.axes.y = {0, -0.5, -std::sqrt(0.75)};
  world.camera.axes.z = {0, std::sqrt(0.75), -0.5};
  for (const MaskHold hold : {MaskHold::frame, MaskHold::ground, MaskHold::product})
    for (const Vec2d& at : {Vec2d(200, 200), Vec2d(120, 260), Vec2d(333, 150)}) {
      const auto held = maskPointHeld(at, hold, world);
      QVERIFY(held);
      const auto back = maskPointInPicture(*held, hold, world);
      QVERIFY(back && (*back - at).length() < 1e-6);
      MaskWorld moved = world;
      moved.camera.position.x += 0.3;
      const auto then = maskPointInPicture(*held, hold, moved);
      QVERIFY(then && ((*then - at).length() > 1) == (hold != MaskHold::frame));
    }
}

void TestStack::lightsAndPartsAreCorrectedApart() {
  const BlendSources sources = sourcesOf(60, 40);
  Shot shot, mixed;
  shot.blend.rows["light:sun"].corrections = {{CorrectionKind::exposure, true, 1, {{"ev", 1}}}};
  mixed.blend.mix["sun"].ev = 1;
  // The mix changes the shadow, too; on the product both are the same.
  const Picture a = made(shot, sources), b = made(mixed, sources);
  QVERIFY((a.rgbAt(30, 20) - b.rgbAt(30, 20)).length() < 1e-5f);
  shot.blend.rows["light:sun"].on = false;
  mixed.blend.mix["sun"].ev = -60;
  QVERIFY((made(shot, sources).rgbAt(30, 20) - made(mixed, sources).rgbAt(30, 20)).length() < 1e-5f);
  // Glow of parts gives back what it takes.
  Shot glowing;
  glowing.blend.rows["glow"].corrections = {
      {CorrectionKind::glow, true, 1, {{"px", 2}, {"amount", 100}, {"threshold", 0}}}};
  const auto sum = [](const Picture& p) { return std::accumulate(p.pixels.begin(), p.pixels.end(), 0.0); };
  const double before = sum(made(Shot{}, sources)), after = sum(made(glowing, sources));
  QVERIFY(worst(made(glowing, sources), made(Shot{}, sources)) > 0.05);
  QVERIFY2(std::abs(after / before - 1) < 0.01, qPrintable(QString("%1 %2").arg(before).arg(after)));
}

void TestStack::layersKeepTheirAnchors() {
  ExtraLayer logo;
  logo.size = 0.25, logo.margin = 0.1;
  for (const auto& [w, h] : {std::pair(400, 300), {300, 300}, {300, 500}})
    for (int i = 1; i <= 9; ++i) {
      logo.anchor = LayerAnchor(i);
      const auto at = layerPlace(logo, 0.5, w, h);
      const double margin = 0.1 * std::min(w, h);
      QVERIFY(std::abs(at[2] - at[0] - 0.25 * w) < 1e-9 && std::abs(at[3] - at[1] - 0.125 * w) < 1e-9);
      const int across = (i - 1) % 3, down = (i - 1) / 3;
      if (across == 0) QCOMPARE(at[0], margin);
      if (across == 1) QCOMPARE(at[0] + at[2], double(w));
      if (across == 2) QCOMPARE(at[2], w - margin);
      if (down == 0) QCOMPARE(at[1], margin);
      if (down == 2) QCOMPARE(at[3], h - margin);
    }
  logo.anchor = LayerAnchor::fill;
  const auto all = layerPlace(logo, 0.5, 300, 300);
  QVERIFY(all[0] <= 0 && all[1] <= 0 && all[2] >= 300 && all[3] >= 300);
}

void TestStack::theLensActsWhereItsMaskTakes() {
  const BlendSources sources = sourcesOf(48, 40);
  Shot sharp, soft;
  soft.blend.lens.softPx = {1.5, 1.5, 1.5}, soft.blend.lens.vignette = {-0.3, 0, 0};
  Shot half = soft;
  Mask left;
  left.points = {{{-20, -20}}, {{24, -20}}, {{24, 80}}, {{-20, 80}}};
  half.blend.rows["lens"].masks = {left};
  const Picture none = made(sharp, sources), all = made(soft, sources), some = made(half, sources);
  QVERIFY(worst(none, all) > 0.02);
  for (int y = 0; y < 40; ++y)
    for (int x = 0; x < 48; ++x)
      if (std::abs(x - 24) > 1)
        for (int c = 0; c < 3; ++c)
          QVERIFY(std::abs(some.at(x, y)[c] - (x < 24 ? all : none).at(x, y)[c]) < 1e-5);
}

void TestStack::whatMasksTakeIsTold() {
  BlendSources sources = sourcesOf(48, 40);
  Shot shot;
  Mask box;
  box.points = {{{8, 8}}, {{24, 8}}, {{24, 30}}, {{8, 30}}};
  Correction unset{CorrectionKind::exposure};  // does nothing yet, and its mask is told all the same
  unset.masks = {box};
  BlendRow& row = shot.blend.rows["product"];
  row.corrections = {unset};
  QVERIFY(!buildStack(shot, sources).taken);
  sources.masks = &row.masks;
  QVERIFY(!buildStack(shot, sources).taken);  // it has none: it takes everything
  sources.masks = &row.corrections[0].masks;
  const Stack stack = buildStack(shot, sources);
  QVERIFY(stack.taken && stack.taken->channels == 1);
  Evaluator evaluator;
  const Sheet taken = evaluator.sheet(stack.taken, stack.taken->whole);
  QCOMPARE(taken.at(0, 15, 20), 1.0f);
  QCOMPARE(taken.at(0, 40, 20), 0.0f);
  // The picture does not change by being asked.
  sources.masks = nullptr;
  const Picture plain = made(shot, sources);
  sources.masks = &row.corrections[0].masks;
  QVERIFY(made(shot, sources).pixels == plain.pixels);
}

void TestStack::lensKeepsLightAndMovesColours() {
  const BlendSources sources = sourcesOf(121, 91, false);
  Shot plain, soft;
  soft.blend.lens.softPx = {1.2, 0.6, 2};
  const Picture a = made(plain, sources), b = made(soft, sources);
  for (int c = 0; c < 3; ++c) {
    double before = 0, after = 0;
    for (size_t i = 0; i < a.pixels.size() / 3; ++i)
      before += a.pixels[i * 3 + size_t(c)], after += b.pixels[i * 3 + size_t(c)];
    QVERIFY2(std::abs(after / before - 1) < 1e-4, qPrintable(QString("%1: %2").arg(c).arg(after / before)));
  }
  Shot fringed;
  fringed.blend.lens.fringe = {30, 0};  // red larger by three percent: its edge is 0.9 px farther out
  const auto width = [](const Picture& p, int c) {
    double sum = 0, first = 0;
    for (int x = 0; x < p.width; ++x) {
      const double v = p.at(x, 45)[c] > 0;
      sum += v, first += v * x;
    }
    return sum;
  };
  QVERIFY(width(made(fringed, sources), 0) > width(a, 0));
  QCOMPARE(width(made(fringed, sources), 1), width(a, 1));
}

void TestStack::grainIsAddedWhereItLacks() {
  BlendSources sources = sourcesOf(200, 200);
  auto passes = std::make_shared<Passes>(*sources.passes);
  for (size_t i = 0; i < passes->alpha.pixels.size(); ++i)
    for (size_t c = 0; c < 3; ++c) passes->beauty.pixels[i * 3 + c] = 0.3f * passes->alpha.pixels[i];
  passes->groups.clear(), passes->reflection = {};
  std::fill(passes->ratio.pixels.begin(), passes->ratio.pixels.end(), 1.0f);
  sources.passes = passes;
  Shot shot;
  shot.blend.grain.sigma.assign(17, Vec3d(3, 2, 4));
  shot.blend.grain.channels = {0.5, 0.2, 0.4};
  const auto view = ColourView::make("plain sRGB");
  Evaluator evaluator;
  const Picture codes = codesOf(buildStack(shot, sources), **view, evaluator);
  for (int c = 0; c < 3; ++c) {
    double sum = 0, squares = 0;
    int n = 0;
    for (int y = 80; y < 120; ++y)
      for (int x = 80; x < 120; ++x) {
        const double v = 255 * codes.at(x, y)[c];
        sum += v, squares += v * v, ++n;
      }
    const double sigma = std::sqrt(squares / n - sum * sum / n / n);
    QVERIFY2(std::abs(sigma / shot.blend.grain.sigma[0][c] - 1) < 0.06, qPrintable(QString::number(sigma)));
  }
}

void TestStack::cutOutsStandInFront() {
  BlendSources sources = sourcesOf(80, 60);
  auto picture = std::make_shared<CutOutPicture>();
  picture->area = {30, 0, 50, 60}, picture->light = Picture(20, 60, {"R", "G", "B", "A"});
  for (size_t i = 0; i < picture->light.pixels.size() / 4; ++i)
    for (size_t c = 0; c < 4; ++c) picture->light.pixels[i * 4 + c] = c == 3 ? 1 : 0.25f;
  BlendFrame frame{
      {0, 0, 80, 60}, 80, 60, 1, sourceOf({sources.passes, &sources.passes->depth}, {0, 0, 80, 60}, 1)};
  CutOut what;
  Evaluator evaluator;
  const Sheet all = evaluator.sheet(cutOutNode(picture, what, frame), frame.whole);
  QVERIFY(all.at(3, 40, 30) == 1 && all.at(3, 10, 30) == 0 && all.at(0, 49, 59) == 0.25f);
  what.standsAtM = 1.5;  // the product reaches from 1.25 to 1.75 m
  const Sheet some = evaluator.sheet(cutOutNode(picture, what, frame), frame.whole);
  QVERIFY(some.at(3, 40, 22) == 0 && some.at(3, 40, 38) == 1 && some.at(3, 40, 2) == 1);
}

void TestStack::codesAreTheViewsOwn() {
  const BlendSources sources = [] {
    BlendSources s = sourcesOf(100, 70);
    s.shownPlate = shared(displayed(*s.plate, **ColourView::make("plain sRGB")));
    return s;
  }();
  for (const std::string& name : ColourView::names()) {
    const auto view = ColourView::make(name);
    Evaluator evaluator;
    const Stack stack = buildStack(Shot{}, sources);
    const Picture codes = codesOf(stack, **view, evaluator);
    std::vector<uint8_t> quick(codes.pixels.size());
    codes8Of(stack, **view, evaluator, [&](int y, int x, int count, const uint8_t* rgb) {
      std::copy_n(rgb, count * 3, &quick[(size_t(y) * 100 + size_t(x)) * 3]);
    });
    for (size_t i = 0; i < quick.size(); ++i)
      QCOMPARE(int(quick[i]), int(std::lround(255 * std::clamp(codes.pixels[i], 0.0f, 1.0f))));
  }
}

DUSK_TEST(TestStack, NoApplication);
#include "stack.moc"
