#pragma once
#include <memory>
#include <optional>
#include <vector>

#include "bench/scene.h"
#include "parts/wire_amps.h"
#include "run/snapshot_mapping.h"

namespace ignavo::app {

// The bench as it stood at a moment of a run, where it was edited since, on tables that lie where
// they lie now. What stands no more is drawn from here, and where currents flowed.
class BenchThen {
 public:
  // Takes some milliseconds. `notNow`: ids of what stands no more.
  BenchThen(const Project& then, const Project& now, std::set<std::string> notNow);
  BenchThen(const BenchThen&) = delete;
  BenchThen& operator=(const BenchThen&) = delete;

  const Project& project() const { return project_; }
  const Circuit& circuit() const { return circuit_; }
  // Of what stands no more alone.
  Scene scene() const;
  // Per wire of project(), of a moment of it.
  std::vector<double> wireAmps(const Snapshot& moment) const { return metal_.amps(moment.reading); }

 private:
  Project project_;
  Circuit circuit_;
  Identities identities_;
  WireMetal metal_;
  std::set<std::string> notNow_;
};

}  // namespace ignavo::app
