#pragma once
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <unordered_map>
#include <vector>

#include "bench/nets.h"
#include "electric/solver.h"
#include "parts/catalogue.h"
#include "parts/part_network.h"
#include "project/indexing.h"

namespace ignavo {

constexpr double floatingOhms = 1e6;  // a pin with more than that to every level floats

enum class PinDrive : std::uint8_t { input, pullUp, low, high, burnt };

// Where a knob or a sensor stands: as its property says, or at an end or the
// middle of its range.
enum class Turned : std::uint8_t { asSet, min, middle, max };
constexpr int turnedPlaces = 4;

// How all pins, buttons and parts stand at one moment.
struct CircuitState {
  IGNAVO_VALUE(CircuitState);

  std::vector<PinDrive> pins;         // per Circuit::pins()
  std::vector<std::uint8_t> pressed;  // per Project::parts
  std::vector<std::uint8_t> broken;   // per Project::parts; a broken part is open
  std::vector<Turned> turned;         // per Project::parts
  // Per board: no cable feeds it. Its supplies then give what its regulators make from its supply
  // input, or what something else brings to them. Empty: all have their cables.
  std::vector<std::uint8_t> unplugged;
  bool operator==(const CircuitState&) const;
};

struct PartReading {
  IGNAVO_VALUE(PartReading);

  std::optional<double> volts;  // first read leg minus second
  double amps = 0;              // from first to second
  double watts = 0;             // taken up; negative for a battery that gives
  std::vector<double> legs;     // amps into each leg
  std::vector<double> lamps;    // amps through each lamp inside, forward
  double radiansPerSecond = 0;  // of a motor
  double tracedVolts = 0;       // between the legs that a run records
};
struct PinReading {
  std::optional<double> volts;
  double amps = 0;         // out of the pin, through its protection diodes as well
  double groundVolts = 0;  // of its board
  double supplyVolts = 0;  // of its board, above its ground, as it really stands
  bool floating = false;   // more than 1 MΩ to every level
};

// The settled state of one island.
struct IslandReading {
  IGNAVO_VALUE(IslandReading);

  bool converged = true;
  std::vector<std::optional<double>> nets;  // per Island::nets
  std::vector<PartReading> parts;           // per Island::parts
  std::vector<PinReading> pins;             // per Island::pins
  double supplyAmps = 0;                    // out of the boards' supplies, output pins included
  // Each supply net that this island touches: its level, which something may push above the
  // supply's own, and what it takes from the supply; below zero: what it gives back.
  struct Supply {
    int net;
    int board;  // of one that is afloat; -1: of all that share the net
    double volts, amps;
  };
  std::vector<Supply> supplies;
};

// The settled state of everything. Indices as in Nets::all, Project::parts, Circuit::pins.
struct CircuitReading {
  IGNAVO_VALUE(CircuitReading);

  bool converged = true;
  // Supply and ground of a board are as good as joined: it is solved as if its cable were out.
  bool shorted = false;
  std::string shortedSupply;  // which one then: "5 V", "3.3 V"
  std::vector<std::optional<double>> nets;
  std::vector<PartReading> parts;
  std::vector<PinReading> pins;
  double supplyAmps = 0;
  std::vector<std::string> unsolved;  // ids of parts in islands that did not converge
};

struct CircuitPin {
  PinRef ref;
  std::string board;
  std::string name;
  int net = -1;
  int island = -1;
  int supply = -1;  // that it lives on, in Circuit::supplies()
  const BoardKind* kind = nullptr;

  const BoardPin& shape() const { return kind->pins[static_cast<std::size_t>(ref.pin)]; }
  double supplyVolts() const { return kind->pinVolts(shape()); }  // while its board is fed
};

// A supply of one of a project's boards.
struct BoardSupply {
  int board = -1;
  const SupplyKind* kind = nullptr;
  int net = -1;   // of its pin
  int from = -1;  // of what its regulator takes; -1: it has none
};

// Two nets joined by an ohmic path inside a part.
struct OhmicEdge {
  int netA, netB;
  int part;
  double ohms;
  bool contact;  // only while the part is pressed, or only while it is not
  bool whenPressed;
};

// A project as an electric circuit: cut at the boards' supplies into islands,
// each solved on its own and remembered per state. A supply delivers but absorbs nothing: where
// all islands together would push current into one, it lets go, and the islands at it are joined
// to one that is solved as a whole; so are those at the supplies of a board without its cable.
// Such a joined island has an index behind those of the others.
//
// Of boards whose parts are joined, but not their grounds, only the first by id is the reference.
// The others are afloat: nothing is cut at their supplies, which are sources within an island, as
// batteries are. Voltages are those above the reference. Not safe for several threads at once (it
// remembers); give each thread its own.
class Circuit {
 public:
  explicit Circuit(const Project& project);
  ~Circuit();
  Circuit(const Circuit&) = delete;
  Circuit& operator=(const Circuit&) = delete;

