#pragma once
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "bench/shapes.h"
#include "electric/network.h"

namespace ignavo {

// A property of a part as the inspector, the file and the schema need it.
struct PropKind {
  enum class Type { number, choice, truth };
  std::string key;
  std::string label;
  Type type = Type::number;
  std::string unit;
  double defaultValue = 0;  // of a number
  double min = 0;
  double max = 0;
  std::vector<std::string> choices;  // the first one is the default
  bool e24 = false;                  // picked from the E24 series
  bool e6 = false;                   // picked from the E6 series
  bool banded = false;               // told by coloured bands on the part
  // What people call a choice besides its own name, as typed: word, choice.
  std::vector<std::pair<std::string, std::string>> alsoCalled;

  // The choice of that name, or called so; null: none is.
  const std::string* choiceCalled(const std::string& word) const;
};

// What a part is electrically, between its own legs.
struct PartDevices {
  IGNAVO_VALUE(PartDevices);

  struct Resistor {
    int a, b;
    double ohms;
  };
  // Closed while the part is pressed (an arm: while it turns), or while it is not.
  struct Contact {
    int a, b;
    double ohms;
    bool whenPressed = true;
  };
  struct Diode {
    int anode, cathode;
    electric::JunctionModel model;
  };
  struct Battery {
    int plus, minus;
    double volts, ohms;
  };
  struct Bipolar {
    int collector, base, emitter;
    electric::BipolarModel model;
  };
  struct Mosfet {
    int drain, gate, source;
    electric::MosfetModel model;
  };
  struct Motor {
    int a, b;
    electric::MotorModel model;
  };
  struct Capacitor {
    int a, b;
    double farads;
    double ohms = 0.1;        // in series
    bool ifUndriven = false;  // only while nothing else holds a's voltage
  };
  std::vector<Resistor> resistors;
  std::vector<Contact> contacts;
  std::vector<Diode> diodes;  // the lamps of a part come first, in the order of PartKind::lamps
  std::vector<Battery> batteries;
  std::vector<Bipolar> bipolars;
  std::vector<Mosfet> mosfets;
  std::vector<Motor> motors;
  std::vector<Capacitor> capacitors;
};

// What a part gives to see or hear.
enum class Shows { nothing, light, sound, turning };
// How: a tone as fast as it is driven, a buzz of its own, a speed, an angle asked for by pulses.
enum class Moves { nothing, tone, buzz, spin, angle };

// What a meter measures. The property that says it has these choices, in this order.
enum class Measures { volts, amps, ohms, continuity };

// A limit whose moving mean over a window destroys the part.
struct DamageLimit {
  // Volts are those that the part bears, either way or in reverse.
  enum class Of { amps, watts, volts, reverseVolts } of = Of::amps;
  double windowSeconds = 1;
  double limit = 0;  // amps; for watts: times the part's own rating; for volts none of its own
};

// What a part bears between its read legs; 0: no such limit.
struct VoltLimits {
  double max = 0;      // either way
  double reverse = 0;  // from its second read leg to its first
};

// One part kind: everything there is to know about it but its picture.
struct PartKind {
  IGNAVO_VALUE(PartKind);

  std::string type;                // as in the file
  std::string label;               // "LED"
  std::string category;            // cabinet drawer
  std::string brief;               // one line under the cabinet entry
  std::string idStem;              // "led" -> led1
  std::vector<std::string> typed;  // what it is called in the type-it line, the usual name first
  std::vector<std::string> words;  // what people may search for
  std::string what, place, never;  // help: what it is, how to place it, what it must never see
  Footprint print;
  std::vector<PropKind> props;
  Shows shows = Shows::nothing;
  Moves moves = Moves::nothing;
  // Legs between which a run records the voltage; none: it records the part's own amps.
  std::optional<std::pair<int, int>> tracedVolts;
  std::vector<int> lamps;  // anode leg of each lamp inside; one diode each
  bool pressable = false;  // a cap that is held down
  // Stands in one of two positions of its own: the choice that means "pressed".
  std::string thrownKey, thrownValue;
  std::string knob;      // property that is turned or slid by hand
  // How, in a hint; and what goes to its least and to its most at once.
  struct KnobWords {
    std::string drag, least, most;
  } knobWords;
  bool senses = false;   // gives a program something to read
  bool divides = false;  // its knob goes from one end of what feeds it to the other
  bool gated = false;    // a pin can switch it
  // The property that says what it measures. Such a part only looks on: its legs are no fault.
  std::string measuresKey;
  bool passes = false;  // named only when nothing else hangs behind it
  int buildRank = 0;    // flat parts are built in first

  // Legs between which volts and amps are read (first to second). Amps are those into the
  // first; with several lamps those out of the second; with several contacts all is read at
  // the one that is closed.
  std::pair<int, int> readLegs = {0, 1};
  bool readsEitherEnd = false;  // amps of the read leg that carries more: the other may be open
  double ratedAmps = 0;         // continuous; 0: none
  double burnsAmps = 0;         // what the check calls too much, steadily; 0: no such limit
  bool stores = false;          // keeps a charge, and lets no steady current through
  std::vector<int> powerLegs;   // take more current than a pin can give
  std::vector<DamageLimit> damageLimits;

