#include "run/by_hand.h"

#include "parts/catalogue.h"

namespace ignavo {

namespace {

// The properties of a part that are turned or thrown while time runs.
std::vector<std::string> handsOn(const Part& part) {
  std::vector<std::string> out;
  const PartKind* kind = catalogue().partKind(part.type);
  for (const std::string& key :
       {kind ? kind->knob : std::string(), kind ? kind->thrownKey : std::string()})
    if (!key.empty()) out.push_back(key);
  return out;
}

bool isByHand(const Project& project, const Input& input) {
  const Part* part = project.part(input.id);
  if (!part) return false;
  for (const std::string& key : handsOn(*part))
    if (key == input.key) return true;
  return false;
}

template <typename Each>  // (id, key, value) of what stands otherwise in the second
void eachTurned(const Project& before, const Project& after, Each each) {
  for (const auto& part : *after.parts) {
    const Part* was = before.part(part->id);
    if (!was || was->type != part->type) continue;
    for (const std::string& key : handsOn(*part)) {
      const PropValue *a = was->prop(key), *b = part->prop(key);
      if (a && b && !(*a == *b)) each(part->id, key, *b);
    }
  }
}

}  // namespace

std::vector<Input> doneByHand(const RunRecord& record) {
  std::vector<Input> out;
  std::shared_ptr<const Project> stands = record.project;
  for (const Input& input : record.inputs) {
    if (input.what == Input::What::project) {
      eachTurned(*stands, *input.project,
                 [&](const std::string& id, const std::string& key, const PropValue& value) {
                   Input turned;
                   turned.at = input.at;
                   turned.what = Input::What::setProp;
                   turned.id = id;
                   turned.key = key;
                   turned.value = value;
                   out.push_back(std::move(turned));
                 });
      stands = input.project;
    } else if (input.what != Input::What::setProp || isByHand(*stands, input)) {
      out.push_back(input);
    }
  }
  return out;
}

Project asAtPowerOn(Project changed, const Project& first) {
  const Project now = changed;
  eachTurned(now, first,
             [&](const std::string& id, const std::string& key, const PropValue& value) {
               for (auto& part : changed.parts.edit())
                 if (part->id == id) part.edit().setProp(key, value);
             });
  return changed;
}

bool differsByHandOnly(const Project& a, const Project& b) { return asAtPowerOn(b, a) == a; }

}  // namespace ignavo
