#include "check/trial.h"

#include <algorithm>

#include "check/sweep.h"

namespace ignavo {

namespace {

template <typename Of>
double solved(const Project& project, const std::string& part, Of of) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  for (int p = 0; p < static_cast<int>(project.parts->size()); ++p)
    if ((*project.parts)[static_cast<std::size_t>(p)]->id == part) return of(sweep.part(p));
  return 0;
}

}  // namespace

double bestAmps(const Project& project, const std::string& part) {
  return solved(project, part, [](const PartSweep& s) { return s.amps.value; });
}

double mostAmpsEitherWay(const Project& project, const std::string& part) {
  return solved(project, part, [](const PartSweep& s) {
    return std::max(s.amps.seen ? s.amps.value : 0, s.reverseAmps.seen ? s.reverseAmps.value : 0);
  });
}

double mostVolts(const Project& project, const std::string& part) {
  return solved(project, part, [](const PartSweep& s) { return s.volts.value; });
}

double mostPinAmps(const Project& project, const std::string& board, const std::string& pin) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  const int index = circuit.pinIndex(board, pin);
  return index < 0 ? 0 : sweep.pin(index).amps.value;
}

double mostWatts(const Project& project, const std::string& part) {
  return solved(project, part, [](const PartSweep& s) { return s.watts.value; });
}

}  // namespace ignavo
