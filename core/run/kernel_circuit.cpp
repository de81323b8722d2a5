#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/board_run.h"

// What of a run happens in the circuit: islands that are solved or go their way through
// time, what is read off them, and what they do to parts, pins and the supply.
namespace ignavo {

namespace {

constexpr Nanoseconds overloadPatience = 100'000'000;  // USB gives up after 0.1 s
constexpr Nanoseconds crossingNanoseconds = 1000;      // a level is found to within this

constexpr double sameLimit = 1e-6;  // exactly the limit is not more, whatever its last digits

double asSeconds(Nanoseconds n) { return static_cast<double>(n) * 1e-9; }
double mean(double a, double b) { return (a + b) / 2; }
}  // namespace

// A chip without a supply drives nothing.
PinDrive Kernel::driveOf(const PinRun& run) const {
  if (run.burnt) return PinDrive::burnt;
  if (!boardsFeed()) return PinDrive::input;
  if (run.hand >= 0) return run.hand ? PinDrive::high : PinDrive::low;
  if (run.role == PinRole::output) return run.high ? PinDrive::high : PinDrive::low;
  return run.pull ? PinDrive::pullUp : PinDrive::input;
}

void Kernel::refreshPin(int pin) {
  at(state_.pins, pin) = driveOf(at(pins_, pin));
  refreshIsland(at(circuit_->pins(), pin).island);
}

void Kernel::refreshAll() {
  for (int p = 0; p < static_cast<int>(pins_.size()); ++p)
    at(state_.pins, p) = driveOf(at(pins_, p));
  state_.unpowered.clear();
  if (live() && !boardsFeed()) state_.unpowered.assign(project_->boards.size(), 1);
  (void)regroup();
  std::fill(islandAmps_.begin(), islandAmps_.end(), 0.0);
  for (int island : active_) readIsland(island);
  watchSupply();
}

void Kernel::refreshIsland(int island) {
  if (regroup())
    for (int each : active_) readIsland(each);
  else
    readIsland(activeIsland(island));
  watchSupply();
}

// What the parts remember by now.
std::map<int, PartMemory> Kernel::partMemories() {
  std::map<int, PartMemory> out;
  for (int island : remembering_) {
    catchUp(island);
    out.merge(at(courses_, island).course->memory());
  }
  return out;
}

// Are other islands solved together than before? Then what goes on in them goes on in the new
// ones, from where it is.
bool Kernel::regroup() {
  const int joined = live() ? circuit_->joinedIsland(state_) : -1;
  if (joined == joined_ && !active_.empty()) return false;
  const std::map<int, PartMemory> memories = partMemories();
  joined_ = joined;
  startCourses();
  for (int island : remembering_) at(courses_, island).course->recall(memories);
  return true;
}

// Capacitors without charge, motors at rest.
void Kernel::startCourses() {
  active_.clear();
  for (int i = 0; i < circuit_->islandCount(); ++i)
    if (!circuit_->isJoined(i, joined_)) active_.push_back(i);
  if (joined_ >= 0) active_.push_back(joined_);
  const auto count = static_cast<std::size_t>(std::max(circuit_->islandCount(), joined_ + 1));
  courses_.clear();
  courses_.resize(count);
  islandAmps_.assign(count, 0.0);
  remembering_.clear();
  for (int i : active_) {
    at(courses_, i).since = now_;
    if (!circuit_->remembers(i)) continue;
    at(courses_, i).course = std::make_unique<IslandCourse>(*circuit_, i);
    remembering_.push_back(i);
  }
}

// Brings an island that remembers something up to now.
void Kernel::catchUp(int island) {
  CourseRun& c = at(courses_, island);
  c.course->advance(asSeconds(now_ - c.since));
  c.since = now_;
}

// Tells of the step that begins now, and when to look again: at its end, or where a
// pin's level changes on the way.
void Kernel::planCourse(int island) {
  CourseRun& c = at(courses_, island);
  c.since = now_;
  c.due = never;
  publish(island, c.course->here(), c.course->there());
  if (c.course->settled()) return;
  const auto length = static_cast<Nanoseconds>(std::llround(c.course->stepSeconds() * 1e9));
  c.due = now_ + length;
  if (!boardsFeed()) return;  // then every pin reads low, whatever its volts
  const std::vector<int>& members = circuit_->island(island).pins;
  for (std::size_t k = 0; k < members.size(); ++k) {
    const PinDrive drive = at(state_.pins, members[k]);
    const auto from = c.course->here().pins[k].volts, to = c.course->there().pins[k].volts;
    if (drive == PinDrive::high || drive == PinDrive::low || !from || !to) continue;
    const BoardKind& kind = *at(circuit_->pins(), members[k]).kind;
    const bool level = at(pins_, members[k]).level != 0;
    const double line =
        (level ? kind.lowShare : kind.highShare) * c.course->there().pins[k].supplyVolts;
    if (level ? *to >= line : *to <= line) continue;
    const double share = std::clamp((line - *from) / (*to - *from), 0.0, 1.0);
    const auto reach = static_cast<Nanoseconds>(share * static_cast<double>(length));
    c.due = std::min(c.due, now_ + std::max(crossingNanoseconds, reach + reach / 1000));
  }
}

// Steps that end now. False when there are none.
bool Kernel::finishSteps() {
  bool any = false;
  for (int island : remembering_) {
    if (at(courses_, island).due > now_) continue;
    any = true;
    catchUp(island);
    planCourse(island);
  }
  return any;
}

std::vector<double> Kernel::courseSignature() const {
  std::vector<double> out;
  for (int island : remembering_) {
    const CourseRun& c = at(courses_, island);
    if (c.course->settled()) continue;
    const std::vector<double> own = c.course->signature();
    out.push_back(island);
    out.push_back(static_cast<double>(now_ - c.since));
    out.insert(out.end(), own.begin(), own.end());
  }
  return out;
}

// Solves an island as it stands now and writes down what follows from it.
void Kernel::readIsland(int index) {
  if (!live()) {
    at(courses_, index).due = never;
    static const IslandReading dark;
    publish(index, dark, dark);
  } else if (CourseRun& c = at(courses_, index); c.course) {
    c.course->change(state_, asSeconds(now_ - c.since));
    planCourse(index);
  } else {
    const IslandReading& r = circuit_->solveIsland(index, state_);
    publish(index, r, r);
  }
}

// The readings at the begin and the end of what lies ahead; the same where all is settled.
void Kernel::publish(int index, const IslandReading& here, const IslandReading& there) {
  at(islandAmps_, index) = mean(here.supplyAmps, there.supplyAmps);
  publishPins(index, here, there);
  const std::vector<int>& parts = circuit_->island(index).parts;
  static const PartReading dark;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    const bool live = k < here.parts.size();
    publishPart(parts[k], live ? here.parts[k] : dark, live ? there.parts[k] : dark);
  }
}

