#include "run/find_when.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "parts/kinds.h"
#include "program/expressions.h"
#include "program/facts.h"
#include "program/signals.h"
#include "run/lamp_light.h"

// A condition over pins, lamps and variables changes only where one of them does, or so long after
// as it asks something to be held: only these moments are looked at, in order. Of a lamp these are
// worked out beforehand from the edges of its current: it is lit as long as the eye sees it so.
namespace ignavo {

namespace {

constexpr Say findSay("find");
constexpr std::int64_t mostLooks = 2'000'000;
Message givenUp() { return findSay("given up"); }
// The signal operators that look at nothing but how something stood.
constexpr const char *rise = "rise", *fall = "fall", *held = "held";

const OperatorKind* kindOf(const Expr& e) {
  return e.shape == Expr::Shape::op ? operatorKind(e.text) : nullptr;
}

// The variable that it asks for, if it does.
const std::string* variableRead(const Expr& e) {
  const GetterKind* getter = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  const Expr* name = getter && getter->code == OpCode::load ? e.arg(variableKey) : nullptr;
  return name ? &name->text : nullptr;
}

// How long something is asked to last; null: it is no matter of time.
const Expr* secondsOf(const Expr& e) {
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  if (kind)
    for (const SignalKind::Operand& operand : kind->operands)
      if (operand.is == SignalKind::Operand::Is::seconds) return e.arg(operand.key);
  return nullptr;
}

using Cancelled = std::function<bool()>;
constexpr std::int64_t looksBetween = 1024;  // asked whether it is given up

// When a lamp becomes lit and dark, in turns. What goes off for less than the eye takes for one
// moment stays lit; flashes that together give too little light are none. Nothing: given up.
std::optional<std::vector<Nanoseconds>> turnsOfLamp(const Trace& trace, int signal,
                                                    const Cancelled& cancelled) {
  std::vector<Nanoseconds> out;
  std::int64_t looks = 0;
  bool givenUp = false;
  const auto shines = [](double amps) { return lightOf(amps) > litLight; };
  Nanoseconds on = shines(trace.valueAt(signal, trace.begin())) ? trace.begin() : -1, off = -1;
  const auto close = [&] {
    if (on >= 0 && off >= 0 && lightAt(trace, signal, off) > litLight) {
      out.push_back(on);
      out.push_back(std::min(off + lightWindow, trace.end()));
    }
    on = off = -1;
  };
  trace.forEachEdge(signal, trace.begin(), trace.end(), [&](const Edge& e) {
    if (!shines(e.value)) {
      if (on >= 0 && off < 0) off = e.at;
    } else if (on < 0) {
      on = e.at;
    } else if (off >= 0) {
      if (e.at - off >= lightWindow) {
        close();
        on = e.at;
      }
      off = -1;
    }
    givenUp = ++looks % looksBetween == 0 && cancelled && cancelled();
    return !givenUp;
  });
  if (givenUp) return std::nullopt;
  if (on >= 0 && off < 0)
    out.push_back(on);  // to the end
  else
    close();
  return out;
}

class Asked {
 public:
  Asked(const Trace& trace, std::string board, const Cancelled& cancelled)
      : trace_(trace), board_(std::move(board)), cancelled_(cancelled) {}

  // Nothing: it can be asked. Notes what it looks at, and how long what is held is held.
  std::optional<Message> take(const Expr& e) {
    if (const std::string* pin = pinRead(e); pin && !measures(e)) {
      if (const int amps = trace_.find(Signal::What::partAmps, *pin, {}); amps >= 0) {
        auto turns = turnsOfLamp(trace_, amps, cancelled_);
        if (!turns) return givenUp();
        lamps_[*pin] = std::move(*turns);
        return std::nullopt;
      }
      const int signal = trace_.find(Signal::What::pinLevel, board_, *pin);
      if (signal < 0) return findSay("{} was not recorded: nothing uses it", *pin);
      pins_[*pin] = signal;
      return std::nullopt;
    }
    if (const std::string* name = variableRead(e)) {
      const Signal wanted{Signal::What::variable, board_, *name};
      const int signal = trace_.find(wanted.what, wanted.owner, wanted.name);
      if (signal < 0) missing.push_back(wanted);
      variables_[*name] = signal;
      return std::nullopt;
    }
    if (e.isLiteral()) return std::nullopt;
    const bool known = kindOf(e) || (e.shape == Expr::Shape::sig &&
                                     (e.text == held || e.text == rise || e.text == fall));
    if (!known)
      return findSay(
          "only levels of pins, lamps and variables can be looked for, and how long they stay");
    if (e.text == held) {
      const Expr* seconds = secondsOf(e);
      if (!seconds || seconds->shape != Expr::Shape::number || !(seconds->number >= 0))
        return findSay("for how long must be a number");
      delays_.push_back(lengthOf(*seconds));
    }
    for (const Expr* inner : e.shape == Expr::Shape::op ? operandsOf(e) : sensed(e))
      if (inner)
        if (auto why = take(*inner)) return why;
    return std::nullopt;
  }
  std::vector<Signal> missing;

  bool truth(const Expr& e, Nanoseconds at) const { return value(e, at) != 0; }

