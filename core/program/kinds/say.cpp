#include "program/kinds/list.h"

namespace ignavo {

const StepKind& postStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "post";
    k.label = "Put up a note";
    k.phrase = "post {text}[ for {seconds}]";
    k.example = "post \"in the berth\" for 2 s";
    k.help =
        "Shows a note on the computer’s screen, for so long or until the next one. A text stands "
        "in quotes; without, it is the value of a variable or a pin.";
    k.aliases = {"note", "put up", "show"};
    k.slots = {{"text", SlotKind::Type::said, "", Expr::of(std::string("hello")), 0, 0, 1},
               {"seconds", SlotKind::Type::number, "s", Expr::of(2.0), 0, 86400, 0.5, true,
                "until the next"}};
    k.says = StepKind::Says::note;
    k.inTurns = "it talks to the computer";
    k.compile = [](Compiler& c, const Step& s) { c.say(s); };
    k.writeC = [](CWriter& w, const Step& s) { w.say(s); };
    return k;
  }();
  return kind;
}

const StepKind& logStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "log";
    k.label = "Write to the log";
    k.phrase = "log {items}";
    k.example = "log \"berth\", berth";
    k.help =
        "Writes a line to the log on the computer: texts in quotes, and values, with commas "
        "between them.";
    k.aliases = {"write", "print"};
    Expr items;
    items.shape = Expr::Shape::list;
    items.args = {{"", Expr::of(std::string("hello"))}};
    k.slots = {{"items", SlotKind::Type::items, "", items, 0, 0, 1}};
    k.says = StepKind::Says::log;
    k.inTurns = "it talks to the computer";
    k.compile = [](Compiler& c, const Step& s) { c.say(s); };
    k.writeC = [](CWriter& w, const Step& s) { w.say(s); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
