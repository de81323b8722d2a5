#include "program/pace.h"

#include <algorithm>
#include <limits>
#include <map>
#include <optional>
#include <queue>

namespace ignavo {

namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();

class Flow {
 public:
  Flow(const CompiledProgram& program, const CompiledLane& lane, double unknownWait)
      : code_(lane.code), pace_(paceOf(program)), unknown_(unknownWait) {}

  int size() const { return static_cast<int>(code_.size()); }
  const Instruction& at(int i) const { return code_[static_cast<std::size_t>(i)]; }
  double seconds(int i) const { return secondsOf(code_, i, pace_).value_or(unknown_); }
  Successors after(int i) const { return successorsOf(code_, i); }
  // The level that a setPin gives; nothing when it is not a plain one.
  std::optional<bool> level(int i) const {
    const LevelAfter after = levelAfter(code_, i);
    if (after == LevelAfter::low || after == LevelAfter::high) return after == LevelAfter::high;
    return std::nullopt;
  }

 private:
  const std::vector<Instruction>& code_;
  ProgramPace pace_;
  double unknown_;
};

// The shortest time from one set of instructions to another (Dijkstra).
double shortest(const Flow& flow, const std::vector<int>& from, const std::vector<int>& to) {
  std::vector<std::uint8_t> goal(static_cast<std::size_t>(flow.size()), 0);
  for (const int i : to) goal[static_cast<std::size_t>(i)] = 1;
  std::vector<double> best(static_cast<std::size_t>(flow.size()), infinity);
  using Open = std::pair<double, int>;
  std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
  const auto reach = [&](int i, double t) {
    if (t >= best[static_cast<std::size_t>(i)]) return;
    best[static_cast<std::size_t>(i)] = t;
    open.push({t, i});
  };
  for (int start : from)
    for (int next : flow.after(start)) reach(next, 0);
  while (!open.empty()) {
    const auto [t, i] = open.top();
    open.pop();
    if (t > best[static_cast<std::size_t>(i)]) continue;
    if (goal[static_cast<std::size_t>(i)]) return t;
    for (int next : flow.after(i)) reach(next, t + flow.seconds(i));
  }
  return infinity;
}

// The longest time until the pin gets the other level; infinity when some path never
// gives it, or only after `most`. Without a level: the pin was flipped, and only a
// further flip is sure to give the other one.
class Longest {
 public:
  Longest(const Flow& flow, int pin, std::optional<bool> level, double most)
      : flow_(flow),
        pin_(pin),
        level_(level),
        most_(most),
        known_(static_cast<std::size_t>(flow.size()), -1),
        open_(static_cast<std::size_t>(flow.size()), 0) {}

  // Straight stretches are walked, so that only forks nest. What is found holds for each place
  // of the stretch, less what lies before it; but for where it ran into what is still open.
  double from(int first) {
    struct Walked {
      int at;
      double before;
    };
    std::vector<Walked> walked;
    double passed = 0, rest = 0;
    bool circular = false;
    for (int i = first;;) {
      const auto k = static_cast<std::size_t>(i);
      const Instruction& in = flow_.at(i);
      if (open_[k] || in.code == OpCode::end || in.code == OpCode::idle) {
        circular = open_[k] != 0;
        rest = infinity;  // round in a circle, or for ever, without a change
        break;
      }
      if (known_[k] >= 0) {
        rest = known_[k];
        break;
      }
      const double before = passed;
      passed += flow_.seconds(i);
      if (writesPin(in.code) && in.arg == pin_) {
        if (in.code == OpCode::flipPin) break;
        if (flow_.level(i) == !level_.value_or(true) && level_) break;
        if (factsOf(in.code).wavers || !level_) {
          rest = infinity;  // on and off from here on, or perhaps the same level
          break;
        }
      }
      open_[k] = 1;
      walked.push_back({i, before});
      const Successors next = flow_.after(i);
      if (next.count == 1) {
        i = *next.begin();
        continue;
      }
      for (int fork : next) rest = std::max(rest, from(fork));
      break;
    }
    const double total = passed + rest;
    for (const Walked& w : walked) {
      open_[static_cast<std::size_t>(w.at)] = 0;
      if (!circular && rest < infinity) keep(w.at, total - w.before);
    }
    return keep(first, total);
  }

 private:
  const Flow& flow_;
  int pin_;
  std::optional<bool> level_;
  double keep(int at, double seconds) {
    return known_[static_cast<std::size_t>(at)] = seconds >= most_ ? infinity : seconds;
  }

  double most_;
  std::vector<double> known_;
  std::vector<std::uint8_t> open_;
};

}  // namespace

namespace {
// Of what goes on and off without the program; infinity where it does not.
double waveringPeriod(const Instruction& i) {
  if (!factsOf(i.code).wavers) return infinity;
  if (i.code == OpCode::setLevel) return dimPeriodSeconds;
  // What is worked out is taken as its default, in the middle of what is usual.
  constexpr double usualHertz = 440, pulsesPerSecond = 50;
  if (i.code == OpCode::turnServo) return 1 / pulsesPerSecond;
  return 1 / (i.plain && i.number > 0 ? i.number : usualHertz);
}

bool keepsPin(const CompiledProgram& program, int pin) {
  return std::any_of(program.signals.begin(), program.signals.end(), [&](const auto& signal) {
    return std::any_of(signal.code.begin(), signal.code.end(),
                       [&](const Instruction& i) { return writesPin(i.code) && i.arg == pin; });
  });
}
}  // namespace