  double value(const Expr& e, Nanoseconds at) const {
    if (const std::string* pin = pinRead(e)) {
      const auto lamp = lamps_.find(*pin);
      if (lamp != lamps_.end()) return isLit(lamp->second, at) ? 1 : 0;
      return trace_.valueAt(pins_.at(*pin), at) > 0 ? 1 : 0;
    }
    if (const std::string* name = variableRead(e)) return trace_.valueAt(variables_.at(*name), at);
    if (e.isLiteral()) return e.shape == Expr::Shape::number ? e.number : e.truth ? 1 : 0;
    if (const OperatorKind* kind = kindOf(e)) {
      const std::vector<const Expr*> operands = operandsOf(e);
      std::vector<double> values;
      for (const Expr* operand : operands) values.push_back(operand ? value(*operand, at) : 0);
      return kind->calculated(values);
    }
    const Expr& of = *sensed(e).front();
    if (e.text == rise) return truth(of, at) && !truth(of, at - 1) ? 1 : 0;
    if (e.text == fall) return !truth(of, at) && truth(of, at - 1) ? 1 : 0;
    return heldFor(of, lengthOf(*secondsOf(e)), at) ? 1 : 0;
  }

  // The next moment after which it may be otherwise; -1: none.
  Nanoseconds next(Nanoseconds after) const {
    Nanoseconds soonest = -1;
    const auto may = [&](Nanoseconds at) {
      if (at > after && (soonest < 0 || at < soonest)) soonest = at;
    };
    for (const auto* all : {&pins_, &variables_})
      for (const auto& [name, signal] : *all) {
        may(trace_.nextEdge(signal, after));
        for (const Nanoseconds delay : delays_)
          if (const Nanoseconds edge = trace_.nextEdge(signal, after - delay); edge >= 0)
            may(edge + delay);
      }
    for (const auto& [name, turns] : lamps_) {
      const auto nextTurn = [&](Nanoseconds from) {
        const auto it = std::upper_bound(turns.begin(), turns.end(), from);
        return it == turns.end() ? Nanoseconds{-1} : *it;
      };
      may(nextTurn(after));
      for (const Nanoseconds delay : delays_)
        if (const Nanoseconds turn = nextTurn(after - delay); turn >= 0) may(turn + delay);
    }
    for (const Nanoseconds delay : delays_) may(trace_.begin() + delay);
    return soonest;
  }

 private:
  static bool isLit(const std::vector<Nanoseconds>& turns, Nanoseconds at) {
    return (std::upper_bound(turns.begin(), turns.end(), at) - turns.begin()) % 2 != 0;
  }
  static Nanoseconds lengthOf(const Expr& seconds) { return std::llround(seconds.number * 1e9); }
  // What a signal operator looks at.
  static std::vector<const Expr*> sensed(const Expr& e) {
    static const Expr nothing = Expr::of(false);
    std::vector<const Expr*> out;
    for (const auto& [key, value] : e.args)
      if (&value != secondsOf(e)) out.push_back(&value);
    if (out.empty()) out.push_back(&nothing);
    return out;
  }
  bool heldFor(const Expr& e, Nanoseconds length, Nanoseconds at) const {
    if (!truth(e, at) || at - length < trace_.begin()) return false;
    // Back over its edges: was it so all the time?
    for (Nanoseconds t = at + 1; t > at - length;) {
      Nanoseconds before = -1;
      for (const auto* all : {&pins_, &variables_})
        for (const auto& [name, signal] : *all)
          before = std::max(before, trace_.lastEdge(signal, t));
      for (const auto& [name, turns] : lamps_)
        if (const auto it = std::lower_bound(turns.begin(), turns.end(), t); it != turns.begin())
          before = std::max(before, *std::prev(it));
      if (before <= at - length) break;
      if (!truth(e, before - 1)) return false;
      t = before;
    }
    return truth(e, at - length);
  }

  const Trace& trace_;
  std::string board_;
  const Cancelled& cancelled_;
  std::map<std::string, int> pins_, variables_;            // their signals
  std::map<std::string, std::vector<Nanoseconds>> lamps_;  // by part: when each becomes lit, dark
  std::vector<Nanoseconds> delays_;
};

}  // namespace

FoundWhen findWhen(const Trace& trace, const std::string& board, const Expr& test,
                   Nanoseconds after, const Cancelled& cancelled) {
  Asked asked(trace, board, cancelled);
  if (auto why = asked.take(test)) return {std::nullopt, why, {}};
  if (!asked.missing.empty())
    return {std::nullopt, findSay("“{}” was not recorded", asked.missing.front().name),
            asked.missing};
  if (after < trace.begin()) {
    after = trace.begin();
    if (asked.truth(test, after)) return {after, std::nullopt, {}};
  }
  bool was = asked.truth(test, after);
  Nanoseconds at = after;
  for (std::int64_t looks = 0; looks < mostLooks; ++looks) {
    at = asked.next(at);
    if (at < 0 || at > trace.end()) return {};
    if (looks % looksBetween == 0 && cancelled && cancelled()) return {std::nullopt, givenUp(), {}};
    const bool is = asked.truth(test, at);
    if (is && !was) return {at, std::nullopt, {}};
    // What lasts a moment only (a rise) is over by the next one.
    was = is && asked.truth(test, at + 1);
  }
  return {std::nullopt, findSay("there are too many edges to look through; begin later"), {}};
}

}  // namespace ignavo
