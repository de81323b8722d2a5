#include <fmt/format.h>

#include <algorithm>

#include "bench/wiring.h"
#include "format/wiring_language.h"
#include "format/wiring_words.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/names.h"
#include "program/steps.h"

namespace ignavo {

namespace {

// In quotation marks; before such a mark inside, and before a backslash, stands a backslash;
// a line break is written as \n.
std::string inQuotes(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\' || c == '\n') out += '\\';
    out += c == '\n' ? 'n' : c;
  }
  return out + "\"";
}
std::string plain(double v) { return fmt::format("{:.10g}", v); }

std::string valueText(const PropKind& prop, const PropValue& value) {
  if (const double* d = std::get_if<double>(&value)) return prop.key + " " + plain(*d);
  if (const auto* s = std::get_if<std::string>(&value)) return *s;
  return std::get<bool>(value) ? prop.key : std::string();
}

std::string partLine(const Project& project, const Part& part) {
  const PartKind& kind = *catalogue().partKind(part.type);
  std::string line;
  for (const PropKind& prop : kind.props)
    if (const PropValue* v = part.prop(prop.key); v && prop.type == PropKind::Type::choice)
      line += valueText(prop, *v) + " ";
  line += kind.typed.front();
  for (const PropKind& prop : kind.props) {
    const PropValue* v = part.prop(prop.key);
    if (!v || prop.type == PropKind::Type::choice) continue;
    if (const double* d = std::get_if<double>(v); d && *d == prop.defaultValue) continue;
    if (const std::string text = valueText(prop, *v); !text.empty()) line += " " + text;
  }
  const bool plugged =
      std::any_of(part.legs.begin(), part.legs.end(), [](const Leg& l) { return l.in; });
  if (plugged)
    for (const Leg& leg : part.legs) line += " " + (leg.in ? placeName(project, *leg.in) : "-");
  if (part.at && (!plugged || kind.print.leads)) {
    line += fmt::format(" at {} {}", plain(part.at->x), plain(part.at->y));
    if (part.turnDegrees != 0 && !plugged) line += fmt::format(" turned {}", part.turnDegrees);
  }
  line += " as " + inQuotes(part.name);
  if (part.locked) line += " locked";
  return line;
}

std::string wireLine(const Project& project, const Wire& wire) {
  std::string line = fmt::format("wire {} {} {}", placeName(project, wire.from),
                                 placeName(project, wire.to), wire.colour);
  if (!wire.bends.empty()) line += " by";
  for (const Point& bend : wire.bends) line += fmt::format(" {} {}", plain(bend.x), plain(bend.y));
  return line;
}

}  // namespace

std::string writeWiring(const Project& project) {
  std::string out;
  const auto add = [&](const std::string& line) { out += line + "\n"; };
  if (!project.title.empty()) add("title " + inQuotes(project.title));
  if (!project.about.empty()) add("about " + inQuotes(project.about));
  for (const BoardItem& b : project.boards)
    add(fmt::format("board {} {} at {} {}", b.type, b.id, plain(b.at.x), plain(b.at.y)));
  for (const BreadboardItem& b : project.breadboards)
    add(fmt::format("breadboard {} {} at {} {}", b.type, b.id, plain(b.at.x), plain(b.at.y)));
  for (const auto& part : *project.parts)
    if (catalogue().partKind(part->type)) add(partLine(project, *part));
  for (const auto& wire : *project.wires) add(wireLine(project, *wire));
  const bool several = project.boards.size() > 1;
  for (const auto& program : project.programs) {
    for (const PinSetting& setting : program->pins) {
      const std::string pin = (several ? program->board + "." : "") + setting.pin;
      if (setting.pull == "up") add("pull up " + pin);
      if (!setting.label.empty()) add(fmt::format("label {} {}", pin, inQuotes(setting.label)));
    }
    const bool any = !program->variables.empty() || !program->lists.empty() ||
                     std::any_of(program->lanes.begin(), program->lanes.end(),
                                 [](const auto& lane) { return doesSomething(*lane); });
    if (several && any) add("program " + program->board);
    for (const Variable& v : program->variables) add(textOf(v));
    for (const NumberList& l : program->lists) add(textOf(l));
    for (const auto& lane : program->lanes) {
      const TriggerKind* kind = triggerKind(lane->trigger.on);
      if (!kind || (!kind->own && !doesSomething(*lane))) continue;
      add(signOf(lane->trigger) + ":");
      out += textOf(lane->steps, 1);
    }
  }
  return out;
}

}  // namespace ignavo
