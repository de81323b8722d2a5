#include <algorithm>

#include "check/rule.h"
#include "output.h"

// SARIF 2.1.0 (OASIS), so that editors and build servers show findings.
namespace ignavo::cli {

namespace {

const char* levelOf(Severity s) {
  return s == Severity::danger ? "error" : s == Severity::warning ? "warning" : "note";
}

// The line, from 1, on which something with this id stands.
int lineOf(const std::string& text, const std::string& id) {
  const auto at = text.find("\"id\": \"" + id + "\"");
  if (at == std::string::npos) return 0;
  return 1 + static_cast<int>(
                 std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
}

}  // namespace

void SarifLog::add(const std::string& file, const std::string& text, const CheckResult& result) {
  for (const Finding& f : result.findings) {
    Json place = {{"artifactLocation", {{"uri", file}}}};
    int line = 0;
    for (const auto* ids : {&f.steps, &f.parts})
      for (const std::string& id : *ids)
        if (line == 0) line = lineOf(text, id);
    place["region"] = {{"startLine", std::max(line, 1)}};
    Json one = {{"ruleId", f.rule},
                {"level", levelOf(f.severity)},
                {"message", {{"text", inWords(f.title) + ". " + inWords(f.reason)}}},
                {"locations", Json::array({{{"physicalLocation", place}}})}};
    Json properties = {{"parts", f.parts}, {"pins", f.pins}, {"steps", f.steps}};
    for (const Figure& g : f.figures) properties["figures"][g.key] = g.value;
    one["properties"] = properties;
    if (f.meant) one["suppressions"] = Json::array({{{"kind", "inSource"}}});
    results_.push_back(std::move(one));
  }
}

Json SarifLog::json() const {
  Json list = Json::array();
  for (const Rule* rule : rules())
    list.push_back({{"id", rule->id},
                    {"shortDescription", {{"text", rule->meaning}}},
                    {"fullDescription", {{"text", rule->why}}},
                    {"help", {{"text", rule->mend}}},
                    {"defaultConfiguration", {{"level", levelOf(rule->severity)}}}});
  const Json driver = {{"name", "ignavo"}, {"version", "0.1.0"}, {"rules", list}};
  return {{"version", "2.1.0"},
          {"runs", Json::array({{{"tool", {{"driver", driver}}}, {"results", results_}}})}};
}

}  // namespace ignavo::cli
