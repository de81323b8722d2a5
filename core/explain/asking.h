#pragma once
#include <algorithm>
#include <memory>

#include "explain/why.h"
#include "explain/words.h"
#include "explain/working.h"
#include "project/indexing.h"

// For explain/why: one question, of one part at one moment.
namespace ignavo {

template <typename T>
bool holds(const std::vector<T>& list, const T& what) {
  return std::find(list.begin(), list.end(), what) != list.end();
}

class Asking {
 public:
  Asking(const RunMoment& moment, const Output& output, const std::vector<Fault>& faults)
      : m_(moment),
        project_(*moment.now.project),
        faults_(faults),
        circuit_(project_),
        output_(output),
        index_(output.part),
        part_(*at(*project_.parts, index_)),
        kind_(*circuit_.kindOf(index_)),
        name_(nameOf(project_, output)) {}

  Why answer();

 private:
  // ---- how it stands
  const Circuit::Island& island() { return circuit_.island(circuit_.islandOfPart(index_)); }
  std::vector<int> boards();
  std::vector<int> driven(const Circuit& circuit, int part) const;
  std::vector<int> uncertain(const Circuit& circuit) const;
  PinWays ways(const Circuit& circuit, int part) const;
  bool hasPower();
  bool gaveUp() const { return m_.now.tripped; }

  // ---- the circuit
  void judgeCircuit(Why& out);
  bool judgeDamage(Why& out);
  void takeFault(Why& out, const Fault& fault);
  bool judgeFault(Why& out);  // true: it is known what mends it
  void tellWouldFlow(Why& out);
  bool worksByDetour();
  int changesOf(const Working& working, const Circuit& circuit) const;
  const Fault* faultThatDarkens();
  std::optional<int> pinThatLeadsNowhere();
  int nearness(const Fault& fault);
  Working mendedBy(const Fault& fault);
  Working workingIn(const Project& mended);
  bool judgeTurned(Why& out);
  void aboutBreak(Why& out);
  void aboutChanges(Why& out);

  // ---- the program
  void judgeProgram(Why& out);
  std::vector<int> netsThatFeed(const Circuit& circuit, int part) const;
  void judgePins(Why& out, const Circuit& circuit, int part, std::vector<Change> changes);
  void judgeUnmended(Why& out);
  void judgeSteady(Why& out);
  void judgeArm(Why& out);
  bool wasSo(const std::string& board, const std::string& pin, bool high) const;
  void take(Why& out, const std::string& board, const std::string& pin, const PinReason& reason);
  std::optional<CircuitPin> controlling(const Working& working);
  void tellWhatDrives(Why& out);

  void tell(Why& out);

  const RunMoment& m_;
  const Project& project_;
  const std::vector<Fault>& faults_;
  Circuit circuit_;
  Output output_;
  int index_;
  const Part& part_;
  const PartKind& kind_;
  std::string name_;        // as it is told
  CircuitState state_;      // as it stands, with all cables plugged
  bool ofInput_ = false;    // what is amiss is with what the program reads
  bool sentences_ = false;  // what is told of the circuit are whole sentences
  Working working_;         // from there
  // Of a circuit that is not sound: as it would be, and what had to be changed in it beside.
  std::unique_ptr<Circuit> mendedCircuit_;
  int mendedIndex_ = -1;  // of the part, there
  Working mended_;
};

}  // namespace ignavo
