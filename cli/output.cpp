#include "output.h"

#include <fmt/format.h>

#include "format/project_file.h"
#include "program/steps.h"
#include "run/lamp_light.h"

namespace ignavo::cli {

namespace {
Json orNull(const std::optional<double>& v) { return v ? Json(*v) : Json(nullptr); }
}  // namespace

Json findingsJson(const std::string& file, const Project& project, const CheckResult& result) {
  Json list = Json::array();
  for (const Finding& f : result.findings) {
    Json figures = Json::object(), pose = Json::object(), steps = Json::array(),
         remedies = Json::array();
    for (const Figure& g : f.figures) figures[g.key] = g.value;
    for (const auto& [key, value] : f.pose) pose[key] = value;
    for (const std::string& id : f.steps) steps.push_back(stepPath(project, id));
    for (const Remedy& r : f.remedies) remedies.push_back(inWords(r.title));
    Json one = {{"rule", f.rule},
                {"severity", severityId(f.severity)},
                {"title", inWords(f.title)},
                {"reason", inWords(f.reason)},
                {"parts", f.parts},
                {"pins", f.pins}};
    one["steps"] = steps;
    one["pose"] = pose;
    one["figures"] = figures;
    one["remedies"] = remedies;
    if (f.meant) one["meant"] = true;
    list.push_back(std::move(one));
  }
  Json out = {{"file", file}};
  out["findings"] = list;
  if (result.poses < 9e15)
    out["poses"] = static_cast<std::int64_t>(result.poses);
  else
    out["poses"] = result.poses;
  out["sampled"] = result.sampled;
  if (!result.unsolved.empty()) out["unsolved"] = result.unsolved;
  return out;
}

Json solutionJson(const Project& project, Circuit& circuit, const CircuitState& state,
                  const CircuitReading& reading) {
  Json nets = Json::array(), parts = Json::object(), pins = Json::object();
  const auto& all = circuit.nets().all();
  for (std::size_t n = 0; n < all.size(); ++n) {
    if (!all[n].used()) continue;
    const bool bare = all[n].legs.empty() && all[n].wires.empty();
    if (bare && all[n].pins.size() == 1 && !circuit.supplyVolts(static_cast<int>(n))) continue;
    Json sockets = Json::array();
    for (const Socket& s : circuit.nets().sockets(static_cast<int>(n), project, catalogue()))
      sockets.push_back(s.text());
    nets.push_back(
        {{"name", all[n].name}, {"sockets", sockets}, {"volts", orNull(reading.nets[n])}});
  }
  for (std::size_t p = 0; p < project.parts->size(); ++p) {
    const PartReading& r = reading.parts[p];
    Json one = {{"volts", orNull(r.volts)}, {"amps", r.amps}, {"watts", r.watts}};
    const PartKind* kind = circuit.kindOf(static_cast<int>(p));
    if (kind && kind->shows == Shows::light) {
      double most = 0;
      for (double amps : r.lamps) most = std::max(most, lightOf(amps));
      one["light"] = most;
      if (kind->lamps.size() > 1) {
        Json lamps = Json::object();
        for (std::size_t l = 0; l < r.lamps.size(); ++l)
          lamps[kind->print.legs[static_cast<std::size_t>(kind->lamps[l])].id] =
              lightOf(r.lamps[l]);
        one["lamps"] = lamps;
      }
    }
    parts[(*project.parts)[p]->id] = one;
  }
  const bool several = project.boards.size() > 1;
  for (std::size_t p = 0; p < circuit.pins().size(); ++p) {
    const CircuitPin& pin = circuit.pins()[p];
    const Net& net = all[static_cast<std::size_t>(pin.net)];
    const bool named = state.pins[p] == PinDrive::high || state.pins[p] == PinDrive::low;
    if (!named && net.legs.empty() && net.wires.empty()) continue;
    pins[(several ? pin.board + "." : "") + pin.name] = {{"volts", orNull(reading.pins[p].volts)},
                                                         {"amps", reading.pins[p].amps}};
  }
  return {{"nets", nets}, {"parts", parts}, {"pins", pins}, {"converged", reading.converged}};
}

Json comparisonJson(const Comparison& c) {
  Json first;
  if (c.first)
    first = {{"t", inSeconds(c.first->at)},
             {"board", c.first->board},
             {"pin", c.first->pin.empty() ? Json() : Json(c.first->pin)},
             {"steps", inWords(sentence(c.first->steps))},
             {"firmware", inWords(sentence(c.first->firmware))}};
  return {{"edges", c.edges},
          {"same", c.same()},
          {"largest_difference_seconds", inSeconds(c.largest)},
          {"first_difference", first}};
}

Json whyJson(const Project& project, const Why& why) {
  const auto paths = [&](const std::vector<std::string>& ids) {
    Json out = Json::array();
    for (const std::string& id : ids) out.push_back(stepPath(project, id));
    return out;
  };
  Json sockets = Json::array(), lastSet;
  for (const Socket& socket : why.circuit.sockets) sockets.push_back(socket.text());
  if (const auto& last = why.program.lastSet)
    lastSet = {{"t", inSeconds(last->at)},
               {"step", last->step.empty() ? Json() : Json(stepPath(project, last->step))},
               {"level", last->level}};
  const auto& rule = why.circuit.rule;
  return {
      {"part", why.part},
      {"looks", why.look.looks},
      {"circuit",
       {{"fine", why.circuit.fine},
        {"rule", rule.empty() ? Json() : Json(rule)},
        {"sockets", sockets}}},
      {"program",
       {{"fine", why.program.fine}, {"steps", paths(why.program.steps)}, {"last_set", lastSet}}},
      {"power", why.power},
      {"board", {{"version", nullptr}, {"current", nullptr}}},
      {"sentence", inWords(why.sentence)}};
}

Json runJson(const Kernel& kernel, const Snapshot& end) {
  const Trace& trace = kernel.trace();
  const Project& project = *kernel.project();
  Json boards = Json::object(), parts = Json::object();
  for (const BoardItem& b : project.boards)
    boards[b.id] = {{"pins", Json::object()},
                    {"vars", Json::object()},
                    {"posted", Json::array()},
                    {"log", Json::array()},
                    {"faults", Json::array()}};
  for (const ProgramFault& fault : end.faults)
    boards[fault.board]["faults"].push_back({{"t", inSeconds(fault.at)},
                                             {"step", stepPath(project, fault.step)},
                                             {"message", inWords(sentence(fault))}});
  for (const SaidLine& line : kernel.said())
    boards[line.board][line.note ? "posted" : "log"].push_back(
        {{"t", inSeconds(line.at)}, {"text", line.text}});
  for (const VariableView& v : end.variables) {
    const Json value = v.type == ValueType::text    ? Json(v.text)
                       : v.type == ValueType::truth ? Json(v.number != 0)
                                                    : Json(v.number);
    if (v.item == 0)
      boards[v.board]["vars"][v.name] = value;
    else
      boards[v.board]["vars"][v.name].push_back(value);
  }
  const Nanoseconds from = trace.begin() - 1, to = trace.end();
  for (std::size_t s = 0; s < trace.signals().size(); ++s) {
    const Signal& signal = trace.signals()[s];
    const int index = static_cast<int>(s);
    if (signal.what == Signal::What::pinLevel) {
      Json first = Json::array();
      trace.forEachEdge(index, from, to, [&](const Edge& e) {
        first.push_back(inSeconds(e.at));
        return first.size() < 64;
      });
      boards[signal.owner]["pins"][signal.name] = {
          {"direction", kernel.direction(signal.owner, signal.name)},
          {"edges", trace.countEdges(index, from, to)},
          {"high_seconds", trace.integral(index, trace.begin(), to)},
          {"first_edges", first}};
    } else {
      const Part* part = project.part(signal.owner);
      const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
      Json& one = parts[signal.owner];
      one["damaged"] = kernel.isBroken(signal.owner);
      if (kind && kind->shows != Shows::light) continue;
      const LampStatistics l = lampStatistics(trace, index);
      const Json lamp = {{"light_mean", l.lightMean},
                         {"light", l.lightAtEnd},
                         {"lit_seconds", l.litSeconds},
                         {"flashes", l.flashes},
                         {"peak_amps", l.peakAmps}};
      if (signal.name.empty())
        one.update(lamp);
      else
        one["lamps"][signal.name] = lamp;
    }
  }
  for (std::size_t p = 0; p < project.parts->size() && p < end.motion.size(); ++p) {
    const PartKind* kind = catalogue().partKind((*project.parts)[p]->type);
    Json& one = parts[(*project.parts)[p]->id];
    const Motion& m = end.motion[p];
    if (kind && (kind->moves == Moves::tone || kind->moves == Moves::buzz)) one["hertz"] = m.hertz;
    if (kind && kind->moves == Moves::spin) one["rpm"] = m.revolutionsPerMinute;
    if (kind && kind->moves == Moves::angle)
      one["degrees"] = m.degrees < 0 ? Json() : Json(m.degrees);
    if (one.is_null()) parts.erase((*project.parts)[p]->id);
  }
  for (std::size_t p = 0; p < project.parts->size(); ++p)
    if (end.state.broken[p] && !parts.contains((*project.parts)[p]->id))
      parts[(*project.parts)[p]->id] = {{"damaged", true}};
  return {{"seconds", inSeconds(kernel.now())}, {"boards", boards}, {"parts", parts}};
}

}  // namespace ignavo::cli
