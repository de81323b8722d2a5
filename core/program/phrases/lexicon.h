#pragma once
#include <cstdint>
#include <string>
#include <vector>

// The words that typed steps are made of, and what each of them speaks of. Several words can mean
// the same, and one entry can be several words: "as long as". In one table, in lexicon.cpp.
namespace ignavo::phrases {

enum class Concept : std::uint8_t {
  unknown,
  filler,  // says nothing here: "the", "please"
  // What is done.
  set,
  flip,
  dim,
  wait,
  repeat,
  ifSo,
  when,
  each,
  every,
  asLongAs,
  until,
  otherwise,
  forever,
  leave,
  end,
  stop,
  tone,
  silence,
  turn,
  let,
  add,
  takeAway,
  reset,
  put,
  log,
  post,
  run,
  hold,
  keep,
  blink,
  remainder,
  // What is so.
  high,
  low,
  on,
  off,
  pressed,
  released,
  held,
  tapped,
  steady,
  goes,
  open,
  // Between what is so.
  andAlso,
  orElse,
  negation,
  equal,
  unequal,
  less,
  atMost,
  more,
  atLeast,
  // What is measured, and in what.
  level,
  volts,
  seconds,
  milliseconds,
  minutes,
  percent,
  hertz,
  kilohertz,
  degrees,
  times,
  // Numbers.
  number,  // `value`
  half,
  aBit,
  random,
  item,
  length,
  next,
  // What is spoken of.
  power,
  key,
  sound,
  loop,
  lane,
  variable,
  list,
  all,
  // Joints.
  then,
  to,
  of,
  from,
  by,
  into,
  within,
  after,
  inTurn,  // "in", "for", "with": between fields
  // What no table knows: names and signs.
  pin,
  name,  // of a variable
  nameOfList,
  ownStep,
  text,  // in quotes
  sign,  // brackets, operators
};

struct Entry {
  std::string words;
  Concept is = Concept::unknown;
  double value = 0;  // of a number
};
const std::vector<Entry>& lexicon();

}  // namespace ignavo::phrases
