#include "check/rules/lamps.h"

#include <algorithm>

#include "check/remedies.h"
#include "project/edits.h"

namespace ignavo {

bool lampExplained(const CheckContext& c, int part) {
  static constexpr std::initializer_list<const char*> causes = {
      "rail-unfed",          "leg-loose",        "part-bypassed",  "led-reversed",
      "short-circuit",       "pin-fight",        "led-dark",       "no-common-ground",
      "motor-on-pin",        "diode-backwards",  "button-bridged", "over-voltage",
      "button-along-trench", "lamps-in-parallel"};
  if (c.explained(c.part(part).id, causes)) return true;
  // Something in its own path is: a loose resistor, a pin that no step uses.
  const auto& island = c.circuit.island(c.circuit.islandOfPart(part));
  return std::any_of(island.parts.begin(), island.parts.end(),
                     [&](int p) {
                       return c.explained(c.part(p).id, {"rail-unfed", "leg-loose", "part-bypassed",
                                                         "led-reversed", "no-common-ground"});
                     }) ||
         std::any_of(island.pins.begin(), island.pins.end(), [&](int p) {
           return c.pinExplained(
               c.pinName(c.circuit.pins()[static_cast<std::size_t>(p)]),
               {"pin-unused", "pin-direction", "pin-unwired", "pin-fight", "never-on"});
         });
}

const Part* resistorWith(const CheckContext& c, int island, double amps,
                         const CircuitState& state) {
  const auto& members = c.circuit.island(island).parts;
  const IslandReading& r = c.circuit.solveIsland(island, state);
  for (std::size_t k = 0; k < members.size(); ++k) {
    const PartKind* kind = c.circuit.kindOf(members[k]);
    if (!kind || !kind->passes) continue;
    if (std::abs(std::abs(r.parts[k].amps) - amps) < 0.01 * amps) return &c.part(members[k]);
  }
  return nullptr;
}

const Peak& lampPeak(const PartSweep& s, std::size_t lamp) {
  return s.lamps.size() > lamp ? s.lamps[lamp] : s.amps;
}

double lampAmps(const Project& project, const std::string& part, std::size_t lamp) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  for (int p = 0; p < static_cast<int>(project.parts->size()); ++p)
    if ((*project.parts)[static_cast<std::size_t>(p)]->id == part)
      return lampPeak(sweep.part(p), lamp).value;
  return 0;
}

namespace {

std::vector<double> ownedAbove(double ohms) {
  constexpr double most = 10e3;  // a lamp on more than that is hardly seen
  std::vector<double> out;
  for (const double next : ownedOhms())
    if (next > ohms && next <= most) out.push_back(next);
  return out;
}

}  // namespace

std::optional<Limited> limited(const Project& project, const std::string& part, std::size_t lamp,
                               const Part* resistor, const std::function<bool()>& cancelled) {
  constexpr double wantedAmps = 0.015;
  // More ohms never give more current, so the series can be halved again and again.
  const std::vector<double> series = ownedAbove(resistor ? resistor->number("ohms", 220) : 0);
  std::optional<Limited> best;
  for (std::size_t least = 0, end = series.size(); least < end;) {
    if (cancelled && cancelled()) return std::nullopt;
    const std::size_t middle = (least + end) / 2;
    auto remedy = resistor ? remedies::changeResistor(project, resistor->id, series[middle])
                           : remedies::seriesResistor(project, part, series[middle]);
    if (!remedy) return std::nullopt;
    const double then = lampAmps(remedy->after, part, lamp);
    if (then > wantedAmps) {
      least = middle + 1;
      continue;
    }
    end = middle;
    if (then > 0) best = Limited{std::move(*remedy), series[middle], then};
  }
  return best;
}

std::optional<Remedy> resistorEach(const CheckContext& c, int resistor,
                                   const std::vector<int>& lamps) {
  const Part& shared = c.part(resistor);
  if (shared.legs.size() != 2 || !shared.legs[0].in || !shared.legs[1].in) return std::nullopt;
  const double ohms = shared.number("ohms", 0);
  if (ohms <= 0) return std::nullopt;
  Wire wire;
  wire.id = freeId(c.project, "w");
  wire.from = *shared.legs[0].in;
  wire.to = *shared.legs[1].in;
  Project after = edits::addWire(edits::remove(c.project, {shared.id}), std::move(wire));
  for (const int lamp : lamps) {
    auto made = remedies::seriesResistor(after, c.part(lamp).id, ohms);
    if (!made) return std::nullopt;
    after = std::move(made->after);
  }
  return Remedy{say("Give each lamp {} of its own", ohmsText(ohms)), std::move(after)};
}

}  // namespace ignavo
