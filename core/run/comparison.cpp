#include "run/comparison.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "program/steps.h"
#include "run/kernel.h"

// Edge by edge, pin by pin. Each may come a little earlier or later than in the other run: two that
// are closer than that may meet and be none, and what comes late may not come before the end. A
// level of a dimmed pin takes effect with one period of its timer or with the next.
namespace ignavo {

namespace {

constexpr std::size_t mostEdges = 200'000;

std::vector<Edge> edgesOf(const Trace& trace, int signal, Nanoseconds from) {
  std::vector<Edge> out;
  if (signal < 0) return out;
  trace.forEachEdge(signal, from - 1, trace.end(), [&](const Edge& e) {
    out.push_back(e);
    return out.size() < mostEdges;
  });
  return out;
}

class Comparing {
 public:
  Comparing(const RunRecord& steps, const RunRecord& firmware)
      : steps_(steps),
        firmware_(firmware),
        begin_(std::max(steps.trace.begin(), firmware.trace.begin())) {}

  Comparison run() {
    const Project& project = *steps_.project;
    for (const BoardItem& board : project.boards) {
      const Program* program = project.program(board.id);
      if (!program) continue;
      waits_ = edgesOf(steps_.trace, steps_.trace.find(Signal::What::waits, board.id, {}), begin_);
      plain_ = !whyInTurns(*program);
      for (const PinUse& use : pinUses(*program))
        if (!use.writers.empty()) pin(board.id, use.pin, !use.dimmers.empty());
      lines(board.id);
    }
    return std::move(out_);
  }

 private:
  Nanoseconds end() const { return std::min(steps_.now, firmware_.now); }

  void differ(const std::string& board, const std::string& pin,
              const Comparison::Difference::Side& a, const Comparison::Difference::Side& b) {
    const Nanoseconds at = a.at < 0 ? b.at : b.at < 0 ? a.at : std::min(a.at, b.at);
    if (out_.first && out_.first->at <= at) return;
    out_.first = Comparison::Difference{at, board, pin, a, b};
  }
  static Comparison::Difference::Side side(const Edge& e) { return {e.at, e.value != 0, {}}; }

  // Time that the program waited between two moments of the run by steps.
  Nanoseconds waited(Nanoseconds from, Nanoseconds to) {
    Nanoseconds sum = 0;
    auto it = std::upper_bound(waits_.begin(), waits_.end(), from,
                               [](Nanoseconds t, const Edge& e) { return t < e.at; });
    bool waits = it != waits_.begin() && std::prev(it)->value != 0;
    Nanoseconds at = from;
    for (; it != waits_.end() && it->at <= to; ++it) {
      if (waits) sum += it->at - at;
      waits = it->value != 0;
      at = it->at;
    }
    return waits ? sum + to - at : sum;
  }

  // How far both are. A free program's times count from where its last wait ended.
  struct Place {
    std::size_t a = 0, b = 0;
    Nanoseconds anchorA = 0, anchorB = 0, beforeA = 0, beforeB = 0;
    void follow(const Edge& x, const Edge& y, bool waited) {
      if (waited) anchorA = x.at, anchorB = y.at;
      beforeA = x.at;
      beforeB = y.at;
    }
  };

  void pin(const std::string& board, const std::string& pin, bool dimmed) {
    const auto of = [&](const RunRecord& run) {
      return edgesOf(run.trace, run.trace.find(Signal::What::pinLevel, board, pin), begin_);
    };
    const std::vector<Edge> a = of(steps_), b = of(firmware_);
    out_.edges += static_cast<std::int64_t>(a.size());
    Place at;
    while (at.a < a.size() && at.b < b.size()) {
      const Edge &x = a[at.a], &y = b[at.b];
      const auto [apart, most] = distance(at, x, y, dimmed);
      if (x.value == y.value && std::abs(apart) <= most) {
        noteDistance(x, y);
        at.follow(x, y, plain_ && waited(at.beforeA, x.at) > 0);
        ++at.a, ++at.b;
      } else if (isShort(b, at.b, most) && (y.at < x.at || !isShort(a, at.a, most))) {
        at.b += 2;
      } else if (isShort(a, at.a, most)) {
        at.a += 2;
      } else {
        return differ(board, pin, side(x), side(y));
      }
    }
    const Nanoseconds most =
        (plain_ ? Tolerance::plain : Tolerance::inTurns) + (dimmed ? Tolerance::period : 0);
    while (isShort(a, at.a, most)) at.a += 2;
    while (isShort(b, at.b, most)) at.b += 2;
    const bool missing = at.a < a.size();
    if ((!missing && at.b == b.size()) || at.a >= mostEdges || at.b >= mostEdges) return;
    const Edge& next = missing ? a[at.a] : b[at.b];
    // It may come behind the end of the other run, or be too short to be seen there.
    const Nanoseconds late = plain_ ? allowed(next.at - (missing ? at.anchorA : at.anchorB)) +
                                          std::abs(at.beforeB - at.beforeA)
                                    : Tolerance::inTurns;
    if (next.at + late + (dimmed ? Tolerance::period : 0) >= end()) return;
    differ(board, pin, missing ? side(next) : Comparison::Difference::Side{},
           missing ? Comparison::Difference::Side{} : side(next));
  }

