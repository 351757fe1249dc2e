#include "app/widgets/theme.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace dusk::look {
namespace {

const Theme all[] = {
    {.name = "dusk",
     .chrome = "#2d2936",
     .panel = "#383343",
     .field = "#252230",
     .raised = "#453f52",
     .hover = "#514a60",
     .dimmed = "#322d3d",
     .line = "#544d63",
     .edge = "#9189a0",
     .text = "#ece8f1",
     .muted = "#bab2c7",
     .faint = "#857d94",
     .ember = "#f2a65a",
     .emberHover = "#f7b878",
     .onEmber = "#2a2018",
     .selected = "#5a4638",
     .onSelected = "#fbe3c8",
     .tide = "#7cc4d1",
     .rose = "#f097a8",
     .moss = "#a9c98a",
     .mossGround = "#2f3a31",
     .skyHigh = "#332c3f",
     .skyLow = "#47384a",
     .earth = "#2b2734",
     .land = "#8d6f63",
     .hill = "#5b4a55"},
    {.name = "dawn",
     .chrome = "#e6e0e9",
     .panel = "#f3eff4",
     .field = "#fdfbfd",
     .raised = "#ddd5e2",
     .hover = "#d2c8d9",
     .dimmed = "#e9e4ec",
     .line = "#c2b8ca",
     .edge = "#7d738a",
     .text = "#29222f",
     .muted = "#574e61",
     .faint = "#8d8499",
     .ember = "#8f4a06",
     .emberHover = "#a65a12",
     .onEmber = "#fff8f0",
     .selected = "#f3dcc2",
     .onSelected = "#4d2b06",
     .tide = "#0c5c69",
     .rose = "#9c1f3a",
     .moss = "#3a5c1d",
     .mossGround = "#dfe9d4",
     .skyHigh = "#d9d6e6",
     .skyLow = "#f1dccd",
     .earth = "#dfd8e2",
     .land = "#a58472",
     .hill = "#d3c2c0"},
};

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto channel = [&](int from, int to) { return int(std::lround(from + share * (to - from))); };
  return QColor(channel(a.red(), b.red()), channel(a.green(), b.green()), channel(a.blue(), b.blue()));
}

double luminance(const QColor& c) {
  const auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}

}  // namespace

std::span<const Theme> themes() { return all; }

Theme stronger(Theme t) {
  const QColor pole = luminance(t.text) > luminance(t.panel) ? QColor(Qt::white) : QColor(Qt::black);
  t.text = t.onSelected = pole;
  t.muted = mixed(t.muted, pole, 0.7);
  t.line = mixed(t.line, t.text, 0.35);
  for (QColor* c : {&t.edge, &t.faint, &t.land}) *c = mixed(*c, t.text, 0.45);
  for (QColor* c : {&t.ember, &t.emberHover, &t.tide, &t.rose, &t.moss}) *c = mixed(*c, pole, 0.55);
  return t;
}

double contrast(const QColor& a, const QColor& b) {
  const auto [low, high] = std::minmax({luminance(a), luminance(b)});
  return (high + 0.05) / (low + 0.05);
}

}  // namespace dusk::look