void Kernel::publishPins(int index, const IslandReading& here, const IslandReading& there) {
  const std::vector<int>& members = circuit_->island(index).pins;
  for (std::size_t k = 0; k < members.size(); ++k) {
    const int p = members[k];
    PinRun& run = at(pins_, p);
    const PinDrive drive = at(state_.pins, p);
    const bool live = k < here.pins.size();
    run.floating = live && here.pins[k].floating;
    if (!live || !boardsFeed())
      seeLevel(p, false);
    else if (drive == PinDrive::high || drive == PinDrive::low)
      seeLevel(p, drive == PinDrive::high);
    else if (!run.floating)
      takeLevel(p, here.pins[k]);
    else
      watchFloating(p);
    if (run.signal >= 0) trace_.record(run.signal, now_, run.level);
    const double amps = live ? std::abs(mean(here.pins[k].amps, there.pins[k].amps)) : 0;
    // What it gave before it was too much is taken as having flown for long.
    run.stress.change(now_, amps, std::min(amps, run.amps));
    run.amps = amps;
  }
}

void Kernel::takeLevel(int pin, const PinReading& reading) {
  if (!reading.volts) return;
  const BoardKind& kind = *at(circuit_->pins(), pin).kind;
  if (*reading.volts > kind.highShare * reading.supplyVolts) seeLevel(pin, true);
  if (*reading.volts < kind.lowShare * reading.supplyVolts) seeLevel(pin, false);
}

void Kernel::publishPart(int p, const PartReading& here, const PartReading& there) {
  const std::vector<int>& signals = at(partSignals_, p);
  const PartKind* kind = circuit_->kindOf(p);
  const double volts = mean(here.volts.value_or(0), there.volts.value_or(0));
  const auto amps = [&](int lamp) {
    if (lamp < 0) return mean(here.amps, there.amps);
    const auto l = static_cast<std::size_t>(lamp);
    return l < here.lamps.size() ? mean(here.lamps[l], there.lamps[l]) : 0.0;
  };
  for (PartStress& stress : stress_) {
    if (stress.part != p) continue;
    double value = 0;
    switch (stress.burn.of) {
      case Burn::Of::amps:
        value = amps(stress.lamp);
        break;
      case Burn::Of::watts:
        value = mean(here.watts, there.watts);
        break;
      case Burn::Of::volts:
        value = std::abs(volts);
        break;
      case Burn::Of::reverseVolts:
        value = -volts;
    }
    const int signal = at(signals, std::max(0, stress.lamp));
    double before = 0;
    if (value > stress.stress.limit() && !stress.stress.hot() && signal >= 0 &&
        stress.burn.of == Burn::Of::amps)
      before = trace_.integral(signal,
                               std::max(stress.newAt, now_ - static_cast<Nanoseconds>(
                                                                 stress.burn.windowSeconds * 1e9)),
                               now_) /
               stress.burn.windowSeconds;
    stress.stress.change(now_, value, before);
  }
  if (kind && kind->moves == Moves::angle)
    watchArm(p, mean(here.tracedVolts, there.tracedVolts), volts);
  for (std::size_t l = 0; l < signals.size(); ++l) {
    if (signals[l] < 0) continue;
    const double value = kind->tracedVolts ? mean(here.tracedVolts, there.tracedVolts)
                                           : amps(signals.size() > 1 ? static_cast<int>(l) : -1);
    // Leakage below a picoamp is nothing to be seen.
    trace_.record(signals[l], now_, std::abs(value) < 1e-12 ? 0 : static_cast<float>(value));
  }
}

