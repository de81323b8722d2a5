#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "bench/placing.h"
#include "check/causes.h"
#include "check/rule.h"
#include "check/totals.h"
#include "explain/reach.h"

namespace ignavo {

IGNAVO_VALUE_DEFINED(Finding);
IGNAVO_VALUE_DEFINED(CheckResult);
IGNAVO_VALUE_DEFINED(Remedy);
Remedy::Remedy(Message itsTitle, Project made)
    : title(std::move(itsTitle)), after(std::move(made)) {}

const char* severityId(Severity s) {
  return s == Severity::danger ? "danger" : s == Severity::warning ? "warning" : "note";
}
const char* severityTitle(Severity s) {
  return s == Severity::danger    ? "Would break"
         : s == Severity::warning ? "Won’t work"
                                  : "Good to know";
}

double Finding::figure(const std::string& key) const {
  for (const Figure& f : figures)
    if (f.key == key) return f.value;
  return 0;
}

Suppression identityOf(const Finding& f) {
  std::set<std::string> who(f.parts.begin(), f.parts.end());
  who.insert(f.pins.begin(), f.pins.end());
  who.insert(f.steps.begin(), f.steps.end());
  if (who.empty())
    for (const Socket& place : f.sockets) who.insert(place.text());
  return {f.rule, {who.begin(), who.end()}};
}

std::string milliamps(double amps) { return inWords(asAmps(amps)); }
std::string wattsText(double watts) { return inWords(asWatts(watts)); }
std::string voltsText(double volts) { return inWords(asVolts(volts)); }

std::string listed(const std::vector<std::string>& names) {
  std::string out;
  for (std::size_t i = 0; i < names.size(); ++i)
    out += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
  return out;
}

namespace {
bool among(const std::string& what, std::initializer_list<const char*> list) {
  return std::any_of(list.begin(), list.end(), [&](const char* s) { return what == s; });
}
template <typename List>
bool holds(const List& list, const std::string& what) {
  return std::find(list.begin(), list.end(), what) != list.end();
}
}  // namespace

Finding* CheckContext::cause(const std::string& partId,
                             std::initializer_list<const char*> by) const {
  for (Finding& f : findings)
    if (holds(f.parts, partId) && among(f.rule, by)) return &f;
  return nullptr;
}

bool CheckContext::explained(const std::string& partId,
                             std::initializer_list<const char*> by) const {
  return cause(partId, by) != nullptr;
}

bool CheckContext::pinExplained(const std::string& pin,
                                std::initializer_list<const char*> by) const {
  return std::any_of(findings.begin(), findings.end(),
                     [&](const Finding& f) { return holds(f.pins, pin) && among(f.rule, by); });
}

std::string CheckContext::pinName(const CircuitPin& pin) const {
  return project.boards.size() > 1 ? pin.board + "." + pin.name : pin.name;
}

std::string CheckContext::pinTitle(const CircuitPin& pin) const {
  const std::string label = pinLabel(project, circuit.nets(), pin.board, pin.name);
  return label.empty() ? pinName(pin) : pinName(pin) + " · " + label;
}

bool CheckContext::wired(const CircuitPin& pin) const {
  return isWired(circuit.nets(), {pin.board, pin.name});
}

std::string CheckContext::phraseAt(const std::string& id) const {
  if (const Step* step = project.step(id)) return phraseOf(*step);
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes)
      if (lane->id == id) return signOf(lane->trigger);
  return id;
}

const Program* CheckContext::program(const std::string& board) const {
  for (std::size_t b = 0; b < project.boards.size() && b < programs.size(); ++b)
    if (project.boards[b].id == board && programs[b])
      return programs[b]->whole ? &programs[b]->program : nullptr;
  return project.program(board);
}

const PinUse* CheckContext::use(const CircuitPin& pin) const {
  for (const PinUse& u : uses[static_cast<std::size_t>(pin.ref.board)])
    if (u.pin == pin.name) return &u;
  return nullptr;
}

std::vector<Socket> CheckContext::pinsOf(int netIndex,
                                         std::initializer_list<PinShape::Role> roles) const {
  std::vector<Socket> out;
  for (const PinRef& ref : net(netIndex).pins) {
    const BoardItem& board = project.boards[static_cast<std::size_t>(ref.board)];
    const BoardPin& pin =
        catalogue().boardKind(board.type)->pins[static_cast<std::size_t>(ref.pin)];
    if (std::find(roles.begin(), roles.end(), pin.role) != roles.end())
      out.push_back({board.id, pin.name});
  }
  return out;
}

Place CheckContext::standing(const Pose& pose) const {
  Place::Several all;
  for (const auto& [id, how] : pose)
    if (const Part* p = project.part(id))
      all.emplace_back(how == "pressed"    ? say("{} is held", p->name)
                       : how == "released" ? say("{} is up", p->name)
                                           : say("{} is at {}", p->name, how));
  return all;
}

std::string CheckContext::poseWords(const Pose& pose) const {
  const bool any = std::any_of(pose.begin(), pose.end(),
                               [&](const auto& at) { return project.part(at.first) != nullptr; });
  return any ? inWords(say("while {}", standing(pose))) : std::string();
}

