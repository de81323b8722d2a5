#include <QtTest>

#include "check/finding.h"
#include "format/bench_words.h"
#include "parts/hanging.h"
#include "program/groups.h"
#include "program/pin_words.h"
#include "support/named_circuits.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Project ferry() {
  Project p = emptyProject();
  p = with(p, "lamp", "D3", "led", "Green lamp");
  p = with(p, "lamp", "D6", "led", "Red lamp");
  return with(p, "button", "D2", "button", "Call button");
}
Vocabulary wordsFor(const Project& p) { return benchWords(p, Nets(p, catalogue()), "b1"); }
std::string steps(const char* typed, const Project& p) {
  const auto group = parseGroup(typed, wordsFor(p));
  if (!group) return "no group";
  return group->steps ? textOf(*group->steps) : "? " + inWords(group->problem);
}
// The group as a lane that goes round.
Project running(const char* typed, Project p) {
  const auto group = parseGroup(typed, wordsFor(p));
  if (!group || !group->steps) qFatal("%s", steps(typed, p).c_str());
  Lane lane;
  lane.trigger = *parseSign("Round and round", {});
  lane.steps = *group->steps;
  p = edits::addLane(std::move(p), "b1", std::move(lane));
  return declareNames(edits::assignIds(std::move(p)), "b1");
}
std::string idOf(const Project& p, const char* name) {
  for (const auto& part : *p.parts)
    if (part->name == name) return part->id;
  return {};
}
std::vector<Input> press(const Project& p, double from, double to) {
  const std::string id = idOf(p, "Call button");
  return {at(from, Input::What::press, id), at(to, Input::What::release, id)};
}
Kernel ran(const Project& p, double seconds, const std::vector<Input>& inputs = {}) {
  Kernel k(shared(p));
  for (const Input& in : inputs) k.schedule(in);
  k.advance(static_cast<Nanoseconds>(seconds * 1e9));
  return k;
}
std::string hanging(const Project& p, const char* pin) {
  std::string out;
  for (const HangingPart& h : hangingOn(p, Nets(p, catalogue()), "b1", pin))
    out += (*p.parts)[static_cast<std::size_t>(h.part)]->type + (h.whenLow ? " low " : " high ");
  return out;
}

}  // namespace

