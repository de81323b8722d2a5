#include "format/json.h"

#include "bench/breadboards.h"
#include "format/project_file.h"
#include "parts/catalogue.h"
#include "program/keys.h"
#include "program/signals.h"
#include "program/steps.h"

namespace ignavo {

namespace {

Json text() { return {{"type", "string"}}; }
Json ref(const char* name) { return {{"$ref", std::string("#/$defs/") + name}}; }

Json propSchema(const PropKind& prop) {
  if (prop.type == PropKind::Type::number)
    return {{"type", "number"},
            {"minimum", prop.min},
            {"maximum", prop.max},
            {"default", prop.defaultValue}};
  if (prop.type == PropKind::Type::choice)
    return {{"enum", prop.choices}, {"default", prop.choices.front()}};
  return {{"type", "boolean"}};
}

Json partSchema(const PartKind& kind) {
  Json props = Json::object(), legs = Json::object();
  for (const PropKind& p : kind.props) props[p.key] = propSchema(p);
  for (const LegShape& l : kind.print.legs) {
    legs[l.id] = ref("legSocket");
    legs[l.id]["description"] = l.meaning;
  }
  Json o = {{"type", "object"}, {"description", kind.what}};
  o["properties"] = {
      {"id", ref("id")},
      {"type", {{"const", kind.type}}},
      {"name", text()},
      {"props", {{"type", "object"}, {"properties", props}}},
      {"legs", {{"type", "object"}, {"properties", legs}, {"additionalProperties", false}}},
      {"at", ref("place")},
      {"turn", {{"enum", {0, 90, 180, 270}}}},
      {"locked", {{"type", "boolean"}}}};
  o["required"] = {"id", "type"};
  return o;
}

Json slotSchema(const SlotKind& slot) {
  using Type = SlotKind::Type;
  switch (slot.type) {
    case Type::pin:
    case Type::text:
    case Type::variable:
    case Type::list:
    case Type::own:
    case Type::name:
      return text();
    case Type::key:
      return {{"enum", keyNames()}};
    case Type::names:
      return {{"type", "array"}, {"items", text()}};
    case Type::items:
      return {{"type", "array"}, {"items", ref("expression")}};
    case Type::inputs:
      return {{"type", "object"}, {"additionalProperties", ref("expression")}};
    default:
      return ref("expression");
  }
}

Json stepSchema(const StepKind& kind) {
  Json o = {{"type", "object"}, {"description", kind.help}};
  Json props = {{"id", ref("id")}, {"do", {{"const", kind.kind}}}};
  Json required = Json::array({"do"});
  for (const SlotKind& slot : kind.slots) {
    Json value = slotSchema(slot);
    if (slot.type == SlotKind::Type::level)
      value = {{"anyOf", Json::array({Json{{"enum", {"high", "low"}}}, ref("expression")})}};
    if (!slot.unit.empty()) value["description"] = "in " + slot.unit;
    props[slot.key] = value;
    if (!slot.optional) required.push_back(slot.key);
  }
  for (const BodyKind& body : kind.bodies) {
    props[body.key] = ref("steps");
    if (!body.optional) required.push_back(body.key);
  }
  o["properties"] = props;
  o["required"] = required;
  return o;
}

Json item(const Json& types) {
  return {{"type", "object"},
          {"properties", {{"id", ref("id")}, {"type", {{"enum", types}}}, {"at", ref("place")}}},
          {"required", {"id", "type", "at"}}};
}

Json listOf(const Json& items, std::size_t most) {
  return {{"type", "array"}, {"items", items}, {"maxItems", most}};
}

Json definitions() {
  Json d;
  d["id"] = {{"type", "string"}, {"minLength", 1}, {"pattern", "^[^.]+$"}};
  d["place"] = {{"type", "array"},
                {"items", {{"type", "number"}}},
                {"minItems", 2},
                {"maxItems", 2},
                {"description", "in hole pitches of 2.54 mm"}};
  d["socket"] = {{"type", "string"},
                 {"pattern", "^[^.]+\\..+$"},
                 {"description", "board.pin, breadboard.hole or part.leg"}};
  d["legSocket"] = {{"anyOf", Json::array({ref("socket"), Json{{"type", "null"}}})}};
  Json operators = Json::array();
  for (const OperatorKind& k : operatorKinds()) operators.push_back(k.name);
  Json choices = Json::array({Json{{"type", {"number", "boolean", "string"}}}});
  for (const GetterKind& k : getterKinds()) {
    Json fields = {{"get", {{"const", k.name}}}}, required = Json::array({"get"});
    for (const std::string& key : k.fields()) {
      fields[key] = fieldKind(key) == FieldKind::whole ? ref("expression")
                    : fieldKind(key) == FieldKind::key ? Json{{"enum", keyNames()}}
                                                       : text();
      required.push_back(key);
    }
    choices.push_back({{"type", "object"}, {"properties", fields}, {"required", required}});
  }
  const Json range = {
      {"type", "array"}, {"items", ref("expression")}, {"minItems", 2}, {"maxItems", 2}};
  Json op = {{"type", "object"},
             {"properties",
              {{"op", {{"enum", operators}}},
               {"a", ref("expression")},
               {"b", ref("expression")},
               {"from", range},
               {"to", range}}},
             {"required", {"op", "a"}}};
  choices.push_back(op);
  for (const SignalKind& k : signalKinds()) {
    Json fields = {{"sig", {{"const", k.name}}}}, required = Json::array({"sig"});
    for (const SignalKind::Operand& operand : k.operands) {
      const bool flag = operand.is == SignalKind::Operand::Is::flag;
      fields[operand.key] = flag ? Json{{"type", "boolean"}} : ref("expression");
      if (!flag && !k.mayLack(operand.key)) required.push_back(operand.key);
    }
    choices.push_back({{"type", "object"}, {"properties", fields}, {"required", required}});
  }
  d["expression"] = {{"anyOf", choices}};
  Json steps = Json::array(), parts = Json::array(), triggers = Json::array();
  for (const StepKind* k : stepKinds()) steps.push_back(stepSchema(*k));
  for (const PartKind* k : catalogue().parts()) parts.push_back(partSchema(*k));
  Json again = Json::array();
  for (const AgainKind& k : againKinds()) again.push_back(k.name);
  Json triggerFields = {{"again", {{"enum", again}}}};
  for (const TriggerKind& k : triggerKinds()) {
    if (k.own || k.keeps != TriggerKind::Keeps::nothing) continue;
    triggers.push_back(k.on);
    for (const SlotKind& slot : k.slots) triggerFields[slot.key] = slotSchema(slot);
  }
  triggerFields["on"] = {{"enum", triggers}};
  d["step"] = {{"oneOf", steps}};
  d["steps"] = listOf(ref("step"), limits::steps);
  d["part"] = {{"oneOf", parts}};
  d["wire"] = {{"type", "object"},
               {"properties",
                {{"id", ref("id")},
                 {"from", ref("socket")},
                 {"to", ref("socket")},
                 {"colour", text()},
                 {"bends", listOf(ref("place"), 64)}}},
               {"required", {"id", "from", "to"}}};
  d["lane"] = {
      {"type", "object"},
      {"properties",
       {{"id", ref("id")},
        {"trigger", {{"type", "object"}, {"properties", triggerFields}, {"required", {"on"}}}},
        {"signal",
         {{"type", "object"},
          {"properties",
           {{"to",
             {{"type", "object"},
              {"properties",
               {{"pin", text()}, {"as", {{"enum", {"digital", "level"}}}}, {"var", text()}}}}},
            {"from", ref("expression")}}},
          {"required", {"to", "from"}}}},
        {"steps", ref("steps")}}},
      {"anyOf", Json::array({Json{{"required", {"trigger"}}}, Json{{"required", {"signal"}}}})}};
  d["own"] = {{"type", "object"},
              {"properties",
               {{"id", ref("id")},
                {"name", text()},
                {"inputs", {{"type", "array"}, {"items", text()}}},
                {"steps", ref("steps")}}},
              {"required", {"name", "steps"}}};
  d["program"] = {
      {"type", "object"},
      {"properties",
       {{"board", text()},
        {"pins",
         {{"type", "object"},
          {"additionalProperties",
           {{"type", "object"},
            {"properties", {{"pull", {{"enum", {"", "up", "none"}}}}, {"label", text()}}}}}}},
        {"variables",
         listOf({{"type", "object"},
                 {"properties",
                  {{"name", text()}, {"start", {{"type", {"number", "boolean", "string"}}}}}},
                 {"required", {"name"}}},
                limits::variables)},
        {"lists",
         listOf({{"type", "object"},
                 {"properties",
                  {{"name", text()}, {"items", listOf({{"type", "number"}}, limits::listItems)}}},
                 {"required", {"name", "items"}}},
                limits::lists)},
        {"lanes", listOf(ref("lane"), limits::lanes)},
        {"own", listOf(ref("own"), limits::lanes)}}},
      {"required", {"board"}}};
  d["recording"] = {
      {"type", "object"},
      {"properties",
       {{"name", text()},
        {"inputs",
         listOf({{"type", "object"},
                 {"properties", {{"at", {{"type", "number"}, {"minimum", 0}}}, {"what", text()}}},
                 {"required", {"at", "what"}}},
                limits::recordedInputs)}}},
      {"required", {"name", "inputs"}}};
  return d;
}

}  // namespace

std::string projectSchema() {
  Json boards = Json::array(), breadboards = Json::array();
  for (const BoardKind* k : catalogue().boards()) boards.push_back(k->type);
  for (const BreadboardKind& k : breadboardKinds()) breadboards.push_back(k.type);
  Json s;
  s["$schema"] = "https://json-schema.org/draft/2020-12/schema";
  s["title"] = "Ignavo project, version 1";
  s["type"] = "object";
  s["required"] = {"format", "version"};
  s["properties"] = {
      {"format", {{"const", "ignavo-project"}}},
      {"version", {{"const", 1}}},
      {"title", text()},
      {"about", text()},
      {"seed", {{"type", "integer"}, {"minimum", 0}}},
      {"boards", listOf(item(boards), limits::boards)},
      {"breadboards", listOf(item(breadboards), limits::breadboards)},
      {"parts", listOf(ref("part"), limits::parts)},
      {"wires", listOf(ref("wire"), limits::wires)},
      {"programs", listOf(ref("program"), limits::boards)},
      {"ticks", listOf(text(), 10000)},
      {"meant", listOf(Json{{"type", "object"}}, 10000)},
      {"keys", {{"type", "object"}, {"additionalProperties", text()}}},
      {"guesses",
       {{"type", "object"},
        {"additionalProperties", {{"enum", {"dark", "lit", "blinking", "unsure"}}}}}},
      {"recordings", listOf(ref("recording"), limits::recordings)},
      {"settings",
       {{"type", "object"}, {"properties", {{"partsSurvive", {{"type", "boolean"}}}}}}}};
  s["$defs"] = definitions();
  return s.dump(2) + "\n";
}

}  // namespace ignavo
