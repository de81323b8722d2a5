#include "explain/pin_reason.h"

#include <algorithm>
#include <cmath>

#include "explain/words.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/own_steps.h"
#include "program/steps.h"
#include "project/indexing.h"

// Of the steps that may give the level that is missing, the first that was never done, or else the
// one that was done last, is followed outwards: is its lane over, or not started; does another
// branch run, or a loop that nothing leaves; or does it only wait? The first of these that holds is
// the reason.
namespace ignavo {

namespace {

constexpr Nanoseconds unseenGap = 20'000'000;  // shorter the eye takes for no time at all

// A step with what it stands in, from outside.
struct Placed {
  const Step* step = nullptr;
  const Lane* lane = nullptr;
  struct Around {
    const Step* step;
    Runs branch;
  };
  std::vector<Around> around;
  const Step* behind = nullptr;  // nothing gets past that one: it leaves, or is never left
};

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

class Reasoning {
 public:
  Reasoning(const RunMoment& moment, std::string board, std::string pin,
            const std::vector<Fault>& faults = {})
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

  bool anySteps() const { return !steps_.empty() || keeper_; }
  const std::vector<const Placed*>& writers() const { return writers_; }
  const Lane* keeper() const { return keeper_; }
  std::string name() const { return pinNameOf(*m_.now.project, board_, pin_); }

  std::int64_t timesDone(const Step& step) const {
    const auto it = m_.now.stepCounts.find(step.id);
    return it == m_.now.stepCounts.end() ? 0 : it->second;
  }
  std::optional<Nanoseconds> doneAt(const Step& step) const {
    const auto it = m_.now.lastRuns.find(step.id);
    return it == m_.now.lastRuns.end() ? std::nullopt : std::optional(it->second);
  }
  // Of the steps of a kind the one that was done last; of two in the same turn the one further on.
  template <typename Want>
  const Placed* lastDone(Want&& want) const {
    const Placed* out = nullptr;
    Nanoseconds when = 0;
    for (const Placed* p : writers_) {
      const auto at = doneAt(*p->step);
      if (at && want(*p) && (!out || *at >= when)) out = p, when = *at;
    }
    return out;
  }

  Message level(bool high) const { return high ? sayWhy("high") : sayWhy("low"); }
  int circuitPin() const { return programPinIndex(*m_.now.project, board_, pin_); }
  std::string levelNow() const;
  std::optional<LastSet> lastSet() const;

  // Why a step is not done (again).
  Message whyNotDone(const Placed& wanted) const;
  // Values that a test asks for, as they are: "n is 3", "D2 is low"; nothing: there are none.
  Place valuesIn(const Expr& test) const;
  Message forkWords(const Placed::Around& fork) const;

  const RunMoment& m_;
  std::vector<Fault> faults_;
  std::string board_, pin_;

 private:
  const LaneView* viewOf(const Lane& lane) const {
    for (const LaneView& view : m_.now.lanes)
      if (view.id == lane.id) return &view;
    return nullptr;
  }
  const Step* stepOf(const std::string& id) const {
    for (const Placed& p : steps_)
      if (p.step->id == id) return p.step;
    return nullptr;
  }
  void gather(const Expr& e, Place::Several& out) const;
  const Fault* faultAt(const std::string& pin) const;
  std::optional<Message> pressUnseen(const Expr& test, Nanoseconds looked) const;

