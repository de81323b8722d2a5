#include "format/input_language.h"

#include <charconv>

#include "parts/catalogue.h"
#include "program/keys.h"

namespace ignavo {

namespace {

std::optional<double> numberOf(const std::string& text) {
  double v = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return v;
}

// The shortest that is read back as the same.
std::string numberText(double value) {
  char text[32];
  return {text, std::to_chars(text, text + sizeof text, value).ptr};
}

// A word, and what follows it.
std::pair<std::string, std::string> cut(const std::string& words) {
  const auto space = words.find(' ');
  return {words.substr(0, space),
          space == std::string::npos ? std::string() : words.substr(space + 1)};
}

// Of a pin: nothing for one that is let go.
std::optional<std::optional<double>> levelOf(const std::string& level) {
  if (level == "free") return std::optional<double>();
  if (level == "high" || level == "low") return std::optional(level == "high" ? 100.0 : 0.0);
  if (!level.ends_with('%')) return std::nullopt;
  const auto percent = numberOf(level.substr(0, level.size() - 1));
  if (!percent || !(*percent >= 0 && *percent <= 100)) return std::nullopt;
  return percent;
}

}  // namespace

std::optional<PinChange> pinChange(const Project& p, const std::string& text) {
  const auto equals = text.find('=');
  if (equals == std::string::npos) return std::nullopt;
  const auto level = levelOf(text.substr(equals + 1));
  if (!level) return std::nullopt;
  PinChange out{p.boards.empty() ? "" : p.boards.front().id, text.substr(0, equals), *level};
  if (const auto dot = out.pin.find('.'); dot != std::string::npos) {
    out.board = out.pin.substr(0, dot);
    out.pin = out.pin.substr(dot + 1);
  }
  const BoardItem* item = p.board(out.board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return std::nullopt;
  for (const BoardPin& k : kind->pins)
    if (k.name == out.pin && k.role == PinShape::Role::io) return out;
  return std::nullopt;
}

std::optional<PropChange> propChange(const Project& p, const std::string& text) {
  const auto equals = text.find('='), dot = text.find('.');
  if (equals == std::string::npos || dot == std::string::npos || dot > equals) return std::nullopt;
  PropChange c{text.substr(0, dot), text.substr(dot + 1, equals - dot - 1), std::string()};
  const std::string value = text.substr(equals + 1);
  const Part* part = p.part(c.part);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind) return std::nullopt;
  for (const PropKind& prop : kind->props) {
    if (prop.key == "colour" && c.key == "color") c.key = prop.key;
    if (prop.key != c.key) continue;
    if (prop.type == PropKind::Type::number) {
      const auto v = numberOf(value);
      if (!v || !(*v >= prop.min && *v <= prop.max)) return std::nullopt;
      c.value = *v;
      return c;
    }
    if (prop.type == PropKind::Type::truth) {
      if (value != "true" && value != "false") return std::nullopt;
      c.value = value == "true";
      return c;
    }
    if (const std::string* choice = prop.choiceCalled(value)) {
      c.value = *choice;
      return c;
    }
  }
  return std::nullopt;
}

bool isPressable(const Project& p, const std::string& id) {
  const Part* part = p.part(id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  return kind && kind->pressable;
}

std::optional<Input> readInput(const Project& p, const std::string& text) {
  using What = Input::What;
  Input in;
  const auto [verb, rest] = cut(text);
  if (verb == "press" || verb == "release") {
    if (!isPressable(p, rest)) return std::nullopt;
    in.what = verb == "press" ? What::press : What::release;
    in.id = rest;
  } else if (verb == "set") {
    const auto change = propChange(p, rest);
    if (!change) return std::nullopt;
    in.what = What::setProp;
    in.id = change->part;
    in.key = change->key;
    in.value = change->value;
  } else if (verb == "pin") {
    const auto change = pinChange(p, rest);
    if (!change) return std::nullopt;
    in.what = change->percent ? What::drivePin : What::freePin;
    in.id = change->board;
    in.key = change->pin;
    in.value = change->percent.value_or(0);
  } else if (verb == "reset" || verb == "power") {
    // Of all boards, or of the one that is named last.
    const auto [state, board] = cut(rest);
    in.id = verb == "reset" ? rest : board;
    if (verb == "power" && state != "on" && state != "off") return std::nullopt;
    in.what = verb == "reset" ? What::reset : state == "on" ? What::powerOn : What::powerOff;
    if (!in.id.empty() && !p.board(in.id)) return std::nullopt;
  } else if (verb == "key-down" || verb == "key-up") {
    in.what = verb == "key-down" ? What::keyDown : What::keyUp;
    in.key = keyOf(rest);
    if (in.key.empty()) return std::nullopt;
  } else {
    return std::nullopt;
  }
  return in;
}

std::string inputText(const Input& in) {
  using What = Input::What;
  const std::string board = in.id.empty() ? std::string() : " " + in.id;
  const auto written = [&] {
    if (const auto* number = std::get_if<double>(&in.value)) return numberText(*number);
    if (const auto* truth = std::get_if<bool>(&in.value))
      return std::string(*truth ? "true" : "false");
    return std::get<std::string>(in.value);
  };
  switch (in.what) {
    case What::press:
      return "press " + in.id;
    case What::release:
      return "release " + in.id;
    case What::setProp:
      return "set " + in.id + "." + in.key + "=" + written();
    case What::drivePin: {
      const double percent = std::get<double>(in.value);
      const std::string level = percent <= 0     ? "low"
                                : percent >= 100 ? "high"
                                                 : numberText(percent) + "%";
      return "pin " + in.id + "." + in.key + "=" + level;
    }
    case What::freePin:
      return "pin " + in.id + "." + in.key + "=free";
    case What::reset:
      return "reset" + board;
    case What::powerOff:
      return "power off" + board;
    case What::powerOn:
      return "power on" + board;
    case What::keyDown:
      return "key-down " + in.key;
    case What::keyUp:
      return "key-up " + in.key;
    case What::replace:
    case What::project:
      return {};
  }
  return {};
}

}  // namespace ignavo
