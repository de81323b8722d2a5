#include "run/devices/heat.h"

#include <algorithm>

#include "project/indexing.h"
#include "run/run.h"

namespace ignavo {

namespace {
constexpr double pinWindowSeconds = 5;

Nanoseconds soonest(const std::vector<Stress>& all) {
  Nanoseconds out = never;
  for (const Stress& s : all)
    if (s.hot()) out = std::min(out, s.nextCheck());
  return out;
}
bool anyHot(const std::vector<Stress>& all) {
  return std::any_of(all.begin(), all.end(), [](const Stress& s) { return s.hot(); });
}
}  // namespace

void PartHeat::change(const Run& run, std::size_t k, double value) {
  const RunModel::PartRow& row = at(run.model->parts, part_);
  if (stress_.empty())
    for (const PartLimit& limit : row.limits)
      stress_.emplace_back(limit.damage.windowSeconds, limit.limit);
  const DamageLimit& damage = row.limits[k].damage;
  const int signal = at(row.signals, std::max(0, row.limits[k].lamp));
  double before = 0;
  if (!stress_[k].hot() && signal >= 0 && damage.of == DamageLimit::Of::amps) {
    const Nanoseconds from =
        std::max(newAt_, run.now() - static_cast<Nanoseconds>(damage.windowSeconds * 1e9));
    before = run.trace.integral(signal, from, run.now()) / damage.windowSeconds;
  }
  stress_[k].change(run.now(), value, before);
}

void PartHeat::reset() {
  for (Stress& s : stress_) s.clear();
}
void PartHeat::replaced(Nanoseconds now) {
  reset();
  newAt_ = now;
}

Nanoseconds PartHeat::due() const { return soonest(stress_); }

Device::Done PartHeat::act(Run& run) {
  for (Stress& s : stress_) {
    if (!s.hot() || s.nextCheck() > run.now() || !s.exceeded()) continue;
    s.clear();
    if (at(run.state.circuit.broken, part_) || run.project().settings.partsSurvive) continue;
    run.breakPart(part_);
  }
  return {.event = true};
}

// Its buckets are counted from a moment of their own: while it is hot nothing repeats.
bool PartHeat::repeats(const PartHeat& then, Nanoseconds) const {
  return !anyHot(stress_) && !anyHot(then.stress_);
}

void PinHeat::change(const Run& run, std::size_t index, double amps, double ampsBefore) {
  if (stress_.empty())
    for (const int pin : at(run.model->pinsOfBoard, board_))
      stress_.emplace_back(pinWindowSeconds, at(run.model->circuit->pins(), pin).kind->pinMostAmps);
  stress_[index].change(run.now(), amps, ampsBefore);
}

void PinHeat::reset() {
  for (Stress& s : stress_) s.clear();
}

Nanoseconds PinHeat::due() const { return soonest(stress_); }

Device::Done PinHeat::act(Run& run) {
  for (std::size_t k = 0; k < stress_.size(); ++k) {
    Stress& s = stress_[k];
    if (!s.hot() || s.nextCheck() > run.now() || !s.exceeded()) continue;
    s.clear();
    if (!run.project().settings.partsSurvive) run.burnPin(at(run.model->pinsOfBoard, board_)[k]);
  }
  return {.event = true};
}

bool PinHeat::repeats(const PinHeat& then, Nanoseconds) const {
  return !anyHot(stress_) && !anyHot(then.stress_);
}

}  // namespace ignavo
