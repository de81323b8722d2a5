#pragma once
#include <random>
#include <string>
#include <utility>
#include <vector>

namespace ignavo::test {

// Programs as text, as deep and as odd as the language allows.
class RandomProgram {
 public:
  explicit RandomProgram(unsigned seed) : random_(seed) {}

  // What they have by name.
  static std::vector<std::string> names() {
    return {"variable tally is 0",      "variable mixed is 2",       "variable flag is true",
            "variable share is 0.25",   "list levels is 90, 70, 50", "list gauge is 0.5, 2",
            "variable \"at rest\" is 3"};
  }
  // Own steps: their signs and their steps. Lanes run them only when they were asked for.
  std::vector<std::pair<std::string, std::string>> own() {
    if (number(3) != 0) return {};
    std::vector<std::pair<std::string, std::string>> out;
    const std::string nod = body(0, false);
    own_ = {"nod"};
    inputs_ = true;
    const std::string swing = body(0, false);
    inputs_ = false;
    own_ = {"nod", "swing"};
    out.emplace_back("Own step nod", nod);
    out.emplace_back("Own step swing with reach, often", swing);
    return out;
  }
  // One to four lanes: their signs and their steps.
  std::vector<std::pair<std::string, std::string>> lanes() {
    static const char* signs[] = {"always",
                                  "always",
                                  "power",
                                  "Each time D2 goes high",
                                  "Each time D2 goes low",
                                  "Each time D5 goes high"};
    std::vector<std::pair<std::string, std::string>> out;
    for (unsigned i = 0, n = 1 + number(4); i < n; ++i) {
      if (number(5) == 0) {
        out.emplace_back(kept(), "");
        continue;
      }
      std::string sign = signs[number(6)];
      if (number(8) == 0) sign = "Each time " + signal(0);
      if (number(9) == 0) sign = "When key " + pick({"space", "a"}) + " is struck";
      if (number(8) == 0) sign = "Every " + pick({"0.0003", "0.001", "0.0047", "0.02", "0.0005"});
      const bool comesRound = sign == "always";
      if (!comesRound && sign != "power")
        sign += pick({"", "", ", starting over", ", one after the other"});
      out.emplace_back(sign, lane(comesRound));
    }
    return out;
  }

  // A program that runs freely: one lane, and only what may be in such a one.
  std::vector<std::pair<std::string, std::string>> plain() {
    plain_ = true;
    const bool comesRound = number(4) != 0;
    const std::string text = body(0, false);
    plain_ = false;
    const std::string pause =
        number(4) ? "wait " + pick({"0.0007", "0.002", "0.01", "0.00031"}) + "\n" : "";
    return {{comesRound ? "always" : "power", text + pause}};
  }

  // What keeps something.
  std::string kept() {
    switch (number(4)) {
      case 0:
        return "Keep the level of " + pick({"D4", "D7"}) + " at " + value(0);
      case 1:
        return "Keep the variable " + pick({"tally", "mixed", "flag"}) + " at " +
               (number(2) ? "(" + signal(0) + ")" : value(0));
      default:
        return "Keep " + target() + " at " + signal(0);
    }
  }
  // With at least one operator that remembers something.
  std::string signal(int depth) {
    const auto of = [&] {
      return depth < 2 && number(2) ? "(" + signal(depth + 1) + ")"
             : number(3) == 0       ? "(" + truth(1) + ")"
                                    : readPin();
    };
    const auto time = [&] { return pick({"0", "0.0005", "0.0012", "0.004", "share"}); };
    switch (number(11)) {
      case 0:
        return "rise of " + of();
      case 1:
        return "fall of " + of();
      case 2:
        return "flips on " + of();
      case 3:
        return of() + " at most every " + time();
      case 4:
        return of() + " held for " + time();
      case 5:
        return of() + " tapped within " + time();
      case 6:
        return of() + " steady for " + time();
      case 7:
        return "(count " + of() + " from " + pick({"1", "0", "3"}) + " to " +
               pick({"3", "1", "tally"}) + (number(2) ? " reset by " + of() : "") + ") > 1";
      case 8:
        return "wave of " + pick({"100", "333.3", "1999", "0.5", "(share × 500)"}) + " with " +
               pick({"50", "20", "(share × 100)"});
      case 9:
        return "pulse of " + time() + " on " + of() + (number(2) ? " restarted" : "");
      default:
        return "choose " + of() + " if " + of() + " else " + of() + " and (rise of D2)";
    }
  }

