#include "program/said.h"

#include <charconv>

#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <set>

#include "program/facts.h"
#include "program/keys.h"
#include "program/own_steps.h"

namespace ignavo {

std::string written(std::int32_t whole) { return std::to_string(whole); }

// Six digits by whole numbers of 64 bits, step by step as the chip does it (the C of it is in
// make/c_said.cpp): the float is m × 2^e; the power of two is worked off by doubling or halving,
// with a tenth or ten times of it wherever there is room for neither.
std::string written(float real) {
  if (real != real) return "nan";
  std::uint32_t bits = 0;
  std::memcpy(&bits, &real, sizeof bits);
  std::string out = bits >> 31 != 0 ? "-" : "";
  int exponent = static_cast<int>(bits >> 23 & 0xFF);
  std::uint64_t digits = bits & 0x7FFFFF;
  if (exponent == 255) return out + "inf";
  if (exponent != 0)
    digits |= 0x800000;
  else
    exponent = 1;
  if (digits == 0) return "0";
  exponent -= 150;
  int tens = 0;
  constexpr std::uint64_t room = std::uint64_t{1} << 60;
  for (; exponent > 0; --exponent) {
    if (digits >= room) digits /= 10, ++tens;
    digits *= 2;
  }
  for (; exponent < 0; ++exponent) {
    while (digits < room / 8) digits *= 10, --tens;
    digits /= 2;
  }
  for (; digits >= 10'000'000; digits /= 10) ++tens;
  for (; digits < 1'000'000; digits *= 10) --tens;
  digits = (digits + 5) / 10;
  ++tens;
  if (digits == 1'000'000) digits = 100'000, ++tens;
  for (; digits % 10 == 0; digits /= 10) ++tens;
  std::string text = std::to_string(digits);
  const int point = static_cast<int>(text.size()) + tens;  // so many digits before it
  if (point > 6 || point < -3) {
    if (text.size() > 1) text.insert(1, ".");
    const int power = point - 1;
    return out + text + fmt::format("e{}{:02}", power < 0 ? '-' : '+', std::abs(power));
  }
  if (point <= 0) return out + "0." + std::string(static_cast<std::size_t>(-point), '0') + text;
  if (tens >= 0) return out + text + std::string(static_cast<std::size_t>(tens), '0');
  return out + text.insert(static_cast<std::size_t>(point), ".");
}

std::string written(Cell value, ValueType type, const std::vector<std::string>& texts) {
  switch (type) {
    case ValueType::truth:
      return value.truth() ? "true" : "false";
    case ValueType::whole:
      return written(value.whole());
    case ValueType::real:
      return written(value.real());
    case ValueType::text:
      return value.bits < texts.size() ? texts[value.bits] : std::string();
  }
  return {};
}

std::string firstLetters(const std::string& text, int letters) {
  std::size_t i = 0;
  for (; i < text.size(); ++i)
    if ((static_cast<unsigned char>(text[i]) & 0xC0) != 0x80 && letters-- == 0) break;
  return text.substr(0, i);
}
std::string wireLine(bool note, int number, float seconds, const std::string& text) {
  return (note ? "N" + std::to_string(number) + " " + written(seconds)
               : "L" + std::to_string(number)) +
         " " + text + "\n";
}

std::optional<WireLine> readWireLine(const std::string& wire) {
  WireLine out;
  out.note = wire.starts_with('N');
  if (!out.note && !wire.starts_with('L')) return std::nullopt;
  const char* at = wire.data() + 1;
  const char* const end = wire.data() + wire.size();
  const auto number = std::from_chars(at, end, out.number);
  if (number.ec != std::errc() || number.ptr == end || *number.ptr != ' ' || out.number < 1)
    return std::nullopt;
  at = number.ptr + 1;
  if (out.note) {
    const auto seconds = std::from_chars(at, end, out.seconds);
    if (seconds.ec != std::errc() || (seconds.ptr != end && *seconds.ptr != ' '))
      return std::nullopt;
    at = seconds.ptr == end ? end : seconds.ptr + 1;
  }
  out.text.assign(at, end);
  return out;
}

namespace {
// Lanes, and own steps that any of them runs.
std::vector<const Lane*> lanesRun(const Program& program) {
  std::vector<const Lane*> out;
  for (const auto& lane : program.lanes)
    if (!isOwn(*lane)) out.push_back(&*lane);
  const std::vector<const Lane*> own = ownStepsRun(program);
  out.insert(out.end(), own.begin(), own.end());
  return out;
}
}  // namespace

std::vector<std::string> sayingSteps(const Program& program) {
  std::vector<std::string> out;
  for (const Lane* lane : lanesRun(program))
    forEachStep(lane->steps, [&](const Step& s) {
      if (says(s)) out.push_back(s.id);
    });
  return out;
}

namespace {
void collectKeys(const Expr& e, std::set<std::string>& out) {
  if (e.shape == Expr::Shape::get)
    if (const Expr* key = e.arg(keyKey)) out.insert(key->text);
  for (const auto& [name, inner] : e.args) collectKeys(inner, out);
}
}  // namespace

std::vector<std::string> keysOf(const Program& program) {
  std::set<std::string> used;
  for (const Lane* lane : lanesRun(program)) {
    for (const auto& [key, value] : lane->trigger.fields)
      key == keyKey ? void(used.insert(value.text)) : collectKeys(value, used);
    forEachStep(lane->steps, [&](const Step& s) {
      for (const auto& [key, value] : s.fields) collectKeys(value, used);
    });
  }
  std::vector<std::string> out;
  for (const std::string& name : keyNames())
    if (used.contains(name)) out.push_back(name);
  return out;
}

bool usesLine(const Program& program) {
  return !keysOf(program).empty() || !sayingSteps(program).empty();
}

}  // namespace ignavo
