#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "program/values.h"
#include "project/program_model.h"

// What a program says to the computer that its board hangs on, notes and lines of its log, and how
// it goes over the serial line (docs/serial.md).
namespace ignavo {

inline constexpr int lineLetters = 60;  // of a line; further ones are cut off
// The board's buffer.
inline constexpr int lineBuffer = 64;
inline constexpr std::int64_t letterNanoseconds = 260'000, bitNanoseconds = 26'000;

// A number as it is written: whole ones as they are, floats with up to six digits and no zeros at
// their end, "1.5e+06" from a million on and "2e-05" below a ten-thousandth; "nan", "inf".
std::string written(std::int32_t whole);
std::string written(float real);
// One value of that type; of a text the text itself.
std::string written(Cell value, ValueType type, const std::vector<std::string>& texts);

// The first so many letters of a text.
std::string firstLetters(const std::string& text, int letters);

// A line as it goes over the wire: "L3 berth 4", "N1 2.5 in the berth", with its end.
std::string wireLine(bool note, int number, float seconds, const std::string& text);

// The same the other way; nothing: it is no such line. Without its end.
struct WireLine {
  bool note = false;
  int number = 1;
  float seconds = 0;
  std::string text;
};
std::optional<WireLine> readWireLine(const std::string& wire);

// Ids of the steps that say something, in the order of the program: the first is number 1.
std::vector<std::string> sayingSteps(const Program& program);
// The keys that a program listens to or asks for, in the order of keyNames().
std::vector<std::string> keysOf(const Program& program);
// Does it say or hear anything? Then it owns the board's two serial pins.
bool usesLine(const Program& program);

}  // namespace ignavo
