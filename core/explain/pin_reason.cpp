#include "explain/pin_reason.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "explain/never.h"
#include "explain/reach.h"
#include "explain/reasoning.h"
#include "parts/catalogue.h"
#include "project/indexing.h"

// Of the steps that may give the level that is missing, the first that was never done, or else the
// one that was done last, is followed outwards: is its lane over, or not started; does another
// branch run, or a loop that nothing leaves; or does it only wait? The first of these that holds is
// the reason.
namespace ignavo {

namespace {

constexpr Nanoseconds unseenGap = 20'000'000;  // shorter the eye takes for no time at all

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
struct SetsNothing {
  const Step* step = nullptr;
  Message words;
};
SetsNothing setsNothing(const RunMoment& m, const std::string& board) {
  const Project& project = *m.now.project;
  const Program* program = project.program(board);
  SetsNothing out;
  if (!program) return out;
  const Nets nets(project, catalogue());
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  for (const auto& lane : program->lanes)
    forEachStep(lane->steps, [&](const Step& s) {
      const auto written = pinWritten(s);
      if (out.step || !written || (kind && kind->lampPin == *written)) return;
      if (!hangsOn(project, nets, board, *written).empty()) return;
      out.step = &s;
      out.words = onNothing({phraseOf(s), pinNameOf(project, board, *written), true,
                             isWired(nets, {board, *written})});
    });
  return out;
}

// A step that sets it stands in an own step that no lane runs.
bool isNeverRun(const Program& program, const std::string& pin, PinReason& out) {
  for (const auto& lane : program.lanes) {
    if (!isOwn(*lane)) continue;
    const Step* sets = nullptr;
    forEachStep(lane->steps, [&](const Step& s) {
      if (!sets && pinWritten(s) == pin) sets = &s;
    });
    if (!sets) continue;
    out.steps = {sets->id};
    out.words = sayWhy("“{}” stands in “{}”, which no lane runs", phraseOf(*sets), ownName(*lane));
    return true;
  }
  return false;
}

// Nothing in the program sets it.
void notSetAtAll(const Reasoning& r, bool high, PinReason& out) {
  const RunMoment& m = r.m_;
  const Program* program = m.now.project->program(r.board_);
  out.never = true;
  if (!program || !r.anySteps()) {
    out.words = high ? sayWhy("there is no program yet: nothing sets {} high", r.name())
                     : sayWhy("there is no program yet: nothing sets {} low", r.name());
    return;
  }
  if (isNeverRun(*program, r.pin_, out)) return;
  if (const SetsNothing other = setsNothing(m, r.board_); other.step) {
    out.steps = {other.step->id};
    out.words = sayWhy("no step ever sets {}; {}", r.name(), other.words);
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

// A step that names another pin was meant for this one, as the mend of a fault has it.
bool isMeantElsewhere(const Reasoning& r, bool high, PinReason& out) {
  const Fault* fault = meantFor(r.m_, r.board_, r.pin_, high, r.faults_);
  if (!fault || (r.writers().empty() && setsNothing(r.m_, r.board_).step)) return false;
  out.never = true;
  out.steps = fault->steps;
  out.words = r.writers().empty() ? sayWhy("no step ever sets {}: {}", r.name(), fault->title)
              : high              ? sayWhy("no step ever sets {} high: {}", r.name(), fault->title)
                                  : sayWhy("no step ever sets {} low: {}", r.name(), fault->title);
  return true;
}

// A lane without steps has it so.
void keptSo(const Reasoning& r, const Lane& keeper, bool high, PinReason& out) {
  out.steps = {keeper.id};
  const Expr* kept = keptOf(keeper.trigger);
  const Place values = kept ? r.valuesIn(*kept) : Place(Place::Several{});
  const std::string sign = signOf(keeper.trigger);
  out.words = hasAny(values) ? sayWhy("“{}” has it {}: {}", sign, r.level(!high), values)
                             : sayWhy("“{}” has it {}", sign, r.level(!high));
  if (const Placed* gave = r.lastGiving(high)) {
    out.steps.push_back(gave->step->id);
    out.words = sayWhy("{}; it takes back what “{}” does", out.words, phraseOf(*gave->step));
  }
}

// What may give it was done, and what it worked out came to something else.
void workedOutOtherwise(const Reasoning& r, const Step& step, const Expr& given, bool high,
                        PinReason& out) {
  out.steps = {step.id};
  const std::string phrase = phraseOf(step);
  const Message level = r.level(!high);
  const Place values = r.valuesIn(given);
  out.words = hasAny(values) ? sayWhy("“{}” leaves {} {}: {}", phrase, r.name(), level, values)
                             : sayWhy("“{}” leaves {} {}", phrase, r.name(), level);
  // For a part of the time it is so, and that is too little to be noticed.
  const std::string share = shareOf(step) ? r.shareNow() : std::string();
  if (!share.empty() && share != "0" && share != "100")
    out.words = hasAny(values)
                    ? sayWhy("“{}” has {} high for only {} % of the time: {}", phrase, r.name(),
                             share, values)
                    : sayWhy("“{}” has {} high for only {} % of the time", phrase, r.name(), share);
  // It asks the pin for more than that can do.
  for (const Fault& fault : r.faults_)
    if (fault.ofProgram && !fault.isNote && !fault.steps.empty() &&
        fault.steps.front() == step.id &&
        std::find(fault.pins.begin(), fault.pins.end(), r.name()) != fault.pins.end())
      out.words = sayWhy("“{}” leaves {} {}: {}", phrase, r.name(), level, fault.title);
  for (const ProgramFault& slip : r.m_.now.faults)
    if (slip.board == r.board_ && slip.step == step.id)
      out.words = slip.what == NumberFault::outside
                      ? sayWhy("“{}” leaves {} {}: it asks for an item beyond the end of its list",
                               phrase, r.name(), level)
                  : slip.what == NumberFault::dividedByZero
                      ? sayWhy("“{}” leaves {} {}: it divides by zero", phrase, r.name(), level)
                      : sayWhy("“{}” leaves {} {}: a number in it ran over its largest", phrase,
                               r.name(), level);
}

// The chip's own code has it so: of that only its pins are known.
void codeHasIt(const Reasoning& r, bool high, PinReason& out) {
  for (const Placed* p : r.writers())
    if (const LevelsGiven gives = levelsGiven(*p->step); high ? gives.low : gives.high)
      out.steps.push_back(p->step->id);
  out.words = out.lastSet ? sayWhy("the chip’s own code set {} {} at {}", r.name(), r.level(!high),
                                   momentInWords(out.lastSet->at))
                          : sayWhy("the chip’s own code has {} {}", r.name(), r.level(!high));
}

// Another lane has set it otherwise since.
void takenBack(const Reasoning& r, const Placed& last, const Placed& gave, PinReason& out) {
  out.steps = {last.step->id, gave.step->id};
  out.words = sayWhy("“{}” in “{}” took back at {} what “{}” did at {}", phraseOf(*last.step),
                     signOf(last.lane->trigger), momentInWords(r.takenBackAt(gave)),
                     phraseOf(*gave.step), momentInWords(*r.doneAt(*gave.step)));
}

// What goes the other way each time was done again at once, for contacts bounce.
bool isBouncedBack(const Reasoning& r, const Step& step, PinReason& out) {
  // Contacts bounce for 3 ms, and are looked at in turns.
  constexpr Nanoseconds longest = 5'000'000;
  const Nanoseconds edge = r.lastEdge();
  if (!flipsPin(step) || edge < 0 || r.edgesSince(edge - longest) < 2) return false;
  for (const Event& event : r.m_.events) {
    const Part* part = r.m_.now.project->part(event.id);
    if (event.what != Event::What::bounced || !part || event.at > edge || event.at < edge - longest)
      continue;
    out.steps = {step.id};
    out.words = sayWhy("“{}” was done at {} and at once again: the contacts of {} bounce",
                       phraseOf(step), momentInWords(edge), part->name);
    return true;
  }
  return false;
}

// Its turn has not come, or not come again.
void notDone(const Reasoning& r, const Placed& wanted, const Placed* last, PinReason& out) {
  const Step* inTheWay = nullptr;
  const Message why = r.whyNotDone(wanted, &inTheWay);
  if (last) {
    out.steps = {last->step->id};
    out.words = sayWhy("“{}” was done at {}; {}", phraseOf(*last->step),
                       momentInWords(*r.doneAt(*last->step)), why);
  } else {
    out.words = sayWhy("“{}” has not been done: {}", phraseOf(*wanted.step), why);
  }
  for (const Step* more : {wanted.step, inTheWay})
    if (more && std::find(out.steps.begin(), out.steps.end(), more->id) == out.steps.end())
      out.steps.push_back(more->id);
}

PinReason reasonFor(const Reasoning& r, bool high) {
  const RunMoment& m = r.m_;
  const std::string &board = r.board_, &pin = r.pin_;
  PinReason out;
  out.lastSet = r.lastSet();
  for (const Snapshot::HeldPin& held : m.now.held)
    if (held.board == board && held.pin == pin) {
      out.byHand = true;
      out.words =
          sayWhy("{} is held by hand at {} %", r.name(), asNumber(std::round(held.percent)));
      return out;
    }
  if (r.runsCode()) return codeHasIt(r, high, out), out;
  if (isMeantElsewhere(r, high, out)) return out;
  if (const Lane* keeper = r.keeper()) return keptSo(r, *keeper, high, out), out;
  if (r.writers().empty()) return notSetAtAll(r, high, out), out;
  const auto gives = [&](const Placed& p) {
    const LevelsGiven g = levelsGiven(*p.step);
    return high ? g.high : g.low;
  };
  const Placed* first = nullptr;  // that may give it; one that was never done, if there is one
  for (const Placed* p : r.writers())
    if (gives(*p) && (!first || (r.timesDone(*first->step) > 0 && r.timesDone(*p->step) == 0)))
      first = p;
  const Placed* last = r.lastDone([](const Placed&) { return true; });
  const Placed* gave = r.lastGiving(high);
  if (!first) {
    const auto set = neverSet(r.program(), pin, r.name(), high);
    assert(set);
    out.never = true;
    out.steps = {set->step};
    out.words = set->words;
    return out;
  }
  const Expr* given = last ? shareOf(*last->step) : nullptr;
  if (last && !given) given = levelOf(*last->step);
  if (last && gave == last && given)
    return workedOutOtherwise(r, *last->step, *given, high, out), out;
  if (last && gave && last != gave && r.lastedFor(*gave) < unseenGap) {
    out.steps = {last->step->id, gave->step->id};
    out.words = sayWhy("“{}” takes back at once what “{}” did", phraseOf(*last->step),
                       phraseOf(*gave->step));
    return out;
  }
  if (last && last == gave && isBouncedBack(r, *last->step, out)) return out;
  if (last && gave && last->lane != gave->lane) return takenBack(r, *last, *gave, out), out;
  notDone(r, gave ? *gave : *first, last, out);
  return out;
}

}  // namespace

std::optional<LastSet> lastSetOf(const RunMoment& m, const std::string& board,
                                 const std::string& pin) {
  return Reasoning(m, board, pin).lastSet();
}

PinReason whyNot(const RunMoment& m, const std::string& board, const std::string& pin, bool high,
                 const std::vector<Fault>& faults) {
  const Reasoning r(m, board, pin, faults);
  PinReason out = reasonFor(r, high);
  if (const Fault* fault = r.blamed()) out.circuit = *fault;
  return out;
}

PinReason whatDrives(const RunMoment& m, const std::string& board, const std::string& pin,
                     const OutputLook& look) {
  const Project& project = *m.now.project;
  const std::string name = pinNameOf(project, board, pin);
  PinReason out;
  out.lastSet = lastSetOf(m, board, pin);
  for (const Snapshot::HeldPin& held : m.now.held)
    if (held.board == board && held.pin == pin) {
      out.words = sayWhy("{} is held by hand at {} %", name, asNumber(std::round(held.percent)));
      return out;
    }
  if (!out.lastSet) {
    out.words = sayWhy("{} stands so since the power came on", name);
    return out;
  }
  const LastSet& last = *out.lastSet;
  if (!last.step.empty()) out.steps = {last.step};
  const Message at = momentInWords(last.at);
  if (look.looks == "too-fast")
    out.words = sayWhy("{} changes every {}: too fast to see", name,
                       asSeconds(inSeconds(look.lamp.changesEvery)));
  else if (const Step* step = project.step(last.step))
    out.words = look.looks == "blinking" ? sayWhy("“{}” was done last, at {}", phraseOf(*step), at)
                                         : sayWhy("“{}” was done at {}", phraseOf(*step), at);
  else if (const Lane* lane = project.lane(last.step))
    out.words = sayWhy("“{}” has it so since {}", signOf(lane->trigger), at);
  else
    out.words = sayWhy("{} is so since {}", name, at);
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
