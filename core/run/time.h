#pragma once
#include <cstdint>

namespace ignavo {

// Simulated time, in whole nanoseconds since the run began.
using Nanoseconds = std::int64_t;
constexpr Nanoseconds second = 1'000'000'000;
constexpr Nanoseconds never = INT64_MAX;

// A length of simulated time in seconds.
constexpr double inSeconds(Nanoseconds n) { return static_cast<double>(n) * 1e-9; }

}  // namespace ignavo
