#include "program/phrases/lexicon.h"

namespace ignavo::phrases {

namespace {

void put(std::vector<Entry>& to, Concept is, std::initializer_list<const char*> words) {
  for (const char* w : words) to.push_back({w, is, 0});
}

std::vector<Entry> made() {
  using C = Concept;
  std::vector<Entry> t;
  put(t, C::filler,
      {"being", "the",     "a",      "an",    "my",        "please",  "now",    "again",  "just",
       "it",    "is",      "are",    "be",    "gets",      "becomes", "been",   "will",   "should",
       "must",  "that",    "this",   "there", "up to",     "i",       "we",     "you",    "its",
       "was",   "has",     "have",   "does",  "currently", "value",   "state",  "output", "input",
       "port",  "digital", "analog", "pins",  "about",     "pick",    "some of"});
  put(t, C::set,
      {"set", "make", "put on", "switch", "bring", "drive", "write", "turn", "get", "light"});
  for (const char* on : {"light up", "power up", "enable", "activate", "switch on", "turn on"})
    t.push_back({on, C::set, 1});
  for (const char* off : {"disable", "deactivate", "kill", "extinguish", "switch off", "turn off"})
    t.push_back({off, C::set, -1});
  put(t, C::flip, {"flip", "toggle", "invert", "switch over", "change over", "reverse", "swap"});
  put(t, C::dim,
      {"dim", "brightness", "brightness of", "level of", "set level of", "fade to", "pwm", "glow",
       "dimmed", "duty"});
  put(t, C::wait,
      {"wait", "pause", "delay", "sleep", "hang on", "hold on", "rest", "wait for", "pause for",
       "sleep for"});
  put(t, C::repeat, {"repeat", "do", "loop"});
  t.push_back({"unless", C::ifSo, -1});
  put(t, C::ifSo, {"if", "in case", "check if", "provided", "test if"});
  put(t, C::when, {"when", "once", "as soon as"});
  put(t, C::each,
      {"each time", "every time", "whenever", "each", "always when", "on each", "on every",
       "upon"});
  put(t, C::every, {"every", "once every", "once per"});
  put(t, C::asLongAs,
      {"as long as", "while", "during", "so long as", "repeat while", "loop while", "do while",
       "keep going while"});
  put(t, C::until, {"until", "till", "til"});
  put(t, C::otherwise, {"otherwise", "else", "or else", "if not so"});
  put(t, C::forever,
      {"forever",      "for ever",        "always",       "endless",           "endlessly",
       "endless loop", "infinite loop",   "loop forever", "repeat forever",    "repeat for ever",
       "do forever",   "round and round", "keep going",   "keep going round",  "all the time",
       "non stop",     "keep looping",    "go round",     "go round for ever", "loop for ever"});
  put(t, C::leave,
      {"leave the loop", "leave loop", "leave", "break", "exit loop", "exit the loop", "exit",
       "break out", "get out", "jump out", "break out of the loop", "get out of the loop",
       "jump out of the loop", "break the loop", "stop the loop", "stop loop", "end the loop",
       "end loop", "stop repeating"});
  put(t, C::end,
      {"end this lane", "end lane", "end the lane", "stop this lane", "stop the lane", "stop lane",
       "finish", "end the program", "end program", "stop the program", "stop program", "done",
       "return"});
  put(t, C::stop, {"stop", "halt", "quit", "end", "cancel"});
  put(t, C::tone,
      {"tone", "tone of", "beep", "buzz", "play", "ring", "sound a tone of", "note",
       "play a tone of", "play note", "play a note", "make a sound", "chirp", "honk"});
  put(t, C::silence,
      {"silence", "mute", "quiet", "be quiet", "no tone", "no sound", "stop sound",
       "stop the sound", "stop tone", "stop the tone", "sound off", "tone off", "stop beeping",
       "stop playing", "shut up", "stop buzzing"});
  put(t, C::turn,
      {"turn to", "rotate", "rotate to", "move", "move to", "swing", "swing to", "turn servo",
       "angle", "turn servo on", "point to"});
  put(t, C::let, {"let", "remember", "store", "assign", "save", "define"});
  put(t, C::add, {"add", "increase", "increment", "count up", "raise", "plus"});
  put(t, C::takeAway,
      {"subtract", "decrease", "decrement", "take away", "take", "count down", "lower", "reduce",
       "minus"});
  put(t, C::reset, {"reset", "clear"});
  put(t, C::put, {"put"});
  put(t, C::log, {"log", "print", "write to the log", "write to log", "output to log", "trace"});
  put(t, C::post,
      {"post", "show", "display", "say", "tell", "put up a note", "show a note", "message",
       "put up"});
  put(t, C::run, {"run", "call"});
  put(t, C::hold, {"hold", "hold down", "hold the button"});
  put(t, C::keep, {"keep"});
  put(t, C::blink, {"blink", "blinks", "blinking", "flash", "flashes", "flashing"});
  put(t, C::remainder, {"mod", "modulo"});

  put(t, C::high, {"high", "hi", "true"});
  put(t, C::low, {"low", "lo", "false"});
  put(t, C::on, {"on", "lit", "bright", "running", "shining", "glowing", "active"});
  put(t, C::off, {"off", "dark", "out", "unlit", "inactive", "still"});
  put(t, C::pressed,
      {"pressed", "pushed", "clicked", "down", "click", "press", "push", "hit", "touched",
       "is pressed", "pressed down", "pushed down", "struck"});
  put(t, C::released,
      {"released", "let go", "up", "not pressed", "unpressed", "free", "loose", "release",
       "not pushed", "not held"});
  put(t, C::held,
      {"held", "held down", "held for", "held down for", "kept pressed", "pressed for",
       "pressed longer than", "held longer than", "hold for", "is held for", "down for"});
  put(t, C::tapped,
      {"tapped", "tap", "tapped within", "short press", "shortly pressed", "tapped shorter than",
       "pressed shorter than"});
  put(t, C::steady, {"steady for", "steady", "unchanged for", "debounced"});
  put(t, C::goes, {"goes", "turns", "changes to", "rises to", "falls to", "changes"});
  put(t, C::open, {"open", "opened", "close", "closed", "shut"});

  put(t, C::andAlso, {"and", "&&", "&", "and also", "while also"});
  put(t, C::orElse, {"or", "||", "|"});
  put(t, C::negation,
      {"not", "!", "isn't", "isnt", "isn’t", "no", "aren't", "is not", "nobody", "no one"});
  put(t, C::equal,
      {"=", "==", "equals", "equal to", "same as", "is equal to", ":=", "===", "exactly"});
  put(t, C::unequal, {"!=", "≠", "<>", "not equal to", "different from", "is not equal to"});
  put(t, C::less,
      {"<", "less than", "below", "under", "smaller than", "lower than", "fewer than",
       "darker than", "colder than", "is less than"});
  put(t, C::atMost,
      {"<=", "≤", "at most", "no more than", "less or equal", "=<", "up to and with"});
  put(t, C::more,
      {">", "more than", "above", "over", "greater than", "bigger than", "higher than",
       "larger than", "brighter than", "warmer than", "hotter than", "past", "exceeds"});
  put(t, C::atLeast, {">=", "≥", "at least", "no less than", "greater or equal", "=>"});

  put(t, C::level,
      {"level", "reading", "reading of", "level of pin", "light level of", "percent of"});
  put(t, C::volts,
      {"volts at", "volts of", "voltage at", "voltage of", "volts", "volt", "v", "voltage on"});
  put(t, C::seconds, {"s", "sec", "secs", "second", "seconds", "sek", "s."});
  put(t, C::milliseconds, {"ms", "msec", "millisecond", "milliseconds", "millis", "milli"});
  for (const char* minute : {"min", "mins", "minute", "minutes"})
    t.push_back({minute, C::minutes, 60});
  for (const char* hour : {"h", "hour", "hours"}) t.push_back({hour, C::minutes, 3600});
  put(t, C::percent, {"%", "percent", "per cent", "pct"});
  put(t, C::hertz, {"hz", "hertz"});
  put(t, C::kilohertz, {"khz", "kilohertz"});
  put(t, C::degrees, {"°", "deg", "degs", "degree", "degrees"});
  put(t, C::times, {"times", "time", "x", "×", "rounds"});

  put(t, C::half, {"half", "half a", "half of a", "half an", "1/2", "½", "halfway", "middle"});
  put(t, C::aBit,
      {"a bit", "bit", "a while", "a moment", "moment", "shortly", "a little", "some",
       "a little while", "some time", "long", "short"});
  put(t, C::random,
      {"random", "random number", "randomly", "rand", "random from", "dice", "a random number from",
       "random between", "roll", "random number between"});
  put(t, C::item, {"item", "element", "entry", "position", "number of", "item number"});
  put(t, C::length, {"length of", "size of list", "how many in", "length"});
  put(t, C::next, {"next"});

  put(t, C::power,
      {"power comes on", "power on", "start", "power up", "startup", "at start", "at the start",
       "on start", "begin", "at the beginning", "at power on", "power-on", "the program starts",
       "board starts", "setup", "turned on first"});
  put(t, C::key, {"key", "keyboard key", "keyboard"});
  put(t, C::sound, {"sound", "music"});
  put(t, C::loop, {"the loop"});
  put(t, C::lane, {"lane", "program"});
  put(t, C::variable, {"variable", "var", "int"});
  put(t, C::list, {"list", "array"});
  put(t, C::all, {"all", "both", "everything", "every one", "all of"});

  put(t, C::then, {"then", ";", ":", "after that", "and then", "afterwards"});
  put(t, C::to, {"to", "at"});
  put(t, C::of, {"of"});
  put(t, C::from, {"from", "between"});
  put(t, C::by, {"by"});
  put(t, C::into, {"into", "in"});
  put(t, C::within, {"within"});
  put(t, C::after, {"after"});
  put(t, C::inTurn, {"for", "with", "as"});
  const char* const numbers[] = {"two",   "three", "four", "five", "six",
                                 "seven", "eight", "nine", "ten"};
  for (int n = 0; n < 9; ++n) t.push_back({numbers[n], C::number, n + 2.0});
  t.push_back({"zero", C::number, 0});
  t.push_back({"one", C::number, 1});
  t.push_back({"twice", C::number, 2});
  t.push_back({"twelve", C::number, 12});
  t.push_back({"twenty", C::number, 20});
  t.push_back({"hundred", C::number, 100});
  t.push_back({"a hundred", C::number, 100});
  t.push_back({"quarter", C::number, 0.25});
  t.push_back({"a quarter", C::number, 0.25});
  t.push_back({"a quarter of a", C::number, 0.25});
  t.push_back({"quarter of a", C::number, 0.25});
  t.push_back({"a tenth of a", C::number, 0.1});
  t.push_back({"a third of a", C::number, 1.0 / 3});
  return t;
}

}  // namespace

const std::vector<Entry>& lexicon() {
  static const std::vector<Entry> all = made();
  return all;
}

}  // namespace ignavo::phrases
