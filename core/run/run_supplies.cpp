#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/devices/island_in_time.h"
#include "run/devices/supply_guard.h"
#include "run/run.h"

// What the boards' supplies have to give in a run: their volts, what flows through each cable, and
// who looks after it.
namespace ignavo {

double Run::boardVolts(int board) {
  const int place = state.joined < 0 ? -1 : at(state.places.islands, state.joined);
  if (place < 0) return model->circuit->boardVolts(board, state.circuit);
  // On its way: as far as it has come.
  const IslandReading reading = state.devices.as<IslandInTime>(place).reading(now());
  const auto& pins = model->circuit->island(state.joined).pins;
  for (std::size_t k = 0; k < pins.size() && k < reading.pins.size(); ++k)
    if (at(model->pins, pins[k]).board == board) return reading.pins[k].supplyVolts;
  return 0;
}

double Run::boardAmps(int board) const {
  double amps = 0;
  for (const auto& drawn : state.drawn) amps += at(drawn, board);
  return amps;
}

// What a supply delivers comes through the cables of the boards that share it, from each alike.
void Run::draw(const IslandReading::Supply& supply, double amps,
               const std::vector<std::uint8_t>& unplugged, std::vector<double>& drawn) const {
  if (supply.board >= 0) {
    at(drawn, supply.board) += amps;
    return;
  }
  const std::vector<int>& boards = at(model->feeders, supply.net);
  if (boards.size() == 1) {
    at(drawn, boards.front()) += amps;
    return;
  }
  const auto gives = [&](int board) { return unplugged.empty() || !at(unplugged, board); };
  const auto count = std::count_if(boards.begin(), boards.end(), gives);
  for (const int board : boards)
    if (gives(board)) at(drawn, board) += amps / static_cast<double>(count);
}

// The boards that no cable feeds now, as the circuit wants to know them; none: empty. `given`: as
// if its cable fed that one.
std::vector<std::uint8_t> Run::withoutCable(int given) const {
  std::vector<std::uint8_t> out;
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
    if (b != given && !plugged(b)) {
      out.resize(state.boards.size(), 0);
      at(out, b) = 1;
    }
  return out;
}

// What a board would have to give if its cable fed it.
double Run::loadIfPowered(int board) {
  Circuit& circuit = *model->circuit;
  if (circuit.shorted(board)) return HUGE_VAL;
  CircuitState rest = circuit.restState();
  rest.pressed = state.circuit.pressed;
  rest.broken = state.circuit.broken;
  rest.unplugged = withoutCable(board);
  std::vector<double> drawn(state.boards.size(), 0.0);
  for (int i = 0; i < circuit.islandCount(); ++i)
    for (const IslandReading::Supply& supply : circuit.solveIsland(i, rest).supplies)
      draw(supply, supply.amps, rest.unplugged, drawn);
  return at(drawn, board);
}

void Run::watchSupplies() {
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b) {
    const int place = at(state.places.guards, b);
    const BoardState& board = at(state.boards, b);
    const bool plenty = board.plugged && board.amps < at(model->boards, b).plentyAmps;
    if (plenty && state.devices.dueOf(place) == never) continue;
    state.devices.touch<SupplyGuard>(place, [&](SupplyGuard& g) { g.look(*this); });
  }
}

void Run::watchSuppliesSoon() {
  for (const int place : state.places.guards)
    state.devices.touch<SupplyGuard>(place, [&](SupplyGuard& g) { g.lookSoon(now()); });
}

}  // namespace ignavo