  std::string lane(bool comesRound) {
    std::string text = body(0, false);
    // Something must take time, or the run is nothing but edges.
    if (comesRound) text += "wait " + pick({"0.0007", "0.002", "0.00031"}) + "\n";
    return text;
  }
  std::string pick(const std::vector<std::string>& from) { return from[random_() % from.size()]; }
  unsigned number(unsigned below) { return static_cast<unsigned>(random_() % below); }

 private:
  std::string truth(int depth) {
    const auto inner = [&] { return depth < 2 ? "(" + truth(depth + 1) + ")" : readPin(); };
    switch (number(8)) {
      case 7:
        return number(4) || plain_ ? "flag" : "(key " + pick({"space", "a"}) + " held)";
      case 0:
        return readPin() + (number(2) ? " is high" : " is low");
      case 1:
        return "not " + inner();
      case 2:
        return inner() + " and " + inner();
      case 3:
        return inner() + " or " + inner();
      case 4:
        return value(0) + pick({" < ", " ≤ ", " > ", " ≥ ", " = ", " ≠ "}) + value(0);
      case 5:
        return number(2) ? "level of A0 " + pick({"< 20", "> 20", "< 50", "≥ 50"})
                         : "volts at A0 " + pick({"< 1", "> 1", "< 2.5", "≥ 1.65"});
      default:
        return readPin();
    }
  }
  std::string value(int depth) {
    const auto inner = [&] { return value(depth + 1); };
    if (depth < 2 && number(3) == 0) switch (number(8)) {
        case 0:
          return "(" + inner() + " ÷ " + inner() + ")";
        case 1:
          return "(remainder of " + inner() + " ÷ " + inner() + ")";
        case 2:
          return "(" + pick({"smaller", "larger"}) + " of " + inner() + " and " + inner() + ")";
        case 3:
          return "(" + pick({"round ", "size of "}) + inner() + ")";
        case 4:
          return "(map " + inner() + " from 0 … " + inner() + " to " + inner() + " … 3)";
        default:
          return "(" + inner() + pick({" + ", " - ", " × "}) + inner() + ")";
      }
    if (inputs_ && number(3) == 0) return pick({"reach", "often"});
    if (number(4) == 0)
      return pick({"tally", "mixed", "share", "(item tally of levels)", "(item 2 of gauge)",
                   "(length of levels)", "variable \"at rest\"", "(item mixed of gauge)"});
    if (!plain_ && number(30) == 0) return "(seconds since power-on × 1000)";
    if (number(8) == 0)
      return "(random from " + pick({"0", "-3", "6"}) + " to " + pick({"1", "4", "2.5"}) + ")";
    return pick({"0", "1", "2", "3", "7", "-2", "0.3", "2.5", "30000", "2147483647"});
  }
  std::string ran() {
    if (pick(own_) == "nod") return "nod";
    return "swing with reach " + pick({"0", "0.002", value(1)}) + ", often " + value(1);
  }
  std::string said() {
    if (number(2) != 0) return "flip " + target();  // seldom: it takes long
    const std::string what = pick({"\"the ferry ü\"", "tally", "share", value(1), "flag",
                                   "\"more than there is room for in one line, and then some more "
                                   "\""});
    if (number(2)) return "log " + what + ", " + pick({"mixed", "1.5", "\"x\"", "true"});
    return "post " + what + (number(2) ? " for " + pick({"1", "0.25", "share"}) : "");
  }
  std::string pulses() {
    switch (number(4)) {
      case 0:
        return "silence " + target();
      case 1:
        return "turn servo on " + target() + " to " +
               pick({"0", "45", "180", "(0 + " + value(1) + ")"});
      default:
        return "tone of " +
               pick({"437.7", "1000", "9999", "60", "(share × 500)", "(0 + " + value(1) + ")"}) +
               " on " + target() + (number(3) ? "" : " for " + pick({"0", "0.0021", "0.005"}));
    }
  }
  std::string readPin() { return pick({"D2", "D4", "D5", "D7"}); }
  std::string target() { return pick({"D4", "D5", "D7"}); }

