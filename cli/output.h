#pragma once
#include <optional>

#include "check/finding.h"
#include "explain/why.h"
#include "format/json.h"
#include "parts/circuit.h"
#include "project/project.h"
#include "run/comparison.h"
#include "run/kernel.h"

// Results as JSON, with the keys that are promised to users.
namespace ignavo::cli {

Json findingsJson(const std::string& file, const Project& project, const CheckResult& result);
Json solutionJson(const Project& project, Circuit& circuit, const CircuitState& state,
                  const CircuitReading& reading);
Json runJson(const Kernel& kernel, const Snapshot& end);
Json comparisonJson(const Comparison& comparison);
Json whyJson(const Project& project, const Why& why);

// Findings as SARIF 2.1.0; a place is the line of the culprit in the file.
class SarifLog {
 public:
  void add(const std::string& file, const std::string& text, const CheckResult& result);
  Json json() const;

 private:
  Json results_ = Json::array();
};

}  // namespace ignavo::cli