IslandReading Kernel::readingNow(int island) {
  const CourseRun& c = at(courses_, island);
  if (!c.course) return circuit_->solveIsland(island, state_);
  if (c.course->settled()) return c.course->here();
  return c.course->between(asSeconds(now_ - c.since) / c.course->stepSeconds());
}

PinReading Kernel::pinNow(int pin) {
  const int island = activeIsland(at(circuit_->pins(), pin).island);
  const auto& members = circuit_->island(island).pins;
  const auto place =
      static_cast<std::size_t>(std::find(members.begin(), members.end(), pin) - members.begin());
  const CourseRun& c = at(courses_, island);
  if (!c.course) return circuit_->solveIsland(island, state_).pins[place];
  PinReading r = c.course->here().pins[place];
  if (c.course->settled()) return r;
  const double share = asSeconds(now_ - c.since) / c.course->stepSeconds();
  const auto to = c.course->there().pins[place].volts;
  if (r.volts && to) *r.volts += share * (*to - *r.volts);
  r.supplyVolts += share * (c.course->there().pins[place].supplyVolts - r.supplyVolts);
  return r;
}

// Begins or ends the countdown to losing power.
void Kernel::watchSupply() {
  if (!powered_ || tripped_) {
    overloadedSince_ = never;
    return;
  }
  double amps = 0;
  for (double a : islandAmps_) amps += a;
  const bool over = circuit_->shorted() || amps > usbMostAmps() * (1 + sameLimit);
  if (!over)
    overloadedSince_ = never;
  else if (overloadedSince_ == never)
    overloadedSince_ = now_;
}

Nanoseconds Kernel::supplyGivesUp() const {
  return overloadedSince_ == never ? never : overloadedSince_ + overloadPatience;
}

// What the cables of all boards may deliver before they give up.
double Kernel::usbMostAmps() const {
  double most = HUGE_VAL;
  for (const BoardItem& b : project_->boards)
    if (const BoardKind* kind = catalogue().boardKind(b.type)) most = kind->usbMostAmps;
  return most;
}

double Kernel::loadIfPowered() {
  if (circuit_->shorted()) return HUGE_VAL;
  CircuitState rest = circuit_->restState();
  rest.pressed = state_.pressed;
  rest.broken = state_.broken;
  return circuit_->solve(rest).supplyAmps;
}

void Kernel::calm() {
  for (PartStress& s : stress_) s.stress.clear();
  for (PinRun& pin : pins_) pin.stress.clear(), pin.amps = 0;
}

void Kernel::checkSupply() {
  double amps = 0;
  for (double a : islandAmps_) amps += a;
  tripped_ = true;
  overloadedSince_ = never;
  happenings_.push_back({now_, Happening::What::tripped, {}, circuit_->shorted() ? 0 : amps});
  if (!live()) calm();
  startPrograms();
}

void Kernel::checkStress() {
  for (PartStress& s : stress_) {
    if (!s.stress.hot() || s.stress.nextCheck() > now_) continue;
    if (!s.stress.exceeded()) continue;
    s.stress.clear();
    if (at(state_.broken, s.part) || project_->settings.partsSurvive) continue;
    const int island = activeIsland(circuit_->islandOfPart(s.part));
    const auto& members = circuit_->island(island).parts;
    const auto place = std::find(members.begin(), members.end(), s.part) - members.begin();
    const double amps = readingNow(island).parts[static_cast<std::size_t>(place)].amps;
    at(state_.broken, s.part) = 1;
    happenings_.push_back({now_, Happening::What::broke,
                           (*project_->parts)[static_cast<std::size_t>(s.part)]->id, amps});
    refreshIsland(circuit_->islandOfPart(s.part));
  }
  checkPins();
}

// A pin that gives too much for too long gives nothing any more.
void Kernel::checkPins() {
  for (int p = 0; p < static_cast<int>(pins_.size()); ++p) {
    PinRun& run = at(pins_, p);
    if (!run.stress.hot() || run.stress.nextCheck() > now_ || !run.stress.exceeded()) continue;
    run.stress.clear();
    if (project_->settings.partsSurvive) continue;
    run.burnt = true;
    const CircuitPin& pin = at(circuit_->pins(), p);
    happenings_.push_back({now_, Happening::What::broke, pin.board + "." + pin.name, run.amps});
    refreshPin(p);
  }
}

}  // namespace ignavo
