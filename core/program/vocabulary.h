#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "project/project.h"

// The names that phrases may use: those of the pins of the program's board and of what hangs on
// them, and the program's own.
namespace ignavo {

// A part that hangs on a pin. Its name can stand for the pin.
struct PinPart {
  // A sounder sounds the tone that it is given, a buzzer by itself.
  enum class Is : std::uint8_t { lamp, button, sensor, sounder, buzzer, motor, arm };
  std::string name;
  Is is = Is::lamp;
  bool whenLow = false;  // lit, running or pressed where the pin is low
};

struct PinWords {
  std::string pin;
  std::string label;  // what the user calls it, else what hangs on it
  bool dims = false, measures = false, serial = false;
  bool ownLamp = false;  // only the board's own lamp hangs on it
  std::vector<PinPart> parts;

  const PinPart* part(PinPart::Is is) const;  // the first of that sort; null: none hangs there
  bool onlyButtons() const;                   // a step that sets it would work against them
};

struct Vocabulary {
  std::vector<std::string> pins;
  std::vector<PinWords> wired;  // all pins in their order, or none where nothing is known of them
  std::vector<std::string> variables;
  std::vector<std::string> lists;
  struct Own {
    std::string name;
    std::vector<std::string> inputs;
  };
  std::vector<Own> own;

  Vocabulary(std::vector<std::string> pinNames = {}) : pins(std::move(pinNames)) {}
  Vocabulary(std::vector<std::string> pinNames, const Program* program);

  // "d4" -> "D4": the pin of that name, in either case; nothing when there is none.
  std::optional<std::string> pin(const std::string& typed) const;
  const PinWords* about(const std::string& pin) const;  // null: nothing is known of it
  std::optional<std::string> variable(const std::string& typed) const;
  std::optional<std::string> list(const std::string& typed) const;
  const Own* ownStep(const std::string& typed) const;  // null: there is none
};

}  // namespace ignavo
