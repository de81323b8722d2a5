#pragma once
#include <string>
#include <vector>

#include "parts/composer.h"

namespace ignavo {

// A few parts that belong together, placed and wired to a chosen pin in one go.
struct SmallCircuit {
  enum class Needs { digital, analog };
  std::string id;     // "lamp", as typed
  std::string label;  // in the cabinet
  std::string noun;   // "a lamp"
  std::string brief;
  std::string what;
  std::vector<std::string> words;  // what people may search for or type
  std::string shows;               // part kind drawn on its card
  Needs needs = Needs::digital;
  bool written = false;  // a program sets the pin; else it reads it
  void (*compose)(Composer&) = nullptr;
};

const std::vector<SmallCircuit>& smallCircuits();
// By id or by one of its words, whole; null if there is none.
const SmallCircuit* smallCircuit(const std::string& typed);

struct Composed {
  Project project;
  Message problem;  // a sentence when it could not be placed
  std::vector<std::string> ids;
};
Composed compose(const Project& project, const SmallCircuit& circuit, const std::string& board,
                 const std::string& pin);

// Pins for a circuit: free and suitable ones first, in the order of the edge.
struct PinChoice {
  std::string board, pin;
  bool free = true;
};
std::vector<PinChoice> pinsFor(const Project& project, const SmallCircuit& circuit);

}  // namespace ignavo
