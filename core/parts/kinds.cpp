#include "parts/kinds.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ignavo {

double lightOf(double meanAmps) {
  constexpr double fullAmps = 0.020;
  constexpr double eye = 1 / 2.2;
  return std::pow(std::clamp(meanAmps / fullAmps, 0.0, 1.0), eye);
}

double nextE12(double ohms) {
  static constexpr double series[] = {1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2};
  for (double decade = 1; decade <= 1e6; decade *= 10)
    for (double s : series)
      if (std::round(s * decade * 100) / 100 >= ohms * (1 - 1e-9)) return s * decade;
  return 1e7;
}

const std::vector<double>& e24Decade() {
  static const std::vector<double> series = {1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0,
                                             2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3,
                                             4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
  return series;
}

std::string ohmsText(double ohms) {
  if (ohms >= 1e6) return fmt::format("{:.4g} MΩ", ohms / 1e6);
  if (ohms >= 1e3) return fmt::format("{:.4g} kΩ", ohms / 1e3);
  return fmt::format("{:.4g} Ω", ohms);
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

}  // namespace ignavo