class TestGroups : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void whatHangsOnAPin_data() {
    QTest::addColumn<QString>("circuit");
    QTest::addColumn<QString>("pin");
    QTest::addColumn<QString>("hangs");
    for (const auto& [circuit, pin, hangs] :
         std::vector<std::array<const char*, 3>>{{"lamp", "D4", "led high "},
                                                 {"button", "D4", "button high "},
                                                 {"button-up", "D4", "button low "},
                                                 {"motor", "D9", "motor high "},
                                                 {"sounder", "D5", "piezo high "},
                                                 {"servo", "D9", "servo high "},
                                                 {"knob", "A0", "pot high "},
                                                 {"light", "A0", "light-sensor high "}})
      QTest::newRow(circuit) << circuit << pin << hangs;
  }
  void whatHangsOnAPin() {
    QFETCH(QString, circuit);
    QFETCH(QString, pin);
    QFETCH(QString, hangs);
    const SmallCircuit* kind = smallCircuit(circuit.toStdString());
    QVERIFY(kind);
    const Composed made = compose(emptyProject(), *kind, "b1", pin.toStdString());
    QVERIFY(made.problem.empty());
    QCOMPARE(hanging(made.project, qPrintable(pin)), hangs.toStdString());
    QCOMPARE(hanging(made.project, "D7"), std::string());
  }
  void whatHangsTheOtherWayRound() {
    // Lit by low: the lamp hangs on 5 V.
    QCOMPARE(hanging(Bench()
                         .wire("5V", "lp1")
                         .resistor("r1", 220, "lp3", "a10")
                         .led("led1", "b10", "b12")
                         .wire("a12", "D4"),
                     "D4"),
             std::string("led low "));
    // Turned round it is still the lamp that this pin should light by high.
    QCOMPARE(hanging(Bench()
                         .wire("GND", "ln1")
                         .resistor("r1", 220, "ln3", "a10")
                         .led("led1", "b10", "b12")
                         .wire("a12", "D4"),
                     "D4"),
             std::string("led high "));
    // A pin that is joined to a supply has nothing of its own.
    QCOMPARE(hanging(Bench().wire("5V", "lp1").wire("D4", "lp2").led("led1", "lp3", "a9"), "D4"),
             std::string());
    // Another pin ends the way.
    QCOMPARE(hanging(Bench()
                         .resistor("r1", 220, "a10", "a14")
                         .wire("D4", "b10")
                         .wire("D5", "b14")
                         .led("led1", "c14", "c20"),
                     "D4"),
             std::string());
  }
  void pinsInWords() {
    const Vocabulary words = wordsFor(ferry());
    const auto taken = [&](const char* typed) {
      std::string rest = typed, out;
      const auto meant = takePin(rest, words);
      if (!meant) return std::string("none");
      for (const std::string& pin : meant->pins) out += pin + " ";
      return out + "| " + rest;
    };
    QCOMPARE(taken("d4 on"), std::string("D4 | on"));
    QCOMPARE(taken("pin 4 on"), std::string("D4 | on"));
    QCOMPARE(taken("4 high"), std::string("D4 | high"));
    QCOMPARE(taken("d 4 high"), std::string("D4 | high"));
    QCOMPARE(taken("A0 high"), std::string("A0 | high"));
    QCOMPARE(taken("the RED lamp off"), std::string("D6 | off"));
    QCOMPARE(taken("green half"), std::string("D3 | half"));
    QCOMPARE(taken("lamp on"), std::string("D3 D6 | on"));
    QCOMPARE(taken("led"), std::string("D3 D6 | "));
    QCOMPARE(taken("button"), std::string("D2 | "));
    QCOMPARE(taken("call"), std::string("D2 | "));
    QCOMPARE(taken("bell"), std::string("none"));
    QCOMPARE(taken("44"), std::string("none"));
    QCOMPARE(taken(""), std::string("none"));
    QCOMPARE(taken("redder"), std::string("none"));
    // The board's own lamp is meant by its name, and where no other is wired.
    std::string rest = "lamp";
    QCOMPARE(takePin(rest, wordsFor(emptyProject()))->pins, std::vector<std::string>{"D13"});
    rest = "own lamp";
    QCOMPARE(takePin(rest, words)->pins, std::vector<std::string>{"D13"});
  }
  void phrasesBecomeSteps() {
    const Project p = ferry();
    QCOMPARE(steps("blink d13", p),
             std::string("set D13 high\nwait 0.5 s\nset D13 low\nwait 0.5 s\n"));
    QCOMPARE(steps("Flash the red lamp", p),
             std::string("set D6 high\nwait 0.5 s\nset D6 low\nwait 0.5 s\n"));
    const std::string toggles = "wait until rise of (D2 steady for 0.02 s)\nflip D6\n";
    for (const char* typed : {"button toggles red lamp", "Call button switches Red lamp",
                              "d2 switches d6", "button toggles the lamp on d6"})
      QCOMPARE(steps(typed, p), toggles);
    QVERIFY(steps("fade green", p).starts_with("let brightness be 0\nrepeat 20 times\n"));
    QVERIFY(steps("fade d3", p).find("  dim D3 to brightness\n") != std::string::npos);
    QCOMPARE(steps("running light", p),
             std::string("set D3 high\nwait 0.1 s\nset D3 low\nset D6 high\nwait 0.1 s\nset D6 "
                         "low\n"));
    QVERIFY(steps("running light on d5, d6 and d7", p).find("set D7 low") != std::string::npos);
    QVERIFY(steps("hold or tap for red lamp", p).find("flip D6") != std::string::npos);
    QVERIFY(steps("debounced press", p).starts_with("wait until rise of (D2 steady"));
  }
  void itAsksWhichIsMeant() {
    const Project p = ferry();
    const auto group = parseGroup("blink", wordsFor(p));
    QVERIFY(group && !group->steps);
    QCOMPARE(inWords(group->problem),
             std::string("Which lamp: D3 · Green lamp and D6 · Red lamp?"));
    QCOMPARE(group->choices, (std::vector<std::string>{"blink D3", "blink D6"}));
    QCOMPARE(parseGroup("button toggles lamp", wordsFor(p))->choices,
             (std::vector<std::string>{"D2 switches D3", "D2 switches D6"}));
    // What is offered can be typed.
    for (const std::string& choice : group->choices)
      QVERIFY(parseGroup(choice, wordsFor(p))->steps);
    QVERIFY(steps("fade d4", p).starts_with("? D4 cannot be dimmed"));
    QVERIFY(steps("fade", with(emptyProject(), "lamp", "D4", "led", "Red lamp"))
                .starts_with("? D4 · Red lamp cannot be dimmed"));
    QVERIFY(steps("blink d3 d4", p).starts_with("? "));
    QVERIFY(steps("blink the harbour", p).starts_with("? “the harbour”"));
    for (const char* other : {"set d4 high", "toggle red lamp", "hold", "", "blinker", "running"})
      QVERIFY2(!parseGroup(other, wordsFor(p)), other);
  }
  void nothingWiredTakesFreePins() {
    const Project p = emptyProject();
    QCOMPARE(steps("blink", p), steps("blink d13", p));  // the board's own lamp
    QVERIFY(steps("running light", p).starts_with("set D2 high\nwait 0.1 s\nset D2 low\nset D3"));
    QVERIFY(steps("fade", p).find("dim D3 ") != std::string::npos);  // the first that can
    QVERIFY(steps("button toggles lamp", p).find("D2 steady") != std::string::npos);
    // None is left.
    Vocabulary none = wordsFor(p);
    for (PinWords& pin : none.wired) pin.label = "taken", pin.parts.clear();
    QVERIFY(!parseGroup("blink", none)->steps);
  }
  void namesThatAreUsedAreLeftAlone() {
    Project p = ferry();
    p = withName(p, "b1", *parseName("variable brightness is 7"));
    QVERIFY(steps("fade green", p).starts_with("let brightness2 be 0\n"));
  }
  void theWiringTurnsLevelsRound() {
    Project p = Bench()
                    .wire("5V", "lp1")
                    .resistor("r1", 220, "lp3", "a10")
                    .led("led1", "b10", "b12")
                    .wire("a12", "D3");
    p = with(p, "button-up", "D2", "button", "Call button");
    QVERIFY(steps("blink", p).starts_with("set D3 low\n"));
    QVERIFY(steps("fade", p).find("dim D3 to 100 - brightness\n") != std::string::npos);
    QVERIFY(steps("button toggles lamp", p).find("rise of ((D2 is low) steady") !=
            std::string::npos);
  }
  void eachRunsWithoutAFinding_data() {
    QTest::addColumn<QString>("typed");
    for (const char* typed : {"blink red", "button toggles red lamp", "fade green",
                              "hold or tap for red lamp", "running light"})
      QTest::newRow(typed) << typed;
  }
  void eachRunsWithoutAFinding() {
    QFETCH(QString, typed);
    const Project p = running(qPrintable(typed), ferry());
    const CheckResult result = check(p);
    for (const Finding& f : result.findings)
      if (f.rule != "pin-unused")
        QFAIL(qPrintable(QString::fromStdString(f.rule + ": " + inWords(f.title))));
  }
  void theyDoWhatTheySay() {
    QCOMPARE(edgesOf(ran(running("blink red", ferry()), 10.1), "b1", "D6").size(), std::size_t(21));
    // Bouncing or not, each press counts once.
    const Project toggle = running("button toggles red lamp", ferry());
    std::vector<Input> inputs;
    for (int i = 0; i < 20; ++i)
      for (const Input& in : press(toggle, 0.5 * i + 0.1, 0.5 * i + 0.3)) inputs.push_back(in);
    QCOMPARE(edgesOf(ran(toggle, 11, inputs), "b1", "D6").size(), std::size_t(20));
    // Short: over. Long: off.
    const Project hold = running("hold or tap for red lamp", ferry());
    inputs = press(hold, 0.5, 0.7);
    for (const Input& in : press(hold, 1, 3)) inputs.push_back(in);
    for (const Input& in : press(hold, 4, 4.2)) inputs.push_back(in);
    const auto edges = edgesOf(ran(hold, 6, inputs), "b1", "D6");
    QCOMPARE(edges.size(), std::size_t(3));
    QVERIFY(std::abs(edges[1] - 2022) < 5);  // a second after it was steadily down
  }
};

QTEST_GUILESS_MAIN(TestGroups)
#include "tst_groups.moc"
