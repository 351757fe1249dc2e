// Makes the demo's data: dusk-demo-maker WHAT FOLDER. See demo/README.md.
#include <CLI/CLI.hpp>
#include <cstdio>
#include <thread>

#include "demo/campaign.h"
#include "demo/jar.h"
#include "demo/more_sets.h"
#include "demo/product.h"
#include "demo/quay.h"
#include "demo/shelf.h"
#include "demo/varied.h"

int main(int argc, char** argv) {
  CLI::App app("Makes the data of the Gentle Dusk demo.");
  std::string what;
  std::filesystem::path folder;
  int samples = 64, width = 2048;
  app.add_option("what", what,
                 "product, mini, plate, panorama, campaign, used, jar, jars, boathouse, slipway, more, "
                 "lights, colours, plinths, settling or shelf")
      ->required();
  app.add_option("folder", folder, "where to")->required();
  app.add_option("--samples", samples, "per pixel");
  app.add_option("--width", width, "of the panorama");
  CLI11_PARSE(app, argc, argv);

  dusk::Progress progress;
  std::filesystem::create_directories(folder);
  const dusk::Outcome outcome =
      what == "product"    ? dusk::demo::writeGauge(folder / "brackwater-gauge.step")
      : what == "mini"     ? dusk::demo::writeMini(folder / "brackwater-mini.step")
      : what == "plate"    ? dusk::demo::writePlate(folder / "quay-plate.jpg", samples, progress)
      : what == "panorama" ? dusk::demo::writePanorama(folder / "quay-panorama.exr", width, samples, progress)
      : what == "jar"      ? dusk::demo::writeJar(folder / "brackwater-jar.step")
      : what == "jars"     ? dusk::demo::writeJarCampaign(folder)
      : what == "campaign" ? dusk::demo::writeCampaign(folder)
      : what == "used"     ? dusk::demo::writeUsed(folder)
      : what == "boathouse" ? dusk::demo::writeBoathouse(folder, samples, progress)
      : what == "slipway"   ? dusk::demo::writeSlipway(folder, samples, progress)
      : what == "more"      ? dusk::demo::writeMoreCampaigns(folder)
      : what == "lights"    ? dusk::demo::writeLightSets(folder)
      : what == "colours"   ? dusk::demo::writeColours(folder)
      : what == "plinths"   ? dusk::demo::writePlinths(folder)
      : what == "settling"  ? dusk::demo::writeSettling(folder)
      : what == "shelf"     ? dusk::demo::writeShelf(folder, width)
                            : dusk::Error{"Nothing is called " + what + "."};
  if (!outcome) {
    std::fprintf(stderr, "%s\n", outcome.error().message.c_str());
    return 1;
  }
  return 0;
}
