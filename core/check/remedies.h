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
// A resistor from a pin's net to ground.
std::optional<Remedy> resistorToGround(const Project& project, const std::string& board,
                                       const std::string& pin, double ohms);
std::optional<Remedy> pullUp(const Project& project, const std::string& board,
                             const std::string& pin);
std::optional<Remedy> changePin(const Project& project, const std::string& from,
                                const std::string& to, const std::vector<std::string>& steps);

}  // namespace ignavo::remedies
