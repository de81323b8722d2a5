#include <algorithm>
#include <set>

#include "check/rules/list.h"
#include "program/pace.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double seenSeconds = 0.020;  // what is shorter the eye does not see
constexpr double mostDarkness = 9;     // times as long as it is lit: beyond that it is hardly lit

// The lamp that hangs on a pin, or the board's own.
Message lampOn(const CheckContext& c, const CircuitPin& pin) {
  for (int p : c.circuit.island(pin.island).parts)
    if (c.isLamp(p)) return c.part(p).name;
  return !c.wired(pin) && pin.kind->lampPin == pin.name ? say("the board’s own lamp") : Message();
}

// The wait that the lane uses already, so that the rhythm stays.
double waitBeside(const Project& project, const std::string& step) {
  constexpr double otherwise = 0.5;
  double out = otherwise;
  const std::string lane = edits::placeOf(project, step).lane;
  for (const auto& program : project.programs)
    for (const auto& l : program->lanes)
      if (l->id == lane)
        forEachStep(l->steps, [&](const Step& s) {
          const Expr* seconds = waitOf(s);
          if (seconds && seconds->shape == Expr::Shape::number && seconds->number >= seenSeconds)
            out = seconds->number;
        });
  return out;
}

// A wait behind every step that sets this pin too briefly, where that cures it.
std::optional<Remedy> withWaits(const Project& project, const std::string& board,
                                const std::string& pin, const std::vector<BriefLevel>& briefs) {
  constexpr std::size_t most = 20;  // beyond that the program wants another idea
  std::vector<std::string> steps;
  for (const BriefLevel& b : briefs)
    if (b.pin == pin && std::find(steps.begin(), steps.end(), b.step) == steps.end())
      steps.push_back(b.step);
  if (steps.size() > most) return std::nullopt;
  Project mended = project;
  const double seconds = waitBeside(project, steps.front());
  for (const std::string& id : steps) {
    edits::StepPlace place = edits::placeOf(mended, id);
    ++place.index;
    mended = edits::insertSteps(std::move(mended), place, {waitingStep(seconds)});
  }
  mended = edits::assignIds(std::move(mended));
  for (const BriefLevel& b :
       briefLevels(compile(unfolded(*mended.program(board)).program), seenSeconds))
    if (b.pin == pin) return std::nullopt;
  return Remedy{steps.size() == 1 ? say("Add a wait of {} s", asNumber(seconds))
                                  : say("Add {} waits of {} s", steps.size(), asNumber(seconds)),
                std::move(mended)};
}

// How long the pin is low, where both its levels are too brief, whatever step gives them.
std::optional<double> lowAsBriefly(const CheckContext& c, const CircuitPin& pin,
                                   const std::vector<BriefLevel>& briefs) {
  std::set<std::string> brief;
  std::optional<double> low;
  for (const BriefLevel& b : briefs)
    if (b.pin == pin.name) {
      brief.insert(b.step);
      if (b.high == false) low = b.seconds;
    }
  const PinUse* use = c.use(pin);
  const bool all = use && std::all_of(use->writers.begin(), use->writers.end(),
                                      [&](const std::string& id) { return brief.contains(id); });
  return all ? low : std::nullopt;
}

void applyTooFast(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    std::vector<std::string> reported;
    const std::vector<BriefLevel> briefs = briefLevels(compile(*program), seenSeconds);
    for (const BriefLevel& brief : briefs) {
      const int index = c.circuit.pinIndex(board.id, brief.pin);
      if (index < 0) continue;
      const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(index)];
      const Message lamp = lampOn(c, pin);
      const std::string name = c.pinName(pin);
      // Once for each pin: the first such step says it.
      if (lamp.empty() || std::find(reported.begin(), reported.end(), name) != reported.end())
        continue;
      reported.push_back(name);
      Finding f;
      f.rule = "too-fast";
      f.severity = Severity::warning;
      f.steps = {brief.step};
      f.pins = {name};
      f.sockets = {{pin.board, pin.name}};
      const Quantity time = asSeconds(brief.seconds);
      if (!brief.high) {
        f.title = say("{} is flipped again after {}: too short to see", name, time);
        f.reason =
            say("The next step that sets {} follows at once, so {} looks steadily half lit. "
                "A wait between the two shows it.",
                name, lamp);
      } else if (const auto low = lowAsBriefly(c, pin, briefs);
                 low && *brief.high && *low < mostDarkness * brief.seconds) {
        f.title =
            say("{} is high for {}, low for {}: too short to see", name, time, asSeconds(*low));
        f.reason =
            say("Its steps follow each other at once, so {} looks steadily half lit. Waits "
                "between them show it.",
                lamp);
      } else if (*brief.high) {
        f.title = say("{} is high for {} only: too short to see", name, time);
        f.reason =
            say("The next step that sets {} follows at once, so {} looks dark or dim. A "
                "wait between the two shows it.",
                name, lamp);
      } else {
        f.title = say("{} is low for {} only: too short to see", name, time);
        f.reason =
            say("The next step that sets {} follows at once, so {} looks steadily lit. A "
                "wait between the two shows it.",
                name, lamp);
      }
      f.figures = {{"seconds", brief.seconds}};
      if (auto made = withWaits(c.project, board.id, brief.pin, briefs))
        f.remedies.push_back(std::move(*made));
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& tooFastRule() {
  static const Rule rule{
      "too-fast",
      Severity::warning,
      "The level of a lamp’s pin is replaced within 20 ms on every path, also round the loop.",
      "On and off without a wait looks steadily half lit: nobody sees it blink.",
      "A wait behind each step that should be seen; the last one before the loop begins again "
      "needs it too.",
      true,
      applyTooFast};
  return rule;
}

}  // namespace ignavo
