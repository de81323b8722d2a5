#include "explain/reasoning.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "explain/input_fault.h"
#include "explain/never.h"
#include "parts/catalogue.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

void place(const Steps& steps, const Lane& lane, const Step* behind,
           std::vector<Placed::Around>& around, std::vector<Placed>& out) {
  for (const Step& step : steps) {
    out.push_back({&step, &lane, around, behind});
    for (const auto& [key, body] : step.bodies) {
      around.push_back({&step, runsOf(step, key)});
      place(body, lane, behind, around, out);
      around.pop_back();
    }
    if (!behind && (leavesLoop(step) || endsLane(step) || isEndless(step))) behind = &step;
  }
}

bool contains(const Step& outer, const std::string& id) {
  bool found = false;
  for (const auto& [key, body] : outer.bodies)
    forEachStep(body, [&](const Step& s) { found = found || s.id == id; });
  return found;
}

// What is read in it: pins, variables, the time.
void gatherReads(const Expr& e, std::set<std::string>& out) {
  if (e.shape == Expr::Shape::get) out.insert(phraseOf(e));
  for (const auto& [key, arg] : e.args) gatherReads(arg, out);
}
bool asksOneThing(const Expr& test) {
  std::set<std::string> all;
  gatherReads(test, all);
  return all.size() <= 1;
}

}  // namespace

bool hasAny(const Place& place) {
  const auto* several = std::get_if<Place::Several>(&place.what);
  return several && !several->empty();
}

Reasoning::Reasoning(const RunMoment& moment, std::string board, std::string pin,
                     const std::vector<Fault>& faults)
    : m_(moment), faults_(faults), board_(std::move(board)), pin_(std::move(pin)) {
  const Program* program = m_.now.project->program(board_);
  if (!program) return;
  whole_ = unfolded(*program);
  std::vector<Placed::Around> around;
  for (const auto& lane : whole_.program.lanes) {
    if (isOwn(*lane)) continue;
    place(lane->steps, *lane, nullptr, around, steps_);
    if (isKept(lane->trigger) && lane->trigger.pin == pin_) keeper_ = &*lane;
  }
  for (const Placed& p : steps_)
    if (pinWritten(*p.step) == pin_) writers_.push_back(&p);
}

void Reasoning::gather(const Expr& e, bool alone, Place::Several& out) const {
  if (const std::string* pin = pinRead(e)) {
    const int index = programPinIndex(*m_.now.project, board_, *pin);
    if (index < 0) return;
    const std::string its = pinNameOf(*m_.now.project, board_, *pin);
    Message stands;
    if (!measures(e))
      stands = sayWhy("{} is {}", its, level(at(m_.now.levels, index) != 0));
    else if (const PinReading& r = at(m_.now.reading.pins, index); !r.volts)
      return;
    else if (measuresPercent(e) && r.supplyVolts > 0)
      stands = sayWhy("{} is at {} %", its,
                      asNumber(std::round(std::clamp(*r.volts / r.supplyVolts, 0.0, 1.0) * 100)));
    else
      stands = sayWhy("{} is at {}", its, asVolts(*r.volts));
    const Fault* fault = lookAround(*pin, measures(e), alone);
    out.emplace_back(fault ? sayWhy("{} ({})", stands, fault->title) : stands);
    return;
  }
  if (e.shape == Expr::Shape::get) {
    const std::string words = phraseOf(e);
    for (const VariableView& v : m_.now.variables)
      if (v.board == board_ && v.item == 0 && nameText(v.name) == words) {
        askWhoChanges(v.name);
        if (v.type == ValueType::text)
          out.emplace_back(sayWhy("{} is “{}”", v.name, v.text));
        else if (v.type == ValueType::truth)
          out.emplace_back(
              sayWhy("{} is {}", v.name, v.number != 0 ? sayWhy("true") : sayWhy("false")));
        else
          out.emplace_back(sayWhy("{} is {}", v.name, asNumber(v.number)));
        return;
      }
  }
  for (const auto& [key, arg] : e.args) gather(arg, alone, out);
}

// What is amiss with the circuit of a pin that is read; where that is why it reads so, and nothing
// else is asked, it is to blame.
const Fault* Reasoning::lookAround(const std::string& pin, bool measured, bool alone) const {
  const Fault* fault = faultAround(m_, board_, pin, faults_);
  if (!fault || !alone || !keepsFromLevel(m_, board_, pin, *fault, measured)) return fault;
  if (!blamed_) blamed_ = fault;
  return nullptr;
}

// A variable that a lane has not changed yet, for what starts it does not come.
void Reasoning::askWhoChanges(const std::string& variable) const {
  for (const Placed& p : steps_) {
    const auto change = changeOf(*p.step);
    if (change && change->name == variable && timesDone(*p.step) == 0) lookAtStart(*p.lane);
  }
}

