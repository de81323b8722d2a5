#include "program/reach.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

namespace ignavo {

namespace {

constexpr double lastingSeconds = 0.001;  // a shorter wait is no lasting state
constexpr std::size_t mostPins = 16;      // of a group; beyond it nothing is proved
constexpr std::size_t mostPlaces = 20000;

using OutputVector = std::uint32_t;
struct ProgramPoint {
  int at;
  OutputVector way;
  auto operator<=>(const ProgramPoint&) const = default;
};

class Explorer {
 public:
  Explorer(const CompiledLane& lane, const std::vector<int>& bitOfPin)
      : code_(lane.code), bits_(bitOfPin) {}

  // False when there are too many places to look at.
  bool explore() {
    std::vector<ProgramPoint> open{{0, 0}};
    seen_.insert(open.front());
    while (!open.empty()) {
      const ProgramPoint here = open.back();
      open.pop_back();
      for (const ProgramPoint& next : after(here))
        if (seen_.insert(next).second) open.push_back(next);
      if (seen_.size() > mostPlaces) return false;
    }
    findRounds();
    return true;
  }

  std::set<OutputVector> lasting() const {
    std::set<OutputVector> out;
    for (const ProgramPoint& p : seen_)
      if (!out.contains(p.way) && rests(p)) out.insert(p.way);
    return out;
  }
  // Those that last, and those met again and again on a round without a rest.
  std::set<OutputVector> vectors() const {
    std::set<OutputVector> out = lasting();
    for (const ProgramPoint& p : seen_)
      if (writesPin(instruction(p.at).code))
        for (const ProgramPoint& next : after(p))
          if (!out.contains(next.way) && comesBack(next)) out.insert(next.way);
    return out;
  }

 private:
  const Instruction& instruction(int at) const { return code_[static_cast<std::size_t>(at)]; }

  bool isLongWait(int at) const {
    return sleepOf(code_, at).value_or(lastingSeconds) >= lastingSeconds;
  }

  bool rests(const ProgramPoint& p) const {
    const Instruction& i = instruction(p.at);
    if (i.code == OpCode::end || isLongWait(p.at)) return true;
    // A round that changes nothing can go on like a wait.
    return factsOf(i.code).jumps && i.target <= p.at && comesBack(p);
  }

  std::vector<ProgramPoint> after(const ProgramPoint& here) const {
    const Instruction& i = instruction(here.at);
    std::vector<OutputVector> vectors{here.way};
    const int bit = writesPin(i.code) ? bits_[static_cast<std::size_t>(i.arg)] : -1;
    if (bit >= 0) {
      const OutputVector mask = OutputVector{1} << bit;
      switch (levelAfter(code_, here.at)) {
        case LevelAfter::stays:
          break;
        case LevelAfter::low:
          vectors = {here.way & ~mask};
          break;
        case LevelAfter::high:
          vectors = {here.way | mask};
          break;
        case LevelAfter::other:
          vectors = {here.way ^ mask};
          break;
        case LevelAfter::lowOrHigh:
        case LevelAfter::wavers:
          vectors = {here.way | mask, here.way & ~mask};
      }
    }
    std::vector<ProgramPoint> out;
    for (const int next : successorsOf(code_, here.at))
      for (const OutputVector vector : vectors) out.push_back({next, vector});
    return out;
  }

  // Places from which one comes back without a long wait: those of the strongly
  // connected components of all places (Tarjan's algorithm, without recursion).
  void findRounds() {
    struct Node {
      std::vector<int> next;
      int index = -1, low = 0;
      bool stacked = false;
    };
    places_.assign(seen_.begin(), seen_.end());
    round_.assign(places_.size(), false);
    std::vector<Node> nodes(places_.size());
    for (std::size_t i = 0; i < places_.size(); ++i)
      if (!isLongWait(places_[i].at))
        for (const ProgramPoint& p : after(places_[i])) nodes[i].next.push_back(indexOf(p));
    std::vector<int> stack;
    int count = 0;
    struct Visit {
      int node;
      std::size_t child = 0;
    };
    const auto at = [&](int i) -> Node& { return nodes[static_cast<std::size_t>(i)]; };
    const auto enter = [&](int i) {
      at(i).index = at(i).low = count++;
      at(i).stacked = true;
      stack.push_back(i);
      return Visit{i};
    };
    for (int root = 0; root < static_cast<int>(nodes.size()); ++root) {
      if (at(root).index >= 0) continue;
      std::vector<Visit> visits{enter(root)};
      while (!visits.empty()) {
        const int i = visits.back().node;
        if (visits.back().child < at(i).next.size()) {
          const int next = at(i).next[visits.back().child++];
          if (at(next).index < 0)
            visits.push_back(enter(next));
          else if (at(next).stacked)
            at(i).low = std::min(at(i).low, at(next).index);
          continue;
        }
        visits.pop_back();
        if (!visits.empty()) {
          Node& parent = at(visits.back().node);
          parent.low = std::min(parent.low, at(i).low);
        }
        if (at(i).low != at(i).index) continue;
        const bool itself = std::find(at(i).next.begin(), at(i).next.end(), i) != at(i).next.end();
        for (bool more = true, alone = stack.back() == i; more;) {
          const int member = stack.back();
          stack.pop_back();
          at(member).stacked = false;
          round_[static_cast<std::size_t>(member)] = !alone || itself;
          more = member != i;
        }
      }
    }
  }

