#pragma once
#include <vector>

#include "electric/solver.h"
#include "parts/kinds.h"

namespace ignavo {

// Where a part's devices stand in a network.
struct PartSlots {
  std::vector<int> resistors, contacts, junctions, batteries, bipolars, mosfets, motors, capacitors;
  std::vector<int> ties;  // per battery: holds its minus to the reference where nothing else does
  std::vector<electric::Node> legNodes;
  // Where current goes from leg to leg, device by device.
  struct Flow {
    enum class Of : std::uint8_t {
      conductor,
      junction,
      battery,
      collector,
      base,
      mosfet,
      motor,
      capacitor
    } of;
    int from, to;  // legs
    int device;
  };
  std::vector<Flow> flows;
};

PartSlots addPart(electric::Network& network, const PartDevices& devices,
                  std::vector<electric::Node> legNodes);
// `devices` are those that were added, perhaps with other values. A broken part is open.
void setPart(electric::Network& network, const PartSlots& slots, const PartDevices& devices,
             bool pressed, bool broken);
// Adds the amps into each leg.
void addLegAmps(const electric::Network& network, const PartSlots& slots,
                const electric::Solution& solution, std::vector<double>& legs);

}  // namespace ignavo
