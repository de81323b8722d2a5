#include "run/devices/contacts.h"

#include <algorithm>

#include "project/indexing.h"
#include "run/random.h"
#include "run/run.h"

// Real contacts bounce: 1, 3 or 5 transitions within 0.2 … 3 ms after they first touch or part
// (the table of models). Which, is drawn from the project's seed, the part and how often it moved.
namespace ignavo {

void Contacts::settle(int part) {
  std::erase_if(moves_, [&](const Move& m) { return m.part == part; });
}

void Contacts::renumber(const std::vector<int>& places) {
  for (Move& move : moves_) move.part = at(places, move.part);
  settle(-1);
  for (Bounce& bounce : last_) bounce.part = at(places, bounce.part);
  std::erase_if(last_, [](const Bounce& b) { return b.part < 0; });
}

// A turn that is at work sees a change when the next one begins.
bool Contacts::bounced(Nanoseconds ended, Nanoseconds began) const {
  constexpr Nanoseconds seenWithin = 2'000'000;
  return std::any_of(last_.begin(), last_.end(), [&](const Bounce& b) {
    return b.from <= ended && began <= b.until + seenWithin;
  });
}

void Contacts::bounce(Run& run, int part, bool down, int presses) {
  const std::uint64_t seed = run.project().seed;
  const std::uint64_t stream =
      keyOf(("bounce " + (*run.project().parts)[static_cast<std::size_t>(part)]->id).c_str());
  const auto count = static_cast<std::uint64_t>(presses) * 16;
  const int transitions = 1 + 2 * static_cast<int>(randomBits(seed, stream, count) % 3);
  const double span = 0.2e6 + 2.8e6 * randomShare(seed, stream, count + 1);
  std::vector<Nanoseconds> times;
  for (int k = 1; k < transitions; ++k)
    times.push_back(
        run.now() + 1 +
        static_cast<Nanoseconds>(
            span * randomShare(seed, stream, count + 1 + static_cast<std::uint64_t>(k))));
  std::sort(times.begin(), times.end());
  std::erase_if(last_, [&](const Bounce& b) { return b.part == part; });
  if (!times.empty()) last_.push_back({part, run.now(), times.back()});
  if (transitions > 1)
    run.tell(Event::What::bounced, (*run.project().parts)[static_cast<std::size_t>(part)]->id,
             transitions);
  bool closed = down;
  for (Nanoseconds t : times) moves_.push_back({t, part, closed = !closed});
  std::stable_sort(moves_.begin(), moves_.end(),
                   [](const Move& a, const Move& b) { return a.at < b.at; });
}

Device::Done Contacts::act(Run& run) {
  const Move move = moves_.front();
  moves_.erase(moves_.begin());
  run.moveContact(move.part, move.closed);
  return {.event = true};
}

bool Contacts::repeats(const Contacts& then, Nanoseconds later) const {
  return std::equal(moves_.begin(), moves_.end(), then.moves_.begin(), then.moves_.end(),
                    [&](const Move& a, const Move& b) {
                      return a.at - later == b.at && a.part == b.part && a.closed == b.closed;
                    });
}

void Contacts::skip(const Contacts&, Nanoseconds later, std::int64_t times) {
  for (Move& move : moves_) move.at += later * times;
}

}  // namespace ignavo
