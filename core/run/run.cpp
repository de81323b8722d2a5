#include "run/run.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "program/said.h"
#include "project/indexing.h"
#include "run/devices/board_processor.h"
#include "run/devices/contacts.h"
#include "run/devices/floating_pins.h"
#include "run/devices/hand_waves.h"
#include "run/devices/heat.h"
#include "run/devices/pulse_trains.h"
#include "run/devices/serial_line.h"
#include "run/devices/timers.h"
#include "run/noise.h"

// What the boards, their pins and the parts of a run do to each other.
namespace ignavo {

namespace {

// What an analog pin measures: one of 1,024 stages, told in percent.
double percentMeasured(double shareOfSupply) {
  constexpr double stages = 1024;
  const double stage = std::clamp(std::floor(shareOfSupply * stages), 0.0, stages - 1);
  return stage * 100 / (stages - 1);
}

}  // namespace

void Run::tell(Event::What what, const std::string& id, double figure) {
  events.push_back({state.now, what, id, figure});
}

bool Run::isOn(int board) const {
  const BoardState& b = at(state.boards, board);
  return b.on && !b.tripped;
}
bool Run::plugged(int board) const {
  return state.on && isOn(board) && !model->circuit->shorted(board);
}

// Whether there is a voltage anywhere, and which boards' chips have enough to run on: those with
// a cable do. What the others have depends on the circuit.
void Run::settlePower() {
  state.live = state.on && model->circuit->hasBatteries();
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
    state.live = state.live || plugged(b);
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b) {
    BoardState& board = at(state.boards, b);
    const bool was = board.fed;
    board.plugged = plugged(b);
    board.fed = board.plugged || (was && live());
    if (was && !board.fed) resetBoard(b);
    // Processors stand still while their boards give them nothing.
    state.devices.touch<BoardProcessor>(at(state.places.boards, b),
                                        [&](BoardProcessor& p) { p.feed(board.fed); });
  }
}

// Its program and its pins, as they are at power-on.
void Run::resetBoard(int board) {
  state.devices.touch<BoardProcessor>(at(state.places.boards, board),
                                      [&](BoardProcessor& p) { p.start(now()); });
  state.devices.touch<Timers>(at(state.places.timers, board), [&](Timers& t) { t.start(now()); });
  state.devices.touch<PulseTrains>(at(state.places.pulses, board),
                                   [&](PulseTrains& p) { p.start(now()); });
  state.devices.touch<SerialLine>(at(state.places.lines, board), [](SerialLine& s) { s.start(); });
  for (const int p : at(model->pinsOfBoard, board)) {
    at(state.pins, p).high = model->isLineOut(p);
    at(state.pins, p).chip = PinDrive::input;
    at(state.pins, p).level = false;
  }
  recordVariables(board);
}

// Those that are recorded hold what they begin with.
void Run::recordVariables(int board) {
  const RunModel::BoardProgram& row = at(model->boards, board);
  for (std::size_t cell = 0; cell < row.storeSignals.size(); ++cell) {
    const MemoryCell& held = row.compiled->memory[cell];
    if (row.storeSignals[cell] >= 0)
      trace.record(row.storeSignals[cell], now(),
                   static_cast<float>(number(held.start, held.type)));
  }
}

void Run::startPrograms(int only) {
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
    if (only < 0 || b == only) resetBoard(b);
  refreshAll();
}

void Run::starve(int board) {
  at(state.boards, board).fed = false;
  startPrograms(board);
}

void Run::revive(int board) {
  at(state.boards, board).fed = true;
  startPrograms(board);
}

void Run::switchPower(bool on) {
  state.on = on;
  for (BoardState& board : state.boards) board.tripped = false;
  tell(on ? Event::What::powerOn : Event::What::powerOff);
  resetStress();
  startIslands();
  startPrograms();
}

void Run::switchBoard(int board, bool on) {
  BoardState& b = at(state.boards, board);
  if (b.on == on) return;
  b.on = on;
  b.tripped = false;
  tell(on ? Event::What::powerOn : Event::What::powerOff, at(project().boards, board).id);
  // What a battery feeds goes on.
  if (on && !b.fed)
    startPrograms(board);
  else
    refreshAll();
}

void Run::resetStress() {
  for (const int place : state.places.heat)
    if (place >= 0) state.devices.touch<PartHeat>(place, [](PartHeat& h) { h.reset(); });
  for (const int place : state.places.pinHeat)
    state.devices.touch<PinHeat>(place, [](PinHeat& h) { h.reset(); });
  for (PinState& pin : state.pins) pin.amps = 0;
}

void Run::trip(int board) {
  const double amps = model->circuit->shorted(board) ? 0 : boardAmps(board);
  at(state.boards, board).tripped = true;
  tell(Event::What::tripped, at(project().boards, board).id, amps);
  settlePower();
  if (!live()) resetStress();
  refreshAll();
}

