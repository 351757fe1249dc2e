#include "core/base/quantity.h"

#include "core/base/words.h"

#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>
#include <string>

namespace dusk {
namespace {

struct Unit {
  Quantity quantity;
  std::string_view name;
  double factor;  ///< to the first of its quantity
};

constexpr Unit units[] = {
    {Quantity::length, "m", 1},       {Quantity::length, "mm", 0.001},
    {Quantity::length, "cm", 0.01},   {Quantity::length, "µm", 1e-6},
    {Quantity::length, "um", 1e-6},   {Quantity::length, "km", 1000},
    {Quantity::length, "in", 0.0254}, {Quantity::length, "inch", 0.0254},
    {Quantity::length, "\"", 0.0254}, {Quantity::length, "ft", 0.3048},
    {Quantity::length, "'", 0.3048},  {Quantity::length, "yd", 0.9144},
    {Quantity::angle, "°", 1},        {Quantity::angle, "deg", 1},
    {Quantity::angle, "turn", 360},   {Quantity::angle, "rad", 180 / std::numbers::pi},
    {Quantity::time, "s", 1},         {Quantity::time, "ms", 0.001},
    {Quantity::time, "min", 60},      {Quantity::time, "h", 3600},
    {Quantity::temperature, "K", 1},  {Quantity::exposure, "EV", 1},
    {Quantity::exposure, "stop", 1},  {Quantity::exposure, "stops", 1},
    {Quantity::share, "%", 1},
};

const Unit* unitNamed(std::string_view name, std::optional<Quantity> of = {}) {
  for (const Unit& u : units)
    if (u.name == name && (!of || u.quantity == *of)) return &u;
  return nullptr;
}

/// A value under way: plain, or already in the quantity's first unit.
struct Value {
  double number = 0;
  bool hasUnit = false;
};

/// Recursive descent: sum = product {(+|-) product}; product = factor [unit] {(*|/) factor [unit]}, where the
/// unit after a product of plain numbers is that of all of it.
class Reader {
 public:
  Reader(std::string_view text, Quantity quantity, double own)
      : text_(text), quantity_(quantity), own_(own) {}

  Result<double> read() {
    const Value v = sum();
    space();
    if (!trouble_.empty()) return Error{trouble_};
    if (at_ < text_.size())
      return Error{"\"" + std::string(text_.substr(at_)) + words("\" cannot be read here.")};
    const double value = v.hasUnit ? v.number / own_ : v.number;
    if (!std::isfinite(value)) return Error{words("That is no number.")};
    return value;
  }

 private:
  void space() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
  }
  bool take(char c) {
    space();
    if (at_ >= text_.size() || text_[at_] != c) return false;
    ++at_;
    return true;
  }
  Value fail(const std::string& why) {
    if (trouble_.empty()) trouble_ = why;
    at_ = text_.size();
    return {};
  }

  Value sum() {
    Value v = product();
    for (;;) {
      const bool plus = take('+');
      if (!plus && !take('-')) return v;
      Value w = product();
      // A plain number beside one with a unit is in the field's own.
      if (v.hasUnit != w.hasUnit) {
        Value& plain = v.hasUnit ? w : v;
        plain.number *= own_, plain.hasUnit = true;
      }
      v.number += plus ? w.number : -w.number;
    }
  }

  Value product() {
    Value v = withUnit(factor());
    for (;;) {
      const bool times = take('*');
      if (!times && !take('/')) return v;
      Value w = factor();
      if (v.hasUnit) w = withUnit(w);
      if (v.hasUnit && w.hasUnit) {
        if (times)
          return fail(words("A length times a length is no length: give one of them without a unit."));
        v.hasUnit = false;  // a ratio
      } else if (w.hasUnit) {
        if (!times) return fail(words("A plain number cannot be divided by one with a unit."));
        v.hasUnit = true;
      }
      if (!times && w.number == 0) return fail(words("That divides by nothing."));
      v.number = times ? v.number * w.number : v.number / w.number;
      if (!v.hasUnit && !w.hasUnit) v = withUnit(v);
    }
  }

  Value factor() {
    if (take('-')) {
      Value v = factor();
      v.number = -v.number;
      return v;
    }
    if (take('+')) return factor();
    if (take('(')) {
      const Value v = sum();
      if (!take(')')) return fail(words("A bracket is not closed."));
      return v;
    }
    space();
    std::string digits;
    size_t end = at_;
    for (; end < text_.size(); ++end) {
      const char c = text_[end];
      const bool exponent =
          (c == 'e' || c == 'E') && !digits.empty() && end + 1 < text_.size() &&
          (std::isdigit(static_cast<unsigned char>(text_[end + 1])) || text_[end + 1] == '-');
      const bool sign =
          (c == '-' || c == '+') && !digits.empty() && (digits.back() == 'e' || digits.back() == 'E');
      if (!std::isdigit(static_cast<unsigned char>(c)) && c != '.' && c != ',' && !exponent && !sign) break;
      digits += c == ',' ? '.' : c;
    }
    double number = 0;
    const auto [stop, code] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
    if (digits.empty() || code != std::errc() || stop != digits.data() + digits.size())
      return fail(words("Type a number") + (at_ < text_.size()
                                                ? words(", not \"") + std::string(text_.substr(at_)) + "\"."
                                                : std::string(".")));
    at_ = end;
    return {number, false};
  }

  Value withUnit(Value v) {
    space();
    size_t end = at_;
    const auto separates = [](char c) {
      return c == ' ' || c == '+' || c == '-' || c == '*' || c == '/' || c == '(' || c == ')' ||
             std::isdigit(static_cast<unsigned char>(c));
    };
    while (end < text_.size() && !separates(text_[end])) ++end;
    if (end == at_) return v;
    const std::string_view name = text_.substr(at_, end - at_);
    const Unit* unit = unitNamed(name, quantity_);
    if (!unit)
      return fail(unitNamed(name) ? "\"" + std::string(name) + words("\" is a unit of something else.")
                                  : "\"" + std::string(name) + words("\" is no unit known here."));
    if (v.hasUnit) return fail(words("Two units in one place."));
    at_ = end;
    return {v.number * unit->factor, true};
  }

  std::string_view text_;
  Quantity quantity_;
  double own_;
  size_t at_ = 0;
  std::string trouble_;
};

}  // namespace

Quantity quantityOfUnit(std::string_view unit) {
  const Unit* known = unitNamed(unit);
  return known ? known->quantity : Quantity::plain;
}

Result<double> quantityFromText(std::string_view text, Quantity quantity, std::string_view unit) {
  // The field's own unit may be one that nothing else converts to: it is passed over.
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  const Unit* own = unitNamed(unit, quantity);
  if (!own && !unit.empty() && text.size() >= unit.size() && text.substr(text.size() - unit.size()) == unit)
    text.remove_suffix(unit.size());
  return Reader(text, quantity, own ? own->factor : 1).read();
}

}  // namespace dusk