  std::string body(int depth, bool mustTakeTime) {
    const std::string in(static_cast<std::size_t>(depth) * 2, ' ');
    std::string text;
    for (unsigned i = 0, n = 1 + number(4); i < n; ++i) switch (number(depth < 3 ? 22 : 5)) {
        case 20:
          text += in + (plain_ ? "flip " + target() : said()) + "\n";
          break;
        case 21:
          if (own_.empty()) break;
          text += in + "run " + ran() + "\n";
          break;
        case 19:
          if (plain_)
            text += in + "dim " + pick({"D9", "D10", "D3"}) + " to " +
                    pick({"10 %", "50 %", "100 %", "0 %", "share × 100", "tally"}) + "\n";
          else
            text += in + pulses() + "\n";
          break;
        case 15:
          text += in + pick({"let tally be round ", "let mixed be ", "let share be "}) + value(0) +
                  "\n";
          break;
        case 16:
          text += in +
                  (number(2) ? "let flag be " + truth(0)
                             : "add " + pick({"1", "-3", "2147483647"}) + " to tally") +
                  "\n";
          break;
        case 17:
          text += in + "put " + value(0) + " into item " + pick({"1", "tally", "mixed", "9"}) +
                  " of " + pick({"levels", "gauge"}) + "\n";
          break;
        case 18:
          text += in + "add " + value(0) + " to " + pick({"mixed", "\"at rest\""}) + "\n";
          break;
        case 0:
          text += in + "set " + target() + " " + pick({"high", "low"}) + "\n";
          break;
        case 1:
          text += in + "set " + target() + " " + truth(1) + "\n";
          break;
        case 2:
          text += in + "flip " + target() + "\n";
          break;
        case 3:
          text += in + "wait " + pick({"0", "0.000002", "0.00004", "0.0011", "0.003"}) + "\n";
          break;
        case 4:  // pins that cannot dim
          text +=
              in + "dim " + pick({"D4", "D7"}) + " to " + pick({"0", "49", "50", "100"}) + " %\n";
          break;
        case 5:
        case 6:
          text += in + "if " + truth(0) + "\n" + body(depth + 1, false);
          if (number(2)) text += in + "otherwise\n" + body(depth + 1, false);
          break;
        case 7:
        case 8:
          text += in + "repeat " + pick({"0", "1", "2", "5", "1 + 2", "2 - 5", "5 ÷ 2"}) +
                  " times\n" + body(depth + 1, false);
          break;
        case 13:
          text += in + "remark */ the ferry ?\?/ is \\ in\n";
          break;
        case 9:
          text += in + "as long as " + truth(0) + "\n" + body(depth + 1, true);
          break;
        case 10:
          text += in +
                  (number(4) || plain_ ? "flip " + target()
                                       : "wait until " + (number(3) ? truth(1) : signal(0))) +
                  "\n";
          break;
        case 11:
          if (depth > 0 && number(2))
            text += in + "if " + truth(1) + "\n" + in + "  leave the loop\n";
          break;
        case 12:
          if (number(6) == 0 && !plain_)
            text += in + "if " + truth(1) + "\n" + in + "  end this lane\n";
          break;
        default:
          if (number(4)) break;
          text += in + "keep going round\n" + body(depth + 1, true);
          break;
      }
    if (text.empty() || mustTakeTime) text += in + "wait 0.0009\n";
    return text;
  }
  std::mt19937 random_;
  std::vector<std::string> own_;  // that may be run
  bool inputs_ = false;           // within one that has inputs
  bool plain_ = false;            // only what may run freely
};

}  // namespace ignavo::test