// Boards come back by themselves once nothing overloads them any more.
void Run::recover() {
  if (!state.on) return;
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b) {
    BoardState& board = at(state.boards, b);
    if (!board.tripped || loadIfPowered(b) >= mostAmps(b)) continue;
    if (!live()) startIslands();  // nothing was fed meanwhile: all begins anew
    board.tripped = false;
    tell(Event::What::recovered, at(project().boards, b).id);
    if (!board.fed)
      startPrograms(b);
    else
      refreshAll();
  }
}

void Run::press(int part, bool down) {
  const PartKind* kind = part < 0 ? nullptr : kindOf(part);
  if (!kind || !kind->pressable) return;
  const Part& pressed = *(*project().parts)[static_cast<std::size_t>(part)];
  tell(down ? Event::What::press : Event::What::release, pressed.id);
  if (down)
    state.pressedAt[pressed.id] = state.now;
  else if (isOverlooked(part))
    tell(Event::What::overlooked, pressed.id, inSeconds(state.now - state.pressedAt[pressed.id]));
  const int n = state.presses[pressed.id]++;
  const auto touch = [&](auto what) { state.devices.touch<Contacts>(state.places.contacts, what); };
  touch([&](Contacts& c) { c.settle(part); });
  moveContact(part, down);
  if (pressed.text("contacts", "real") == "real")
    touch([&](Contacts& c) { c.bounce(*this, part, down, n); });
}

// Of programs that look at a pin behind a button at all, has none looked since it was pressed?
bool Run::isOverlooked(int part) const {
  const auto pressed = state.pressedAt.find(at(*project().parts, part)->id);
  if (pressed == state.pressedAt.end()) return false;
  const int island = model->circuit->islandOfPart(part);
  bool any = false;
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b) {
    if (at(state.places.boards, b) < 0 || !fed(b)) continue;
    const Processor& processor =
        state.devices.as<BoardProcessor>(at(state.places.boards, b)).processor();
    const std::vector<int>& pins = at(model->boards, b).circuitPin;
    for (int pin = 0; pin < static_cast<int>(pins.size()); ++pin) {
      const int p = at(pins, pin);
      if (p < 0 || at(model->circuit->pins(), p).island != island || at(model->pins, p).output)
        continue;
      const auto looked = processor.lookedAt(pin, pressed->second);
      if (looked == true) return false;
      any = any || looked.has_value();
    }
  }
  return any;
}

void Run::moveContact(int part, bool closed) {
  if (at(state.circuit.pressed, part) == (closed ? 1 : 0)) return;
  at(state.circuit.pressed, part) = closed ? 1 : 0;
  refreshPart(part);
}

void Run::breakPart(int part) {
  if (at(state.circuit.broken, part) != 0) return;
  const double amps = readingOfPart(part).amps;
  at(state.circuit.broken, part) = 1;
  tell(Event::What::broke, (*project().parts)[static_cast<std::size_t>(part)]->id, amps);
  refreshPart(part);
}

void Run::burnPin(int pin) {
  if (at(state.pins, pin).burnt) return;
  at(state.pins, pin).burnt = true;
  const CircuitPin& p = at(model->circuit->pins(), pin);
  tell(Event::What::broke, p.board + "." + p.name, at(state.pins, pin).amps);
  refreshPin(pin);
}

void Run::replace(int part, int pin) {
  if (pin >= 0) {
    at(state.pins, pin).burnt = false;
    refreshPin(pin);
  }
  if (part < 0 || !at(state.circuit.broken, part)) return;
  at(state.circuit.broken, part) = 0;
  if (const int place = at(state.places.heat, part); place >= 0)
    state.devices.touch<PartHeat>(place, [&](PartHeat& h) { h.replaced(now()); });
  refreshPart(part);
}

// A chip without a supply drives nothing.
PinDrive Run::driveOf(int pin) const {
  const PinState& run = at(state.pins, pin);
  const RunModel::PinRow& row = at(model->pins, pin);
  if (run.burnt) return PinDrive::burnt;
  if (!fed(row.board)) return PinDrive::input;
  if (run.hand >= 0) return run.hand ? PinDrive::high : PinDrive::low;
  if (row.machine) return run.chip;
  if (row.output) return run.high ? PinDrive::high : PinDrive::low;
  return row.pull ? PinDrive::pullUp : PinDrive::input;
}

void Run::refreshPin(int pin) {
  const PinDrive before = std::exchange(at(state.circuit.pins, pin), driveOf(pin));
  const int island = at(model->circuit->pins(), pin).island;
  if (Known& known = at(known_, island); known.code)
    *known.code ^= (static_cast<std::uint64_t>(before) ^
                    static_cast<std::uint64_t>(at(state.circuit.pins, pin)))
                   << at(pinShifts_, pin);
  refreshIsland(island);
}

