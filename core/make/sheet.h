#pragma once
#include <string>
#include <vector>

#include "project/project.h"
#include "text/message.h"

namespace ignavo {

// One thing to do on the table.
struct SheetStep {
  std::string tick;  // "part:led1", "wire:w3": what is remembered as done
  std::string id;    // part or wire
  Message text;      // "Red lamp: long leg i14 and short leg i16"
  Message hint;      // polarity in words, or nothing
};
struct SheetGroup {
  Message title;
  std::vector<SheetStep> steps;
};

struct SheetItem {
  int count = 0;
  std::string name;
  double ohms = 0;  // for the bands; 0: no resistor
};

// A voltage to expect between two holes.
struct MeterReading {
  std::string hole;
  std::string black;  // for the black probe: at the ground of the board that it is about
  Message when;       // "while D4 is high", or nothing
  double volts = 0;
};

struct BuildSheet {
  std::vector<SheetItem> items;
  std::vector<SheetGroup> groups;  // rails, parts from flat to tall, wires by pin, power last
  bool groundMissing = false;      // there would be more of them, but no hole of a ground is free
  std::vector<MeterReading> readings;
  int stepCount() const;
  int doneCount(const Project& project) const;
};

BuildSheet buildSheet(const Project& project);
// How many steps the sheet has and how many are done, without the meter's
// readings, which have to be solved.
struct SheetProgress {
  int steps = 0, done = 0;
};
SheetProgress sheetProgress(const Project& project);

}  // namespace ignavo
