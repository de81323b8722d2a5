#pragma once
#include <string>
#include <vector>

#include "run/kernel.h"

// What a run recorded, for tests.
namespace ignavo::test {

// All edges of all signals, as one text.
inline std::string edges(const Trace& t) {
  std::string out;
  for (std::size_t s = 0; s < t.signals().size(); ++s)
    t.forEachEdge(static_cast<int>(s), -1, t.end(), [&](const Edge& e) {
      out += std::to_string(s) + " " + std::to_string(e.at) + " " + std::to_string(e.value) + "\n";
      return true;
    });
  return out;
}

// The edges of a pin, of the first board where no other is named.
inline std::vector<Edge> pinEdges(const Kernel& k, const std::string& pin,
                                  const std::string& board = "b1") {
  std::vector<Edge> out;
  const int signal = k.trace().find(Signal::What::pinLevel, board, pin);
  if (signal < 0) return out;  // nothing uses it
  k.trace().forEachEdge(signal, -1, k.trace().end(), [&](const Edge& e) {
    out.push_back(e);
    return true;
  });
  return out;
}

inline std::vector<Nanoseconds> edgeTimes(const Kernel& k, const char* pin) {
  std::vector<Nanoseconds> out;
  k.trace().forEachEdge(k.trace().find(Signal::What::pinLevel, "b1", pin), -1, k.trace().end(),
                        [&](const Edge& e) {
                          out.push_back(e.at);
                          return true;
                        });
  return out;
}

}  // namespace ignavo::test
