#pragma once
#include <memory>
#include <string>
#include <vector>

#include "check/finding.h"
#include "parts/circuit.h"

namespace ignavo {

// A value that can be turned to see what would come of it.
struct WhatIf {
  std::string part;  // whose value it is; empty: the board's supply
  std::string prop;
  std::string name;  // "220 Ω", "Supply"
  std::string unit;
  double min = 0, max = 0, now = 0;
  bool logarithmic = false;
  std::vector<double> series;  // what can be bought; empty: any value
};

struct Predicted {
  bool solved = false;
  double amps = 0;  // through the part that is looked at
  double volts = 0;
  double light = 0;      // of a lamp
  double share = 0;      // of its limit; 0 where it has none
  double restShare = 0;  // of the turned part's own limit: its watts against its rating
};

// What can be turned for a part: its own resistance, that of the resistor in its path, the
// board's supply if it hangs on that. Empty where nothing flows.
std::vector<WhatIf> whatIfs(const Project& project, const CheckResult& check,
                            const std::string& part);

// Predicts, for one value after the other, what a part would get in its worst combination.
class Prediction {
 public:
  Prediction(const Project& project, const CheckResult& check, const std::string& part,
             WhatIf what);
  Predicted at(double value);
  const WhatIf& what() const { return what_; }
  double limitAmps() const { return limitAmps_; }  // 0: none

 private:
  Project project_;
  WhatIf what_;
  int part_ = -1, turned_ = -1;
  double limitAmps_ = 0;
  std::unique_ptr<Circuit> circuit_;
  CircuitState state_;
};

}  // namespace ignavo
