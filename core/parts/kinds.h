#pragma once
#include <string>
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
  double otherwise = 0;  // default of a number
  double least = 0;
  double most = 0;
  std::vector<std::string> choices;  // the first one is the default
  bool e24 = false;                  // picked from the E24 series
};

// What a part is electrically, between its own legs.
struct PartDevices {
  struct Resistor {
    int a, b;
    double ohms;
  };
  struct Contact {  // closed while the part is pressed
    int a, b;
    double ohms;
  };
  struct Diode {
    int anode, cathode;
    electric::JunctionModel model;
  };
  std::vector<Resistor> resistors;
  std::vector<Contact> contacts;
  std::vector<Diode> diodes;
};

enum class Shows { nothing, light };

// A limit whose moving mean over a window destroys the part.
struct Burn {
  enum class Of { amps, watts } of = Of::amps;
  double windowSeconds = 1;
  double limit = 0;  // for watts: times the part's own rating
};

// One part kind: everything there is to know about it but its picture.
struct PartKind {
  std::string type;                // as in the file
  std::string label;               // "LED"
  std::string category;            // cabinet drawer
  std::string brief;               // one line under the cabinet entry
  std::string idStem;              // "led" -> led1
  std::vector<std::string> words;  // what people may search for
  std::string what, place, never;  // help: what it is, how to place it, what it must never see
  Footprint print;
  std::vector<PropKind> props;
  Shows shows = Shows::nothing;
  bool pressable = false;
  bool passes = false;  // named only when nothing else hangs behind it
  int buildRank = 0;    // flat parts are built in first

  // Legs between which volts and amps are read (first to second).
  std::pair<int, int> readLegs = {0, 1};
  double ratedAmps = 0;  // continuous; 0: none
  double burnsAmps = 0;  // what the check calls too much, steadily; 0: no such limit
  std::vector<Burn> burns;

  std::string (*nameOf)(const Part&) = nullptr;     // friendly name of a new part
  std::string (*shortText)(const Part&) = nullptr;  // "220 Ω", "red LED"
  double (*ratedWatts)(const Part&) = nullptr;      // null: none
  PartDevices (*devices)(const Part&) = nullptr;
};

// One pin of a board.
struct BoardPin {
  std::string name;
  PinShape::Role role = PinShape::Role::io;
  std::string chipName;  // what the chip's data sheet says
  bool pwm = false;
  bool analog = false;
  std::string serial;  // "rx", "tx" or nothing
};

struct BoardKind {
  std::string type;
  std::string label;
  std::string brief;
  std::string help;
  std::vector<BoardPin> pins;  // in the order of the edge
  BoardShape shape;
  double supplyVolts = 5;
  double outOhms = 25;
  double pullUpOhms = 35e3;
  double leakOhms = 100e6;
  double pinRatedAmps = 0.020;
  double pinMostAmps = 0.040;
  double chipMostAmps = 0.200;
  double usbMostAmps = 0.500;
  double highShare = 0.6;  // reads high above this share of the supply
  double lowShare = 0.3;   // reads low below it
  std::string lampPin;     // pin of the board's own lamp
  std::string chip;        // for the compiler
  int flashBytes = 0;
  int ramBytes = 0;
};

// Light that an LED gives at a mean current, 0 … 1, as the eye sees it.
double lightOf(double meanAmps);
constexpr double litLight = 0.04;  // above this a lamp counts as lit

// The next value of the E12 series that is not smaller; 1 Ω … 10 MΩ.
double nextE12(double ohms);
const std::vector<double>& e24Decade();
// "220 Ω", "4.7 kΩ", "1 MΩ"
std::string ohmsText(double ohms);
// Colours of the four bands by name, e.g. red, red, brown, gold.
std::vector<std::string> bandsOf(double ohms);

}  // namespace ignavo
