#pragma once
#include "parts/small_circuits.h"
#include "support/build.h"

// Small circuits whose parts are called as a learner would call them, for tests.
namespace ignavo::test {

// Places a small circuit and calls its most telling part so.
inline Project with(Project p, const char* circuit, const char* pin, const char* type,
                    const char* name) {
  const Composed made = compose(p, *smallCircuit(circuit), "b1", pin);
  if (!made.problem.empty()) qFatal("%s", inWords(made.problem).c_str());
  p = made.project;
  for (const std::string& id : made.ids)
    if (const Part* part = p.part(id); part && part->type == type)
      p = edits::changePart(std::move(p), id, [&](Part& q) { q.name = name; });
  return p;
}

}  // namespace ignavo::test
