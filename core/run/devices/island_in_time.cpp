#include "run/devices/island_in_time.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/run.h"

// It goes in steps, as long as the solver's error allows; each is told of when it begins, and
// looked at again at its end, or where a pin's level changes on the way.
namespace ignavo {

namespace {
constexpr Nanoseconds crossing = 1000;  // a level is found to within this
}

void IslandInTime::catchUp(Nanoseconds now) {
  course_.advance(inSeconds(now - since_));
  since_ = now;
}

void IslandInTime::change(Run& run) {
  course_.change(run.state.circuit, inSeconds(run.now() - since_));
  plan(run);
}

void IslandInTime::plan(Run& run) {
  since_ = run.now();
  due_ = never;
  run.publish(island_, course_.here(), course_.there());
  if (course_.settled()) return;
  const auto length = static_cast<Nanoseconds>(std::llround(course_.stepSeconds() * 1e9));
  due_ = since_ + length;
  const Circuit& circuit = *run.model->circuit;
  const std::vector<int>& members = circuit.island(island_).pins;
  for (std::size_t k = 0; k < members.size(); ++k) {
    const CircuitPin& pin = at(circuit.pins(), members[k]);
    if (!run.fed(pin.ref.board)) continue;  // it reads low, whatever its volts
    const PinDrive drive = at(run.state.circuit.pins, members[k]);
    const auto from = course_.here().pins[k].volts, to = course_.there().pins[k].volts;
    if (drive == PinDrive::high || drive == PinDrive::low || !from || !to) continue;
    const bool level = at(run.state.pins, members[k]).level;
    const PinReading& there = course_.there().pins[k];
    const double line =
        there.groundVolts + (level ? pin.kind->lowShare : pin.kind->highShare) * there.supplyVolts;
    if (level ? *to >= line : *to <= line) continue;
    const double share = std::clamp((line - *from) / (*to - *from), 0.0, 1.0);
    const auto reach = static_cast<Nanoseconds>(share * static_cast<double>(length));
    due_ = std::min(due_, since_ + std::max(crossing, reach + reach / 1000));
  }
}

Device::Done IslandInTime::act(Run& run) {
  catchUp(run.now());
  plan(run);
  run.watchSuppliesSoon();
  return {};
}

IslandReading IslandInTime::reading(Nanoseconds now) const {
  if (course_.settled()) return course_.here();
  return course_.between(inSeconds(now - since_) / course_.stepSeconds());
}

PinReading IslandInTime::pin(std::size_t index, Nanoseconds now) const {
  PinReading r = course_.here().pins[index];
  if (course_.settled()) return r;
  const double share = inSeconds(now - since_) / course_.stepSeconds();
  const PinReading& end = course_.there().pins[index];
  if (r.volts && end.volts) *r.volts += share * (*end.volts - *r.volts);
  r.supplyVolts += share * (end.supplyVolts - r.supplyVolts);
  return r;
}

bool IslandInTime::repeats(const IslandInTime& then, Nanoseconds later) const {
  if (island_ != then.island_ || settled() != then.settled()) return false;
  return settled() || (since_ - later == then.since_ && sameMoment(due_, then.due_, later) &&
                       course_.signature() == then.course_.signature());
}

void IslandInTime::skip(const IslandInTime&, Nanoseconds later, std::int64_t times) {
  since_ += later * times;
  shift(due_, later * times);
}

}  // namespace ignavo
