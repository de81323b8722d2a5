#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "explain/current_path.h"
#include "project/project.h"
#include "text/message.h"

namespace ignavo {

// Makes the messages of the check.
inline constexpr Say say("check");

enum class Severity { note, warning, danger };
// "danger", and as people read it: "Would break", "Won't work", "Good to know".
const char* severityId(Severity s);
const char* severityTitle(Severity s);

// One way in which buttons and pins can stand: pin "D4" -> "high" / "low",
// part id -> "pressed" / "released", or the position of a switch.
using Pose = std::map<std::string, std::string>;

struct Figure {
  std::string key;  // unit is part of the key: "amps", "ohms", "volts"
  double value = 0;
};

// An edit that would mend a fault; the project as it would then be.
struct Remedy {
  IGNAVO_VALUE(Remedy);
  Remedy(Message title, Project after);

  Message title;
  Project after;
};

// What the check found, with its reason.
struct Finding {
  IGNAVO_VALUE(Finding);

  std::string rule;
  Severity severity = Severity::warning;
  Message title;  // no full stop
  Sentences reason;
  Sentences consequence;           // what else comes of it; follows the reason
  Sentences advice;                // last of all
  std::vector<std::string> parts;  // ids of culprits, the main one first
  std::vector<std::string> pins;   // "D4", or "b2.D4" with several boards
  std::vector<std::string> steps;  // step ids
  std::vector<Socket> sockets;     // places to be shown
  std::optional<Socket> mark;      // where its mark goes, if not beside its first part
  Pose pose;
  std::vector<Figure> figures;
  std::vector<Remedy> remedies;
  bool meant = false;  // the user declared it to be intended

  double figure(const std::string& key) const;
};

// Who a finding is about: its rule with the ids of its parts, pins and steps, sorted; of one
// that has none of them, its places. However often a project is checked, it is the same.
Suppression identityOf(const Finding& finding);

// The worst reading of a part or used pin over all poses.
struct WorstReading {
  std::string part;  // id, or empty for a pin
  std::string pin;
  std::string name;  // "Green lamp", "Pin D3"
  Pose pose;
  double volts = 0;
  double amps = 0;
  double watts = 0;
  double share = 0;             // of its limit; 1 is the limit
  std::string limit;            // "20 mA"
  std::vector<PathPoint> path;  // of the current through a part, source first
  double revolutionsPerMinute = 0;
};

// The largest sums that a board must carry in any lasting combination.
struct BoardTotal {
  double chipAmps = 0;  // out of its pins together, or into them
  // Out of each of its supplies, in the order of BoardKind::supplies; with what its pins give and
  // what another supply makes from it.
  std::vector<double> supplyAmps;
};

// What the last compiling of each board's program came to, in bytes; by its id.
struct ProgramSize {
  int flash = 0, ram = 0;
  bool operator==(const ProgramSize&) const = default;
};
using ProgramSizes = std::map<std::string, ProgramSize>;

struct CheckResult {
  IGNAVO_VALUE(CheckResult);

  std::vector<Finding> findings;  // dangers first, then by place
  std::vector<WorstReading> readings;
  double poses = 1;                   // combinations that the answer holds for
  bool sampled = false;               // too many: some were left out
  std::vector<std::string> unsolved;  // parts of a circuit that could not be solved
  std::vector<BoardTotal> totals;     // per board
};

// Checks a project electrically and against its programs. Takes tens of
// milliseconds at most; `cancelled` is asked now and then and ends it early.
CheckResult check(const Project& project, bool (*cancelled)(void*) = nullptr, void* asked = nullptr,
                  const ProgramSizes& sizes = {});

// What the rules find one by one, consequences of other findings included.
std::vector<Finding> everythingFound(const Project& project);

// Rule ids in the order in which they are applied.
std::vector<std::string> ruleIds();

}  // namespace ignavo
