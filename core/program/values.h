#pragma once
#include <bit>
#include <cstdint>
#include <optional>
#include <string_view>

// Numbers and truth as a running program has them: 32 bits, on the screen as on the chip. A number
// is whole where everything that it is made of is whole, else a 32-bit float (docs/language.md).
namespace ignavo {

enum class ValueType : std::uint8_t { truth, whole, real, text };
constexpr bool isNumber(ValueType type) {
  return type == ValueType::whole || type == ValueType::real;
}
// What holds values of both: a truth counts as 0 or 1 beside a number.
ValueType joined(ValueType a, ValueType b);

// One value; whoever looks at it knows its type. A truth is 0 or 1, a text the number of one of
// the program's texts.
struct Cell {
  std::uint32_t bits = 0;

  static constexpr Cell of(bool truth) { return {truth ? 1U : 0U}; }
  static constexpr Cell of(std::int32_t whole) { return {static_cast<std::uint32_t>(whole)}; }
  static constexpr Cell of(float real) { return {std::bit_cast<std::uint32_t>(real)}; }
  constexpr bool truth() const { return bits != 0; }
  constexpr std::int32_t whole() const { return static_cast<std::int32_t>(bits); }
  constexpr float real() const { return std::bit_cast<float>(bits); }
  constexpr bool operator==(const Cell&) const = default;
};

// What a run reports with its step; the chip goes on without a word.
enum class NumberFault : std::uint8_t { none, wrapped, dividedByZero, outside };

// Is a number that is written out a whole one?
bool isWhole(double literal);
// To the nearest whole number, halves away from zero; beyond the ends the end, not-a-number 0.
std::int32_t rounded(float real);

// The value of a number that is written out: a whole one, or the nearest float.
Cell literal(double number);
// The same value as another type. A text is no number: 0.
Cell converted(Cell value, ValueType from, ValueType to);
// As a number for people and files.
double number(Cell value, ValueType type);

// ---- random numbers: xorshift32, one for each lane

// What a lane's begin with.
std::uint32_t diceOf(std::uint64_t seed, std::string_view lane);
// The next one between two ends, both included, whichever is the larger.
std::int32_t thrown(std::uint32_t& dice, std::int32_t from, std::int32_t to);

// ---- arithmetic: `fault` is set where there is something to report, else left as it is

namespace whole {
std::int32_t sum(std::int32_t a, std::int32_t b, NumberFault& fault);
std::int32_t difference(std::int32_t a, std::int32_t b, NumberFault& fault);
std::int32_t product(std::int32_t a, std::int32_t b, NumberFault& fault);
std::int32_t remainder(std::int32_t a, std::int32_t b, NumberFault& fault);  // sign of b
std::int32_t size(std::int32_t a, NumberFault& fault);
}  // namespace whole

namespace real {
float quotient(float a, float b, NumberFault& fault);   // by zero: 0
float remainder(float a, float b, NumberFault& fault);  // sign of b; by zero: 0
// Where `a` lies between `from` and `to`, told between two other ends; beyond them as well.
float mapped(float a, float from, float to, float lower, float upper, NumberFault& fault);
}  // namespace real

}  // namespace ignavo
