#include "check/evidence.h"

#include <fmt/format.h>

#include <algorithm>

#include "check/rule.h"
#include "check/sweep.h"
#include "program/steps.h"

namespace ignavo {

namespace {

constexpr const char* noLevel = ": no fixed level";

std::string partWords(const Project& project, const CircuitReading& r, bool solved, int index) {
  const Part& part = *(*project.parts)[static_cast<std::size_t>(index)];
  const PartReading& reading = r.parts[static_cast<std::size_t>(index)];
  if (!solved || !reading.volts) return part.name;
  return fmt::format("{}: {}, {}", part.name, milliamps(reading.amps), voltsText(*reading.volts));
}

std::string socketWords(const Project& project, const Circuit& circuit, const CircuitReading& r,
                        bool solved, const Socket& socket) {
  const std::string what = project.board(socket.owner) ? "Pin " : "Hole ";
  const int net = circuit.nets().of(socket);
  if (net < 0 || !solved) return what + socket.point;
  if (circuit.floatingNets(r).contains(net)) return what + socket.point + noLevel;
  const auto& volts = r.nets[static_cast<std::size_t>(net)];
  return what + socket.point + (volts ? ": " + voltsText(*volts) : ": no fixed voltage");
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
  std::stable_partition(out.begin(), out.end(),
                        [](const Evidence& e) { return e.words.ends_with(noLevel); });
  for (const std::string& id : finding.steps)
    if (const Step* step = project.step(id))
      out.push_back({"Step “" + phraseOf(*step) + "”", {}, std::nullopt, id});
  return out;
}

}  // namespace ignavo