  // How far two edges are apart, and how far they may be.
  std::pair<Nanoseconds, Nanoseconds> distance(const Place& at, const Edge& x, const Edge& y,
                                               bool dimmed) {
    Nanoseconds apart = y.at - x.at, most = Tolerance::inTurns;
    if (plain_) {
      const Nanoseconds waits = waited(at.beforeA, x.at);
      const Nanoseconds fromA = waits > 0 ? at.beforeA : at.anchorA;
      const Nanoseconds fromB = waits > 0 ? at.beforeB : at.anchorB;
      apart = (y.at - fromB) - (x.at - fromA);
      most = allowed(x.at - fromA - waits);
    }
    return {apart, most + (dimmed ? Tolerance::period : 0)};
  }

  void noteDistance(const Edge& x, const Edge& y) {
    if (std::abs(y.at - x.at) <= out_.largest) return;
    out_.largest = std::abs(y.at - x.at);
    out_.largestAt = x.at;
  }

  // Two edges that close to each other may as well be none.
  bool isShort(const std::vector<Edge>& edges, std::size_t k, Nanoseconds most) const {
    if (plain_) most = std::min(most, Tolerance::period);
    return most >= Tolerance::inTurns && k + 1 < edges.size() &&
           edges[k + 1].at - edges[k].at <= most;
  }

  static Nanoseconds allowed(Nanoseconds worked) {
    return Tolerance::plain +
           static_cast<Nanoseconds>(Tolerance::plainShare * static_cast<double>(worked));
  }

  void lines(const std::string& board) {
    const auto of = [&](const RunRecord& run) {
      std::vector<SaidLine> out;
      for (const SaidLine& line : run.said)
        if (line.board == board) out.push_back(line);
      return out;
    };
    const auto told = [](const SaidLine& line) {
      return Comparison::Difference::Side{line.at, false, line.text};
    };
    const std::vector<SaidLine> a = of(steps_), b = of(firmware_);
    out_.lines += static_cast<std::int64_t>(a.size());
    for (std::size_t k = 0; k < std::min(a.size(), b.size()); ++k)
      if (a[k].text != b[k].text || a[k].note != b[k].note || a[k].number != b[k].number ||
          a[k].seconds != b[k].seconds || a[k].at > b[k].at + Tolerance::inTurns)
        return differ(board, {}, told(a[k]), told(b[k]));
    if (a.size() > b.size() && a[b.size()].at + Tolerance::line < end())
      differ(board, {}, told(a[b.size()]), {});
    if (b.size() > a.size()) differ(board, {}, {}, told(b[a.size()]));
  }

  const RunRecord &steps_, &firmware_;
  const Nanoseconds begin_;
  std::vector<Edge> waits_;
  bool plain_ = false;
  Comparison out_;
};

}  // namespace

Comparison compared(const RunRecord& steps, const RunRecord& firmware) {
  return Comparing(steps, firmware).run();
}

namespace {

// The inputs of a run, some of them a little earlier than they came.
class Races {
 public:
  Races(std::shared_ptr<const Project> project, const std::vector<Input>& inputs, Nanoseconds until,
        std::function<bool()> cancelled)
      : project_(std::move(project)),
        inputs_(inputs),
        until_(until),
        cancelled_(std::move(cancelled)),
        earlier_(inputs.size(), 0) {
    for (const auto& program : project_->programs) freely_ = freely_ || !whyInTurns(*program);
  }

  RunRecord ran(RunSetup setup) const {
    Kernel kernel(project_, std::move(setup));
    for (std::size_t i = 0; i < inputs_.size(); ++i) {
      Input input = inputs_[i];
      input.at = std::max<Nanoseconds>(0, input.at - earlier_[i]);
      kernel.schedule(std::move(input));
    }
    constexpr Nanoseconds slice = 100'000'000;
    while (kernel.now() < until_ && !isCancelled())
      kernel.advance(std::min(until_, kernel.now() + slice));
    return kernel.record();
  }
  RunRecord bySteps() const { return ran({{}, true}); }
  bool isCancelled() const { return cancelled_ && cancelled_(); }

