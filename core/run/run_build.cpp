#include <algorithm>
#include <map>

#include "project/indexing.h"
#include "run/devices/arm.h"
#include "run/devices/board_processor.h"
#include "run/devices/contacts.h"
#include "run/devices/floating_pins.h"
#include "run/devices/hand_waves.h"
#include "run/devices/heat.h"
#include "run/devices/island_in_time.h"
#include "run/devices/pulse_trains.h"
#include "run/devices/serial_line.h"
#include "run/devices/supply_guard.h"
#include "run/devices/timers.h"
#include "run/run.h"

// The state of a run from a project; and what of it is kept when the project is edited: what has
// the same id goes on. This is the one place that lists the kinds of devices.
namespace ignavo {

// How things stood before, by what they are called.
struct Run::Kept {
  struct PartState {
    std::uint8_t pressed = 0, broken = 0;
    std::unique_ptr<Device> arm;
    PartMemory memory;
    bool remembers = false;
  };
  std::map<std::string, PartState> parts;
  std::map<std::pair<std::string, std::string>, PinState> pins;
  struct Board {
    BoardState state;
    std::unique_ptr<Device> processor, timers, pulses, line;
    std::vector<std::string> pinNames;  // per circuit pin; empty: of another board
  };
  std::map<std::string, Board> boards;
  std::unique_ptr<Device> contacts, hands;
  std::vector<std::pair<std::string, std::string>> pinNames;  // per circuit pin: board, name
  std::vector<std::string> partIds;                           // as the contacts count them
};

namespace {
template <typename Kind>
const Kind& as(const std::unique_ptr<Device>& device) {
  return static_cast<const Kind&>(*device);
}
}  // namespace

Run::Run(std::shared_ptr<const RunModel> made) : model(std::move(made)) {
  trace = Trace(model->signals);
  Kept nothing;
  makeDevices(nothing);
  for (int b = 0; b < static_cast<int>(model->boards.size()); ++b) recordVariables(b);
}

Run::Run(std::shared_ptr<const RunModel> made, RunState stood, Trace recorded)
    : model(std::move(made)), state(std::move(stood)), trace(std::move(recorded)) {
  listHeat();
}

// What could become hot in each island.
void Run::listHeat() {
  const Circuit& circuit = *model->circuit;
  known_.assign(static_cast<std::size_t>(circuit.islandCount()), {});
  pinShifts_.assign(circuit.pins().size(), 0);
  for (int i = 0; i < circuit.islandCount(); ++i) {
    const Circuit::Island& shape = circuit.island(i);
    for (std::size_t k = 0; k < shape.pins.size(); ++k)
      at(pinShifts_, shape.pins[k]) =
          static_cast<int>(Known::pinBits * (shape.pins.size() - 1 - k));
    at(known_, i).fits =
        shape.pins.size() * Known::pinBits + shape.parts.size() * Known::partBits <= 64;
    std::vector<int>& heat = at(known_, i).heat;
    for (const int part : shape.parts)
      if (const int place = at(state.places.heat, part); place >= 0) heat.push_back(place);
    for (const int pin : shape.pins) {
      const int place = at(state.places.pinHeat, at(model->pins, pin).board);
      if (std::find(heat.begin(), heat.end(), place) == heat.end()) heat.push_back(place);
    }
  }
}

void Run::change(std::shared_ptr<const RunModel> next) {
  Kept kept = keep();
  model = std::move(next);
  trace.restart(model->signals);
  makeDevices(kept);
}

Run::Kept Run::keep() {
  Kept out;
  const auto remembered = memories();
  for (std::size_t i = 0; i < model->parts.size(); ++i) {
    const std::string& id = (*project().parts)[i]->id;
    out.partIds.push_back(id);
    Kept::PartState& part = out.parts[id];
    part.pressed = state.circuit.pressed[i];
    part.broken = state.circuit.broken[i];
    if (const int arm = state.places.arms[i]; arm >= 0) part.arm = state.devices.at(arm).copy();
    if (const auto it = remembered.find(static_cast<int>(i)); it != remembered.end())
      part.memory = it->second, part.remembers = true;
  }
  const std::vector<CircuitPin>& pins = model->circuit->pins();
  for (std::size_t b = 0; b < state.boards.size(); ++b) {
    Kept::Board& board = out.boards[project().boards[b].id];
    board.state = state.boards[b];
    board.processor = state.devices.at(state.places.boards[b]).copy();
    board.timers = state.devices.at(state.places.timers[b]).copy();
    board.line = state.devices.at(state.places.lines[b]).copy();
    board.pulses = state.devices.at(state.places.pulses[b]).copy();
    for (const CircuitPin& pin : pins)
      board.pinNames.push_back(pin.ref.board == static_cast<int>(b) ? pin.name : std::string());
  }
  for (std::size_t p = 0; p < pins.size(); ++p)
    out.pins[{pins[p].board, pins[p].name}] = state.pins[p];
  for (const CircuitPin& pin : pins) out.pinNames.emplace_back(pin.board, pin.name);
  out.contacts = state.devices.at(state.places.contacts).copy();
  out.hands = state.devices.at(state.places.hands).copy();
  return out;
}

void Run::makeDevices(const Kept& kept) {
  Circuit& circuit = *model->circuit;
  const auto boards = static_cast<int>(project().boards.size());
  const auto parts = static_cast<int>(model->parts.size());
  const auto keptBoard = [&](int b) {
    const auto it = kept.boards.find(at(project().boards, b).id);
    return it == kept.boards.end() ? nullptr : &it->second;
  };
  const auto keptPart = [&](int p) {
    const auto it = kept.parts.find(at(*project().parts, p)->id);
    return it == kept.parts.end() ? nullptr : &it->second;
  };

  state.boards.assign(static_cast<std::size_t>(boards), {});
  state.circuit = circuit.restState();
  state.pins.clear();
  for (const CircuitPin& pin : circuit.pins()) {
    const auto it = kept.pins.find({pin.board, pin.name});
    state.pins.push_back(it == kept.pins.end() ? PinState{} : it->second);
  }
  state.active.clear();
  state.joined = -1;
  state.devices = {};
  Places& places = state.places = {};
  std::vector<std::unique_ptr<Device>> list;
  const auto add = [&](std::unique_ptr<Device> device) {
    list.push_back(std::move(device));
    return static_cast<int>(list.size()) - 1;
  };

  auto contacts = std::make_unique<Contacts>();
  if (kept.contacts) {
    *contacts = as<Contacts>(kept.contacts);
    std::vector<int> numbers;
    for (const std::string& id : kept.partIds) numbers.push_back(model->partOf(id));
    contacts->renumber(numbers);
  }
  places.contacts = add(std::move(contacts));
  auto hands = std::make_unique<HandWaves>();
  if (kept.hands) {
    *hands = as<HandWaves>(kept.hands);
    std::vector<int> numbers;
    for (const auto& [board, name] : kept.pinNames)
      numbers.push_back(circuit.pinIndex(board, name));
    hands->renumber(numbers);
  }
  places.hands = add(std::move(hands));
  for (int b = 0; b < boards; ++b) {
    const bool dims = at(model->boards, b).dims;
    auto timers = std::make_unique<Timers>(dims);
    auto pulses = std::make_unique<PulseTrains>();
    if (const Kept::Board* before = keptBoard(b)) {
      timers = std::make_unique<Timers>(as<Timers>(before->timers));
      // A pin stays dimmed, or sounds, until a step sets it, even when the step that began it is
      // gone.
      std::vector<int> now;
      for (const std::string& name : before->pinNames) {
        const int p = name.empty() ? -1 : circuit.pinIndex(at(project().boards, b).id, name);
        now.push_back(p >= 0 && at(model->pins, p).output ? p : -1);
      }
      timers->renumber(now, dims);
      pulses = std::make_unique<PulseTrains>(as<PulseTrains>(before->pulses));
      pulses->renumber(now);
      at(state.boards, b) = before->state;
    }
    places.timers.push_back(add(std::move(timers)));
    places.pulses.push_back(add(std::move(pulses)));
    // What is on its way goes on; the line was quiet before, or is no line any more.
    const int out = at(model->boards, b).lineOut;
    const Kept::Board* line = keptBoard(b);
    const bool goesOn = line && out >= 0 && as<SerialLine>(line->line).due() != never;
    places.lines.push_back(add(goesOn
                                   ? std::make_unique<SerialLine>(out, as<SerialLine>(line->line))
                                   : std::make_unique<SerialLine>(out)));
    if (out >= 0 && !goesOn) at(state.pins, out).high = true;
  }
  places.floating = add(std::make_unique<FloatingPins>());
  places.arms.assign(static_cast<std::size_t>(parts), -1);
  for (int p = 0; p < parts; ++p) {
    const PartKind* kind = kindOf(p);
    const Kept::PartState* before = keptPart(p);
    if (before) {
      // A switch stands as the project says; a button as it is held.
      if (kind && kind->pressable) at(state.circuit.pressed, p) = before->pressed;
      at(state.circuit.broken, p) = before->broken;
    }
    if (!kind || kind->moves != Moves::angle) continue;
    auto arm = before && before->arm ? std::make_unique<Arm>(p, as<Arm>(before->arm))
                                     : std::make_unique<Arm>(p);
    at(state.circuit.pressed, p) = arm->turning() ? 1 : 0;
    at(places.arms, p) = add(std::move(arm));
  }
  places.islandsBegin = places.islandsEnd = static_cast<int>(list.size());
  for (int b = 0; b < boards; ++b) places.guards.push_back(add(std::make_unique<SupplyGuard>(b)));
  places.heat.assign(static_cast<std::size_t>(parts), -1);
  for (int p = 0; p < parts; ++p)
    if (!at(model->parts, p).limits.empty())
      at(places.heat, p) = add(std::make_unique<PartHeat>(p));
  for (int b = 0; b < boards; ++b) places.pinHeat.push_back(add(std::make_unique<PinHeat>(b)));
  for (int b = 0; b < boards; ++b) {
    auto processor = at(model->boards, b).fresh->copy();
    const Kept::Board* before = keptBoard(b);
    if (before)
      processor->adopt(as<BoardProcessor>(before->processor).processor(), now());
    else
      processor->start(now());
    places.boards.push_back(add(std::make_unique<BoardProcessor>(b, std::move(processor))));
  }
  state.devices.exchange(0, 0, std::move(list));

  std::map<int, PartMemory> remembered;
  for (int p = 0; p < parts; ++p)
    if (const Kept::PartState* before = keptPart(p); before && before->remembers)
      remembered[p] = before->memory;
  startIslands();
  recall(remembered);
  refreshAll();
}

}  // namespace ignavo