  bool pressed(const Part& part) const {
    return !thrownKey.empty() && part.text(thrownKey, {}) == thrownValue;
  }
  bool sweepable() const { return pressable || !thrownKey.empty(); }
  bool isInstrument() const { return !measuresKey.empty(); }
  Measures measures(const Part& part) const;  // of one that looks on

  const PropKind* prop(const std::string& key) const;  // null: it has none of that key

  std::string (*nameOf)(const Part&) = nullptr;          // friendly name of a new part
  std::string (*shortText)(const Part&) = nullptr;       // "220 Ω", "red LED"
  double (*ratedWatts)(const Part&) = nullptr;           // null: none
  double (*mostAmps)(const Part&) = nullptr;             // above it is damaged; null: none
  VoltLimits (*absoluteMaximum)(const Part&) = nullptr;  // null: no limits of volts
  PartDevices (*devices)(const Part&) = nullptr;
};

// One pin of a board.
struct BoardPin {
  std::string name;
  PinShape::Role role = PinShape::Role::io;
  std::string chipName;  // what the chip's data sheet says
  bool pwm = false;
  bool analog = false;
  std::string serial;      // "rx", "tx" or nothing
  std::string timer;       // output of a timer that dims it: "0B", of timer 0
  std::string supply;      // the supply that it is, or that a pin of the chip lives on
  double usbHighOhms = 0;  // the USB cable holds it high through these; 0: it does not
};

// A supply of a board: what feeds the circuit from one of its pins, and what its chip lives on.
struct SupplyKind {
  std::string pin;       // that it comes out at: "5V"
  std::string label;     // as people say it: "5 V"
  double volts = 0;      // while it is fed
  double maxAmps = 0;    // that may be taken from it, what it feeds on the board included
  std::string advice;    // to who takes more
  bool onUsb = false;    // the USB cable feeds it
  std::string from;      // without the cable a regulator makes it from what is at this pin
  double dropVolts = 0;  // that the regulator needs on top
};

// A part of a board that explains itself, in pitches from its upper left corner.
struct BoardFeature {
  std::string name;
  Point min, max;
  std::vector<std::string> lines;
  bool ownLamp = false;  // it is the lamp on lampPin
};

struct BoardKind {
  IGNAVO_VALUE(BoardKind);

  std::string type;
  std::string label;
  std::string brief;
  std::string help;
  std::vector<BoardPin> pins;  // in the order of the edge
  BoardShape shape;
  std::vector<BoardFeature> features;
  std::vector<SupplyKind> supplies;       // first the one that feeds the board itself
  double minVolts = 0;                    // of that one: with less the chip does not run
  double maxInVolts = 0, minInVolts = 0;  // that a supply input is made for
  double outOhms = 25;
  double pullUpOhms = 35e3;
  double leakOhms = 100e6;
  double pinRatedAmps = 0.020;
  double pinMostAmps = 0.040;
  double chipMostAmps = 0.200;
  double highShare = 0.6;  // reads high above this share of the supply
  double lowShare = 0.3;   // reads low below it
  std::string lampPin;     // pin of the board's own lamp
  std::string chip;        // for the compiler
  std::int64_t chipHertz = 16'000'000;
  std::string pulseTimers;  // those of its timers that can make tones and pulses beside a clock
  int flashBytes = 0;
  int ramBytes = 0;

  // By the name of its pin; null: no such supply.
  const SupplyKind* supply(const std::string& pin) const;
  const SupplyKind& mainSupply() const { return supplies.front(); }
  const BoardPin* pin(const std::string& name) const;
  // That a pin gives when it is high.
  double pinVolts(const BoardPin& pin) const;
};

// Light that an LED gives at a mean current, 0 … 1, as the eye sees it.
double lightOf(double meanAmps);
constexpr double litLight = 0.04;  // above this a lamp counts as lit

// The resistors that lie in a beginner's box, from small to large: what a remedy offers.
const std::vector<double>& ownedOhms();
const std::vector<double>& e24Decade();
const std::vector<double>& e6Decade();
// "220 Ω", "4.7 kΩ", "1 MΩ"
std::string ohmsText(double ohms);
// The same for any unit: "100 nF", "25 V".
std::string quantityText(double value, const std::string& unit);
// Reads "220", "4.7k", "4k7", "10 kΩ", "100n", "2.2 uF"; nothing when it is no quantity, or one
// of another unit than is asked for.
std::optional<double> parseQuantity(const std::string& text, const std::string& unit = {});
// Colours of the four bands by name, e.g. red, red, brown, gold.
std::vector<std::string> bandsOf(double ohms);

}  // namespace ignavo