PartReading CheckContext::reading(int part, const CircuitState& state) const {
  const int island = circuit.islandOfPart(part);
  const auto& members = circuit.island(island).parts;
  const auto place = std::find(members.begin(), members.end(), part) - members.begin();
  return circuit.solveIsland(island, state).parts[static_cast<std::size_t>(place)];
}

std::optional<double> CheckContext::volts(int netIndex, const CircuitState& state) const {
  return circuit.volts(netIndex, state);
}

void CheckContext::showPart(Finding& f, int index) const {
  for (const Leg& leg : part(index).legs)
    if (leg.in) f.sockets.push_back(*leg.in);
}

bool CheckContext::isLamp(int index) const {
  const PartKind* kind = circuit.kindOf(index);
  return kind && kind->shows == Shows::light;
}

bool CheckContext::anyPart(int island) const {
  const auto& parts = circuit.island(island).parts;
  return std::any_of(parts.begin(), parts.end(), [&](int p) { return !isInstrument(p); });
}

int CheckContext::partIndex(const std::string& id) const {
  for (int p = 0; p < partCount(); ++p)
    if (part(p).id == id) return p;
  return -1;
}

namespace {

void addReadings(const CheckContext& c, CheckResult& out) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind) continue;
    const Part& part = c.part(p);
    const PartSweep& s = c.sweep.part(p);
    const bool forward = !s.reverseAmps.seen || s.amps.value >= s.reverseAmps.value;
    const Peak& peak = std::max(s.amps.value, s.reverseAmps.value) > 1e-7
                           ? (forward ? s.amps : s.reverseAmps)
                           : s.volts;
    if (!peak.seen) continue;
    const int island = c.circuit.islandOfPart(p);
    const PartReading r = c.reading(p, peak.state);
    WorstReading w;
    w.part = part.id;
    w.name = part.name;
    w.pose = c.sweep.poseOf(island, peak.state);
    w.volts = r.volts.value_or(0);
    w.amps = r.amps;
    w.watts = r.watts;
    w.path = currentPath(c.project, c.circuit, p, peak.state);
    w.revolutionsPerMinute = r.radiansPerSecond * 60 / (2 * 3.14159265358979323846);
    if (kind->ratedAmps > 0) {
      // Of a part with several lamps it is the most loaded one that counts.
      double amps = std::max(0.0, r.amps);
      if (kind->lamps.size() > 1)
        amps = std::max(0.0, *std::max_element(r.lamps.begin(), r.lamps.end()));
      w.share = amps / kind->ratedAmps;
      w.limit = milliamps(kind->ratedAmps);
    } else if (kind->ratedWatts) {
      w.share = s.watts.value / kind->ratedWatts(part);
      w.limit = fmt::format("{:.0f} mW", kind->ratedWatts(part) * 1000);
    }
    out.readings.push_back(std::move(w));
  }
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinSweep& s = c.sweep.pin(p);
    if (!c.wired(pin) || !s.amps.seen) continue;
    const auto& members = c.circuit.island(pin.island).pins;
    const auto place = std::find(members.begin(), members.end(), p) - members.begin();
    const PinReading r =
        c.circuit.solveIsland(pin.island, s.amps.state).pins[static_cast<std::size_t>(place)];
    WorstReading w;
    w.pin = c.pinName(pin);
    w.name = "Pin " + w.pin;
    w.pose = c.sweep.poseOf(pin.island, s.amps.state);
    w.volts = r.volts.value_or(0);
    w.amps = r.amps;
    const double across = r.amps > 0 ? pin.supplyVolts() - w.volts : w.volts;
    w.watts = std::abs(r.amps) * across;
    w.share = std::abs(r.amps) / pin.kind->pinRatedAmps;
    w.limit = milliamps(pin.kind->pinRatedAmps);
    out.readings.push_back(std::move(w));
  }
}

// Where a finding lies, for a stable order: down the breadboard, then along it.
std::tuple<int, double, double> placeOf(const Project& project, const Finding& f) {
  for (const std::string& id : f.parts)
    if (const Part* p = project.part(id))
      for (const Leg& leg : p->legs)
        if (leg.in)
          if (const auto at = socketAt(project, catalogue(), *leg.in)) return {0, at->y, at->x};
  for (const Socket& s : f.sockets)
    if (const auto at = socketAt(project, catalogue(), s)) return {0, at->y, at->x};
  return {1, 0, 0};
}

}  // namespace