  int indexOf(const ProgramPoint& p) const {
    return static_cast<int>(std::lower_bound(places_.begin(), places_.end(), p) - places_.begin());
  }
  bool comesBack(const ProgramPoint& p) const {
    return round_[static_cast<std::size_t>(indexOf(p))];
  }

  const std::vector<Instruction>& code_;
  const std::vector<int>& bits_;
  std::set<ProgramPoint> seen_;
  std::vector<ProgramPoint> places_;  // the same, sorted
  std::vector<bool> round_;           // per place
};

}  // namespace

std::vector<OutputGroup> outputGroups(const CompiledProgram& program) {
  // Lanes that set a pin in common belong together.
  const std::size_t lanes = program.lanes.size();
  std::vector<std::size_t> leader(lanes);
  std::iota(leader.begin(), leader.end(), 0);
  const auto root = [&](std::size_t l) {
    while (leader[l] != l) l = leader[l];
    return l;
  };
  std::map<int, std::size_t> laneOfPin;
  std::vector<std::set<int>> written(lanes);
  for (std::size_t l = 0; l < lanes; ++l)
    for (const Instruction& i : program.lanes[l].code) {
      if (!writesPin(i.code) || program.pins[static_cast<std::size_t>(i.arg)].empty()) continue;
      written[l].insert(i.arg);
      const auto [it, fresh] = laneOfPin.try_emplace(i.arg, l);
      if (!fresh && root(l) != root(it->second)) leader[root(l)] = root(it->second);
    }
  // What is kept once a turn goes its own ways.
  std::set<int> kept;
  for (const CompiledSignal& signal : program.signals)
    for (const Instruction& i : signal.code)
      if (writesPin(i.code) && !program.pins[static_cast<std::size_t>(i.arg)].empty())
        kept.insert(i.arg);
  std::vector<OutputGroup> out;
  for (const int pin : kept)
    if (!laneOfPin.contains(pin))
      out.push_back({{program.pins[static_cast<std::size_t>(pin)]}, true, {}, {}});
  for (std::size_t first = 0; first < lanes; ++first) {
    if (root(first) != first) continue;
    std::set<int> pins;
    std::size_t members = 0, only = 0;
    for (std::size_t l = 0; l < lanes; ++l)
      if (root(l) == first && !written[l].empty()) {
        pins.insert(written[l].begin(), written[l].end());
        ++members;
        only = l;
      }
    if (pins.empty()) continue;
    OutputGroup group;
    std::vector<int> bits(program.pins.size(), -1);
    for (int pin : pins) {
      bits[static_cast<std::size_t>(pin)] = static_cast<int>(group.pins.size());
      group.pins.push_back(program.pins[static_cast<std::size_t>(pin)]);
    }
    Explorer explorer(program.lanes[only], bits);
    const bool shared =
        std::any_of(pins.begin(), pins.end(), [&](int pin) { return kept.contains(pin); });
    group.any = shared || members > 1 || pins.size() > mostPins || !explorer.explore();
    if (!group.any) {
      const std::set<OutputVector> all = explorer.vectors(), lasting = explorer.lasting();
      group.vectors.assign(all.begin(), all.end());
      group.lasting.assign(lasting.begin(), lasting.end());
    }
    out.push_back(std::move(group));
  }
  return out;
}

}  // namespace ignavo
