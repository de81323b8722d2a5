#pragma once
#include <memory>
#include <string>
#include <vector>

#include "run/input.h"
#include "run/record.h"
#include "run/scheduler.h"
#include "run/snapshot.h"
#include "run/trace.h"

namespace ignavo {

// Simulated time. Never reads a clock: the caller says how far to go. The same project, seed and
// inputs give the same trace, whatever the steps of advance(). Looks back by going on from the
// nearest of the states that it keeps. For one thread at a time.
class Kernel {
 public:
  explicit Kernel(std::shared_ptr<const Project> project, RunSetup setup = {});
  ~Kernel();

  // Takes effect at `input.at`, which must not lie in the past.
  void schedule(Input input);
  // Takes effect right after now.
  void inputNow(Input input);
  void advance(Nanoseconds until);
  // One step of any lane further. Never more than a second at once: where the next step comes
  // later it goes that second towards it, where none comes by itself to the next other event,
  // and where there is none within the second it stays.
  struct Stepped {
    enum class What { step, event, oneSecond, nothing } what = What::nothing;
    Nanoseconds untilStep = never;  // from now; never: no step comes by itself
  };
  Stepped stepOnce();

  Nanoseconds now() const { return run_.now(); }
  const Trace& trace() const { return run_.trace; }
  const std::vector<Event>& events() const { return run_.events; }
  // Records that as well from now on (RunSetup::probes); what there is not is left out.
  void probe(const Signal& signal);
  // What programs said to the computer, by time; of very much of it the last.
  const std::vector<SaidLine>& said() const { return run_.said; }
  const std::vector<Input>& inputs() const { return log_; }
  std::shared_ptr<const Project> project() const { return run_.model->project; }
  Snapshot snapshot() { return snapshotOf(run_); }
  // How everything stood at a moment between the beginning of the trace and now.
  Snapshot lookBack(Nanoseconds moment) const;
  // All boards are switched on, and none has given up.
  bool powered() const;
  bool isBroken(const std::string& part) const;
  // Of a sketch: is there anything that it leaves out?
  bool leavesOut() const;
  // Direction of a pin from its use: "output" or "input".
  std::string direction(const std::string& board, const std::string& pin) const;
  // How many periods were jumped over exactly.
  std::int64_t periodsSkipped() const { return scheduler_.skipped(); }
  void allowSkipping(bool allow) { scheduler_.allowSkipping(allow); }
  // The whole state, to be copied; what it means is in the model.
  const RunState& state() const { return run_.state; }

  // A kernel that starts like this one and gets the same inputs up to `at`.
  static std::unique_ptr<Kernel> replay(std::shared_ptr<const Project> first,
                                        const std::vector<Input>& inputs, Nanoseconds at,
                                        const RunSetup& setup = {});
  const RunSetup& setup() const { return run_.model->setup; }
  std::shared_ptr<const Project> firstProject() const { return first_; }
  // All that has been run, to be made again while this goes on.
  RunRecord record() const { return {first_, setup(), log_, now(), trace(), said()}; }

 private:
  // A state that looking back may start from.
  struct Kept {
    std::shared_ptr<const RunModel> model;
    RunState state;
    std::size_t inputs;  // applied until then
  };
  void apply(const Input& input);
  void watch(int pin);  // of the circuit
  bool go(Nanoseconds until, Scheduler::Stop stop);
  void keepState();
  Trace traceBefore(const Kept& kept) const;
  Kernel(const Kernel& later, const Kept& from, Nanoseconds moment);
  Nanoseconds nextStep() const;

  std::shared_ptr<const Project> first_;
  Run run_;
  Scheduler scheduler_;
  std::vector<Input> queue_;  // sorted by time, then order of arrival
  std::vector<Input> log_;
  bool keeps_ = true;
  std::vector<Kept> kept_;  // by time
};

}  // namespace ignavo
