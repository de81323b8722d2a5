#pragma once
#include <cstdint>

namespace ignavo {

// Stateless random numbers: the same keys give the same number, always and on
// every machine (the finaliser of SplitMix64, applied to the keys in turn).
inline std::uint64_t mixed(std::uint64_t x) {
  x += 0x9E3779B97F4A7C15u;
  x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
  x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
  return x ^ (x >> 31);
}
inline std::uint64_t randomBits(std::uint64_t seed, std::uint64_t stream, std::uint64_t index) {
  return mixed(mixed(mixed(seed) ^ stream) ^ index);
}
// 0 ≤ r < 1
inline double randomShare(std::uint64_t seed, std::uint64_t stream, std::uint64_t index) {
  return static_cast<double>(randomBits(seed, stream, index) >> 11) * 0x1.0p-53;
}
// Key of a name, for `stream`.
inline std::uint64_t keyOf(const char* text) {
  std::uint64_t h = 0xCBF29CE484222325u;
  for (; *text; ++text) h = (h ^ static_cast<unsigned char>(*text)) * 0x100000001B3u;
  return h;
}

}  // namespace ignavo
