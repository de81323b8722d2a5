#include "bench/identity.h"

#include <algorithm>

namespace ignavo {

const std::vector<std::string>& identityNames() {
  static const std::vector<std::string> names = {"teal", "sky",  "blue",  "stone", "indigo",
                                                 "moss", "pink", "umber", "lemon", "plum"};
  return names;
}

std::optional<std::string> identityCalled(const std::string& word) {
  static const std::map<std::string, std::string> called = {
      {"turquoise", "teal"}, {"cyan", "sky"},     {"azure", "sky"},   {"grey", "stone"},
      {"gray", "stone"},     {"silver", "stone"}, {"navy", "indigo"}, {"violet", "indigo"},
      {"green", "moss"},     {"olive", "moss"},   {"rose", "pink"},   {"brown", "umber"},
      {"yellow", "lemon"},   {"gold", "lemon"},   {"purple", "plum"}, {"magenta", "plum"}};
  const auto& names = identityNames();
  if (std::find(names.begin(), names.end(), word) != names.end()) return word;
  const auto it = called.find(word);
  return it == called.end() ? std::nullopt : std::optional(it->second);
}

namespace {

int named(const std::string& colour) {
  const auto& names = identityNames();
  const auto it = std::find(names.begin(), names.end(), colour);
  return it == names.end() ? -1 : static_cast<int>(it - names.begin());
}

void stepPins(const Steps& steps, std::vector<std::string>& out);
void exprPins(const Expr& e, std::vector<std::string>& out) {
  for (const auto& [key, inner] : e.args) {
    if (key == pinKey) out.push_back(inner.text);
    exprPins(inner, out);
  }
}
void stepPins(const Steps& steps, std::vector<std::string>& out) {
  forEachStep(steps, [&](const Step& s) {
    for (const auto& [key, value] : s.fields) {
      if (key == pinKey) out.push_back(value.text);
      exprPins(value, out);
    }
  });
}

}  // namespace

Identities::Identities(const Project& project, const Nets& nets, const Shapes& shapes) {
  using Role = PinShape::Role;
  const auto roleOf = [&](const BoardItem& b, const std::string& pin) {
    const BoardShape* shape = shapes.board(b.type);
    const int i = shape ? shape->pinIndex(pin) : -1;
    return i < 0 ? Role::supplyIn : shape->pins[static_cast<std::size_t>(i)].role;
  };
  // Colours that the user or the wiring tool gave explicitly come first.
  std::vector<std::pair<std::pair<std::string, std::string>, int>> order;
  for (const auto& wire : *project.wires)
    for (const Socket* end : {&wire->from, &wire->to}) {
      const BoardItem* board = project.board(end->owner);
      if (!board || roleOf(*board, end->point) != Role::io) continue;
      const std::pair key{end->owner, end->point};
      if (std::none_of(order.begin(), order.end(), [&](auto& o) { return o.first == key; }))
        order.push_back({key, named(wire->colour)});
    }
  for (const BoardItem& board : project.boards) {
    std::vector<std::string> used;
    if (const Program* program = project.program(board.id))
      for (const auto& lane : program->lanes) stepPins(lane->steps, used);
    for (const std::string& pin : used) {
      const std::pair key{board.id, pin};
      if (roleOf(board, pin) == Role::io &&
          std::none_of(order.begin(), order.end(), [&](auto& o) { return o.first == key; }))
        order.push_back({key, -1});
    }
  }
  for (const auto& [key, colour] : order)
    if (colour >= 0) pins_[key] = colour;
  for (const auto& [key, colour] : order)
    if (colour < 0) pins_[key] = firstFree();

  for (int n = 0; n < static_cast<int>(nets.all().size()); ++n) {
    NetColour colour;
    for (const PinRef& p : nets.all()[static_cast<std::size_t>(n)].pins) {
      const BoardItem& board = project.boards[static_cast<std::size_t>(p.board)];
      const PinShape& pin = shapes.board(board.type)->pins[static_cast<std::size_t>(p.pin)];
      if (pin.role == Role::ground) colour.kind = NetColour::Kind::ground;
      if (colour.kind != NetColour::Kind::ground &&
          (pin.role == Role::supply || pin.role == Role::supplyIn))
        colour.kind = NetColour::Kind::supply;
      if (colour.kind == NetColour::Kind::plain) {
        if (const int index = ofPin(board.id, pin.name); index >= 0)
          colour = {NetColour::Kind::pin, index};
      }
    }
    for (const LegRef& l : nets.all()[static_cast<std::size_t>(n)].legs) {
      const Footprint* print =
          shapes.part((*project.parts)[static_cast<std::size_t>(l.part)]->type);
      const auto feeds = print->legs[static_cast<std::size_t>(l.leg)].feeds;
      if (colour.kind == NetColour::Kind::ground) break;
      if (feeds == LegShape::Feeds::minus) colour.kind = NetColour::Kind::ground;
      if (feeds == LegShape::Feeds::plus) colour.kind = NetColour::Kind::supply;
    }
    if (colour.kind != NetColour::Kind::plain) nets_[n] = colour;
  }
}

int Identities::firstFree() const {
  for (int i = 0;; ++i)
    if (std::none_of(pins_.begin(), pins_.end(), [&](const auto& p) { return p.second == i; }))
      return i;
}

NetColour Identities::ofNet(int net) const {
  const auto it = nets_.find(net);
  return it == nets_.end() ? NetColour{} : it->second;
}

int Identities::ofPin(const std::string& board, const std::string& pin) const {
  const auto it = pins_.find({board, pin});
  return it == pins_.end() ? -1 : it->second;
}

NetColour Identities::ofWire(const Wire& wire, const Nets& nets) const {
  const NetColour net = ofNet(nets.of(wire.from));
  if (net.kind == NetColour::Kind::plain)
    if (const int own = named(wire.colour); own >= 0) return {NetColour::Kind::pin, own};
  return net;
}

std::string colourWord(const NetColour& colour) {
  switch (colour.kind) {
    case NetColour::Kind::supply:
      return "red";
    case NetColour::Kind::ground:
      return "black";
    case NetColour::Kind::plain:
      return "grey";
    case NetColour::Kind::pin:
      break;
  }
  const auto& names = identityNames();
  const auto n = static_cast<int>(names.size());
  return (colour.index >= n ? "striped " : "") + names[static_cast<std::size_t>(colour.index % n)];
}

}  // namespace ignavo