  Unfolded whole_;
  std::vector<Placed> steps_;
  std::vector<const Placed*> writers_;
  const Lane* keeper_ = nullptr;  // a lane without steps that keeps the pin at something
};

void Reasoning::gather(const Expr& e, Place::Several& out) const {
  if (const std::string* pin = pinRead(e)) {
    const int index = programPinIndex(*m_.now.project, board_, *pin);
    if (index < 0) return;
    const std::string its = pinNameOf(*m_.now.project, board_, *pin);
    Message stands;
    if (!measures(e))
      stands = sayWhy("{} is {}", its, level(at(m_.now.levels, index) != 0));
    else if (const auto volts = at(m_.now.reading.pins, index).volts)
      stands = sayWhy("{} is at {}", its, asVolts(*volts));
    else
      return;
    // What is amiss with what it reads is the deeper reason.
    const Fault* fault = faultAt(*pin);
    out.emplace_back(fault ? sayWhy("{} ({})", stands, fault->title) : stands);
    return;
  }
  if (e.shape == Expr::Shape::get) {
    const std::string words = phraseOf(e);
    for (const VariableView& v : m_.now.variables)
      if (v.board == board_ && v.item == 0 && nameText(v.name) == words) {
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
  for (const auto& [key, arg] : e.args) gather(arg, out);
}

// Something amiss with the circuit around a pin that is read: it is named, or what hangs on it is.
const Fault* Reasoning::faultAt(const std::string& pin) const {
  const Nets nets(*m_.now.project, catalogue());
  const std::string name = pinNameOf(*m_.now.project, board_, pin);
  const std::string hangs = hangsOn(*m_.now.project, nets, board_, pin);
  const auto among = [](const std::vector<std::string>& list, const std::string& what) {
    return std::find(list.begin(), list.end(), what) != list.end();
  };
  for (const Fault& fault : faults_) {
    if (fault.isNote) continue;
    if (among(fault.pins, name) && (fault.rule == "input-floating" || fault.rule == "input-stuck"))
      return &fault;
    if (fault.ofProgram) continue;
    if (among(fault.pins, name)) return &fault;
    for (const auto& part : *m_.now.project->parts)
      if (!hangs.empty() && part->name == hangs && among(fault.parts, part->id)) return &fault;
    // Or something in its net is loose.
    const int net = nets.of({board_, pin});
    for (const LegRef& leg : at(nets.all(), net).legs)
      if (among(fault.parts, at(*m_.now.project->parts, leg.part)->id)) return &fault;
  }
  return nullptr;
}

Place Reasoning::valuesIn(const Expr& test) const {
  Place::Several all;
  gather(test, all);
  Place::Several out;
  constexpr std::size_t most = 3;
  for (Place& one : all)
    if (out.size() < most && std::find(out.begin(), out.end(), one) == out.end())
      out.push_back(std::move(one));
  return out;
}

// A button on a pin that the test reads was pressed since it was looked at last.
std::optional<Message> Reasoning::pressUnseen(const Expr& test, Nanoseconds looked) const {
  const Nets nets(*m_.now.project, catalogue());
  std::optional<Message> out;
  const auto look = [&](const Expr& e, const auto& again) -> void {
    if (const std::string* pin = pinRead(e)) {
      const std::string hangs = hangsOn(*m_.now.project, nets, board_, *pin);
      for (const Event& event : m_.events) {
        if (event.at > m_.now.now) break;
        const Part* part = m_.now.project->part(event.id);
        if (event.what == Event::What::press && event.at > looked && part && part->name == hangs)
          out = sayWhy("{} was pressed at {}, and nothing has looked at it since", part->name,
                       momentInWords(event.at));
      }
    }
    for (const auto& [key, arg] : e.args) again(arg, again);
  };
  look(test, look);
  return out;
}

Message Reasoning::forkWords(const Placed::Around& fork) const {
  const Expr* test = forkTestOf(*fork.step);
  const std::string phrase = phraseOf(*fork.step);
  if (const auto looked = test ? doneAt(*fork.step) : std::nullopt)
    if (const auto unseen = pressUnseen(*test, *looked)) return *unseen;
  const Message way = fork.branch == Runs::ifSo    ? sayWhy("“{}” takes the no-branch", phrase)
                      : fork.branch == Runs::ifNot ? sayWhy("“{}” takes the yes-branch", phrase)
                                                   : sayWhy("“{}” does not go round", phrase);
  const Place values = test ? valuesIn(*test) : Place(Place::Several{});
  if (std::get<Place::Several>(values.what).empty()) return way;
  return sayWhy("{}: {}", way, values);
}

Message Reasoning::whyNotDone(const Placed& wanted) const {
  if (wanted.behind) return sayWhy("nothing gets past “{}”", phraseOf(*wanted.behind));
  const LaneView* view = viewOf(*wanted.lane);
  const std::string sign = signOf(wanted.lane->trigger);
  if (!view) return sayWhy("its lane has not come to it");
  if (view->over) return sayWhy("its lane is over");
  if (view->step.empty()) {
    const TriggerKind* kind = triggerKind(wanted.lane->trigger.on);
    if (kind && !kind->startsAgain()) return sayWhy("its lane has not come to it yet");
    if (const Expr* test = startTestOf(wanted.lane->trigger)) {
      const Place values = valuesIn(*test);
      if (!std::get<Place::Several>(values.what).empty())
        return sayWhy("its lane waits for “{}”: {}", sign, values);
    }
    return sayWhy("its lane waits for “{}”", sign);
  }
  const Step* running = stepOf(view->step);
  // In a loop that nothing leaves, and what is wanted is not in it.
  if (running && running->id != wanted.step->id)
    for (const Placed& p : steps_)
      if (p.lane == wanted.lane && isEndless(*p.step) && contains(*p.step, running->id) &&
          !contains(*p.step, wanted.step->id))
        return sayWhy("its lane goes round in “{}” and never leaves it", phraseOf(*p.step));
  for (const Placed::Around& around : wanted.around) {
    const auto way = m_.now.forks.find(around.step->id);
    if (way != m_.now.forks.end() && way->second != (around.branch != Runs::ifNot))
      return forkWords(around);
  }
  if (view->missed > 0)
    return sayWhy("“{}” came {} times while its lane was still running", sign,
                  static_cast<int>(std::min<std::int64_t>(view->missed, 1'000'000)));
  if (!running || running->id == wanted.step->id) return sayWhy("its lane has not come to it yet");
  for (const Placed& p : steps_)
    if (p.lane == wanted.lane && isRepeat(*p.step) && contains(*p.step, running->id) &&
        !contains(*p.step, wanted.step->id))
      return sayWhy("its lane is still in “{}”", phraseOf(*p.step));
  if (looksAgain(*running)) {
    const Expr* test = testOf(*running);
    const Place values = test ? valuesIn(*test) : Place(Place::Several{});
    if (test)
      if (const auto* all = std::get_if<Place::Several>(&values.what); all && !all->empty())
        return sayWhy("its lane stands at “{}”: {}", phraseOf(*running), values);
    return sayWhy("its lane stands at “{}”", phraseOf(*running));
  }
  constexpr Nanoseconds worthTelling = 10'000'000;
  if (view->waitLeft >= worthTelling)
    return sayWhy("its lane is at “{}”, {} to go", phraseOf(*running),
                  asSeconds(inSeconds(view->waitLeft)));
  return sayWhy("its lane is at “{}”", phraseOf(*running));
}

std::string Reasoning::levelNow() const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
  if (signal < 0) return {};
  return m_.trace.valueAt(signal, m_.now.now) > 0.5F ? "high" : "low";
}

std::optional<LastSet> Reasoning::lastSet() const {
  const Placed* last = lastDone([](const Placed&) { return true; });
  if (keeper_ || !last) {
    // Kept by a lane, or by code whose steps nobody sees: when it changed last.
    if (!keeper_ && m_.now.lastRuns.empty() && !m_.now.stepCounts.empty()) return std::nullopt;
    const int signal = m_.trace.find(Signal::What::pinLevel, board_, pin_);
    const Nanoseconds edge = signal < 0 ? -1 : m_.trace.lastEdge(signal, m_.now.now + 1);
    if (edge < 0 || (!keeper_ && writers_.empty())) return std::nullopt;
    if (!keeper_ && !m_.now.lastRuns.empty()) return std::nullopt;  // none of them was done
    return LastSet{edge, keeper_ ? keeper_->id : std::string(), levelNow()};
  }
  LastSet out{*doneAt(*last->step), last->step->id, {}};
  const LevelsGiven gives = levelsGiven(*last->step);
  const Expr* share = shareOf(*last->step);
  if (share && share->shape == Expr::Shape::number)
    out.level = inWords(asNumber(share->number)) + "%";
  else if (gives.high != gives.low)
    out.level = gives.high ? "high" : "low";
  else
    out.level = levelNow();
  return out;
}

// Of faults whose mend would set the pin so: a step that names another one.
const Fault* meantFor(const RunMoment& m, const std::string& board, const std::string& pin,
                      bool high, const std::vector<Fault>& faults) {
  const auto sets = [&](const Project& project) {
    const Program* program = project.program(board);
    bool found = false;
    if (!program) return false;
    for (const auto& lane : program->lanes) {
      const LevelsGiven kept = levelsGiven(lane->trigger);
      found = found || (lane->trigger.pin == pin && (high ? kept.high : kept.low));
      forEachStep(lane->steps, [&](const Step& s) {
        const LevelsGiven gives = levelsGiven(s);
        found = found || (pinWritten(s) == pin && (high ? gives.high : gives.low));
      });
    }
    return found;
  };
  if (sets(*m.now.project)) return nullptr;
  for (const Fault& fault : faults)
    if (fault.ofProgram && !fault.steps.empty() &&
        std::any_of(fault.mended.begin(), fault.mended.end(),
                    [&](const auto& mended) { return mended && sets(*mended); }))
      return &fault;
  return nullptr;
}

// Steps that set a pin on which nothing hangs: perhaps this one was meant.
const Step* setsNothing(const RunMoment& m, const std::string& board, std::string* pin) {
  const Program* program = m.now.project->program(board);
  if (!program) return nullptr;
  const Nets nets(*m.now.project, catalogue());
  const BoardItem* item = m.now.project->board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const Step* out = nullptr;
  for (const auto& lane : program->lanes)
    forEachStep(lane->steps, [&](const Step& s) {
      const auto written = pinWritten(s);
      if (out || !written || (kind && kind->lampPin == *written)) return;
      if (!hangsOn(*m.now.project, nets, board, *written).empty()) return;
      out = &s;
      *pin = *written;
    });
  return out;
}

void notSetAtAll(const Reasoning& r, bool high, PinReason& out) {
  const RunMoment& m = r.m_;
  const Program* program = m.now.project->program(r.board_);
  if (!program || !r.anySteps()) {
    out.words = high ? sayWhy("there is no program yet: nothing sets {} high", r.name())
                     : sayWhy("there is no program yet: nothing sets {} low", r.name());
    return;
  }
  std::string other;
  if (const Step* step = setsNothing(m, r.board_, &other)) {
    out.steps = {step->id};
    out.words = sayWhy("no step ever sets {}; “{}” sets {}, on which nothing hangs", r.name(),
                       phraseOf(*step), pinNameOf(*m.now.project, r.board_, other));
    return;
  }
  for (const PinUse& use : pinUses(*program))
    if (use.pin == r.pin_ && use.isRead()) {
      out.steps = use.reading();
      out.words = sayWhy("no step ever sets {}: it is only read", r.name());
      return;
    }
  out.words = sayWhy("no step ever sets {}", r.name());
}

}  // namespace

Message momentInWords(Nanoseconds at) {
  constexpr Nanoseconds atOnce = 1'000'000;
  if (at < atOnce) return sayWhy("power-on");
  if (at < second) return sayWhy("{}", asSeconds(inSeconds(at)));
  // To the hundredth, however late it is.
  const double hundredths = std::round(inSeconds(at) * 100) / 100;
  return sayWhy("{} s", asNumber(hundredths, 12));
}

std::string pinNameOf(const Project& project, const std::string& board, const std::string& pin) {
  return project.boards.size() > 1 ? board + "." + pin : pin;
}

std::optional<LastSet> lastSetOf(const RunMoment& m, const std::string& board,
                                 const std::string& pin) {
  return Reasoning(m, board, pin).lastSet();
}

PinReason whyNot(const RunMoment& m, const std::string& board, const std::string& pin, bool high,
                 const std::vector<Fault>& faults) {
  const Reasoning r(m, board, pin, faults);
  PinReason out;
  out.lastSet = r.lastSet();
  for (const Snapshot::HeldPin& held : m.now.held)
    if (held.board == board && held.pin == pin) {
      out.byHand = true;
      out.words = sayWhy("{} is held by hand at {} %", r.name(), asNumber(held.percent));
      return out;
    }
  const Fault* fault = meantFor(m, board, pin, high, faults);
  std::string other;
  if (fault && !(r.writers().empty() && setsNothing(m, board, &other))) {
    out.never = true;
    out.steps = fault->steps;
    out.words = sayWhy("no step ever sets {}: {}", r.name(), fault->title);
    if (!r.writers().empty())
      out.words = high ? sayWhy("no step ever sets {} high: {}", r.name(), fault->title)
                       : sayWhy("no step ever sets {} low: {}", r.name(), fault->title);
    return out;
  }
  if (const Lane* keeper = r.keeper()) {
    out.steps = {keeper->id};
    const Expr* kept = keptOf(keeper->trigger);
    const Place values = kept ? r.valuesIn(*kept) : Place(Place::Several{});
    const std::string sign = signOf(keeper->trigger);
    const auto* all = std::get_if<Place::Several>(&values.what);
    out.words = all && !all->empty() ? sayWhy("“{}” has it {}: {}", sign, r.level(!high), values)
                                     : sayWhy("“{}” has it {}", sign, r.level(!high));
    return out;
  }
  if (r.writers().empty()) {
    out.never = true;
    notSetAtAll(r, high, out);
    return out;
  }
  const auto gives = [&](const Placed& p) {
    const LevelsGiven g = levelsGiven(*p.step);
    return high ? g.high : g.low;
  };
  const Placed* undone = nullptr;  // the first that may, and was never done
  bool may = false;
  for (const Placed* p : r.writers()) {
    if (!gives(*p)) continue;
    may = true;
    if (!undone && r.timesDone(*p->step) == 0) undone = p;
  }
  const Placed* last = r.lastDone([](const Placed&) { return true; });
  const Placed* gave = r.lastDone(gives);
  if (!may) {
    out.never = true;
    const Step& only = *(last ? last : r.writers().front())->step;
    out.steps = {only.id};
    if (const Expr* share = shareOf(only); share && share->shape == Expr::Shape::number)
      out.words = sayWhy("“{}” is all that is done with {}", phraseOf(only), r.name());
    else
      out.words = high ? sayWhy("no step ever sets {} high; “{}” is all that is done with it",
                                r.name(), phraseOf(only))
                       : sayWhy("no step ever sets {} low; “{}” is all that is done with it",
                                r.name(), phraseOf(only));
    return out;
  }
  // What may give it was done, and came to something else: a level that was worked out; or it is
  // over (a tone).
  const Expr* given = last ? shareOf(*last->step) : nullptr;
  if (last && !given) given = levelOf(*last->step);
  if (last && gave == last && given) {
    out.steps = {last->step->id};
    const Place values = r.valuesIn(*given);
    const auto* all = std::get_if<Place::Several>(&values.what);
    out.words = all && !all->empty()
                    ? sayWhy("“{}” leaves {} {}: {}", phraseOf(*last->step), r.name(),
                             r.level(!high), values)
                    : sayWhy("“{}” leaves {} {}", phraseOf(*last->step), r.name(), r.level(!high));
    for (const ProgramFault& slip : m.now.faults)
      if (slip.board == board && slip.step == last->step->id)
        out.words =
            slip.what == NumberFault::outside
                ? sayWhy("“{}” leaves {} {}: it asks for an item beyond the end of its list",
                         phraseOf(*last->step), r.name(), r.level(!high))
            : slip.what == NumberFault::dividedByZero
                ? sayWhy("“{}” leaves {} {}: it divides by zero", phraseOf(*last->step), r.name(),
                         r.level(!high))
                : sayWhy("“{}” leaves {} {}: a number in it ran over its largest",
                         phraseOf(*last->step), r.name(), r.level(!high));
    return out;
  }
  if (last && gave && last != gave) {
    const Nanoseconds gap = *r.doneAt(*last->step) - *r.doneAt(*gave->step);
    if (gap < unseenGap) {
      out.steps = {last->step->id, gave->step->id};
      out.words = sayWhy("“{}” takes back at once what “{}” did", phraseOf(*last->step),
                         phraseOf(*gave->step));
      return out;
    }
  }
  const Placed& wanted = gave ? *gave : *undone;
  const Message why = r.whyNotDone(wanted);
  if (last) {
    out.steps = {last->step->id};
    if (last != &wanted) out.steps.push_back(wanted.step->id);
    out.words = sayWhy("“{}” was done at {}; {}", phraseOf(*last->step),
                       momentInWords(*r.doneAt(*last->step)), why);
  } else {
    out.steps = {wanted.step->id};
    out.words = sayWhy("“{}” has not been done: {}", phraseOf(*wanted.step), why);
  }
  return out;
}

PinReason whySteady(const RunMoment& m, const std::string& board, const std::string& pin) {
  const Reasoning r(m, board, pin);
  PinReason out;
  out.lastSet = r.lastSet();
  for (const Placed* p : r.writers()) out.steps.push_back(p->step->id);
  if (out.lastSet && !out.lastSet->step.empty()) out.steps = {out.lastSet->step};
  const bool high = r.levelNow() == "high";
  out.words =
      high ? sayWhy("{} stays high, and this is heard only while its level changes", r.name())
           : sayWhy("{} stays low, and this is heard only while its level changes", r.name());
  return out;
}

}  // namespace ignavo
