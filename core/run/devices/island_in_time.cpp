#include "run/devices/island_in_time.h"

#include <cmath>

#include "project/indexing.h"
#include "run/run.h"

// It goes in steps, as long as the solver's error allows. What it does within a step is known when
// that begins: it is written down in as many pieces as it takes to be drawn, and looked at where a
// pin's level changes on the way.
namespace ignavo {

void IslandInTime::catchUp(Nanoseconds now) {
  course_.advance(inSeconds(now - since_));
  since_ = now;
}

void IslandInTime::change(Run& run) {
  course_.change(run.state.circuit, inSeconds(run.now() - since_));
  since_ = run.now();
  plan(run);
}

Nanoseconds IslandInTime::end() const {
  return since_ + static_cast<Nanoseconds>(std::llround(course_.stepSeconds() * 1e9));
}

// A step begins.
void IslandInTime::plan(Run& run) {
  due_ = never;
  if (course_.settled()) return run.publish(island_, course_.here(), course_.there());
  looks_ = run.looksInto(island_, course_.here(), course_.there(), end() - since_);
  look(run);
}

// Is a pin's level no longer what it was, so far into the step?
bool IslandInTime::hasCrossed(const CircuitPin& pin, std::size_t index, bool level,
                              double seconds) const {
  const PinReading r = course_.pin(index, seconds);
  const double volts = r.volts.value_or(0) - r.groundVolts;
  return level ? volts < pin.kind->lowShare * r.supplyVolts
               : volts > pin.kind->highShare * r.supplyVolts;
}

void IslandInTime::look(Run& run) {
  const Nanoseconds now = run.now(), length = end() - since_;
  const Nanoseconds piece = 1 + (now - since_) * looks_ / length;
  due_ = piece >= looks_ ? end() : since_ + (length * piece + looks_ - 1) / looks_;
  if (now == since_ && looks_ == 1)
    run.publish(island_, course_.here(), course_.there());
  else
    run.publish(island_, reading(now), reading(due_));
  const Circuit& circuit = *run.model->circuit;
  const std::vector<int>& members = circuit.island(island_).pins;
  for (std::size_t k = 0; k < members.size(); ++k) {
    const CircuitPin& pin = at(circuit.pins(), members[k]);
    if (!run.fed(pin.ref.board)) continue;  // it reads low, whatever its volts
    const PinDrive drive = at(run.state.circuit.pins, members[k]);
    if (drive == PinDrive::high || drive == PinDrive::low) continue;
    if (!course_.here().pins[k].volts || !course_.there().pins[k].volts) continue;
    const bool level = at(run.state.pins, members[k]).level;
    const auto crossed = [&](Nanoseconds moment) {
      return hasCrossed(pin, k, level, inSeconds(moment - since_));
    };
    // It was not at `before`, and is at `after`.
    Nanoseconds before = now, after = due_;
    if (crossed(before) || !crossed(after)) continue;
    while (after - before > 1) {
      const Nanoseconds middle = before + (after - before) / 2;
      (crossed(middle) ? after : before) = middle;
    }
    due_ = after;
  }
}

Device::Done IslandInTime::act(Run& run) {
  if (run.now() < end()) {
    look(run);
  } else {
    catchUp(run.now());
    plan(run);
  }
  run.watchSuppliesSoon();
  return {};
}

IslandReading IslandInTime::reading(Nanoseconds now) const {
  return course_.reading(inSeconds(now - since_));
}

PinReading IslandInTime::pin(std::size_t index, Nanoseconds now) const {
  return course_.pin(index, inSeconds(now - since_));
}

bool IslandInTime::repeats(const IslandInTime& then, Nanoseconds later) const {
  if (island_ != then.island_ || settled() != then.settled()) return false;
  return settled() ||
         (looks_ == then.looks_ && since_ - later == then.since_ &&
          sameMoment(due_, then.due_, later) && course_.signature() == then.course_.signature());
}

void IslandInTime::skip(const IslandInTime&, Nanoseconds later, std::int64_t times) {
  since_ += later * times;
  shift(due_, later * times);
}

}  // namespace ignavo
