#pragma once
#include <QString>

namespace ignavo::app {

// "1.25 s", "340 ms", "12 µs" with as many digits as `step` needs.
QString timeText(double seconds, double step);
// "2 s", "12.35 ms", "4.25 µs": how long something is, with four digits.
QString lengthText(double seconds);

}  // namespace ignavo::app
