#pragma once
#include <optional>
#include <string>

#include "check/finding.h"
#include "parts/circuit.h"

// Edits that mend a fault. Each places things on free holes only, and gives
// nothing when there is no room.
namespace ignavo::remedies {

std::optional<Remedy> turn(const Project& project, const std::string& part);
// A resistor in series with a part: an own one on free rows.
std::optional<Remedy> seriesResistor(const Project& project, const std::string& part, double ohms);
std::optional<Remedy> changeResistor(const Project& project, const std::string& resistor,
                                     double ohms);
// A resistor from a pin's net to ground, or to its supply.
std::optional<Remedy> resistorToGround(const Project& project, const std::string& board,
                                       const std::string& pin, double ohms);
std::optional<Remedy> resistorToSupply(const Project& project, const std::string& board,
                                       const std::string& pin, double ohms);
// A wire between two nets, where both have a free hole or pin; the nearest two.
std::optional<Project> wireBetween(const Project& project, int netA, int netB);
// A part with two legs between two nets, its first leg in the first; over a free
// row and a wire when the two are too far apart.
std::optional<Project> bridge(const Project& project, const Part& part, int netA, int netB);
// A resistor between the places that a wire joins, in place of the wire; nothing when they
// are joined otherwise too.
std::optional<Project> resistorForWire(const Project& project, const std::string& wire,
                                       double ohms);
// One end of a wire into a free hole of a row.
std::optional<Project> rewired(const Project& project, const std::string& wire, bool from,
                               const StripRef& row);
// What is wired to the rows of two legs changes places; nothing when no wire ends in either,
// or a row is too full.
std::optional<Remedy> exchangeRows(const Project& project, const Leg& one, const Leg& other);
std::optional<Remedy> noPull(const Project& project, const std::string& board,
                             const std::string& pin);
std::optional<Remedy> pullUp(const Project& project, const std::string& board,
                             const std::string& pin);
// A pin's wires, and the steps of its board, over to a free pin.
Remedy movePin(const Project& project, const std::string& board, const std::string& from,
               const std::string& to);
// In the steps, and the lanes that the pin starts, with these ids.
std::optional<Remedy> changePin(const Project& project, const std::string& from,
                                const std::string& to, const std::vector<std::string>& steps);

}  // namespace ignavo::remedies
