#include "check/evidence.h"

#include <algorithm>

#include "check/rule.h"
#include "check/sweep.h"
#include "program/steps.h"

namespace ignavo {

namespace {

Message partWords(const Project& project, const CircuitReading& r, bool solved, int index) {
  const Part& part = *(*project.parts)[static_cast<std::size_t>(index)];
  const PartReading& reading = r.parts[static_cast<std::size_t>(index)];
  if (!solved || !reading.volts) return part.name;
  return say("{}: {}, {}", part.name, asAmps(reading.amps), asVolts(*reading.volts));
}

bool hasNoLevel(const Circuit& circuit, const CircuitReading& r, const Socket& socket) {
  const int net = circuit.nets().of(socket);
  return net >= 0 && circuit.floatingNets(r).contains(net);
}

Message socketWords(const Project& project, const Circuit& circuit, const CircuitReading& r,
                    bool solved, const Socket& socket) {
  const Message place =
      project.board(socket.owner) ? say("Pin {}", socket.point) : say("Hole {}", socket.point);
  const int net = circuit.nets().of(socket);
  if (net < 0 || !solved) return place;
  if (hasNoLevel(circuit, r, socket)) return say("{}: no fixed level", place);
  const auto& volts = r.nets[static_cast<std::size_t>(net)];
  return volts ? say("{}: {}", place, asVolts(*volts)) : say("{}: no fixed voltage", place);
}

}  // namespace

std::vector<Evidence> evidenceOf(const Project& project, const Finding& finding) {
  Circuit circuit(project);
  const CircuitState state = stateOf(project, circuit, finding.pose);
  const CircuitReading reading = circuit.solve(state);
  const bool solved = reading.converged;
  std::vector<Evidence> out;
  for (const std::string& id : finding.parts)
    for (int i = 0; i < static_cast<int>(project.parts->size()); ++i)
      if ((*project.parts)[static_cast<std::size_t>(i)]->id == id)
        out.push_back({partWords(project, reading, solved, i), id, std::nullopt, {}});
  for (const Socket& socket : finding.sockets)
    out.push_back({socketWords(project, circuit, reading, solved, socket), {}, socket, {}});
  // What has no level is what matters, wherever it is.
  std::stable_partition(out.begin(), out.end(), [&](const Evidence& e) {
    return solved && e.socket && hasNoLevel(circuit, reading, *e.socket);
  });
  for (const std::string& id : finding.steps)
    if (const Step* step = project.step(id))
      out.push_back({say("Step “{}”", phraseOf(*step)), {}, std::nullopt, id});
  return out;
}

}  // namespace ignavo
