#include "arguments.h"

#include <fmt/format.h>

#include <charconv>
#include <cstdio>
#include <fstream>

#include "commands.h"
#include "format/files.h"
#include "format/project_file.h"
#include "parts/catalogue.h"
#include "program/keys.h"
#include "text/plain.h"

namespace ignavo::cli {

void say(const std::string& text) { fmt::print(stderr, "{}\n", text); }

std::optional<Project> open(const std::string& file) {
  ReadResult r = readProjectFile(file);
  for (const FileProblem& p : r.problems) say(file + ": " + inWords(sentence(p)));
  if (!r.sound()) return std::nullopt;
  return std::move(r.project);
}

std::optional<double> number(const std::string& text) {
  double v = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return v;
}

std::optional<PinLevel> pinLevel(const Project& p, const std::string& text) {
  const auto equals = text.find('=');
  if (equals == std::string::npos) return std::nullopt;
  const std::string level = text.substr(equals + 1);
  if (level != "high" && level != "low") return std::nullopt;
  std::string pin = text.substr(0, equals);
  std::string board = p.boards.empty() ? "" : p.boards.front().id;
  if (const auto dot = pin.find('.'); dot != std::string::npos) {
    board = pin.substr(0, dot);
    pin = pin.substr(dot + 1);
  }
  const BoardItem* item = p.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return std::nullopt;
  for (const BoardPin& k : kind->pins)
    if (k.name == pin && k.role == PinShape::Role::io) return PinLevel{board, pin, level == "high"};
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
      const auto v = number(value);
      if (!v || *v < prop.min || *v > prop.max) return std::nullopt;
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

std::string notPressable(const Project& p, const std::string& id) {
  std::string names;
  for (const auto& part : *p.parts)
    if (isPressable(p, part->id)) names += (names.empty() ? "" : ", ") + part->id;
  return fmt::format("“{}” is nothing that can be pressed; {}", plainLine(id),
                     names.empty() ? "nothing on this bench is" : "these are: " + names);
}

int bad(const std::string& sentence) {
  say(sentence);
  return wrong;
}

bool writeFile(const std::string& path, const std::string& text) {
  std::ofstream out(path, std::ios::binary);
  out << text;
  out.close();
  if (!out) say(fmt::format("“{}” cannot be written", path));
  return static_cast<bool>(out);
}

std::string boardOr(const Project& p, const std::string& wanted) {
  return wanted.empty() && !p.boards.empty() ? p.boards.front().id : wanted;
}

std::optional<Input> inputOf(const Project& p, double seconds, const std::string& text) {
  Input in;
  in.at = static_cast<Nanoseconds>(seconds * 1e9 + 0.5);
  // A word, and what follows it.
  const auto cut = [](const std::string& words) {
    const auto space = words.find(' ');
    return std::pair(words.substr(0, space),
                     space == std::string::npos ? std::string() : words.substr(space + 1));
  };
  const auto [verb, rest] = cut(text);
  using What = Input::What;
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
    const auto level = pinLevel(p, rest);
    if (!level) return std::nullopt;
    in.what = What::drivePin;
    in.id = level->board;
    in.key = level->pin;
    in.value = level->high;
  } else if (verb == "reset" || verb == "power") {
    // Of all boards, or of the one that is named last.
    const auto [first, second] = cut(rest);
    in.id = verb == "reset" ? rest : second;
    if (verb == "power" && first != "on" && first != "off") return std::nullopt;
    in.what = verb == "reset" ? What::reset : first == "on" ? What::powerOn : What::powerOff;
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

}  // namespace ignavo::cli