void Reasoning::lookAtStart(const Lane& lane) const {
  const TriggerKind* kind = triggerKind(lane.trigger.on);
  if (kind && kind->edge != TriggerKind::Edge::none) lookAround(lane.trigger.pin, false, true);
  if (const Expr* test = startTestOf(lane.trigger))
    forEachPinRead(*test,
                   [&](const std::string& pin) { lookAround(pin, false, asksOneThing(*test)); });
}

Place Reasoning::valuesIn(const Expr& test) const {
  Place::Several all;
  gather(test, asksOneThing(test), all);
  Place::Several out;
  constexpr std::size_t most = 3;
  for (Place& one : all)
    if (out.size() < most && std::find(out.begin(), out.end(), one) == out.end())
      out.push_back(std::move(one));
  return out;
}

// A button on a pin that the test reads was pressed since it was looked at last, or was let go
// again before it was looked at.
std::optional<Message> Reasoning::pressUnseen(const Expr& test, Nanoseconds looked) const {
  const Nets nets(*m_.now.project, catalogue());
  std::optional<Message> out;
  const auto look = [&](const Expr& e, const auto& again) -> void {
    if (const std::string* pin = pinRead(e)) {
      const std::string hangs = hangsOn(*m_.now.project, nets, board_, *pin);
      for (const Event& event : m_.events) {
        if (event.at > m_.now.now) break;
        const Part* part = m_.now.project->part(event.id);
        if (!part || part->name != hangs) continue;
        if (event.what == Event::What::overlooked) {
          const auto pressed = static_cast<Nanoseconds>(event.figure * 1e9);
          out =
              sayWhy("{} was pressed at {} and let go after {}, and nothing looked at it meanwhile",
                     part->name, momentInWords(event.at - pressed), asSeconds(event.figure));
        } else if (event.what == Event::What::press) {
          out = std::nullopt;  // that one may have been seen
          if (event.at > looked)
            out = sayWhy("{} was pressed at {}, and nothing has looked at it since", part->name,
                         momentInWords(event.at));
        }
      }
    }
    for (const auto& [key, arg] : e.args) again(arg, again);
  };
  look(test, look);
  return out;
}

Message Reasoning::forkWords(const Placed::Around& fork) const {
  const Expr* test = testOf(*fork.step);
  const std::string phrase = phraseOf(*fork.step);
  if (const auto looked = test ? doneAt(*fork.step) : std::nullopt)
    if (const auto unseen = pressUnseen(*test, *looked)) return *unseen;
  const Message way = fork.branch == Runs::ifSo    ? sayWhy("“{}” takes the no-branch", phrase)
                      : fork.branch == Runs::ifNot ? sayWhy("“{}” takes the yes-branch", phrase)
                                                   : sayWhy("“{}” does not go round", phrase);
  const Expr* asked = test ? test : timesOf(*fork.step);
  const Place values = asked ? valuesIn(*asked) : Place(Place::Several{});
  if (!hasAny(values)) return way;
  return sayWhy("{}: {}", way, values);
}

// A loop that was come to, and is not gone round in: its test does not hold, or it has nothing to
// count.
bool Reasoning::passesBy(const Placed::Around& around, const Placed& wanted,
                         const Step* running) const {
  if (around.branch != Runs::again || isEndless(*around.step)) return false;
  if (timesDone(*around.step) == 0 || (running && contains(*around.step, running->id)))
    return false;
  return testOf(*around.step) ? true : timesDone(*wanted.step) == 0;
}

Message Reasoning::whyNotDone(const Placed& wanted, const Step** inTheWay) const {
  *inTheWay = wanted.behind;
  if (wanted.behind && isEndless(*wanted.behind))
    return stuckLoop(*wanted.behind, *wanted.step, true).because;
  if (wanted.behind) return sayWhy("nothing gets past “{}”", phraseOf(*wanted.behind));
  const LaneView* view = viewOf(*wanted.lane);
  const std::string sign = signOf(wanted.lane->trigger);
  if (!view) return sayWhy("its lane has not come to it");
  if (view->over) return sayWhy("its lane is over");
  if (view->step.empty()) {
    const TriggerKind* kind = triggerKind(wanted.lane->trigger.on);
    if (kind && !kind->startsAgain()) return sayWhy("its lane has not come to it yet");
    lookAtStart(*wanted.lane);
    return sayWhy("its lane waits for “{}”", sign);
  }
  const Step* running = stepOf(view->step);
  // In a loop that nothing leaves, and what is wanted is not in it.
  if (running && running->id != wanted.step->id)
    for (const Placed& p : steps_)
      if (p.lane == wanted.lane && isEndless(*p.step) && contains(*p.step, running->id) &&
          !contains(*p.step, wanted.step->id)) {
        *inTheWay = p.step;
        return stuckLoop(*p.step, *wanted.step, false).because;
      }
  for (const Placed::Around& around : wanted.around) {
    if (passesBy(around, wanted, running)) {
      *inTheWay = around.step;
      return forkWords(around);
    }
    const auto way = m_.now.forks.find(around.step->id);
    if (way != m_.now.forks.end() && way->second != (around.branch != Runs::ifNot)) {
      *inTheWay = around.step;
      return forkWords(around);
    }
  }
  const std::int64_t missed = view->missed - view->bounced;
  if (missed == 1) return sayWhy("“{}” came while its lane was still running", sign);
  if (missed > 1)
    return sayWhy("“{}” came {} times while its lane was still running", sign,
                  static_cast<int>(std::min<std::int64_t>(missed, 1'000'000)));
  if (!running || running->id == wanted.step->id) return sayWhy("its lane has not come to it yet");
  for (const Placed& p : steps_)
    if (p.lane == wanted.lane && isRepeat(*p.step) && contains(*p.step, running->id) &&
        !contains(*p.step, wanted.step->id)) {
      *inTheWay = p.step;
      return sayWhy("its lane is still in “{}”", phraseOf(*p.step));
    }
  *inTheWay = running;
  if (looksAgain(*running)) {
    const Expr* test = testOf(*running);
    const Place values = test ? valuesIn(*test) : Place(Place::Several{});
    if (hasAny(values)) return sayWhy("its lane stands at “{}”: {}", phraseOf(*running), values);
    return sayWhy("its lane stands at “{}”", phraseOf(*running));
  }
  constexpr Nanoseconds worthTelling = 10'000'000;
  if (view->waitLeft >= worthTelling)
    return sayWhy("its lane is at “{}”, {} to go", phraseOf(*running),
                  asSeconds(inSeconds(view->waitLeft)));
  return sayWhy("its lane is at “{}”", phraseOf(*running));
}