  // Moves one of the last inputs before a difference so that both go on alike; false: none helps.
  bool settle(ComparedRun& best, const RunRecord& firmware) {
    constexpr int candidates = 3;
    constexpr Nanoseconds further = 1'000'000;
    const Comparison& c = best.comparison;
    std::vector<std::size_t> last;
    for (std::size_t i = 0; i < inputs_.size(); ++i)
      if (inputs_[i].at <= c.first->at && earlier_[i] == 0) last.push_back(i);
    std::stable_sort(last.begin(), last.end(),
                     [&](std::size_t x, std::size_t y) { return inputs_[x].at > inputs_[y].at; });
    if (last.size() > candidates) last.resize(candidates);
    for (const std::size_t i : last)
      for (const Nanoseconds by : {10'000, 20'000, 40'000, 70'000, 100'000, -10'000, -20'000,
                                   -40'000, -70'000, -100'000}) {
        if ((by < 0 && !freely_) || isCancelled()) break;
        earlier_[i] = by;
        RunRecord steps = bySteps();
        Comparison moved = compared(steps, firmware);
        if (moved.same() || moved.first->at > c.first->at + further) {
          moved.races = c.races + 1;
          best = {std::move(moved), std::move(steps.trace)};
          return true;
        }
        earlier_[i] = 0;
      }
    return false;
  }

  // Where the inputs of that moment cannot make them alike, as they are without any moved.
  ComparedRun compare(const RunRecord& firmware) {
    RunRecord steps = bySteps();
    const ComparedRun plainly{compared(steps, firmware), std::move(steps.trace)};
    ComparedRun out = plainly;
    while (!out.comparison.same())
      if (!settle(out, firmware)) return plainly;
    return out;
  }

 private:
  std::shared_ptr<const Project> project_;
  const std::vector<Input>& inputs_;
  Nanoseconds until_;
  std::function<bool()> cancelled_;
  std::vector<Nanoseconds> earlier_;  // per input
  bool freely_ = false;               // a program that runs freely may look earlier, too
};

}  // namespace

std::optional<ComparedRun> comparedWithSteps(const RunRecord& firmware,
                                             const std::function<bool()>& cancelled) {
  std::vector<Input> inputs = firmware.inputs;
  for (Input& input : inputs) {
    if (!input.project) continue;
    Project edited = *input.project;
    edited.programs = firmware.project->programs;
    input.project = std::make_shared<const Project>(std::move(edited));
  }
  Races races(firmware.project, inputs, firmware.now, cancelled);
  ComparedRun out = races.compare(firmware);
  if (races.isCancelled()) return std::nullopt;
  return out;
}

Comparison comparedRuns(std::shared_ptr<const Project> project, const ChipPrograms& code,
                        const std::vector<Input>& inputs, Nanoseconds until) {
  Races races(std::move(project), inputs, until, {});
  return races.compare(races.ran({code, false})).comparison;
}

namespace {
constexpr Say comparisonSay("comparison");

// Microseconds matter, whenever it was.
Quantity moment(Nanoseconds at) {
  constexpr int digits = 9;
  return asNumber(std::round(inSeconds(at) * 1e6) / 1e6, digits);
}
}  // namespace

Message sentence(const Comparison::Difference::Side& side) {
  if (side.at < 0) return comparisonSay("nothing");
  const Quantity at = moment(side.at);
  if (!side.text.empty()) return comparisonSay("says “{0}” at {1} s", side.text, at);
  return side.high ? comparisonSay("goes high at {} s", at) : comparisonSay("goes low at {} s", at);
}

Message verdict(const Comparison& c, const std::string& where) {
  if (!c.same())
    return comparisonSay("They differ at {0} s, {1}: by the steps {2}, as firmware {3}",
                         moment(c.first->at), where, sentence(c.first->steps),
                         sentence(c.first->firmware));
  if (c.edges == 0 && c.lines == 0) return comparisonSay("Neither has done anything yet");
  const Quantity largest = asSeconds(inSeconds(c.largest)), at = moment(c.largestAt);
  const Message alike =
      c.edges == 1 ? comparisonSay("1 edge, the same")
      : c.largest < 500
          ? comparisonSay("{} edges, all the same to the microsecond",
                          static_cast<std::size_t>(c.edges))
          : comparisonSay("{0} edges, all the same; the largest difference is {1} at {2} s",
                          static_cast<std::size_t>(c.edges), largest, at);
  if (c.lines == 0) return alike;
  const auto lines = static_cast<std::size_t>(c.lines);
  return c.lines == 1 ? comparisonSay("{0}. 1 line said, the same", alike)
                      : comparisonSay("{0}. {1} lines said, all the same", alike, lines);
}

}  // namespace ignavo
