#include "program/values.h"

#include <cmath>
#include <limits>
#include <utility>

// Every operation on floats is rounded to 32 bits by itself: the compiler must not merge a product
// with a sum (-ffp-contract=off), and nothing is calculated in doubles.

namespace ignavo {

namespace {

constexpr double lowest = std::numeric_limits<std::int32_t>::min();
constexpr double highest = std::numeric_limits<std::int32_t>::max();

std::int32_t wrapped(std::int64_t exact, NumberFault& fault) {
  const auto kept = static_cast<std::int32_t>(static_cast<std::uint32_t>(exact));
  if (kept != exact) fault = NumberFault::wrapped;
  return kept;
}

}  // namespace

ValueType joined(ValueType a, ValueType b) {
  if (a == b) return a;
  if (a == ValueType::text || b == ValueType::text) return ValueType::text;
  return a == ValueType::real || b == ValueType::real ? ValueType::real : ValueType::whole;
}

bool isWhole(double literal) {
  return literal >= lowest && literal <= highest && literal == std::floor(literal);
}

std::int32_t rounded(float real) {
  if (std::isnan(real)) return 0;
  if (real >= static_cast<float>(highest)) return std::numeric_limits<std::int32_t>::max();
  if (real <= static_cast<float>(lowest)) return std::numeric_limits<std::int32_t>::min();
  // What is cut off is exact; adding a half first would not be.
  auto whole = static_cast<std::int32_t>(real);
  const float rest = real - static_cast<float>(whole);
  if (rest >= 0.5F) ++whole;
  if (rest <= -0.5F) --whole;
  return whole;
}

Cell literal(double number) {
  return isWhole(number) ? Cell::of(static_cast<std::int32_t>(number))
                         : Cell::of(static_cast<float>(number));
}

Cell converted(Cell value, ValueType from, ValueType to) {
  if (from == to) return value;
  if (from == ValueType::text || to == ValueType::text) return {};
  const bool real = from == ValueType::real;
  switch (to) {
    case ValueType::truth:
      return Cell::of(real ? value.real() != 0 : value.whole() != 0);
    case ValueType::whole:
      return real ? Cell::of(rounded(value.real())) : value;
    case ValueType::real:
      return Cell::of(static_cast<float>(value.whole()));
    case ValueType::text:
      break;
  }
  return {};
}

double number(Cell value, ValueType type) {
  return type == ValueType::real ? static_cast<double>(value.real())
                                 : static_cast<double>(value.whole());
}

std::uint32_t diceOf(std::uint64_t seed, std::string_view lane) {
  std::uint32_t dice = 2166136261U ^ static_cast<std::uint32_t>(seed);
  for (const char c : lane) dice = (dice ^ static_cast<unsigned char>(c)) * 16777619U;
  return dice != 0 ? dice : 1;
}

std::int32_t thrown(std::uint32_t& dice, std::int32_t from, std::int32_t to) {
  if (to < from) std::swap(from, to);
  dice ^= dice << 13;
  dice ^= dice >> 17;
  dice ^= dice << 5;
  const std::uint32_t many = static_cast<std::uint32_t>(to) - static_cast<std::uint32_t>(from) + 1;
  const std::uint32_t step = many != 0 ? dice % many : dice;
  return static_cast<std::int32_t>(static_cast<std::uint32_t>(from) + step);
}

std::int32_t whole::sum(std::int32_t a, std::int32_t b, NumberFault& fault) {
  return wrapped(std::int64_t{a} + b, fault);
}
std::int32_t whole::difference(std::int32_t a, std::int32_t b, NumberFault& fault) {
  return wrapped(std::int64_t{a} - b, fault);
}
std::int32_t whole::product(std::int32_t a, std::int32_t b, NumberFault& fault) {
  return wrapped(std::int64_t{a} * b, fault);
}
std::int32_t whole::remainder(std::int32_t a, std::int32_t b, NumberFault& fault) {
  if (b == 0) {
    fault = NumberFault::dividedByZero;
    return 0;
  }
  const std::int64_t rest = std::int64_t{a} % b;
  return static_cast<std::int32_t>(rest != 0 && (rest < 0) != (b < 0) ? rest + b : rest);
}
std::int32_t whole::size(std::int32_t a, NumberFault& fault) {
  return wrapped(a < 0 ? -std::int64_t{a} : a, fault);
}

float real::quotient(float a, float b, NumberFault& fault) {
  if (b != 0) return a / b;
  fault = NumberFault::dividedByZero;
  return 0;
}
float real::remainder(float a, float b, NumberFault& fault) {
  if (b == 0) {
    fault = NumberFault::dividedByZero;
    return 0;
  }
  const float rest = std::fmod(a, b);
  return rest != 0 && (rest < 0) != (b < 0) ? rest + b : rest;
}
float real::mapped(float a, float from, float to, float lower, float upper, NumberFault& fault) {
  const float share = (a - from) * (upper - lower);
  return quotient(share, to - from, fault) + lower;
}

}  // namespace ignavo
