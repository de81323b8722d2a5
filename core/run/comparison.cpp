#include "run/comparison.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "program/steps.h"

// Edge by edge, pin by pin. Each may come a little earlier or later than in the other run: two that
// are closer than that may meet and be none, and what comes late may not come before the end. A
// level of a dimmed pin takes effect with one period of its timer or with the next.
namespace ignavo {

namespace {

constexpr std::size_t mostEdges = 200'000;

std::vector<Edge> edgesOf(const Trace& trace, int signal) {
  std::vector<Edge> out;
  if (signal < 0) return out;
  trace.forEachEdge(signal, trace.begin() - 1, trace.end(), [&](const Edge& e) {
    out.push_back(e);
    return out.size() < mostEdges;
  });
  return out;
}

class Comparing {
 public:
  Comparing(const Kernel& steps, const Kernel& firmware) : steps_(steps), firmware_(firmware) {}

  Comparison run() {
    const Project& project = *steps_.firstProject();
    for (const BoardItem& board : project.boards) {
      const Program* program = project.program(board.id);
      if (!program) continue;
      waits_ = edgesOf(steps_.trace(), steps_.trace().find(Signal::What::waits, board.id, {}));
      plain_ = !whyInTurns(*program);
      for (const PinUse& use : pinUses(*program))
        if (!use.writers.empty()) pin(board.id, use.pin, !use.dimmers.empty());
      lines(board.id);
    }
    return std::move(out_);
  }

 private:
  Nanoseconds end() const { return std::min(steps_.now(), firmware_.now()); }

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
    const auto of = [&](const Kernel& kernel) {
      return edgesOf(kernel.trace(), kernel.trace().find(Signal::What::pinLevel, board, pin));
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
    const auto of = [&](const Kernel& kernel) {
      std::vector<SaidLine> out;
      for (const SaidLine& line : kernel.said())
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

  const Kernel &steps_, &firmware_;
  std::vector<Edge> waits_;
  bool plain_ = false;
  Comparison out_;
};

}  // namespace

Comparison compared(const Kernel& steps, const Kernel& firmware) {
  return Comparing(steps, firmware).run();
}

namespace {

// The inputs of a run, some of them a little earlier than they came.
class Races {
 public:
  Races(std::shared_ptr<const Project> project, const std::vector<Input>& inputs, Nanoseconds until)
      : project_(std::move(project)), inputs_(inputs), until_(until), earlier_(inputs.size(), 0) {
    for (const auto& program : project_->programs) freely_ = freely_ || !whyInTurns(*program);
  }

  std::unique_ptr<Kernel> ran(RunSetup setup) const {
    auto kernel = std::make_unique<Kernel>(project_, std::move(setup));
    for (std::size_t i = 0; i < inputs_.size(); ++i) {
      Input input = inputs_[i];
      input.at = std::max<Nanoseconds>(0, input.at - earlier_[i]);
      kernel->schedule(std::move(input));
    }
    kernel->advance(until_);
    return kernel;
  }
  Comparison with(const Kernel& firmware) const { return compared(*ran({{}, true}), firmware); }

  // Moves one of the last inputs before a difference so that both go on alike; false: none helps.
  bool settle(Comparison& c, const Kernel& firmware) {
    constexpr int candidates = 3;
    constexpr Nanoseconds further = 1'000'000;
    std::vector<std::size_t> last;
    for (std::size_t i = 0; i < inputs_.size(); ++i)
      if (inputs_[i].at <= c.first->at && earlier_[i] == 0) last.push_back(i);
    std::stable_sort(last.begin(), last.end(),
                     [&](std::size_t x, std::size_t y) { return inputs_[x].at > inputs_[y].at; });
    if (last.size() > candidates) last.resize(candidates);
    for (const std::size_t i : last)
      for (const Nanoseconds by : {10'000, 20'000, 40'000, 70'000, 100'000, -10'000, -20'000,
                                   -40'000, -70'000, -100'000}) {
        if (by < 0 && !freely_) break;
        earlier_[i] = by;
        Comparison moved = with(firmware);
        if (moved.same() || moved.first->at > c.first->at + further) {
          moved.races = c.races + 1;
          c = std::move(moved);
          return true;
        }
        earlier_[i] = 0;
      }
    return false;
  }

 private:
  std::shared_ptr<const Project> project_;
  const std::vector<Input>& inputs_;
  Nanoseconds until_;
  std::vector<Nanoseconds> earlier_;  // per input
  bool freely_ = false;               // a program that runs freely may look earlier, too
};

}  // namespace

Comparison comparedRuns(std::shared_ptr<const Project> project, const ChipPrograms& code,
                        const std::vector<Input>& inputs, Nanoseconds until) {
  Races races(std::move(project), inputs, until);
  const auto firmware = races.ran({code, false});
  const Comparison plainly = races.with(*firmware);
  Comparison out = plainly;
  while (!out.same())
    if (!races.settle(out, *firmware)) return plainly;
  return out;
}

Message sentence(const Comparison::Difference::Side& side) {
  const Say say("comparison");
  if (side.at < 0) return say("nothing");
  if (!side.text.empty()) return say("says “{0}” at {1}", side.text, asSeconds(inSeconds(side.at)));
  return side.high ? say("goes high at {}", asSeconds(inSeconds(side.at)))
                   : say("goes low at {}", asSeconds(inSeconds(side.at)));
}

}  // namespace ignavo
