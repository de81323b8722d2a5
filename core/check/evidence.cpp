#include "check/evidence.h"

#include <set>

#include "check/rule.h"
#include "check/sweep.h"
#include "program/steps.h"

namespace ignavo {

namespace {

Message partWords(const Project& project, const CircuitReading& r, int index) {
  const Part& part = *(*project.parts)[static_cast<std::size_t>(index)];
  const PartReading& reading = r.parts[static_cast<std::size_t>(index)];
  if (!r.converged || !reading.volts) return part.name;
  return say("{}: {}, {}", part.name, asAmps(reading.amps), asVolts(*reading.volts));
}

Message socketWords(const Project& project, const CircuitReading& r, const Socket& socket, int net,
                    bool floats) {
  const Message place =
      project.board(socket.owner) ? say("Pin {}", socket.point) : say("Hole {}", socket.point);
  if (net < 0 || !r.converged) return place;
  if (floats) return say("{}: no fixed level", place);
  const auto& volts = r.nets[static_cast<std::size_t>(net)];
  return volts ? say("{}: {}", place, asVolts(*volts)) : say("{}: no fixed voltage", place);
}

}  // namespace

std::vector<Evidence> evidenceOf(const Project& project, const Finding& finding) {
  Circuit circuit(project);
  const CircuitState state = stateOf(project, circuit, finding.pose);
  const CircuitReading reading = circuit.solve(state);
  const std::set<int> floating =
      reading.converged ? circuit.floatingNets(reading) : std::set<int>();
  std::vector<Evidence> out;
  const auto addSockets = [&](bool floats) {
    for (const Socket& socket : finding.sockets) {
      const int net = circuit.nets().of(socket);
      if (floating.contains(net) == floats)
        out.push_back({socketWords(project, reading, socket, net, floats), {}, socket, {}});
    }
  };
  addSockets(true);  // what has no level is what matters, wherever it is
  for (const std::string& id : finding.parts)
    for (int i = 0; i < static_cast<int>(project.parts->size()); ++i)
      if ((*project.parts)[static_cast<std::size_t>(i)]->id == id)
        out.push_back({partWords(project, reading, i), id, std::nullopt, {}});
  addSockets(false);
  for (const std::string& id : finding.steps)
    if (const Step* step = project.step(id))
      out.push_back({say("Step “{}”", phraseOf(*step)), {}, std::nullopt, id});
  return out;
}

}  // namespace ignavo