  const Nets& nets() const { return nets_; }
  const std::vector<CircuitPin>& pins() const { return pins_; }
  // Do wires, parts and boards join two nets, somehow?
  bool belongTogether(int netA, int netB) const {
    return at(galvanic_, netA) == at(galvanic_, netB);
  }
  const std::vector<BoardSupply>& supplies() const { return supplies_; }
  // How many boards feed a supply net.
  int feeders(int net) const;
  // Index in pins() of "b1", "D4"; -1 when there is none.
  int pinIndex(const std::string& board, const std::string& name) const;
  const std::vector<OhmicEdge>& edges() const { return edges_; }
  bool isSupplyNet(int net) const;
  bool isGroundNet(int net) const;
  // The nets that a board's supplies feed, by its place in the project.
  const std::vector<int>& supplyNets(int board) const {
    return boardSupplies_[static_cast<std::size_t>(board)];
  }
  // Voltage of a supply or ground net while powered.
  std::optional<double> supplyVolts(int net) const;
  // Are a supply of that board and ground one net?
  bool shorted(int board) const { return at(boards_, board).shorted; }
  bool anyShorted() const;
  // What lies between a supply and ground of wires, resistors and the contacts that are closed in
  // a state, all ways together; infinite when nothing of that kind joins them.
  struct OhmicLoad {
    double ohms = 0;
    std::map<int, double> shares;  // of the current, by part
  };
  OhmicLoad ohmicLoad(int supplyNet, const CircuitState& state) const;

  struct Island {
    std::vector<int> nets;  // without supply nets
    std::vector<int> parts;
    std::vector<int> pins;
  };
  int islandCount() const { return baseCount_; }  // joined ones apart
  const Island& island(int index) const { return islands_[static_cast<std::size_t>(index)]->shape; }
  // The joined island of a state; -1 when every supply holds.
  int joinedIsland(const CircuitState& state);
  // Is an island part of a joined one?
  bool isJoined(int island, int joined) const;
  // Could a supply ever let go? Only a battery, or a second supply, can lift it.
  bool mayLetGo() const { return mayLetGo_; }
  // Volts between a board's own supply and its ground.
  double boardVolts(int board, const CircuitState& state);
  bool hasBatteries() const { return hasBatteries_; }
  // Voltage of any net, supplies as they really stand.
  std::optional<double> volts(int net, const CircuitState& state);
  int islandOfPart(int part) const { return partIsland_[static_cast<std::size_t>(part)]; }

  // All pins input (pulled as the programs say), nothing pressed, nothing broken.
  CircuitState restState() const;
  const IslandReading& solveIsland(int index, const CircuitState& state);
  // The same for states that follow each other closely: quicker, from where the state
  // before was solved, and the answer holds only until the next call. What was found is
  // kept, so that solveIsland() need not search again.
  const IslandReading& sweepIsland(int index, const CircuitState& state);
  CircuitReading solve(const CircuitState& state);
  // A reading of nothing but the supplies, to be filled in with place().
  CircuitReading blank() const;
  // Puts an island's reading into that of the whole circuit.
  void place(int island, const IslandReading& reading, CircuitReading& whole) const;
  // Nets of pins that nothing holds at a level, and those that hang on them by resistors alone.
  std::set<int> floatingNets(const CircuitReading& reading) const;
  // Does it remember anything: has it capacitors, motors, gates?
  bool hasDynamicState(int island) const;
  // From now on solves with other values of a part of the same kind, or with another
  // supply of the boards that give so many volts. What was remembered is forgotten.
  void tryPart(int part, const Part& changed);
  void trySupply(double volts);
  // Value of a part's knob or sensor where it stands.
  double knobAt(int part, Turned where) const;
  const PartKind* kindOf(int part) const { return partKinds_[static_cast<std::size_t>(part)]; }

 private:
  friend class IslandTransient;
  struct PinSlots {
    int up = -1, down = -1, clampUp = -1, clampDown = -1, node = 0, supply = 0, ground = 0;
  };
  std::string nameOf(const BoardSupply& supply) const;  // "5 V", "b2 5 V" with several boards
  // Supply nets that have let go, and the boards without a cable.
  struct LetGo {
    std::set<int> nets, unplugged;
    bool empty() const { return nets.empty() && unplugged.empty(); }
    auto operator<=>(const LetGo&) const = default;
  };
  struct BoardNets {
    std::string id;            // where there are several boards
    std::vector<int> grounds;  // nets of its ground pins, which are one
    int ground = -1;           // one net for all grounds that are joined with its own
    int main = -1;             // of supplies_; -1: it has none
    bool shorted = false;
    bool afloat = false;
  };
  using Reached = std::vector<std::uint8_t>;  // per node: has it a voltage?
  // What a sweep keeps of its states, side by side in long rows.
  class Kept {
   public:
    struct Found {
      std::vector<double> volts, sourceAmps;
      std::vector<std::uint8_t> floating;
    };
    void clear();
    std::size_t size() const { return count_; }
    void add(const std::string& key, const electric::Solution& solution,
             const std::vector<PinReading>& pins);
    std::optional<Found> find(const std::string& key) const;

