// Stands in for the program that artwork is drawn with: opens a template, moves things about in it, and saves
// every few seconds, in place, as such programs do.
#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <thread>

namespace {

std::string textOf(const std::string& file) {
  std::ifstream in(file, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

/// The number of an attribute of the outermost element.
double sizeOf(const std::string& svg, const char* attribute) {
  const size_t at = svg.find(std::string(" ") + attribute + "=\"");
  return at == std::string::npos ? 0 : std::atof(svg.c_str() + at + std::string(attribute).size() + 3);
}

/// A sun, a horizon and a name, which drift a little with each save.
std::string artwork(double width, double height, int save) {
  char text[1024];
  const double drift = 0.06 * width * std::sin(0.7 * save);
  std::snprintf(text, sizeof text,
                "<g id=\"artwork\">\n"
                "<circle cx=\"%.2f\" cy=\"%.2f\" r=\"%.2f\" fill=\"#d9a441\"/>\n"
                "<path d=\"M%.2f %.2fH%.2f\" stroke=\"#16282c\" stroke-width=\"%.2f\"/>\n"
                "<text x=\"%.2f\" y=\"%.2f\" font-family=\"sans-serif\" font-size=\"%.2f\" "
                "text-anchor=\"middle\" fill=\"#16282c\">Brackwater %d</text>\n</g>",
                width / 2 + drift, height * 0.36, height * 0.12, width * 0.1, height * 0.5, width * 0.9,
                height * 0.02, width / 2 - drift / 2, height * 0.72, height * 0.12, save);
  return text;
}

/// The template with its group "artwork" made anew; nothing where it has none.
std::string drawn(const std::string& svg, int save) {
  const size_t from = svg.find("<g id=\"artwork\">"), to = svg.find("</g>", from);
  if (from == std::string::npos || to == std::string::npos) return {};
  return svg.substr(0, from) + artwork(sizeOf(svg, "width"), sizeOf(svg, "height"), save) +
         svg.substr(to + 4);
}

void pause(double seconds) { std::this_thread::sleep_for(std::chrono::duration<double>(seconds)); }

}  // namespace

int main(int argc, char** argv) {
  CLI::App app("Draws into a template and saves it, again and again.");
  std::string file;
  double every = 3;
  int times = 10;
  bool slow = false, failing = false;
  app.add_option("template", file, "an SVG with a group \"artwork\"")->required()->check(CLI::ExistingFile);
  app.add_option("--every", every, "seconds from save to save");
  app.add_option("--times", times, "saves, then it ends");
  app.add_flag("--slow", slow, "writes in two pieces, with a pause between them");
  app.add_flag("--failing", failing, "every second save is cut off in the middle");
  CLI11_PARSE(app, argc, argv);
  const std::string empty = textOf(file);
  for (int save = 1; save <= times; ++save) {
    const std::string text = drawn(empty, save);
    if (text.empty()) return std::fprintf(stderr, "%s has no group called artwork.\n", file.c_str()), 1;
    std::ofstream out(file, std::ios::binary | std::ios::trunc);
    const size_t half = text.size() / 2;
    out.write(text.data(), std::streamsize(half)).flush();
    if (slow) pause(every / 4);
    if (!failing || save % 2 == 1) out.write(text.data() + half, std::streamsize(text.size() - half));
    out.close();
    std::printf("saved %d of %d\n", save, times);
    std::fflush(stdout);
    if (save < times) pause(every);
  }
  return 0;
}