Nanoseconds Reasoning::lastEdge() const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  return signal < 0 ? -1 : m_.trace.lastEdge(signal, m_.now.now + 1);
}

// The step may have been done again and again meanwhile: from edge to edge.
Nanoseconds Reasoning::lastedFor(const Placed& gave) const {
  // What is dimmed, sounds or turns goes up and down by itself.
  const LevelsGiven gives = levelsGiven(*gave.step);
  const bool plain = flipsPin(*gave.step) || levelOf(*gave.step) || gives.high != gives.low;
  if (shareOf(*gave.step) || !plain)
    if (const Placed* last = lastDone([](const Placed&) { return true; }))
      return *doneAt(*last->step) - *doneAt(*gave.step);
  const Nanoseconds end = lastEdge();
  if (end <= *doneAt(*gave.step)) return 0;
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  return end - std::max(m_.trace.lastEdge(signal, end), m_.trace.begin());
}

std::int64_t Reasoning::edgesSince(Nanoseconds from) const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  return signal < 0 ? 0 : m_.trace.countEdges(signal, std::max(from, m_.trace.begin()), m_.now.now);
}

std::string Reasoning::levelNow() const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  if (signal < 0) return {};
  return m_.trace.valueAt(signal, m_.now.now) > 0.5F ? "high" : "low";
}

bool Reasoning::runsCode() const {
  const auto& all = m_.now.codeBoards;
  return std::find(all.begin(), all.end(), board_) != all.end();
}

// For how many percent of the time it was high, over the last twenty periods of a dimmed pin.
std::string Reasoning::shareNow() const {
  constexpr Nanoseconds periods = 20 * 1'024'000;
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  const Nanoseconds from = std::max(m_.trace.begin(), m_.now.now - periods);
  if (signal < 0 || from >= m_.now.now) return "0";
  const double share = m_.trace.integral(signal, from, m_.now.now) / inSeconds(m_.now.now - from);
  return inWords(asNumber(std::round(share * 100)));
}

std::optional<LastSet> Reasoning::lastSet() const {
  if (keeper_ || runsCode()) {  // by nobody's step: when it changed last
    const Nanoseconds edge = lastEdge();
    if (edge < 0) return std::nullopt;
    const Placed* step = lastDone([](const Placed&) { return true; });
    if (step && !runsCode() && *doneAt(*step->step) == edge)
      return LastSet{edge, step->step->id, levelNow()};
    return LastSet{edge, keeper_ && !runsCode() ? keeper_->id : std::string(), levelNow()};
  }
  const Placed* last = lastDone([](const Placed&) { return true; });
  if (!last) return std::nullopt;
  LastSet out{*doneAt(*last->step), last->step->id, {}};
  const LevelsGiven gives = levelsGiven(*last->step);
  const Expr* share = shareOf(*last->step);
  if (share && share->shape == Expr::Shape::number)
    out.level = inWords(asNumber(share->number)) + "%";
  else if (share)
    out.level = shareNow() + "%";
  else if (gives.high != gives.low)
    out.level = gives.high ? "high" : "low";
  else
    out.level = levelNow();
  // Of what goes up and down by itself no level of a moment means anything.
  for (const PinUse& use : pinUses(whole_.program)) {
    if (use.pin != pin_) continue;
    const auto among = [&](const std::vector<std::string>& ids) {
      return std::find(ids.begin(), ids.end(), last->step->id) != ids.end();
    };
    if (among(use.sounders)) out.level = "tone";
    if (among(use.turners)) out.level = "servo";
  }
  return out;
}

}  // namespace ignavo
