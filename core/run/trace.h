#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "run/pages.h"
#include "run/time.h"

namespace ignavo {

// Of very many twelve bytes each, not sixteen.
struct [[gnu::packed, gnu::aligned(4)]] Edge {
  Nanoseconds at = 0;
  float value = 0;
  friend bool operator==(const Edge& a, const Edge& b) {
    return a.at == b.at && a.value == b.value;
  }
};

struct Signal {
  // Volts at a socket are those of its net; no number where it has none. What a variable of a
  // program holds, as a number (of a board that runs its steps). The step that a lane is at: from
  // 1 in the order of the text, those of own steps behind them; 0: it waits to be started, or is
  // over. What a lane without steps keeps its target at, or the test that starts one: once a turn;
  // or what one of the signal operators in it gives (operatorName).
  enum class What { pinLevel, partAmps, partVolts, waits, volts, variable, step, kept };
  What what = What::pinLevel;
  std::string owner;  // board, part or breadboard id
  std::string name;   // pin, hole, variable or lane (its id), or empty
  bool operator==(const Signal&) const = default;
};
// Of a signal operator: the id of its lane, and the path that leads to it (forEachOperator).
std::string operatorName(const std::string& lane, const std::string& path);

// What each signal did, as steps between values. Periodic stretches are stored
// once with a count. Copying is cheap: closed stretches are shared.
class Trace {
 public:
  Trace() = default;
  explicit Trace(std::vector<Signal> signals, Nanoseconds start = 0);

  const std::vector<Signal>& signals() const { return signals_; }
  int find(Signal::What what, const std::string& owner, const std::string& name) const;
  Nanoseconds begin() const;  // the oldest moment that is still kept
  Nanoseconds end() const { return end_; }

  // Until a program begins, what is recorded at the very first moment is how things stand then;
  // from now on it is a change.
  void programsBegin() { begun_ = true; }
  // Times must not decrease.
  void record(int signal, Nanoseconds at, float value);
  void extendTo(Nanoseconds at);
  // The last `period` repeat themselves `times` further times. False, and nothing done, when they
  // are not all there any more, or hold too much for it to be worth comparing.
  bool repeatLast(Nanoseconds period, std::int64_t times);
  // Goes on with these signals, as those of an edited project. What the others did is kept, should
  // they come back; in between they are 0.
  void restart(std::vector<Signal> signals);
  // The same up to an earlier moment, as it was then; to be gone on with.
  Trace upTo(Nanoseconds moment) const;
  // The same with the signals of what is there no longer, behind the others.
  Trace withFormer() const;
  // Forgets the stretches that end before a moment.
  void forgetBefore(Nanoseconds moment);
  // Forgets the oldest stretches where they take more than this; then a sixteenth more of them.
  void limitBytes(std::size_t most);

  float valueAt(int signal, Nanoseconds at) const;
  // Calls visit(edge) for each edge with from < at ≤ to, in order, until it returns false.
  void forEachEdge(int signal, Nanoseconds from, Nanoseconds to,
                   const std::function<bool(const Edge&)>& visit) const;
  std::int64_t countEdges(int signal, Nanoseconds from, Nanoseconds to) const;
  // Integral of the value over from … to, in value-seconds.
  double integral(int signal, Nanoseconds from, Nanoseconds to) const;
  // The same from one moment to the next, forwards: of very many edges quicker than one by one.
  class Sums;
  double highest(int signal) const;
  // Next edge after / last edge before a moment; -1 when there is none.
  Nanoseconds nextEdge(int signal, Nanoseconds after) const;
  Nanoseconds lastEdge(int signal, Nanoseconds before) const;
  std::size_t storedEdges() const;

  struct Segment {
    Nanoseconds begin = 0;
    Nanoseconds end = 0;     // whole periods later, of what is periodic
    Nanoseconds period = 0;  // 0: written out
    std::vector<float> initial;
    std::vector<std::vector<Edge>> edges;  // times from `begin`; of one period if periodic
    std::vector<double> periodIntegral;    // value-seconds of one period
    // Value-seconds from the beginning to every so many-th edge of long rows, once it is closed.
    static constexpr std::size_t summed = 32;
    struct Sum {
      Nanoseconds at;
      double sum;
    };
    std::vector<std::vector<Sum>> sums;
    std::vector<double> whole;  // value-seconds of each row from beginning to end, likewise
    void sumUp();
    Nanoseconds length() const { return end - begin; }
    std::size_t edgeCount() const;
    std::size_t bytes() const;  // that it takes
    // Of all that were closed before it: bytes that they take, and what each row comes to.
    std::size_t bytesBefore = 0;
    struct Total {
      double sum = 0;  // value-seconds
      std::int64_t edges = 0;
    };
    std::vector<Total> before;
    // Value-seconds of a row between two of its times, and of all of it; edges up to a time.
    double sumOf(std::size_t row, Nanoseconds from, Nanoseconds to) const;
    double sumOf(std::size_t row) const;
    std::int64_t edgesOf(std::size_t row, Nanoseconds upTo) const;
    Total totalWith(std::size_t row) const;  // of those before it and itself
  };
  // Stretches from old to new, the one being written last.
  std::vector<std::shared_ptr<const Segment>> segments() const;

 private:
  static constexpr std::size_t closeAfter = 8192;  // edges in the open stretch
  std::size_t rows() const { return last_.size(); }
  bool isBlank(std::size_t row) const;
  Segment fresh(Nanoseconds at) const;
  void close();
  void keep(Segment&& segment);
  bool goesOnAsBefore(Nanoseconds period, Nanoseconds until);
  std::size_t edgesSince(Nanoseconds from) const;
  void writeOut(Nanoseconds period, std::int64_t times);
  void reopen(Nanoseconds from);
  const Segment& segmentAt(Nanoseconds at) const;
  std::int64_t edgesUpTo(int signal, Nanoseconds moment) const;

  std::vector<Signal> signals_;
  std::vector<Signal> former_;  // their rows come behind: of what is there no longer
  Pages<std::shared_ptr<const Segment>> closed_;
  Segment open_;
  std::vector<float> last_;
  std::size_t openEdges_ = 0;
  // Of all that were ever closed.
  std::size_t bytes_ = 0;
  std::vector<Segment::Total> totals_;
  bool begun_ = false;
  Nanoseconds end_ = 0;
};

// Goes through what one signal was, from `from` on. The trace must outlive it unchanged.
class Trace::Sums {
 public:
  Sums(const Trace& trace, int signal, Nanoseconds from);
  // Value-seconds from where it stands up to that moment, which is not before it.
  double upTo(Nanoseconds moment);

 private:
  const Segment& segment() const;
  double sumAt(Nanoseconds local);
  double within(Nanoseconds moment);
  std::size_t placeOf(Nanoseconds moment) const;
  void enter(std::size_t place);

  const Trace& trace_;
  int signal_;
  Nanoseconds at_;
  std::size_t place_ = 0;   // of its segment; behind the closed ones the open one
  std::size_t summed_ = 0;  // of that, so many sums lie before it
  double sum_ = 0;          // of it, up to where it stands
};

}  // namespace ignavo