double shortestPeriodSeconds(const CompiledProgram& program, const std::string& pin) {
  const auto it = std::find(program.pins.begin(), program.pins.end(), pin);
  if (it == program.pins.end()) return infinity;
  const int index = static_cast<int>(it - program.pins.begin());
  double best = infinity;
  int writers = 0;
  // What is kept once a turn may change as often.
  if (keepsPin(program, index)) return 2e-9 * static_cast<double>(turnNanoseconds);
  for (const CompiledLane& lane : program.lanes) {
    const Flow flow(program, lane, 0);
    std::vector<int> highs, lows;
    for (int i = 0; i < flow.size(); ++i) {
      if (!writesPin(flow.at(i).code) || flow.at(i).arg != index) continue;
      best = std::min(best, waveringPeriod(flow.at(i)));
      const auto level = flow.level(i);
      if (!level || *level) highs.push_back(i);
      if (!level || !*level) lows.push_back(i);
    }
    if (!highs.empty() || !lows.empty()) ++writers;
    best = std::min(best, shortest(flow, highs, lows) + shortest(flow, lows, highs));
  }
  return writers > 1 ? 0 : best;
}

namespace {

// Can one come from a replacing step to such a step again without the level in between?
bool staysAway(const Flow& flow, const std::vector<int>& replaced, const std::vector<int>& back) {
  enum : std::uint8_t { unseen, seen, wall };
  std::vector<std::uint8_t> marks(static_cast<std::size_t>(flow.size()), unseen), goal = marks;
  for (const int i : back) marks[static_cast<std::size_t>(i)] = wall;
  for (const int i : replaced) goal[static_cast<std::size_t>(i)] = 1;
  std::vector<int> open;
  const auto reach = [&](int i) {
    for (int next : flow.after(i))
      if (marks[static_cast<std::size_t>(next)] == unseen)
        marks[static_cast<std::size_t>(next)] = seen, open.push_back(next);
  };
  for (int i : replaced) reach(i);
  while (!open.empty()) {
    const int i = open.back();
    open.pop_back();
    if (goal[static_cast<std::size_t>(i)]) return true;
    reach(i);
  }
  return false;
}

// A level that is set under a condition, in place of a usual one that is set just before: as
// long as the condition holds it is there for most of the time, and that is what one sees. The
// seconds for which it must stand to be seen so; infinity: it never is.
double secondsThatFill(const Flow& flow, int pin, bool level) {
  std::vector<int> replaced, back;
  for (int i = 0; i < flow.size(); ++i) {
    if (!writesPin(flow.at(i).code) || flow.at(i).arg != pin) continue;
    (flow.level(i) == !level ? replaced : back).push_back(i);
  }
  if (back.empty() || !staysAway(flow, replaced, back)) return infinity;
  // A step takes effect when its own time has passed.
  return shortest(flow, replaced, back) + flow.seconds(back.front());
}

}  // namespace

std::vector<BriefLevel> briefLevels(const CompiledProgram& program, double seconds) {
  std::vector<BriefLevel> out;
  std::vector<int> writers(program.pins.size(), 0);
  for (const CompiledLane& lane : program.lanes)
    for (std::size_t p = 0; p < writers.size(); ++p)
      writers[p] += std::any_of(lane.code.begin(), lane.code.end(), [&](const Instruction& in) {
        return writesPin(in.code) && in.arg == static_cast<int>(p);
      });
  for (std::size_t p = 0; p < writers.size(); ++p)
    if (keepsPin(program, static_cast<int>(p))) ++writers[p];
  for (const CompiledLane& lane : program.lanes) {
    const Flow flow(program, lane, infinity);
    std::map<std::pair<int, std::optional<bool>>, Longest>
        longest;  // what is known of a pin and level is kept
    std::map<std::pair<int, bool>, double> fills;
    const auto fillsTheTime = [&](int pin, bool level, double stands) {
      const auto [it, fresh] = fills.try_emplace({pin, level}, 0);
      if (fresh) it->second = secondsThatFill(flow, pin, level);
      return it->second <= stands;
    };
    for (int i = 0; i < flow.size(); ++i) {
      const Instruction& in = flow.at(i);
      if (!writesPin(in.code) || factsOf(in.code).wavers ||
          writers[static_cast<std::size_t>(in.arg)] != 1)
        continue;
      const auto level = flow.level(i);
      const bool flips = in.code == OpCode::flipPin;
      if ((!level && !flips) || i + 1 >= flow.size()) continue;
      Longest& known =
          longest.try_emplace({in.arg, level}, flow, in.arg, level, seconds).first->second;
      const double stands = known.from(i + 1);
      if (stands < seconds && !(level && fillsTheTime(in.arg, *level, stands)))
        out.push_back({program.steps[static_cast<std::size_t>(in.step)],
                       program.pins[static_cast<std::size_t>(in.arg)], level, stands});
    }
  }
  return out;
}

}  // namespace ignavo
