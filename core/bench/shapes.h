#pragma once
#include <string>
#include <utility>
#include <vector>

#include "project/project.h"

namespace ignavo {

// What the bench needs to know of a board: where its pins are (in pitches from
// its upper left corner) and which of them are supply.
struct PinShape {
  // A supply feeds the circuit; a supply input is fed by it.
  enum class Role { io, supply, supplyIn, ground };
  std::string name;
  Point at;
  Role role = Role::io;
  double volts = 0;   // that a supply gives
  std::string label;  // of a supply, as people say it: "5 V"
};
struct BoardShape {
  double width = 0;
  double height = 0;
  std::vector<PinShape> pins;
  int pinIndex(const std::string& name) const {
    for (std::size_t i = 0; i < pins.size(); ++i)
      if (pins[i].name == name) return static_cast<int>(i);
    return -1;
  }
};

// What the bench needs to know of a part: its legs and how they can lie.
struct LegShape {
  std::string id;
  std::string meaning;       // "long leg", "short leg, flat side"
  bool mayStayOpen = false;  // no finding when nothing else is in its net
  enum class Feeds { nothing, plus, minus } feeds = Feeds::nothing;  // an end of a battery
};
struct Footprint {
  std::vector<LegShape> legs;
  // How the legs may lie, as offsets from the first leg; the first orientation that
  // fits is offered, `R` goes through them.
  std::vector<std::vector<Point>> orientations;
  bool stretches = false;  // each leg can go to another hole within the reach
  double reachMin = 0;     // pitches between the two legs
  double reachMax = 0;
  // Legs that are flexible leads of a body beside the breadboard. `rest` says
  // where their ends lie, from the body's centre, while they are in no hole.
  bool leads = false;
  std::vector<Point> rest;
  std::vector<std::pair<int, int>> joined;             // legs that are one piece of metal
  std::vector<std::pair<int, int>> mirror = {{0, 1}};  // legs that `F` exchanges
  bool polarised = false;
  // What the body covers, as it lies in the first way, around the middle of its
  // legs (or around `at`, with leads). The body of a part that stretches lies
  // along the line of its legs.
  double bodyWidth = 2;
  double bodyHeight = 2;
  bool round = false;  // the body is an ellipse in that box

  int legIndex(const std::string& id) const {
    for (std::size_t i = 0; i < legs.size(); ++i)
      if (legs[i].id == id) return static_cast<int>(i);
    return -1;
  }
};

// The catalogue as the bench sees it.
class Shapes {
 public:
  virtual ~Shapes() = default;
  virtual const BoardShape* board(const std::string& type) const = 0;
  virtual const Footprint* part(const std::string& type) const = 0;
};

}  // namespace ignavo
