#include "check/faults.h"

#include "check/rule.h"

namespace ignavo {

std::vector<Fault> faultsOf(const std::vector<Finding>& findings) {
  std::vector<Fault> out;
  for (const Finding& f : findings) {
    const Rule* rule = ruleOf(f.rule);
    Fault fault;
    fault.rule = f.rule;
    fault.isNote = f.severity == Severity::note;
    fault.ofProgram = rule && rule->needsProgram && (!rule->darkens || rule->ofInputs);
    fault.darkens = rule && rule->darkens;
    fault.takesPower = rule && rule->takesPower;
    fault.ofInputs = rule && rule->ofInputs;
    fault.title = f.title;
    fault.reason = f.reason;
    fault.parts = f.parts;
    fault.pins = f.pins;
    fault.steps = f.steps;
    fault.sockets = f.sockets;
    for (const Remedy& r : f.remedies)
      fault.mended.push_back(std::make_shared<const Project>(r.after));
    out.push_back(std::move(fault));
  }
  return out;
}

std::vector<Fault> faultsWithoutPrograms(const Project& project) {
  Project bare = project;
  for (auto& program : bare.programs) program.edit().lanes.clear();
  std::vector<Fault> out = faultsOf(check(bare).findings);
  // What they would be mended with has the programs as they are.
  for (Fault& fault : out)
    for (auto& mended : fault.mended) {
      Project whole = *mended;
      whole.programs = project.programs;
      mended = std::make_shared<const Project>(std::move(whole));
    }
  return out;
}

}  // namespace ignavo
