#include <QtTest>
#include <random>

#include "check/finding.h"
#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "parts/small_circuits.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Project after(const Project& p, const std::string& line) {
  const Typed t = typeLine(p, line);
  if (t.problem) qWarning("%s: %s", line.c_str(), inWords(t.problem->message).c_str());
  return t.project;
}
std::string hole(const Project& p, const std::string& part, const std::string& leg) {
  const Leg* l = p.part(part) ? p.part(part)->leg(leg) : nullptr;
  return l && l->in ? l->in->point : std::string();
}

}  // namespace

class TestWiring : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void theExamplesOfThePage() {
    Project p = emptyProject();
    p = after(p, "wire D4 a14");
    QCOMPARE((*p.wires)[0]->from.text(), std::string("b1.D4"));
    QCOMPARE((*p.wires)[0]->to.text(), std::string("bb.a14"));
    QCOMPARE((*p.wires)[0]->colour, std::string("teal"));
    p = after(p, "red led i14 i16");
    QCOMPARE(hole(p, "led1", "anode"), std::string("i14"));
    QCOMPARE(hole(p, "led1", "cathode"), std::string("i16"));
    QCOMPARE(p.part("led1")->name, std::string("Red lamp"));
    p = after(p, "220 c14 h14");
    QCOMPARE(p.part("r1")->number("ohms", 0), 220.0);
    p = after(p, "button 23");
    QCOMPARE(hole(p, "btn1", "1a"), std::string("e23"));
    QCOMPARE(hole(p, "btn1", "2b"), std::string("f25"));
    p = after(p, "remove Red lamp");
    QVERIFY(!p.part("led1"));
  }
  void valuesAndNames() {
    const Project p = emptyProject();
    QCOMPARE(after(p, "Green LED i3 i5 as Berth one").part("led1")->name, std::string("Berth one"));
    QCOMPARE(after(p, "4k7 a1 a5").part("r1")->number("ohms", 0), 4700.0);
    QCOMPARE(after(p, "resistor 10 kΩ a1 a5").part("r1"),
             nullptr);  // a unit is written with its number
    QCOMPARE(after(p, "resistor 10kΩ a1 a5").part("r1")->number("ohms", 0), 10000.0);
    QCOMPARE(after(p, "100n a1 a3").part("c1")->number("farads", 0), 1e-7);
    QVERIFY(std::abs(after(p, "47u electrolytic capacitor a1 a3").part("c1")->number("farads", 0) -
                     47e-6) < 1e-12);
    QCOMPARE(after(p, "light sensor 20% a1 a3").part("light1")->number("light", 0), 20.0);
    QCOMPARE(after(p, "coin battery rp1 rn1").part("bat1")->text("kind", ""), std::string("coin"));
    QCOMPARE(after(p, "slide switch right c5 c6 c7").part("sw1")->text("position", ""),
             std::string("right"));
    QCOMPARE(after(p, "switch c5").part("sw1")->leg("right")->in->point, std::string("c7"));
    QVERIFY(after(p, "number display at 40 20").part("digit1")->at.has_value());
    QVERIFY(after(p, "motor j20 j22").part("motor1")->at.has_value());
    QCOMPARE(hole(after(p, "piezo"), "piezo1", "+"), std::string("c1"));  // free rows
  }
  // Colours by the words that people use.
  void coloursAreCalledAsPeopleCallThem() {
    const Project p = emptyProject();
    for (const auto& [typed, colour] : {std::pair{"yellow led i3 i5", "amber"},
                                        {"clear LED i3 i5", "white"},
                                        {"led Purple i3 i5", "pink"},
                                        {"rose lamp i3 i5", "pink"},
                                        {"amber led i3 i5", "amber"}})
      QCOMPARE(after(p, typed).part("led1")->text("colour", ""), std::string(colour));
    QCOMPARE((*after(p, "wire D4 a9 yellow").wires)[0]->colour, std::string("lemon"));
    QCOMPARE((*after(p, "wire D4 a9 Grey").wires)[0]->colour, std::string("stone"));
    QCOMPARE((*after(after(p, "wire D4 a9"), "colour D4 purple").wires)[0]->colour,
             std::string("plum"));
    // Every such word is one of no other meaning, and leads to a colour that there is.
    for (const PropKind& prop : catalogue().partKind("led")->props)
      for (const auto& [word, choice] : prop.alsoCalled) {
        QVERIFY(std::find(prop.choices.begin(), prop.choices.end(), choice) != prop.choices.end());
        QVERIFY(std::find(prop.choices.begin(), prop.choices.end(), word) == prop.choices.end());
      }
    QVERIFY(after(p, "checkered led i3 i5").parts->empty());
  }
  void commands() {
    Project p = beacon();
    QCOMPARE(hole(after(p, "turn led1"), "led1", "anode"), std::string("i11"));
    QCOMPARE(hole(after(p, "move r1 down 3"), "r1", "a"), std::string("c12"));
    QCOMPARE(hole(after(p, "move r1 to c20"), "r1", "a"), std::string("c20"));
    QCOMPARE(hole(after(p, "plug led1 cathode i12"), "led1", "cathode"), std::string("i12"));
    QCOMPARE(after(p, "name r1 as Lamp resistor").part("r1")->name, std::string("Lamp resistor"));
    QCOMPARE(after(p, "change r1 to 330").part("r1")->number("ohms", 0), 330.0);
    QCOMPARE(after(p, "change led1 green").part("led1")->text("colour", ""), std::string("green"));
    QVERIFY(after(p, "lock led1").part("led1")->locked);
    QVERIFY(!after(after(p, "lock led1"), "unlock led1").part("led1")->locked);
    QVERIFY(after(p, "pull up D2").program("b1")->pulledUp("D2"));
    const Project labelled = after(p, "label D4 as Harbour light");
    QCOMPARE(labelled.program("b1")->labelOf("D4"), std::string("Harbour light"));
    QVERIFY(after(labelled, "label d4 off") == p);
    QCOMPARE(after(p, "label D4 \"off\"").program("b1")->labelOf("D4"), std::string("off"));
    p = after(p, "red led h20 h22");
    QCOMPARE(hole(after(p, "line up led1 led2"), "led2", "anode"), std::string("i20"));
    QCOMPARE(after(p, "colour D4 moss").wire("w3")->colour, std::string("moss"));
    QCOMPARE(after(p, "bend D4 by a8").wire("w3")->bends.size(), std::size_t(1));
    QCOMPARE(after(after(p, "bend D4 by a8"), "straighten wires").wire("w3")->bends.size(),
             std::size_t(0));
    QVERIFY(!after(p, "remove wire a9").wire("w3"));
    QCOMPARE(after(p, "breadboard full at 40 2").breadboards.size(), std::size_t(2));
    QCOMPARE(after(p, "set d13 high").program("b1")->lanes[0]->steps.size(), std::size_t(1));
    QCOMPARE(inWords(typeLine(p, "move r1 down 3").name), std::string("move r1"));
    QVERIFY(typeLine(p, "   # a remark").empty);
    QVERIFY(typeLine(p, "").empty);
  }
  void articlesAreWelcome() {
    QVERIFY(after(emptyProject(), "a lamp on d6") == after(emptyProject(), "lamp on D6"));
    QVERIFY(after(emptyProject(), "an led i4 i6") == after(emptyProject(), "led i4 i6"));
  }
  void capitalsMeanPins() {
    const Project p = after(emptyProject(), "wire D4 d4");
    QCOMPARE((*p.wires)[0]->from.text(), std::string("b1.D4"));
    QCOMPARE((*p.wires)[0]->to.text(), std::string("bb.d4"));
    QCOMPARE((*after(emptyProject(), "wire bb.D9 b1.d9").wires)[0]->from.text(),
             std::string("bb.d9"));
    QCOMPARE(hole(after(emptyProject(), "red led d4 d6"), "led1", "anode"), std::string("d4"));
  }
  void groundGivesAnyFreeGroundPin() {
    Project p = after(emptyProject(), "wire gnd ln1");
    p = after(p, "wire gnd rn1");
    QCOMPARE((*p.wires)[1]->from.point, std::string("GND2"));
    p = after(p, "wire lp lp5");
    QCOMPARE((*p.wires)[2]->from.point, std::string("lp1"));
  }
  void problemsNameThePlace_data() {
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("message");
    QTest::addColumn<int>("column");
    QTest::newRow("taken") << "wire D5 c9"
                           << "Hole c9 is taken by r1" << 8;
    QTest::newRow("taken leg") << "red led i9 i13"
                               << "Hole i9 is taken by led1" << 8;
    QTest::newRow("no hole") << "wire D5 k9"
                             << "There is no hole or pin k9" << 8;
    QTest::newRow("no row") << "button 40"
                            << "There is no row 40" << 7;
    QTest::newRow("no part") << "remove Blue lamp"
                             << "No part is called Blue" << 7;
    QTest::newRow("missing") << "wire D5"
                             << "Here the second place is missing, such as a14, D4 or GND" << 7;
    QTest::newRow("reach") << "red led a20 a29"
                           << "a29 is out of reach: the legs are 3 holes long at most" << 12;
    QTest::newRow("too many") << "red led a20 a22 a24"
                              << "LED has 2 legs only" << 16;
    QTest::newRow("too much") << "wire D5 a20 now"
                              << "“now” is one word too many" << 12;
    QTest::newRow("range") << "resistor 99M a20 a25"
                           << "Resistance goes from 1 Ω to 10 MΩ" << 9;
    QTest::newRow("leg") << "plug led1 base a20"
                         << "led1 has no leg base" << 10;
    QTest::newRow("analog") << "light on d6"
                            << "D6 cannot measure; A0 to A5 can" << 9;
    QTest::newRow("table") << "breadboard mini at 15 4"
                           << "It would lie on the breadboard" << 16;
    QTest::newRow("id") << "board tern bb"
                        << "The id bb is taken" << 11;
    QTest::newRow("pin taken") << "lamp on d4"
                               << "A wire is plugged into D4 already" << 0;
  }
  void problemsNameThePlace() {
    QFETCH(QString, line);
    QFETCH(QString, message);
    QFETCH(int, column);
    const Project p = beacon();
    const Typed t = typeLine(p, line.toStdString());
    QVERIFY(t.problem);
    QCOMPARE(QString::fromStdString(inWords(t.problem->message)), message);
    QCOMPARE(static_cast<int>(t.problem->column), column);
    QVERIFY(t.project == p);
  }
  void smallCircuitsAreSound() {
    for (const SmallCircuit& c : smallCircuits()) {
      const auto pins = pinsFor(emptyProject(), c);
      QVERIFY2(!pins.empty() && pins.front().free, c.id.c_str());
      const Composed made = compose(emptyProject(), c, pins.front().board, pins.front().pin);
      QVERIFY2(made.problem.empty(), inWords(made.problem).c_str());
      QVERIFY(!made.ids.empty());
      const CheckResult r = check(made.project);
      for (const Finding& f : r.findings)
        QVERIFY2(f.severity == Severity::note, (c.id + ": " + inWords(f.title)).c_str());
      // By typing, the same.
      QVERIFY(after(emptyProject(), c.id + " on " + pins.front().pin) == made.project);
    }
  }
  void smallCircuitsFindRoomForEachOther() {
    Project p = emptyProject();
    for (const char* line : {"lamp on d3", "lamp on d5", "button on d2", "knob on a0"})
      p = after(p, line);
    QCOMPARE(p.parts->size(), std::size_t(7));
    for (const Finding& f : check(p).findings)
      QVERIFY2(f.severity == Severity::note, inWords(f.title).c_str());
    // No room: a sentence, and nothing changed.
    Project full = p;
    std::string why;
    for (int i = 6; i < 14 && why.empty(); ++i) {
      const Typed t = typeLine(full, "button on d" + std::to_string(i));
      if (t.problem) why = inWords(t.problem->message);
      full = t.project;
    }
    QCOMPARE(why, std::string("There are not 6 free rows together on a breadboard"));
    // On a mini breadboard there are no rails: straight from the board.
    Project mini = after(after(emptyProject(), "breadboard mini at 40 2"), "remove wire a1");
    mini.breadboards.erase(mini.breadboards.begin());
    mini = after(mini, "lamp on d6");
    QCOMPARE(mini.parts->size(), std::size_t(2));
    for (const Finding& f : check(mini).findings) QVERIFY(f.severity == Severity::note);
  }
  // As long as there are rows and pins, also beside a rail that is broken and on a further
  // breadboard.
  void smallCircuitsFeedTheRailsThatTheyNeed() {
    for (const char* table :
         {"breadboard full", "breadboard half\nbreadboard half", "breadboard mini\nbreadboard half",
          "breadboard full\nbreadboard half"})
      for (unsigned seed = 0; seed < 6; ++seed) {
        std::mt19937 random(seed);
        Project p = readWiring(std::string("board tern\n") + table + "\n").project;
        for (int i = 0; i < 25; ++i) {
          const SmallCircuit& circuit = smallCircuits()[random() % smallCircuits().size()];
          if (circuit.id == "motor" || circuit.id == "servo") continue;  // more than a cable bears
          const auto pins = pinsFor(p, circuit);
          if (pins.empty() || !pins.front().free) continue;
          Composed made = compose(p, circuit, pins.front().board, pins.front().pin);
          const std::string problem = inWords(made.problem);
          const QString words =
              QString("%1, seed %2: %3").arg(table).arg(seed).arg(problem.c_str());
          QVERIFY2(problem.empty() || problem.ends_with("rows together on a breadboard"),
                   qPrintable(words));
          if (problem.empty()) p = std::move(made.project);
        }
        QVERIFY(p.parts->size() > 10);
        for (const Finding& f : check(p).findings)
          QVERIFY2(f.severity == Severity::note,
                   (inWords(f.title) + "\n" + writeWiring(p)).c_str());
      }
  }
  void withoutABoardItIsSaidThatOneIsNeeded() {
    const WiringText read = readWiring(
        "breadboard full\nlamp on D3\nEach time D2 goes high:\n  set d4 high\n"
        "Keep D9 at flips on D2:\n");
    QStringList said;
    for (const WiringProblem& problem : read.problems)
      said << QString("%1: %2").arg(problem.line).arg(inWords(problem.what.message).c_str());
    QCOMPARE(said.size(), 3);
    for (const QString& words : said) QVERIFY2(words.contains("board tern"), qPrintable(words));
  }
  // Parts by their names, and steps in the words that people use.
  void lanesMayBeWrittenAsTheyAreTyped() {
    const WiringText read = readWiring(
        "button on D2\nlamp on D3\nname Button as Call button\nname Red lamp as Beacon\n"
        "variable berth is 0\n"
        "Each time Call button is pressed:\n  set berth to random 1 to 4\n  turn Beacon on\n"
        "  if berth greater than 2\n    tone d12 784 for 0.3\n  else\n    turn Beacon off\n");
    for (const WiringProblem& p : read.problems)
      qWarning("%d: %s", p.line, inWords(p.what.message).c_str());
    QVERIFY(read.problems.empty());
    const Lane& lane = *read.project.programs[0]->lanes.at(0);
    QCOMPARE(signOf(lane.trigger), std::string("Each time D2 goes high"));
    QCOMPARE(textOf(lane.steps),
             std::string("let berth be random from 1 to 4\nset D3 high\nif berth > 2\n"
                         "  tone of 784 Hz on D12 for 0.3 s\notherwise\n  set D3 low\n"));
    // What is open is no step.
    const WiringText open = readWiring("lamp on D3\nlamp on D4\nRound and round:\n  led on\n");
    QCOMPARE(open.problems.size(), std::size_t(1));
    QCOMPARE(open.problems[0].line, 4);
  }
  void wholeCircuitsAsText() {
    const WiringText read = readWiring(R"(# the landing beacon
title Landing beacon
220 c9 h9
red led i9 i11 as Beacon
wire GND ln4
wire ln23 rn23
wire D4 a9
wire j11 rn10

Round and round:
  set d4 high
  wait 0.5
  if d2 high
    set d4 low
  wait 0.5
)");
    for (const WiringProblem& p : read.problems)
      qWarning("%d: %s", p.line, inWords(p.what.message).c_str());
    QVERIFY(read.problems.empty());
    QCOMPARE(read.project.title, std::string("Landing beacon"));
    QCOMPARE(read.project.parts->size(), std::size_t(2));
    QCOMPARE(read.project.program("b1")->lanes.size(), std::size_t(1));
    QCOMPARE(read.project.program("b1")->lanes[0]->steps.size(), std::size_t(4));
    QCOMPARE(read.project.program("b1")->lanes[0]->steps[2].bodies[0].second.size(),
             std::size_t(1));
    // Bad lines are listed with their numbers; the rest is there.
    const WiringText bad = readWiring("220 c9 h9\nred led c9 c11\nwire D4 a9\nhello there\n");
    QCOMPARE(bad.problems.size(), std::size_t(2));
    QCOMPARE(bad.problems[0].line, 2);
    QCOMPARE(bad.problems[1].line, 4);
    QCOMPARE(bad.project.wires->size(), std::size_t(1));
    QVERIFY(!readWiring("Round and round:\n  set d4 hgih\n").problems.empty());
  }
  // Text and back again: the same parts in the same holes, the same wires.
  void textAndBack() {
    for (const Demo& d : demos()) {
      const Project p = readProject(d.text).project;
      const WiringText read = readWiring(writeWiring(p));
      for (const WiringProblem& w : read.problems)
        qWarning("%s %d: %s", std::string(d.name).c_str(), w.line, inWords(w.what.message).c_str());
      QVERIFY(read.problems.empty());
      QCOMPARE(read.project.parts->size(), p.parts->size());
      for (std::size_t i = 0; i < p.parts->size(); ++i) {
        const Part &a = *(*p.parts)[i], &b = *(*read.project.parts)[i];
        QCOMPARE(a.type, b.type);
        QCOMPARE(a.name, b.name);
        QVERIFY2(a.legs == b.legs, a.id.c_str());
        QVERIFY2(a.props == b.props && a.at == b.at, a.id.c_str());
      }
      QCOMPARE(read.project.wires->size(), p.wires->size());
      for (std::size_t i = 0; i < p.wires->size(); ++i) {
        QVERIFY((*p.wires)[i]->from == (*read.project.wires)[i]->from);
        QVERIFY((*p.wires)[i]->to == (*read.project.wires)[i]->to);
        QVERIFY((*p.wires)[i]->bends == (*read.project.wires)[i]->bends);
        QCOMPARE((*p.wires)[i]->colour, (*read.project.wires)[i]->colour);
      }
      QCOMPARE(textOf(read.project.programs[0]->lanes[0]->steps),
               textOf(p.programs[0]->lanes[0]->steps));
    }
  }
  void aProgramAloneIsEnough() {
    const WiringText text = readWiring("Round and round:\n  set d13 high\n  wait 1\n");
    QVERIFY(text.problems.empty());
    QCOMPARE(text.project.boards.size(), std::size_t(1));
    QCOMPARE(text.project.programs[0]->lanes.size(), std::size_t(1));
    QCOMPARE(text.project.programs[0]->lanes[0]->steps.size(), std::size_t(2));
  }
  void unitsSayWhichValueIsMeant() {
    const Project p = after(emptyProject(), "100u 6V electrolytic c10 c12");
    QCOMPARE(p.part("c1")->number("volts", 0), 6.0);
    QCOMPARE(p.part("c1")->number("farads", 0), 1e-4);
    QCOMPARE(after(p, "82 0.5W c1 c5").part("r1")->number("watts", 0), 0.5);
  }
  void completionsGoOn() {
    const Project p = beacon();
    const auto lines = [&](const std::string& typed) {
      std::vector<std::string> out;
      for (const Completion& c : completeLine(p, typed)) out.push_back(c.line);
      return out;
    };
    const auto has = [&](const std::string& typed, const std::string& wanted) {
      const auto all = lines(typed);
      return std::find(all.begin(), all.end(), wanted) != all.end();
    };
    QVERIFY(has("wi", "wire"));
    QVERIFY(has("wire ", "wire D5"));
    QVERIFY(!has("wire ", "wire D4"));  // taken
    QVERIFY(has("remove ", "remove led1"));
    QVERIFY(has("remove l", "remove led1"));
    QVERIFY(has("gre", "green led "));
    QVERIFY(has("lamp on ", "lamp on D2"));
    QVERIFY(has("turn", "turn") == false);
    QVERIFY(lines("").size() > 10);
    for (const std::string& line : lines("")) QVERIFY(!line.empty());
  }
  // Whatever is typed, it is read or refused with a place inside the line; nothing is lost.
  void anyLineIsReadOrRefused() {
    std::mt19937 random(17);
    static const char* words[] = {
        "wire",       "red",  "led",      "i14",    "i16",  "220",   "c14",    "move", "r1",
        "to",         "down", "3",        "on",     "lamp", "D4",    "gnd",    "\"x",  "as",
        "at",         "-4",   "99999999", "remove", "plug", "anode", "change", "10k",  "%",
        "breadboard", "full", "locked",   "Ω",      "by",   ".",     "bb.a1"};
    const Project p = beacon();
    int read = 0;
    for (int i = 0; i < 8000; ++i) {
      std::string line;
      for (unsigned k = 0; k < 1 + random() % 6; ++k)
        line += std::string(words[random() % std::size(words)]) + (random() % 9 ? " " : "");
      const Typed t = typeLine(p, line);
      if (t.problem) {
        QVERIFY(t.project == p);
        QVERIFY2(t.problem->column + t.problem->length <= line.size(), line.c_str());
        QVERIFY(!inWords(t.problem->message).empty());
      } else {
        ++read;
        // What it gives can be saved and read again.
        if (read % 20 == 0) QVERIFY2(readProject(writeProject(t.project)).sound(), line.c_str());
      }
      (void)completeLine(p, line);
    }
    QVERIFY(read > 100);
  }
};

QTEST_GUILESS_MAIN(TestWiring)
#include "tst_wiring.moc"
