#pragma once
#include <memory>
#include <string>

#include "run/kernel.h"

// Projects to run and what happens to them, for tests.
namespace ignavo::test {

inline std::shared_ptr<const Project> shared(Project project) {
  return std::make_shared<const Project>(std::move(project));
}

inline Input at(double seconds, Input::What what, std::string id = {}, std::string key = {},
                PropValue value = 0.0) {
  return {static_cast<Nanoseconds>(seconds * 1e9), what, std::move(id), std::move(key), value, {}};
}

// The project was edited while it runs.
inline Input edited(Project project) {
  Input in;
  in.what = Input::What::project;
  in.project = shared(std::move(project));
  return in;
}

// When a pin's level changed, in milliseconds.
inline std::vector<int> edgesOf(const Kernel& k, const char* board, const char* pin = "D4") {
  std::vector<int> out;
  const int signal = k.trace().find(Signal::What::pinLevel, board, pin);
  if (signal < 0) return out;
  k.trace().forEachEdge(signal, -1, k.trace().end(), [&](const Edge& e) {
    out.push_back(static_cast<int>((e.at + 500'000) / 1'000'000));
    return true;
  });
  return out;
}

}  // namespace ignavo::test
