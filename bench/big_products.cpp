// How fast big products are in the hand: a tree of 5,000 parts, and a product of a million triangles.
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <cstdio>
#include <fstream>

#include "app/cast/cast.h"
#include "app/cast/cast_panel.h"
#include "app/preview/preview.h"
#include "bench/memory_use.h"
#include "bench/window_figures.h"
#include "core/project/file.h"

namespace dusk {
namespace {

/// `parts` patches of `side` x `side` squares each, as an OBJ.
void writePatches(const std::filesystem::path& file, int parts, int side) {
  std::ofstream out(file);
  int vertex = 1;
  for (int p = 0; p < parts; ++p) {
    out << "o Patch_" << p << (p % 7 ? "_plate" : "_screw") << "\n";  // an OBJ name ends at a space
    const double x0 = p % 70, z0 = p / 70;
    for (int j = 0; j <= side; ++j)
      for (int i = 0; i <= side; ++i)
        out << "v " << (x0 + 0.9 * i / side) * 0.01 << ' ' << (z0 + 0.9 * j / side) * 0.01 << ' '
            << 0.001 * std::sin(9.0 * i / side) << "\n";
    for (int j = 0; j < side; ++j)
      for (int i = 0; i < side; ++i) {
        const int a = vertex + j * (side + 1) + i;
        out << "f " << a << ' ' << a + 1 << ' ' << a + side + 2 << ' ' << a + side + 1 << "\n";
      }
    vertex += (side + 1) * (side + 1);
  }
}

void line(const char* name, std::vector<double> ms) {
  std::sort(ms.begin(), ms.end());
  std::printf("%-44s %8.1f %8.1f\n", name, ms[ms.size() / 2], ms.back());
}

/// Copies of a document's product in a grid on the ground, of several models in turn.
Project grid(const Project& from, const std::vector<AssetRef>& models, int copies) {
  Project p = from;
  const Product product = p.products[0];
  const Placement placement = p.shots[0].placements[0];
  p.products.clear(), p.shots[0].placements.clear();
  for (size_t m = 0; m < models.size(); ++m) {
    Product each = product;
    each.id = "model-" + std::to_string(m), each.model = models[m];
    p.products.push_back(each);
    for (int i = 0; i < copies; ++i) {
      Placement there = placement;
      there.id = each.id + "-" + std::to_string(i), there.productId = each.id;
      there.xM += 0.8 * double(m) - 0.4 * double(models.size()), there.yM += 0.8 * i;
      p.shots[0].placements.push_back(there);
    }
  }
  return p;
}

/// A set of five million triangles: ten models of 125,000 in four places each, and as many that are all
/// unlike.
void bigSets(const Project& project, const std::filesystem::path& dir) {
  for (const auto& [models, copies] : {std::pair(10, 4), std::pair(40, 1)}) {
    const auto assets = std::make_shared<AssetStore>(dir);
    const auto cache = std::make_shared<GeometryCache>();
    std::vector<AssetRef> files;
    for (int m = 0; m < models; ++m) {
      const std::filesystem::path file = dir / ("set-" + std::to_string(m) + ".obj");
      if (!std::filesystem::exists(file)) writePatches(file, 10, 79 + m % 2);
      std::ofstream(file, std::ios::app) << "# " << m << "\n";
      files.push_back(*assets->refer(file));
    }
    Project set = grid(project, files, copies);
    Progress progress;
    for (const Product& product : set.products)
      if (!assets->model(product, progress)) return std::puts("not imported"), void();
    const double before = residentMb();
    Preview preview;
    std::vector<double> first{firstImageMs(preview, set, assets, cache)}, drags;
    for (int i = 0; i < 15; ++i) {
      set.shots[0].placements[0].xM += 0.002;
      drags.push_back(firstImageMs(preview, set, assets, cache));
    }
    const std::string what = std::to_string(models) + " models, 5 M triangles: ";
    line((what + "first image").c_str(), first);
    line((what + "dragged").c_str(), drags);
    std::printf("%-44s %8.0f MB, at most %.0f, %.0f of them before anything was shown\n", what.c_str(),
                residentMb(), mostResidentMb(), before);
  }
}

}  // namespace

void bigProducts(const std::filesystem::path& demo) {
  const QTemporaryDir folder;
  const std::filesystem::path dir = folder.path().toStdString();
  qputenv("XDG_CACHE_HOME", folder.filePath("cache").toUtf8());
  std::printf("\n%-44s %8s %8s\n", "big products", "median", "worst ms");

  writePatches(dir / "many.obj", 5000, 2);
  Project project = *loadProject(demo / "brackwater.dusk");
  AssetStore files(dir);
  for (AssetRef* ref : {&project.shots[0].plate, &project.shots[0].surroundings.panorama})
    ref->path = (demo / ref->path).string();
  Product& product = project.products[0];
  product.surfaceOfPart.clear();
  product.model = *files.refer(dir / "many.obj");
  product.metresPerUnit = 1, product.up = UpAxis::y;
  if (!saveProject(project, dir / "many.dusk")) return;
  {
    Session session;
    if (!session.open(dir / "many.dusk")) return;
    Progress progress;
    const auto model = session.assets()->model(session.project().products[0], progress);
    if (!model || (*model)->parts.size() != 5000) return std::puts("not imported"), void();
    CastPanel panel(session);
    panel.resize(260, 700);
    panel.show();
    const auto timed = [&](const auto& act) {
      QElapsedTimer clock;
      clock.start();
      act();
      panel.grab();
      return double(clock.nsecsElapsed()) / 1e6;
    };
    std::vector<double> filter, select;
    const char* words[] = {"s", "sc", "scr", "screw", "screw_4", "screw", "pl", "", "12_plate", ""};
    for (int round = 0; round < 3; ++round)
      for (const char* w : words) filter.push_back(timed([&] { panel.cast().model().setFilter(w); }));
    for (int i = 0; i < 40; ++i)
      select.push_back(timed([&] { session.selectPart((*model)->parts[size_t(i * 997 % 5000)].path); }));
    line("filter of a 5,000-part tree, painted", filter);
    line("selection highlight there, painted", select);
    session.dropJournal();
  }

  writePatches(dir / "million.obj", 50, 100);
  product.model = *files.refer(dir / "million.obj");
  const auto assets = std::make_shared<AssetStore>(dir);
  const auto cache = std::make_shared<GeometryCache>();
  Preview preview;
  Progress progress;
  if (!assets->model(product, progress)) return std::puts("not imported"), void();
  const auto firstImage = [&] { return firstImageMs(preview, project, assets, cache); };
  firstImage();
  std::vector<double> drags;
  for (int i = 0; i < 25; ++i) {
    project.shots[0].placements[0].xM += 0.002;
    drags.push_back(firstImage());
  }
  line("first image as 1 M triangles are dragged", drags);
  bigSets(project, dir);
}

}  // namespace dusk
