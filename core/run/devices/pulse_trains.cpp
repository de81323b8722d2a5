#include "run/devices/pulse_trains.h"

#include <algorithm>

#include "program/turn_work.h"
#include "project/indexing.h"
#include "run/run.h"

// A pulse begins at its rise and is high for its width; the next one begins a period after it. All
// of it is exact; the chip makes an edge at the tick that follows it.
namespace ignavo {

void PulseTrains::start(Nanoseconds now) {
  began_ = now;
  trains_.clear();
}

void PulseTrains::settle(Train& t, Nanoseconds earliest) const {
  const std::int64_t parts = t.rise + (t.high ? t.now.width : t.now.period);
  t.due = std::max(began_ + nanosecondsOf(parts), earliest);
}

PulseTrains::Train* PulseTrains::find(int pin) {
  const auto it =
      std::find_if(trains_.begin(), trains_.end(), [&](const Train& t) { return t.pin == pin; });
  return it == trains_.end() ? nullptr : &*it;
}

bool PulseTrains::has(int pin) const {
  return std::any_of(trains_.begin(), trains_.end(), [&](const Train& t) { return t.pin == pin; });
}

PulseTrains::Becomes PulseTrains::begin(int pin, PulseTrain train, bool servo, Nanoseconds turn,
                                        Nanoseconds now) {
  release(pin);
  Train fresh{pin};
  fresh.servo = servo;
  fresh.rise = partsAt(turn - began_);
  fresh.now = fresh.next = train;
  settle(fresh, now);
  const auto place =
      std::find_if(trains_.begin(), trains_.end(), [&](const Train& t) { return t.pin > pin; });
  trains_.insert(place, fresh);
  return Becomes::begins;
}

PulseTrains::Becomes PulseTrains::sound(int pin, PulseTrain tone, Nanoseconds turn,
                                        Nanoseconds now) {
  Train* held = find(pin);
  if (!held || held->servo) return begin(pin, tone, false, turn, now);
  if (held->now == tone) return Becomes::same;
  held->now = held->next = tone;
  // What should have been long ago is now.
  const std::int64_t edge = held->rise + (held->high ? tone.width : tone.period);
  held->rise += std::max<std::int64_t>(0, partsAt(turn - began_) - edge);
  settle(*held, now);
  return Becomes::other;
}

PulseTrains::Becomes PulseTrains::turn(int pin, PulseTrain pulses, Nanoseconds turn,
                                       Nanoseconds now) {
  Train* held = find(pin);
  if (!held || !held->servo) return begin(pin, pulses, true, turn, now);
  const bool same = held->next == pulses;
  held->next = pulses;
  return same ? Becomes::same : Becomes::other;
}

void PulseTrains::release(int pin) {
  std::erase_if(trains_, [&](const Train& t) { return t.pin == pin; });
}

std::int64_t PulseTrains::edges(Nanoseconds from, Nanoseconds until) const {
  const std::int64_t first = partsAt(from - began_), last = partsAt(until - began_);
  std::int64_t edges = 0;
  for (const Train& t : trains_)
    for (const std::int64_t edge : {t.rise, t.rise + t.now.width}) {
      const auto before = [&](std::int64_t parts) {
        const std::int64_t away = parts - edge, period = t.now.period;
        return away >= 0 ? away / period : -((period - 1 - away) / period);
      };
      edges += before(last) - before(first);
    }
  return edges;
}

int PulseTrains::load(int microsecondsOfEdge) const {
  int load = 0;
  for (const Train& t : trains_)
    if (!t.servo) load += loadOf(t.now, microsecondsOfEdge);
  return load;
}

void PulseTrains::renumber(const std::vector<int>& places) {
  for (Train& t : trains_) t.pin = at(places, t.pin);
  release(-1);
  std::sort(trains_.begin(), trains_.end(),
            [](const Train& a, const Train& b) { return a.pin < b.pin; });
}

Nanoseconds PulseTrains::due() const {
  Nanoseconds soonest = never;
  for (const Train& t : trains_) soonest = std::min(soonest, t.due);
  return soonest;
}

Device::Done PulseTrains::act(Run& run) {
  const Nanoseconds now = run.now();
  bool begins = false;
  for (std::size_t i = 0; i < trains_.size(); ++i) {
    Train& t = trains_[i];
    if (t.due > now) continue;
    if (!t.high) {
      t.rise += t.now.period;
      t.now = t.next;
    }
    t.high = !t.high;
    begins = begins || t.high;
    settle(t, now);
    const int pin = t.pin;
    at(run.state.pins, pin).high = t.high;
    run.refreshPin(pin);
  }
  return {.event = true, .atLoopHead = begins};
}

bool PulseTrains::repeats(const PulseTrains& then, Nanoseconds later) const {
  if (trains_.empty() && then.trains_.empty()) return true;
  const std::int64_t parts = partsAt(later);
  // Only whole nanoseconds, of which none is rounded: else the next round is not like this one.
  if (parts * 125 != later * 8 || began_ != then.began_) return false;
  return std::equal(trains_.begin(), trains_.end(), then.trains_.begin(), then.trains_.end(),
                    [&](const Train& a, const Train& b) {
                      return a.pin == b.pin && a.servo == b.servo && a.high == b.high &&
                             a.rise - parts == b.rise && a.now == b.now && a.next == b.next &&
                             sameMoment(a.due, b.due, later);
                    });
}

void PulseTrains::skip(const PulseTrains&, Nanoseconds later, std::int64_t times) {
  for (Train& t : trains_) {
    t.rise += partsAt(later * times);
    shift(t.due, later * times);
  }
}

}  // namespace ignavo
