#include "run/find_when.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "program/expressions.h"
#include "program/facts.h"
#include "program/signals.h"

// A condition over pins changes only where one of them has an edge, or so long after one as it asks
// something to be held: only these moments are looked at, in order.
namespace ignavo {

namespace {

constexpr Say findSay("find");
constexpr std::int64_t mostLooks = 2'000'000;
// The signal operators that look at nothing but how something stood.
constexpr const char *rise = "rise", *fall = "fall", *held = "held";

using Is = OperatorKind::Is;
Is isOf(const Expr& e) {
  const OperatorKind* kind = e.shape == Expr::Shape::op ? operatorKind(e.text) : nullptr;
  return kind ? kind->is : Is::other;
}

// How long something is asked to last; null: it is no matter of time.
const Expr* secondsOf(const Expr& e) {
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  if (kind)
    for (const SignalKind::Operand& operand : kind->operands)
      if (operand.is == SignalKind::Operand::Is::seconds) return e.arg(operand.key);
  return nullptr;
}

class Asked {
 public:
  Asked(const Trace& trace, std::string board) : trace_(trace), board_(std::move(board)) {}

  // Nothing: it can be asked. Notes the pins, and how long what is held is held.
  std::optional<Message> take(const Expr& e) {
    if (const std::string* pin = pinRead(e); pin && !measures(e)) {
      const int signal = trace_.find(Signal::What::pinLevel, board_, *pin);
      if (signal < 0) return findSay("{} was not recorded: nothing uses it", *pin);
      signals_[*pin] = signal;
      return std::nullopt;
    }
    if (e.isLiteral()) return std::nullopt;
    const Is is = isOf(e);
    const bool known =
        (e.shape == Expr::Shape::op && is != Is::other && is != Is::quotient) ||
        (e.shape == Expr::Shape::sig && (e.text == held || e.text == rise || e.text == fall));
    if (!known) return findSay("only levels of pins can be looked for, and how long they stay");
    if (e.text == held) {
      const Expr* seconds = secondsOf(e);
      if (!seconds || seconds->shape != Expr::Shape::number || !(seconds->number >= 0))
        return findSay("for how long must be a number");
      delays_.push_back(lengthOf(*seconds));
    }
    for (const auto& [key, operand] : e.args)
      if (&operand != secondsOf(e))
        if (auto why = take(operand)) return why;
    return std::nullopt;
  }

  bool truth(const Expr& e, Nanoseconds at) const {
    if (const std::string* pin = pinRead(e)) return trace_.valueAt(signals_.at(*pin), at) > 0;
    if (e.isLiteral()) return e.shape == Expr::Shape::number ? e.number != 0 : e.truth;
    const auto a = [&](Nanoseconds t) { return truth(*operand(e, 0), t); };
    if (e.text == rise) return a(at) && !a(at - 1);
    if (e.text == fall) return !a(at) && a(at - 1);
    if (e.text == held) return heldFor(*operand(e, 0), lengthOf(*secondsOf(e)), at);
    if (isOf(e) == Is::negation) return !a(at);
    const bool x = a(at), y = truth(*operand(e, 1), at);
    switch (isOf(e)) {
      case Is::conjunction:
        return x && y;
      case Is::disjunction:
        return x || y;
      case Is::equality:
        return x == y;
      default:
        return x != y;
    }
  }

  // The next moment after which it may be otherwise; -1: none.
  Nanoseconds next(Nanoseconds after) const {
    Nanoseconds soonest = -1;
    const auto may = [&](Nanoseconds at) {
      if (at > after && (soonest < 0 || at < soonest)) soonest = at;
    };
    for (const auto& [pin, signal] : signals_) {
      may(trace_.nextEdge(signal, after));
      for (const Nanoseconds delay : delays_)
        if (const Nanoseconds edge = trace_.nextEdge(signal, after - delay); edge >= 0)
          may(edge + delay);
    }
    for (const Nanoseconds delay : delays_) may(trace_.begin() + delay);
    return soonest;
  }

 private:
  static Nanoseconds lengthOf(const Expr& seconds) { return std::llround(seconds.number * 1e9); }
  // In whatever order a kind calls them.
  static const Expr* operand(const Expr& e, std::size_t index) {
    std::size_t n = 0;
    for (const auto& [key, value] : e.args)
      if (&value != secondsOf(e) && n++ == index) return &value;
    static const Expr nothing = Expr::of(false);
    return &nothing;
  }
  bool heldFor(const Expr& e, Nanoseconds length, Nanoseconds at) const {
    if (!truth(e, at) || at - length < trace_.begin()) return false;
    // Back over its edges: was it so all the time?
    for (Nanoseconds t = at + 1; t > at - length;) {
      Nanoseconds before = -1;
      for (const auto& [pin, signal] : signals_)
        before = std::max(before, trace_.lastEdge(signal, t));
      if (before <= at - length) break;
      if (!truth(e, before - 1)) return false;
      t = before;
    }
    return truth(e, at - length);
  }

  const Trace& trace_;
  std::string board_;
  std::map<std::string, int> signals_;
  std::vector<Nanoseconds> delays_;
};

}  // namespace

FoundWhen findWhen(const Trace& trace, const std::string& board, const Expr& test,
                   Nanoseconds after, const std::function<bool()>& cancelled) {
  Asked asked(trace, board);
  if (auto why = asked.take(test)) return {std::nullopt, why};
  if (after < trace.begin()) {
    after = trace.begin();
    if (asked.truth(test, after)) return {after, std::nullopt};
  }
  bool was = asked.truth(test, after);
  Nanoseconds at = after;
  for (std::int64_t looks = 0; looks < mostLooks; ++looks) {
    at = asked.next(at);
    if (at < 0 || at > trace.end()) return {};
    if (looks % 1024 == 0 && cancelled && cancelled()) return {std::nullopt, findSay("given up")};
    const bool is = asked.truth(test, at);
    if (is && !was) return {at, std::nullopt};
    // What lasts a moment only (a rise) is over by the next one.
    was = is && asked.truth(test, at + 1);
  }
  return {std::nullopt, findSay("there are too many edges to look through; begin later")};
}

}  // namespace ignavo
