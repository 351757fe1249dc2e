#pragma once
#include <QColor>
#include <span>

namespace dusk::look {

/// The window's colours; those of marks on pictures are in look::mark, and the same in every theme.
struct Theme {
  const char* name;
  QColor chrome, panel, field,
      raised;                 ///< grounds: bars; desks and drawers; what is typed into; what is pressed
  QColor hover, dimmed;       ///< raised, under the pointer; raised, of what is off
  QColor line, edge;          ///< between things; round what can be ticked
  QColor text, muted, faint;  ///< faint: of what cannot be used now
  QColor ember, emberHover, onEmber;  ///< selected, and what is pressed first
  QColor selected, onSelected;        ///< grounds of what is chosen in lists, and its text
  QColor tide;                        ///< measured
  QColor rose;                        ///< off
  QColor moss, mossGround;            ///< proved
  QColor skyHigh, skyLow, earth;      ///< behind the bar of stations
  QColor land, hill;                  ///< lines that things stand on
  bool operator==(const Theme&) const = default;
};

/// All there are; the first is the usual one.
std::span<const Theme> themes();
/// With text, lines and signs further from their grounds: at least 7 to 1 for text.
Theme stronger(Theme theme);

/// WCAG 2.2: the ratio of the relative luminances of two colours, 1 to 21.
double contrast(const QColor& a, const QColor& b);

}  // namespace dusk::look