void Run::hold(int pin, double percent) {
  const int share =
      static_cast<int>(std::lround(std::clamp(percent, 0.0, 100.0) / 100 * HandWaves::shares));
  const bool wave = share > 0 && share < HandWaves::shares;
  state.devices.touch<HandWaves>(
      state.places.hands, [&](HandWaves& h) { wave ? h.hold(pin, share, now()) : h.release(pin); });
  const auto& hands = state.devices.as<HandWaves>(state.places.hands);
  at(state.pins, pin).hand = (wave ? hands.isHigh(pin) : share > 0) ? 1 : 0;
  refreshPin(pin);
}

void Run::letGo(int pin) {
  state.devices.touch<HandWaves>(state.places.hands, [&](HandWaves& h) { h.release(pin); });
  at(state.pins, pin).hand = -1;
  refreshPin(pin);
}

std::optional<double> Run::heldPercent(int pin) const {
  const signed char hand = at(state.pins, pin).hand;
  if (hand < 0) return std::nullopt;
  const int share = state.devices.as<HandWaves>(state.places.hands).shareOf(pin);
  return share > 0 ? share * 100.0 / HandWaves::shares : hand * 100.0;
}

bool Run::wavers(int pin) const {
  const int board = at(model->pins, pin).board;
  const int timers = at(state.places.timers, board), pulses = at(state.places.pulses, board);
  return (state.devices.dueOf(timers) != never && state.devices.as<Timers>(timers).dims(pin)) ||
         (state.devices.dueOf(pulses) != never && state.devices.as<PulseTrains>(pulses).has(pin));
}

void Run::release(int pin) {
  const int board = at(model->pins, pin).board;
  state.devices.touch<Timers>(at(state.places.timers, board), [&](Timers& t) { t.release(pin); });
  state.devices.touch<PulseTrains>(at(state.places.pulses, board),
                                   [&](PulseTrains& p) { p.release(pin); });
}

bool Run::makeOutput(int pin, bool high) {
  PinState& run = at(state.pins, pin);
  const bool wavered = wavers(pin);
  if (wavered) release(pin);
  if (at(model->pins, pin).output && run.high == high && !wavered) return false;
  run.high = high;
  refreshPin(pin);
  return true;
}

void Run::drive(int pin, PinDrive drive) {
  PinState& run = at(state.pins, pin);
  if (run.chip == drive) return;
  run.chip = drive;
  run.high = drive == PinDrive::high;
  refreshPin(pin);
}

void Run::flip(int pin) { (void)makeOutput(pin, !at(state.pins, pin).high && !wavers(pin)); }

// From the timer's next period on the pin is high for that share of it.
void Run::dim(int pin, double percent) {
  // What cannot dim is switched.
  if (!at(model->circuit->pins(), pin).shape().pwm) return void(makeOutput(pin, percent >= 50));
  const int share =
      static_cast<int>(std::lround(std::clamp(percent, 0.0, 100.0) / 100 * Timers::ticks));
  if (share == 0 || share == Timers::ticks) return void(makeOutput(pin, share > 0));
  const int board = at(model->pins, pin).board;
  state.devices.touch<PulseTrains>(at(state.places.pulses, board),
                                   [&](PulseTrains& p) { p.release(pin); });
  state.devices.touch<Timers>(at(state.places.timers, board),
                              [&](Timers& t) { t.dim(pin, share, now()); });
}

bool Run::sound(int pin, float hertz, Nanoseconds turn) {
  const PulseTrain tone = toneTrain(hertz);
  if (tone.period == 0) return makeOutput(pin, false);
  return train(pin, [&](PulseTrains& p) { return p.sound(pin, tone, turn, now()); });
}

bool Run::turnServo(int pin, float degrees, Nanoseconds turn) {
  return train(pin, [&](PulseTrains& p) { return p.turn(pin, servoTrain(degrees), turn, now()); });
}

int Run::say(int board, SaidLine line, PinAccess::SayingTime time) {
  int taken = PinAccess::refused;
  state.devices.touch<SerialLine>(at(state.places.lines, board), [&](SerialLine& s) {
    taken = s.say(*this, wireLine(line.note, line.number, line.seconds, line.text), time);
  });
  if (taken != PinAccess::refused) hear(board, std::move(line));
  return taken;
}

void Run::hear(int board, SaidLine line) {
  irregular = true;  // each time it is said again
  line.board = at(project().boards, board).id;
  constexpr std::size_t most = 100'000;
  if (said.size() >= most) said.erase(said.begin(), said.begin() + most / 2);
  said.push_back(std::move(line));
}

