#include "parts/kinds.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

namespace ignavo {

const std::string* PropKind::choiceCalled(const std::string& word) const {
  for (const std::string& choice : choices)
    if (choice == word) return &choice;
  for (const auto& [called, choice] : alsoCalled)
    if (called == word) return &choice;
  return nullptr;
}

IGNAVO_VALUE_DEFINED(PartKind);
IGNAVO_VALUE_DEFINED(PartDevices);
IGNAVO_VALUE_DEFINED(BoardKind);

const PropKind* PartKind::prop(const std::string& key) const {
  for (const PropKind& prop : props)
    if (prop.key == key) return &prop;
  return nullptr;
}

Measures PartKind::measures(const Part& part) const {
  const auto& choices = prop(measuresKey)->choices;
  const auto it = std::find(choices.begin(), choices.end(), part.text(measuresKey, {}));
  return static_cast<Measures>(it == choices.end() ? 0 : it - choices.begin());
}

double lightOf(double meanAmps) {
  constexpr double fullAmps = 0.020;
  constexpr double eye = 1 / 2.2;
  return std::pow(std::clamp(meanAmps / fullAmps, 0.0, 1.0), eye);
}

const std::vector<double>& ownedOhms() {
  static const std::vector<double> box = {100, 220, 330, 470, 1e3, 2.2e3, 4.7e3, 10e3, 47e3, 100e3};
  return box;
}

const std::vector<double>& e24Decade() {
  static const std::vector<double> series = {1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0,
                                             2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3,
                                             4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
  return series;
}

const std::vector<double>& e6Decade() {
  static const std::vector<double> series = {1.0, 1.5, 2.2, 3.3, 4.7, 6.8};
  return series;
}

std::string ohmsText(double ohms) { return quantityText(ohms, "Ω"); }

std::string quantityText(double value, const std::string& unit) {
  static constexpr std::pair<double, const char*> prefixes[] = {
      {1e6, "M"}, {1e3, "k"}, {1, ""}, {1e-3, "m"}, {1e-6, "µ"}, {1e-9, "n"}, {1e-12, "p"}};
  const double size = std::abs(value);
  for (const auto& [factor, prefix] : prefixes)
    if (size >= factor * 0.99995 || (factor == 1 && (size == 0 || unit == "Ω")))
      return fmt::format("{:.4g} {}{}", value / factor, prefix, unit);
  return fmt::format("{:.4g} {}", value, unit);
}

std::optional<double> parseQuantity(const std::string& text, const std::string& unit) {
  static constexpr std::pair<const char*, double> prefixes[] = {
      {"M", 1e6},  {"k", 1e3},  {"K", 1e3},  {"m", 1e-3},
      {"µ", 1e-6}, {"u", 1e-6}, {"n", 1e-9}, {"p", 1e-12}};
  const char* at = text.data();
  const char* end = at + text.size();
  double value = 0;
  const auto number = std::from_chars(at, end, value, std::chars_format::fixed);
  if (number.ec != std::errc() || !std::isfinite(value)) return std::nullopt;
  std::string rest(number.ptr, end);
  const auto skip = [&](const std::string& word) {
    if (!rest.starts_with(word)) return false;
    rest.erase(0, word.size());
    return true;
  };
  while (skip(" ")) {
  }
  double factor = 1;
  for (const auto& [prefix, by] : prefixes)
    if (factor == 1 && skip(prefix)) factor = by;
  // "4k7": digits after the prefix are the first decimals.
  if (factor != 1 && !rest.empty() && rest[0] >= '0' && rest[0] <= '9' &&
      text.find('.') == std::string::npos) {
    double decimals = 0;
    const auto more = std::from_chars(rest.data(), rest.data() + rest.size(), decimals);
    const auto digits = static_cast<std::size_t>(more.ptr - rest.data());
    value += decimals / std::pow(10, static_cast<double>(digits));
    rest.erase(0, digits);
  }
  static constexpr std::pair<const char*, const char*> names[] = {
      {"Ω", "Ω"}, {"ohms", "Ω"}, {"ohm", "Ω"}, {"R", "Ω"},   {"F", "F"},
      {"V", "V"}, {"W", "W"},    {"%", "%"},   {"°C", "°C"}, {"C", "°C"}};
  for (const auto& [name, of] : names)
    if (rest == name && (unit.empty() || unit == of)) return value * factor;
  if (!rest.empty()) return std::nullopt;
  return value * factor;
}

std::vector<std::string> bandsOf(double ohms) {
  static const char* names[] = {"black", "brown", "red",    "orange", "yellow",
                                "green", "blue",  "violet", "grey",   "white"};
  int exponent = 0;
  double digits = ohms;
  while (digits >= 99.5) digits /= 10, ++exponent;
  while (digits < 9.95) digits *= 10, --exponent;
  const int two = static_cast<int>(std::lround(digits));
  const std::string multiplier = exponent == -1   ? "gold"
                                 : exponent == -2 ? "silver"
                                                  : names[std::clamp(exponent, 0, 9)];
  return {names[two / 10], names[two % 10], multiplier, "gold"};
}

const SupplyKind* BoardKind::supply(const std::string& name) const {
  for (const SupplyKind& s : supplies)
    if (s.pin == name) return &s;
  return nullptr;
}

const BoardPin* BoardKind::pin(const std::string& name) const {
  for (const BoardPin& p : pins)
    if (p.name == name) return &p;
  return nullptr;
}

double BoardKind::pinVolts(const BoardPin& pin) const {
  const SupplyKind* own = supply(pin.supply);
  return own ? own->volts : 0;
}

}  // namespace ignavo
