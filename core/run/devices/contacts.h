#pragma once
#include <vector>

#include "run/device.h"

namespace ignavo {

// Contacts of pressed parts that bounce before they rest.
class Contacts final : public DeviceOf<Contacts> {
 public:
  // A part's cap goes down or up, the `presses`-th time that it moves: its contacts, moved once,
  // move to and fro a few times more. What was still to come of the time before is forgotten.
  void bounce(Run& run, int part, bool down, int presses);
  void settle(int part);
  // Did something end and begin anew, as programs saw it, because contacts bounced?
  bool bounced(Nanoseconds ended, Nanoseconds began) const;
  // The project was edited: parts have other numbers now; -1: gone.
  void renumber(const std::vector<int>& places);

  Nanoseconds due() const override { return moves_.empty() ? never : moves_.front().at; }
  Done act(Run& run) override;
  bool repeats(const Contacts& then, Nanoseconds later) const;
  void skip(const Contacts& then, Nanoseconds later, std::int64_t times);

 private:
  struct Move {
    Nanoseconds at;
    int part;
    bool closed;
  };
  // From when to when each part's contacts bounced last.
  struct Bounce {
    int part;
    Nanoseconds from, until;
  };
  std::vector<Move> moves_;  // sorted by time
  std::vector<Bounce> last_;
};

}  // namespace ignavo