   private:
    std::size_t count_ = 0, nodes_ = 0, sources_ = 0, pins_ = 0;
    std::string keys_;  // of equal length
    std::vector<double> volts_, sourceAmps_;
    std::vector<std::uint8_t> floating_;
    std::unordered_multimap<std::size_t, std::size_t> places_;  // by hash; looked up only
  };
  struct IslandWork {
    Island shape;
    LetGo letGo;               // of a joined island
    std::vector<int> members;  // of a joined island, sorted
    std::vector<int> touches;  // supply nets, sorted
    bool built = false;
    electric::Network network;
    std::unique_ptr<electric::Solver> solver;
    std::unordered_map<int, int> nodeOfNet;  // looked up only, never walked
    std::vector<PartSlots> parts;
    std::vector<PinSlots> pins;
    std::vector<int> supplySources, supplyNets;       // side by side
    std::vector<int> afloat;                          // boards whose supplies are in it
    std::vector<std::pair<int, int>> afloatSupplies;  // regulator, and of supplies_
    std::vector<std::pair<int, int>> ties;  // of a ground that is afloat: its node, a conductor
    std::vector<int> netNodes;              // per net of the shape; -1: none
    std::unordered_map<std::string, IslandReading> memo;  // looked up only, never walked
    Kept kept;
    CircuitState applied;  // what the network is set to; empty: nothing yet
    Reached reached;
    electric::Solution swept;
    IslandReading sweptReading;
  };

  void findSupplies(const Project& project);
  void findAfloat(const Project& project);
  void addSupplies(IslandWork& island);
  bool isUnplugged(const CircuitState& state, int board) const;
  void cutIslands(const Project& project);
  void build(IslandWork& island);
  IslandWork& builtIsland(int index);
  void keyOf(const Island& shape, const CircuitState& state, std::string& key) const;
  // `applied`: the state that the network is set to already, if any.
  void setParameters(const IslandWork& island, const CircuitState& state, electric::Network& net,
                     const CircuitState* applied = nullptr) const;
  void tieBatteries(const IslandWork& island, electric::Network& net, Reached& reached) const;
  void readPart(const IslandWork& island, const electric::Network& net, std::size_t index,
                const electric::Solution& solution, const Reached& reached, PartReading& out) const;
  void readIsland(const IslandWork& island, const electric::Network& net,
                  const electric::Solution& solution, const Reached& reached,
                  IslandReading& out) const;
  void prepare(IslandWork& island, const CircuitState& state);
  void findFloating(IslandWork& island, const CircuitState& state, IslandReading& out) const;
  int nodeFor(IslandWork& island, int net);
  void findWhatLifts();
  void forget(int island);
  int joinAt(const LetGo& letGo);
  int findJoined(const CircuitState& state);
  LetGo unpluggedNets(const CircuitState& state) const;
  bool isCut(int net) const { return cut_.contains(net); }
  const IslandReading& solveWork(int index, const CircuitState& state);
  const std::vector<IslandReading>& slices(int joined, const CircuitState& state);

  Nets nets_;
  std::vector<CircuitPin> pins_;
  std::vector<PartDevices> devices_;
  std::vector<std::vector<PartDevices>> turnedDevices_;  // per part and Turned; empty: no knob
  std::vector<double> knobs_;                            // as set
  std::vector<const PartKind*> partKinds_;
  std::vector<std::string> partIds_;
  std::vector<std::vector<int>> legNets_;
  std::vector<OhmicEdge> edges_;
  std::vector<BoardSupply> supplies_;
  std::unordered_map<int, double> levels_;  // net -> volts, ground included; looked up only
  std::set<int> cut_;                       // nets of supplies and grounds that all islands share
  std::vector<BoardNets> boards_;
  std::vector<int> galvanic_;                    // per net: its galvanic group
  std::unordered_map<int, int> alias_;           // of a ground that is afloat: the net in its place
  std::vector<std::vector<int>> boardSupplies_;  // per board: all nets that it feeds
  std::vector<std::unique_ptr<IslandWork>> islands_;  // joined ones at the end
  int baseCount_ = 0;
  std::map<LetGo, int> joined_;
  std::unordered_map<std::string, int> joinedOf_;  // by state; looked up only
  std::unordered_map<std::string, std::vector<IslandReading>> slices_;
  bool mayLetGo_ = false;
  std::vector<int> lifting_;  // islands that could push current into a supply
  bool hasBatteries_ = false;
  std::vector<int> partIsland_;
  std::vector<int> alike_;  // of an island that is one pin alone: the first such one of its board
  std::vector<std::uint8_t> pulledUp_, thrown_;
  std::string key_;
  std::string shortedSupply_;
  std::optional<double> triedVolts_;  // instead of what the boards' own supplies give
};

}  // namespace ignavo
