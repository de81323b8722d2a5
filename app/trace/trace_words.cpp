#include "trace/trace_words.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ignavo::app {

QString timeText(double seconds, double step) {
  const auto digits = [](double s) {
    return std::clamp(static_cast<int>(std::ceil(-std::log10(s) - 1e-9)), 0, 6);
  };
  if (step >= 0.01 || seconds == 0)
    return QString::number(seconds, 'f', std::min(3, digits(step))) + QStringLiteral(" s");
  if (step >= 1e-5)
    return QString::number(seconds * 1e3, 'f', digits(step * 1e3)) + QStringLiteral(" ms");
  return QString::number(seconds * 1e6, 'f', digits(step * 1e6)) + QStringLiteral(" µs");
}

QString lengthText(double seconds) {
  for (const auto& [unit, name] : {std::pair{1.0, " s"}, {1e-3, " ms"}, {1e-6, " µs"}})
    if (seconds >= unit) return QString::number(seconds / unit, 'g', 4) + QString::fromUtf8(name);
  return QString::number(seconds * 1e9, 'f', 0) + QStringLiteral(" ns");
}

}  // namespace ignavo::app