namespace {

// Readings of inputs in own steps, and whether every step and lane is there once.
struct OwnReadings {
  int inputs = 0;
  bool once = true;
};
void countReadings(const Expr& e, const std::vector<std::string>& names, int& count) {
  const Expr* name = e.shape == Expr::Shape::get ? e.arg(variableKey) : nullptr;
  if (name && std::find(names.begin(), names.end(), name->text) != names.end()) ++count;
  for (const auto& [key, inner] : e.args) countReadings(inner, names, count);
}
OwnReadings readingsOf(const Project& project) {
  OwnReadings out;
  std::set<std::string> ids;
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes) {
      out.once = ids.insert(lane->id).second && out.once;
      const std::vector<std::string> names =
          isOwn(*lane) ? inputsOf(*lane) : std::vector<std::string>{};
      forEachStep(lane->steps, [&](const Step& s) {
        out.once = ids.insert(s.id).second && out.once;
        for (const auto& [key, value] : s.fields) countReadings(value, names, out.inputs);
      });
    }
  return out;
}
// Rules look at own steps where they are run, with what their inputs are given there. A mend that
// would write that down in their place, or a step twice, is none.
void keepInputs(const Project& project, std::vector<Finding>& findings) {
  const OwnReadings before = readingsOf(project);
  for (Finding& f : findings)
    std::erase_if(f.remedies, [&](const Remedy& r) {
      const OwnReadings after = readingsOf(r.after);
      return after.inputs < before.inputs || !after.once;
    });
}

// A project as the rules see it, and what they find.
struct Judged {
  Judged(const Project& project, const std::function<bool()>& stop, const ProgramSizes& sizes)
      : circuit(project), sweep(project, circuit, stop), context{project, circuit,  sweep,
                                                                 false,   findings, stop,
                                                                 {},      {},       sizes} {
    for (const BoardItem& board : project.boards) {
      const Program* program = project.program(board.id);
      const bool own = program && std::any_of(program->lanes.begin(), program->lanes.end(),
                                              [](const auto& lane) { return isOwn(*lane); });
      context.programs.push_back(own ? std::optional(unfolded(*program)) : std::nullopt);
      context.uses.push_back(program ? pinUses(*program) : std::vector<PinUse>{});
      context.programmed = context.programmed || (program && program->hasSteps());
    }
    // A try takes as long as the project is large.
    constexpr int least = 10, partsTried = 4000;
    context.triesLeft = std::max(least, partsTried / std::max(1, context.partCount()));
    for (const Rule* rule : rules()) {
      if (stop()) return;
      if (!rule->needsProgram || context.programmed) rule->apply(context);
    }
    if (std::any_of(context.programs.begin(), context.programs.end(),
                    [](const auto& own) { return own.has_value(); }))
      keepInputs(project, findings);
    // The steps of an own step stand in several places: what is found in each is told once.
    for (std::size_t i = 0; i < findings.size(); ++i)
      for (std::size_t k = findings.size(); k-- > i + 1;)
        if (!findings[k].steps.empty() && findings[k].rule == findings[i].rule &&
            findings[k].steps == findings[i].steps && findings[k].parts == findings[i].parts &&
            findings[k].pins == findings[i].pins)
          findings.erase(findings.begin() + static_cast<std::ptrdiff_t>(k));
  }
  Circuit circuit;
  Sweep sweep;
  std::vector<Finding> findings;
  CheckContext context;
};

void markMeant(const Project& project, std::vector<Finding>& findings) {
  for (Finding& f : findings)
    f.meant =
        std::find(project.meant.begin(), project.meant.end(), identityOf(f)) != project.meant.end();
}

// The gravest first, what is meant so last; of one weight in the order of their places.
void sortByWeight(const Project& project, std::vector<Finding>& findings) {
  using Key = std::tuple<bool, int, std::tuple<int, double, double>>;
  std::vector<std::pair<Key, std::size_t>> order;
  for (const Finding& f : findings)
    order.emplace_back(Key{f.meant, -static_cast<int>(f.severity), placeOf(project, f)},
                       order.size());
  std::sort(order.begin(), order.end());
  std::vector<Finding> sorted;
  for (const auto& [key, index] : order) sorted.push_back(std::move(findings[index]));
  findings = std::move(sorted);
}

}  // namespace

std::vector<Finding> everythingFound(const Project& project) {
  return Judged(project, [] { return false; }, {}).findings;
}

CheckResult check(const Project& project, bool (*cancelled)(void*), void* asked,
                  const ProgramSizes& sizes) {
  const std::function<bool()> stop = [&] { return cancelled && cancelled(asked); };
  CheckResult out;
  Judged judged(project, stop, sizes);
  if (stop()) return out;
  markMeant(project, judged.findings);
  keepCauses(judged.context, [&](const Project& mended) {
    Judged trial(mended, stop, sizes);
    const bool solved = trial.sweep.unsolved().empty() && !stop();
    return solved ? std::optional(std::move(trial.findings)) : std::nullopt;
  });
  markMeant(project, judged.findings);
  out.findings = std::move(judged.findings);
  for (Finding& f : out.findings) f.reason.add(f.consequence).add(f.advice);
  sortByWeight(project, out.findings);
  addReadings(judged.context, out);
  out.poses = judged.sweep.poses();
  out.sampled = judged.sweep.sampled();
  out.unsolved = judged.sweep.unsolved();
  for (int b = 0; b < static_cast<int>(project.boards.size()); ++b)
    out.totals.push_back(totalOf(judged.circuit, judged.sweep, b));
  return out;
}

}  // namespace ignavo
