#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "check/finding.h"
#include "check/sweep.h"
#include "program/facts.h"
#include "program/own_steps.h"

namespace ignavo {

// Everything that a rule may look at.
struct CheckContext {
  const Project& project;
  Circuit& circuit;
  const Sweep& sweep;
  bool programmed = false;  // some lane has a step
  std::vector<Finding>& findings;
  std::function<bool()> cancelled;

  const Part& part(int index) const { return *(*project.parts)[static_cast<std::size_t>(index)]; }
  int partCount() const { return static_cast<int>(project.parts->size()); }
  const Net& net(int index) const { return circuit.nets().all()[static_cast<std::size_t>(index)]; }
  // What one of these rules found about a part; null: nothing.
  Finding* cause(const std::string& partId, std::initializer_list<const char*> byRules) const;
  // Has an earlier rule explained this part / pin already?
  bool explained(const std::string& partId, std::initializer_list<const char*> byRules) const;
  bool pinExplained(const std::string& pin, std::initializer_list<const char*> byRules) const;
  // May a rule try out one more mend on the whole project? Asked once for each: of very many
  // findings on a large bench only the first get a mend that was tried.
  bool mayTry() const { return triesLeft-- > 0; }
  // "D4", or "b2.D4" with several boards.
  std::string pinName(const CircuitPin& pin) const;
  // "D4 · Red lamp"
  std::string pinTitle(const CircuitPin& pin) const;
  // Something is plugged into this pin's net besides the pin.
  bool wired(const CircuitPin& pin) const;
  const PinUse* use(const CircuitPin& pin) const;
  // The pins of a net that have one of these roles.
  std::vector<Socket> pinsOf(int net, std::initializer_list<PinShape::Role> roles) const;
  // How buttons and knobs stand: "Call button is held and Dusk sensor is at 50 %"; nothing, where
  // none is named.
  Place standing(const Pose& pose) const;
  // "while Call button is held", or nothing.
  std::string poseWords(const Pose& pose) const;
  // The solved part / net in a state.
  PartReading reading(int part, const CircuitState& state) const;
  std::optional<double> volts(int net, const CircuitState& state) const;
  // What a socket of each leg is, for showing the part.
  void showPart(Finding& f, int part) const;
  bool isLamp(int part) const;
  bool isInstrument(int part) const {
    return circuit.kindOf(part) && circuit.kindOf(part)->isInstrument();
  }
  // Parts of an island that do more than look on.
  bool anyPart(int island) const;
  int partIndex(const std::string& id) const;
  // The phrase of a step, or the sign of a lane.
  std::string phraseAt(const std::string& stepOrLane) const;
  // The program of a board as it is run: own steps stand where they are run. Null: it has none, or
  // one that is too large to be looked at.
  const Program* program(const std::string& board) const;
  std::vector<std::vector<PinUse>> uses;          // per board
  std::vector<std::optional<Unfolded>> programs;  // likewise, of such with own steps
  ProgramSizes sizes;
  mutable int triesLeft = 0;
};

// Where a finding without a remedy looks for what was meant (proposals.h): a row or wire for the
// leg that it is about; for the loose ends of its parts; for a pin that has no part; the row that
// its pin's wire missed; a resistor of another value.
enum class Seeks { nothing, lostLeg, looseEnds, itsPart, itsRow, value };

// One rule of the check; a file each in rules/, listed in rules.cpp.
struct Rule {
  std::string id;
  Severity severity;    // the gravest it can give
  std::string meaning;  // one sentence each, for the documentation: what it means,
  std::string why;      // why it matters on the table,
  std::string mend;     // and how it is mended
  bool needsProgram = false;
  void (*apply)(CheckContext&) = nullptr;
  Seeks seeks = Seeks::nothing;
  double usualOhms = 0;        // of a resistor beside its parts, where that may be it
  bool ofLastCompile = false;  // it looks at what that came to
  bool darkens = false;        // what it finds can be why a lamp is dark, a sounder silent
  bool takesPower = false;     // or why a supply gave up
  bool ofInputs = false;       // it is about what is read of a pin
};
// The same rule, as one that tells why something is dark.
inline Rule darkening(Rule rule) {
  rule.darkens = true;
  return rule;
}
// Likewise, and why a supply gave up.
inline Rule takingPower(Rule rule) {
  rule.takesPower = true;
  return darkening(std::move(rule));
}
// The same rule, as one about what is read of a pin.
inline Rule ofInputs(Rule rule) {
  rule.ofInputs = true;
  return rule;
}

const std::vector<const Rule*>& rules();
const Rule* ruleOf(const std::string& id);  // null: there is none of that id

// More than a limit allows. What is exactly the limit is not more, whatever its last digits.
inline bool exceeds(double value, double limit) {
  constexpr double lastDigits = 1e-6;  // of the solver and of values in decimals
  return value > limit * (1 + lastDigits);
}

// "91 mA", "0.4 mA", "1.2 A"
std::string milliamps(double amps);
// "3.2 W", "450 mW"
std::string wattsText(double watts);
// "5 V", "4.55 V"
std::string voltsText(double volts);
// "A", "A and B", "A, B and C"
std::string listed(const std::vector<std::string>& names);

}  // namespace ignavo