void Run::keyChanged(int board, const std::string& key, bool down) {
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
    if (board < 0 || b == board)
      state.devices.touch<BoardProcessor>(
          at(state.places.boards, b), [&](BoardProcessor& p) { p.keyChanged(key, down, now()); });
}

// Edges that come by themselves; where they begin the pin rises.
template <typename Change>
bool Run::train(int pin, Change&& change) {
  const int board = at(model->pins, pin).board;
  state.devices.touch<Timers>(at(state.places.timers, board), [&](Timers& t) { t.release(pin); });
  PulseTrains::Becomes becomes = PulseTrains::Becomes::same;
  state.devices.touch<PulseTrains>(at(state.places.pulses, board),
                                   [&](PulseTrains& p) { becomes = change(p); });
  if (becomes == PulseTrains::Becomes::begins) {
    at(state.pins, pin).high = true;
    refreshPin(pin);
  }
  return becomes != PulseTrains::Becomes::same;
}

bool Run::noise(int pin) const {
  return humAt(at(model->circuit->pins(), pin), project().seed, now()).high;
}

// What an analog pin that nothing holds measures, in percent.
double Run::drift(int pin) const {
  const std::uint64_t seed = project().seed;
  const Hum hum = humAt(at(model->circuit->pins(), pin), seed, now());
  const double swing = 0.5 * randomShare(seed, hum.stream ^ 1, hum.slot);
  return percentMeasured(hum.high ? 0.5 + swing : 0.5 - swing);
}

bool Run::read(int pin) {
  const PinReading reading = pinNow(pin);
  // What drives it is in the trace already.
  if (isDriven(pin) && !reading.floating) {
    const signed char level = levelOf(pin, reading);
    return level >= 0 ? level != 0 : at(state.pins, pin).level;
  }
  if (reading.floating) {
    irregular = true;
    seeLevel(pin, noise(pin));
  } else if (const signed char level = levelOf(pin, reading); level >= 0) {
    seeLevel(pin, level != 0);
  }
  const bool level = at(state.pins, pin).level;
  if (const int signal = at(model->pins, pin).signal; signal >= 0)
    trace.record(signal, now(), level);
  return level;
}

double Run::readPercent(int pin) {
  // A pin that cannot measure tells only high from low.
  if (!at(model->circuit->pins(), pin).shape().analog) return read(pin) ? 100 : 0;
  const PinReading reading = pinNow(pin);
  irregular = irregular || reading.floating || !reading.volts;
  return percentSeen(pin);
}

double Run::percentSeen(int pin) {
  if (!at(model->circuit->pins(), pin).shape().analog) return at(state.pins, pin).level ? 100 : 0;
  const PinReading reading = pinNow(pin);
  if (reading.floating || !reading.volts) return drift(pin);
  const double volts = *reading.volts - reading.groundVolts;
  return percentMeasured(reading.supplyVolts > 0 ? volts / reading.supplyVolts : 0);
}

// The level of a pin as a program would read it now. Something may be waiting for it.
void Run::seeLevel(int pin, bool high) {
  PinState& run = at(state.pins, pin);
  if (run.level == high) return;
  run.level = high;
  const RunModel::PinRow& row = at(model->pins, pin);
  if (row.watchers.empty()) return;
  if (row.signal >= 0) trace.record(row.signal, now(), high);
  for (const auto& [board, programPin] : row.watchers) {
    const bool byAnother = acting >= 0 && acting != board;
    // Of what is due now, boards do theirs last, and one after the other.
    const bool didItsOwn = byAnother && board < acting;
    state.devices.touch<BoardProcessor>(at(state.places.boards, board),
                                        [&, place = programPin](BoardProcessor& p) {
                                          if (acting != board)
                                            p.forgetBeyond(didItsOwn ? now() : now() - 1);
                                          p.pinChanged(place, high, byAnother ? now() + 1 : now());
                                        });
  }
}

bool Run::isDriven(int pin) const {
  const PinDrive drive = at(state.circuit.pins, pin);
  return drive == PinDrive::high || drive == PinDrive::low;
}

// Of a pin that is driven: what it is driven to, unless what else is there turns out stronger. A
// capacitor that holds it back for a while does not.
signed char Run::drivenLevel(int pin, const PinReading& reading, bool settled) const {
  if (settled)
    if (const signed char level = levelOf(pin, reading); level >= 0) return level;
  return at(state.circuit.pins, pin) == PinDrive::high ? 1 : 0;
}

signed char Run::levelOf(int pin, const PinReading& reading) const {
  if (!reading.volts) return -1;
  const BoardKind& kind = *at(model->circuit->pins(), pin).kind;
  const double volts = *reading.volts - reading.groundVolts;
  if (volts > kind.highShare * reading.supplyVolts) return 1;
  return volts < kind.lowShare * reading.supplyVolts ? 0 : -1;
}

}  // namespace ignavo
