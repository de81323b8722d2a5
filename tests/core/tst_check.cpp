#include <fmt/format.h>

#include <QtTest>
#include <set>

#include "bench/relocating.h"
#include "check/evidence.h"
#include "check/finding.h"
#include "check/manual.h"
#include "check/remedies.h"
#include "check/rule.h"
#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// The rules that fire, as "rule/severity/culprit".
std::string fired(const Project& p) {
  std::string out;
  for (const Finding& f : check(p).findings)
    out += (out.empty() ? "" : " ") + f.rule + "/" + severityId(f.severity) + "/" +
           (f.parts.empty() ? f.pins.empty() ? "" : f.pins[0] : f.parts[0]);
  return out;
}
const Finding* find(const CheckResult& r, const char* rule) {
  for (const Finding& f : r.findings)
    if (f.rule == rule) return &f;
  return nullptr;
}
Bench call() {  // a sound button with pull-down on D2, a lamp on D4
  return beacon()
      .wire("5V", "lp2")
      .button("btn1", 18)
      .resistor("r2", 10000, "c20", "c25")
      .wire("D2", "a20")
      .wire("lp15", "a18")
      .wire("ln21", "a25");
}
const char* follow = "if d2 high\n  set d4 high\notherwise\n  set d4 low\nwait 0.02\n";

}  // namespace

class TestCheck : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // What the check says of a lamp that goes on and off too fast is how it then looks in a run.
  void tooFastIsToldAsItLooks_data() {
    QTest::addColumn<QString>("steps");
    QTest::addColumn<QString>("looks");
    QTest::newRow("without waits") << "set d4 high\nset d4 low\n"
                                   << "half lit";
    QTest::newRow("one wait is missing") << "set d4 high\nset d4 low\nwait 0.5\n"
                                         << "dark";
    QTest::newRow("the other is missing") << "set d4 high\nwait 0.5\nset d4 low\n"
                                          << "lit";
    QTest::newRow("high, and low for long") << "set d4 high\nset d4 low\nwait 0.015\n"
                                            << "dark";
  }
  void tooFastIsToldAsItLooks() {
    QFETCH(QString, steps);
    QFETCH(QString, looks);
    const Project p = beacon().program(steps.toStdString());
    const auto findings = check(p).findings;
    QCOMPARE(findings.size(), std::size_t{1});
    QCOMPARE(findings[0].rule, std::string("too-fast"));
    const QString told = QString::fromStdString(inWords(findings[0].reason));
    QVERIFY2(told.contains(QStringLiteral("half lit")) == (looks == "half lit"), qPrintable(told));
    Kernel kernel(shared(p));
    kernel.advance(1'900'000'000);
    const double light = kernel.snapshot().light[1];
    QVERIFY2(looks == "half lit" ? light > 0.3 && light < 0.9
             : looks == "dark"   ? light < 0.3
                                 : light > 0.7,
             qPrintable(QString::number(light)));
  }

  void demosAreAllClear() {
    QVERIFY(demos().size() >= 3);
    for (const Demo& d : demos()) QCOMPARE(fired(readProject(d.text).project), std::string());
  }
  void rulesFire_data() {
    QTest::addColumn<QString>("expected");
    QTest::addColumn<QByteArray>("project");
    const auto row = [](const char* name, const Bench& b, const char* expected) {
      QTest::newRow(name) << QString::fromLatin1(expected)
                          << QByteArray::fromStdString(writeProject(b));
    };
    // led-reversed
    row("led reversed on a pin",
        Bench(beacon().program(blink)).prop("led1", "colour", std::string("red")), "");
    row("led turned",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i11", "i9")
            .wire("GND", "ln4")
            .wire("ln23", "rn23")
            .wire("D4", "a9")
            .wire("j11", "rn10")
            .program(blink),
        "led-reversed/warning/led1");
    row("led turned on 5 V, no program",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i11", "i9")
            .wire("5V", "a9")
            .wire("GND", "j11"),
        "led-reversed/warning/led1");
    row("led turned, no program",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i11", "i9")
            .wire("GND", "j11")
            .wire("D4", "a9"),
        "led-reversed/warning/led1");
    row("active-low lamp is sound",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i11", "i9")
            .wire("5V", "j11")
            .wire("D4", "a9")
            .program(blink),
        "");
    row("two in series, both turned",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i11", "i9")
            .led("led2", "g13", "g11")
            .wire("GND", "j13")
            .wire("D4", "a9")
            .program(blink),
        "led-reversed/warning/led1");
    // led-overcurrent
    row("no resistor",
        Bench().led("led1", "i9", "i11").wire("D4", "g9").wire("GND", "j11").program(blink),
        "led-overcurrent/danger/led1");
    row("no resistor on 5 V", Bench().led("led1", "i9", "i11").wire("5V", "g9").wire("GND", "j11"),
        "led-overcurrent/danger/led1");
    row("47 ohms", Bench(beacon().program(blink)).prop("r1", "ohms", 47.0),
        "led-overcurrent/danger/led1");
    row("82 ohms", Bench(beacon().program(blink)).prop("r1", "ohms", 82.0),
        "led-overcurrent/warning/led1");
    row("110 ohms", Bench(beacon().program(blink)).prop("r1", "ohms", 110.0),
        "led-overcurrent/note/led1");
    row("130 ohms is fine", Bench(beacon().program(blink)).prop("r1", "ohms", 130.0), "");
    // short-circuit
    row("supply wired to ground", Bench(beacon().program(blink)).wire("5V", "ln1"),
        "short-circuit/danger/");
    row("button between supply and ground",
        Bench(beacon().program(blink)).button("btn1", 18).wire("5V", "a18").wire("ln24", "a20"),
        "short-circuit/danger/btn1");
    row("3.3 V wired to ground", Bench(beacon().program(blink)).wire("3V3", "ln1"),
        "short-circuit/danger/");
    row("two buttons in a row",
        Bench(beacon().program(blink))
            .button("btn1", 15)
            .button("btn2", 20)
            .wire("5V", "a15")
            .wire("a17", "a20")
            .wire("ln24", "a22"),
        "short-circuit/danger/btn1");
    row("button with a resistor is no short",
        Bench(beacon().program(blink))
            .button("btn1", 18)
            .resistor("r2", 1000, "c20", "c25")
            .wire("5V", "a18")
            .wire("ln24", "a25"),
        "");
    // leg-loose
    row("cathode a row off",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i9", "i12")
            .wire("GND", "ln4")
            .wire("ln23", "rn23")
            .wire("D4", "a9")
            .wire("j11", "rn10")
            .program(blink),
        "leg-loose/warning/led1");
    row("resistor alone", Bench(beacon().program(blink)).resistor("r9", 220, "c25", "h25"),
        "leg-loose/warning/r9");
    row("button wired on one side",
        Bench(call().program(follow)).button("btn2", 12).wire("lp10", "a12"),
        "leg-loose/warning/btn2");
    row("open pair side of a button is fine", call().program(follow), "");
    row("a part on the mat is no finding",
        Bench(beacon().program(blink)).part("led", "spare", {"", ""}), "");
    // part-bypassed
    row("resistor in one row", Bench(beacon().program(blink)).resistor("r9", 220, "b9", "d9"),
        "part-bypassed/warning/r9");
    row("led in one row",
        Bench()
            .resistor("r1", 220, "c9", "h9")
            .led("led1", "i9", "g9")
            .wire("GND", "j9")
            .wire("D4", "a9")
            .program(blink),
        "part-bypassed/warning/led1");
    row("bridged resistor", Bench(beacon().program(blink)).wire("b9", "f9"),
        "led-overcurrent/danger/led1");
    row("button on one net", Bench(call().program(follow)).wire("b18", "b20"),
        "part-bypassed/warning/btn1");
    // input-floating
    row("no pull-down",
        Bench(beacon()
                  .wire("5V", "lp2")
                  .button("btn1", 18)
                  .wire("D2", "a20")
                  .wire("lp15", "a18")
                  .program(follow)),
        "input-floating/warning/btn1");
    row("pull-down to nowhere",
        beacon()
            .wire("5V", "lp2")
            .button("btn1", 18)
            .resistor("r2", 10000, "c20", "c25")
            .wire("D2", "a20")
            .wire("lp15", "a18")
            .wire("a25", "a27")
            .program(follow),
        "input-floating/warning/btn1");
    row("pull-down a row off",
        beacon()
            .wire("5V", "lp2")
            .button("btn1", 18)
            .resistor("r2", 10000, "c20", "c25")
            .wire("D2", "a20")
            .wire("lp15", "a18")
            .program(follow),
        "leg-loose/warning/r2");
    row("bare wire read", Bench(beacon()).wire("D2", "a20").program(follow),
        "input-floating/warning/D2");
    row("own pull-up is fine",
        beacon()
            .button("btn1", 18)
            .wire("D2", "a20")
            .wire("ln21", "a18")
            .pullUp("D2")
            .program(follow),
        "active-low/note/btn1");
    row("pull-down of 100 kΩ is fine", Bench(call().program(follow)).prop("r2", "ohms", 1e5), "");
    // pin-unwired
    row("wrong pin number", beacon().program("set d5 high\nwait 1\nset d5 low\nwait 1"),
        "pin-unwired/warning/D5");
    row("one wrong step", beacon().program("set d4 high\nwait 1\nset d5 low\nwait 1"),
        "pin-unwired/warning/D5");
    row("read without wire", beacon().program("if d3 high\n  set d4 high\n"),
        "pin-unwired/warning/D3 never-off/note/D4");
    // never-off: not of what is lit from the start, whatever lights it once more
    row("lit for good from a press on",
        Bench(call()).program("if d2 high\n  set d4 high\n  wait 0.02\nelse\n  wait 0.02\n"),
        "never-off/note/D4");
    row("lit from the start",
        Bench(call())
            .lane("power", "set d4 high\n")
            .lane("always", "if d2 high\n  set d4 high\n  wait 0.02\nelse\n  wait 0.02\n"),
        "");
    row("the board's own lamp counts",
        beacon().program("set d4 high\nset d13 high\nwait 1\nset d4 low\nset d13 low\nwait 1"), "");
    // pin-unused
    row("button nobody reads", call().program(blink), "pin-unused/note/btn1");
    row("second lamp nobody sets",
        Bench(beacon().program(blink))
            .resistor("r2", 220, "c14", "h14")
            .led("led2", "i14", "i16")
            .wire("D5", "a14")
            .wire("j16", "rn14"),
        "pin-unused/warning/r2");
    row("no program, no word", call(), "");
    // pin-overload
    row("two lamps on a pin",
        Bench(beacon().program(blink))
            .resistor("r2", 220, "d9", "d14")
            .led("led2", "c14", "c16")
            .wire("a16", "ln14"),
        "pin-overload/warning/D4");
    row("pin on ground through 150 ohms",
        Bench(beacon())
            .resistor("r2", 150, "d14", "d18")
            .wire("D5", "a14")
            .wire("ln16", "a18")
            .program(std::string(blink) + "set d5 high\nwait 1\n"),
        "pin-overload/warning/D5");
    row("pin straight on ground",
        Bench(beacon()).wire("D5", "ln16").program(std::string(blink) + "set d5 high\nwait 1\n"),
        "pin-fight/danger/D5");
    row("one lamp with 220 ohms", beacon().program(blink), "");
  }
  void rulesFire() {
    QFETCH(QString, expected);
    QFETCH(QByteArray, project);
    const ReadResult read = readProject(project.toStdString());
    QVERIFY2(read.sound(),
             read.problems.empty() ? "" : inWords(sentence(read.problems[0])).c_str());
    QCOMPARE(QString::fromStdString(fired(read.project)), expected);
  }
  void figuresComeFromTheSolver() {
    const CheckResult r = check(Bench()
                                    .led("led1", "i9", "i11", "green")
                                    .wire("D4", "g9")
                                    .wire("GND", "j11")
                                    .program(blink));
    const Finding* f = find(r, "led-overcurrent");
    QVERIFY(f);
    QVERIFY(std::abs(f->figure("amps") - 0.0912) < 0.0005);
    QCOMPARE(f->pose.at("D4"), std::string("high"));
    QVERIFY(f->figure("remedy_amps") <= 0.015 && f->figure("remedy_amps") > 0.010);
    QCOMPARE(inWords(f->title), std::string("led1 gets 91 mA; above 30 it burns out"));
  }
  void shortCircuitNamesItsPose() {
    const CheckResult r = check(
        Bench(beacon().program(blink)).button("btn1", 18).wire("5V", "a18").wire("ln24", "a20"));
    const Finding* f = find(r, "short-circuit");
    QVERIFY(f);
    QCOMPARE(f->pose.at("btn1"), std::string("pressed"));
    QVERIFY(inWords(f->title).find("while btn1 is held") != std::string::npos);
  }
  void floatingNamesItsPose() {
    const CheckResult r = check(beacon()
                                    .wire("5V", "lp2")
                                    .button("btn1", 18)
                                    .wire("D2", "a20")
                                    .wire("lp15", "a18")
                                    .program(follow));
    QCOMPARE(find(r, "input-floating")->pose.at("btn1"), std::string("released"));
    QVERIFY(inWords(find(r, "input-floating")->title).find("while btn1 is up") !=
            std::string::npos);
  }
  // Each remedy, applied, makes its finding go away and brings no new one.
  // A pull-down that is one row off leaves its pin without a level: one mend, one finding.
  void oneMendIsOneFinding() {
    const char* bench =
        "button e24\n10k c25 c29\nwire 5V a24\nwire D2 a26\nwire GND a29\n"
        "Round and round:\n  if D2 is high\n    set D13 high\n  otherwise\n    set D13 low\n"
        "  wait 0.02\n";
    Project p = readWiring(bench).project;
    const auto loud = [](const CheckResult& r) {
      std::set<std::string> out;
      for (const Finding& f : r.findings)
        if (!f.meant && f.severity != Severity::note) out.insert(f.rule);
      return out;
    };
    std::set<std::string> apart;
    for (const Finding& f : everythingFound(p)) apart.insert(f.rule);
    QCOMPARE(apart, (std::set<std::string>{"input-floating", "leg-loose"}));
    const CheckResult told = check(p);
    QCOMPARE(loud(told), std::set<std::string>{"leg-loose"});
    const Finding& f = told.findings.front();
    QVERIFY2(inWords(f.reason).ends_with("Row 26 lies beside it: was it meant to end there?"),
             inWords(f.reason).c_str());
    QVERIFY(check(f.remedies.at(0).after).findings.empty());
    // Declared to be meant so, it stays silent, and so does what follows from it.
    p.meant.push_back(identityOf(f));
    QCOMPARE(loud(check(p)), std::set<std::string>{});
    // What was meant while it was told alone explains nothing else.
    p.meant = {Suppression{"leg-loose", {"r1"}}};
    QCOMPARE(loud(check(p)), std::set<std::string>{"input-floating"});
  }
  // Where much is open, each is told.
  void muchThatIsOpenIsToldOneByOne() {
    std::string bench = "wire GND ln1\nwire 5V lp1\n";
    for (int row = 2; row <= 22; row += 4)
      bench += fmt::format("red led i{} i{}\nwire lp{} f{}\n", row, row + 2, row, row);
    const Project p = readWiring(bench).project;
    QVERIFY(p.parts->size() == 6);
    QCOMPARE(check(p).findings.size(), everythingFound(p).size());
    QCOMPARE(check(p).findings.size(), std::size_t(6));
  }
  // The leg that is told sits where it is said to.
  void aLooseLegIsCalledByItsNameAndPlace() {
    const auto reasonOf = [](const char* text) {
      for (const Finding& f : check(readWiring(text).project).findings)
        if (f.rule == "leg-loose") return QString::fromStdString(inWords(f.reason));
      return QString();
    };
    const char* lamp = "220 d12 d18\nred led c18 c20\nwire GND a20\n";
    const QString toggle = reasonOf((std::string("slide switch e10 e11 e12\n") + lamp).c_str());
    QVERIFY2(toggle.startsWith("Its common leg, in the middle, sits in e11,"), qPrintable(toggle));
    const QString led = reasonOf("red led i9 i11\n220 c9 h9\nwire D4 a9\n");
    QVERIFY2(led.startsWith("Its short leg, flat side, sits in i11,"), qPrintable(led));
    const QString resistor = reasonOf("red led i9 i11\n220 c7 h9\nwire j11 GND\n");
    QVERIFY2(resistor.startsWith("One of its legs sits in c7,"), qPrintable(resistor));
  }
  void remediesHelp_data() { rulesFire_data(); }
  void remediesHelp() {
    QFETCH(QByteArray, project);
    const Project p = readProject(project.toStdString()).project;
    const CheckResult before = check(p);
    for (const Finding& f : before.findings)
      for (const Remedy& remedy : f.remedies) {
        QVERIFY(!(remedy.after == p));
        const ReadResult again = readProject(writeProject(remedy.after));
        QVERIFY2(again.sound(),
                 again.problems.empty() ? "" : inWords(sentence(again.problems[0])).c_str());
        const CheckResult after = check(remedy.after);
        for (const Finding& g : after.findings) {
          QVERIFY2(!(g.rule == f.rule && g.parts == f.parts && g.pins == f.pins),
                   (inWords(remedy.title) + ": " + inWords(g.title)).c_str());
          const bool known = std::any_of(before.findings.begin(), before.findings.end(),
                                         [&](const Finding& h) { return h.rule == g.rule; });
          // What the remedy adds may wait for a step of its own.
          const bool fresh = !g.parts.empty() && !p.part(g.parts[0]);
          // A pin that was on ground by a wire alone has nothing on it without the wire.
          const bool freed = f.rule == "pin-fight" && g.rule == "pin-unwired" && g.pins == f.pins;
          QVERIFY2(known || fresh || freed || g.severity == Severity::note,
                   (inWords(remedy.title) + " brings: " + inWords(g.title)).c_str());
        }
      }
  }
  void expectedRemediesAreOffered() {
    const auto remedies = [](const Project& p, const char* rule) {
      std::vector<std::string> titles;
      const CheckResult r = check(p);
      if (const Finding* f = find(r, rule))
        for (const Remedy& x : f->remedies) titles.push_back(inWords(x.title));
      return titles;
    };
    QCOMPARE(remedies(Bench()
                          .resistor("r1", 220, "c9", "h9")
                          .led("led1", "i11", "i9")
                          .wire("GND", "j11")
                          .wire("D4", "a9")
                          .program(blink),
                      "led-reversed"),
             std::vector<std::string>{"Turn it round"});
    QCOMPARE(
        remedies(
            Bench().led("led1", "i9", "i11").wire("D4", "g9").wire("GND", "j11").program(blink),
            "led-overcurrent"),
        std::vector<std::string>{"Put 220 Ω in its path"});
    QCOMPARE(remedies(beacon()
                          .wire("5V", "lp2")
                          .button("btn1", 18)
                          .wire("D2", "a20")
                          .wire("lp15", "a18")
                          .program(follow),
                      "input-floating"),
             std::vector<std::string>{"Add 10 kΩ to GND"});
    // With the button to ground the pull-up is the other way.
    QCOMPARE(
        remedies(beacon().button("btn1", 18).wire("D2", "a20").wire("ln15", "a18").program(follow),
                 "input-floating"),
        std::vector<std::string>{"Use the pin’s own pull-up"});
    // Nothing else on the board is unused: what belongs on such a pin can be put there.
    const Project bare = Bench().program("set d6 high\nwait 1\nset d6 low\nwait 1");
    const Finding unwired = check(bare).findings.at(0);
    QCOMPARE(unwired.rule, std::string("pin-unwired"));
    QCOMPARE(inWords(unwired.remedies.at(0).title), std::string("Put a lamp on D6"));
    for (const Finding& f : check(unwired.remedies.at(0).after).findings)
      QVERIFY2(f.severity == Severity::note, inWords(f.title).c_str());
    QCOMPARE(remedies(beacon().program("set d5 high\nwait 1\nset d5 low\nwait 1"), "pin-unwired"),
             std::vector<std::string>{"Change D5 to D4"});
  }
  void evidenceHasItsFigures() {
    const Project p =
        Bench().led("led1", "i9", "i11").wire("D4", "g9").wire("GND", "j11").program(blink);
    const Finding f = check(p).findings.at(0);
    const std::vector<Evidence> all = evidenceOf(p, f);
    QCOMPARE(all.size(), f.parts.size() + f.sockets.size() + f.steps.size());
    QCOMPARE(all[0].part, std::string("led1"));
    QCOMPARE(inWords(all[0].words), std::string("led1: 101 mA, 2.5 V"));
    QCOMPARE(all[1].socket->text(), std::string("bb.i9"));
    QCOMPARE(inWords(all[1].words), std::string("Hole i9: 2.5 V"));
    QCOMPARE(inWords(all[2].words), std::string("Hole i11: 0 V"));
    // What has no level comes first: that is what it is about.
    const Project floats = edits::remove(Project(Bench(call().program(follow))), {"r2"});
    const CheckResult found = check(floats);
    const Finding* open = find(found, "input-floating");
    QVERIFY(open);
    const auto first = evidenceOf(floats, *open).front();
    const std::string words = inWords(first.words);
    QVERIFY2(words.ends_with(": no fixed level"), words.c_str());
    // Pins that the program writes and the combination does not name are low, not open.
    const Circuit circuit(floats);
    const CircuitState idle = stateOf(floats, circuit, {});
    for (const PinUse& use : pinUses(*floats.programs[0]))
      QVERIFY(use.writers.empty() ||
              idle.pins[static_cast<std::size_t>(circuit.pinIndex("b1", use.pin))] ==
                  PinDrive::low);
    QCOMPARE(milliamps(100), std::string("100 A"));
    QCOMPARE(milliamps(1.412), std::string("1.4 A"));
    // A short circuit has no figures, and still its places.
    const Project shorted = Bench().wire("5V", "lp1").wire("GND", "lp2");
    const auto places = evidenceOf(shorted, check(shorted).findings.at(0));
    QVERIFY(!places.empty() &&
            inWords(places[0].words).find("V") == std::string("Pin 5V").find("V"));
  }
  void meantFindingsStayButAreMarked() {
    Project p = Bench().led("led1", "i9", "i11").wire("D4", "g9").wire("GND", "j11").program(blink);
    p.meant.push_back(identityOf(check(p).findings.at(0)));
    QVERIFY(check(p).findings.at(0).meant);
  }
  // Of two findings of one rule that no part tells apart, one that is meant so hides only itself.
  void meantHidesOneFinding() {
    const char* stuck = "if d2 is high\n  keep going round\n    set d4 high\nset d5 low\n";
    Project p = beacon().program(std::string("keep going round\n  set d4 high\nset d5 low\n"));
    Lane second = *p.programs[0]->lanes[0];
    second.id.clear();
    second.steps = parseSteps(stuck).steps;
    p = edits::assignIds(edits::addLane(p, "b1", second));
    // Heavy loads on both supplies: two sums that no part is guilty of.
    const auto loud = [&](const std::string& rule) {
      int n = 0;
      for (const Finding& f : check(p).findings) n += f.rule == rule && !f.meant ? 1 : 0;
      return n;
    };
    const int before = loud("stuck-loop");
    QVERIFY(before >= 2);
    for (const Finding& f : check(p).findings)
      if (f.rule == "stuck-loop") {
        p.meant.push_back(identityOf(f));
        break;
      }
    QCOMPARE(loud("stuck-loop"), before - 1);
    p.meant.clear();
    p.meant.push_back({"stuck-loop", {}});  // as it was kept before steps were named
    QCOMPARE(loud("stuck-loop"), before);
  }
  void meantSumsAreToldApartByTheirPlace() {
    Bench b;
    b.wire("5V", "lp1").wire("GND", "ln1").wire("3V3", "a20").resistor("r9", 50, "b20", "b25");
    b.wire("ln2", "a25");
    for (int k = 0; k < 6; ++k)
      b.resistor("r" + std::to_string(k), 50, "lp" + std::to_string(2 + k),
                 "ln" + std::to_string(3 + k));
    Project p = b;
    const auto loud = [&] {
      std::vector<std::string> places;
      for (const Finding& f : check(p).findings)
        if (f.rule == "board-overload" && !f.meant) places.push_back(f.sockets.at(0).point);
      return places;
    };
    QCOMPARE(loud().size(), std::size_t(2));
    for (const Finding& f : check(p).findings)
      if (f.rule == "board-overload" && f.sockets.at(0).point == "3V3")
        p.meant.push_back(identityOf(f));
    QCOMPARE(loud(), std::vector<std::string>{"5V"});
  }
  void posesAreCountedAndSampled() {
    QCOMPARE(check(beacon().program(blink)).poses, 2.0);
    QCOMPARE(check(call().program(follow)).poses, 4.0);
    Bench many = beacon();
    std::string text;
    for (int d = 5; d <= 12; ++d) {  // eight pins and the lamp in one island
      many.wire("D" + std::to_string(d), "b" + std::to_string(d + 10))
          .resistor("x" + std::to_string(d), 1e5, "c" + std::to_string(d + 10),
                    "f" + std::to_string(d + 4));
      text += "set d" + std::to_string(d) + " high\n";
    }
    QVERIFY(!check(many.program(text + "wait 1")).sampled);
  }
  // The wire goes over the trench, by the free holes next to it, even where the same net has
  // holes that are nearer.
  void bothSidesOfARowAreJoinedOverTheTrench() {
    const Project p = Bench()
                          .button("btn1", 18)
                          .resistor("r1", 10000, "c20", "c25")
                          .resistor("r2", 1e6, "f26", "j26")
                          .wire("5V", "j18")
                          .wire("D2", "j20")
                          .wire("GND", "ln20")
                          .wire("ln21", "j25")
                          .wire("f25", "rn20")
                          .program("set d13 d2\nwait 0.02\n");
    for (const Finding& f : check(p).findings) {
      if (f.rule != "leg-loose" || f.parts.front() != "r1") continue;
      for (const Remedy& r : f.remedies) {
        if (inWords(r.title) != "Join both sides of row 25") continue;
        const Wire& laid = *r.after.wires->back();
        QCOMPARE(laid.from.point + laid.to.point, std::string("e25g25"));
        return;
      }
    }
    QFAIL("it is not offered");
  }
  void whatGetsNothingIsToldInItsOwnWords() {
    const std::pair<const char*, const char*> kinds[] = {{"motor j22 j24", "stands still"},
                                                         {"buzzer j22 j24", "stays silent"},
                                                         {"red led j22 j24", "stays dark"}};
    for (const auto& [part, words] : kinds) {
      const CheckResult r =
          check(readWiring(std::string(part) + "\nwire D6 f22\nwire GND f24\n"
                                               "Round and round:\n  set d13 high\n  wait 1\n")
                    .project);
      const Finding* f = find(r, "pin-unused");
      QVERIFY2(f, part);
      QVERIFY2(inWords(f->reason).find(words) != std::string::npos, inWords(f->reason).c_str());
    }
  }
  void rowsGoOnBeyondTheTrench() {
    const Project p = emptyProject();
    const auto across = [&](const char* hole) {
      const auto other = acrossTrench(p, {"bb", hole});
      return other ? other->point : std::string();
    };
    QCOMPARE(across("a1"), std::string("j1"));
    QCOMPARE(across("f30"), std::string("e30"));
    QCOMPARE(across("lp4"), std::string());
    QVERIFY(!acrossTrench(p, {"b1", "D4"}));
  }
  void checkCanBeCancelled() {
    int asked = 0;
    const CheckResult r = check(
        call().program(follow), [](void* n) { return ++*static_cast<int*>(n) > 0; }, &asked);
    QVERIFY(asked > 0 && r.findings.empty());
  }
  void everyRuleIsDocumentedInOnePlace() {
    QFile file(QStringLiteral(SOURCE_DIR "/docs/checks.md"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray text = file.readAll();
    QCOMPARE(QString::fromUtf8(text), QString::fromStdString(checksManual()));
    for (const Rule* rule : rules())
      QVERIFY2(rule->ofLastCompile || QFile::exists(QStringLiteral(SOURCE_DIR "/docs/checks/%1.png")
                                                        .arg(QString::fromStdString(rule->id))),
               rule->id.c_str());
  }
  // A pin that is changed by a mend takes along what was said of it.
  void aChangedPinTakesItsSettingsAlong() {
    // Nothing is plugged into D2 but its steps, its pull-up and its label.
    Project p = Bench()
                    .button("btn1", 18)
                    .wire("GND", "a18")
                    .wire("D3", "a20")
                    .pullUp("D2")
                    .program("if d2 low\n  set d13 high\notherwise\n  set d13 low\nwait 0.02\n");
    p = edits::setPinLabel(p, "b1", "D2", "Bell rope");
    const std::string step = p.programs[0]->lanes[0]->steps[0].id;
    const auto changed = remedies::changePin(p, "D2", "D3", {step});
    QVERIFY(changed);
    const Program& after = *changed->after.programs[0];
    QVERIFY(after.pulledUp("D3") && !after.pulledUp("D2"));
    QCOMPARE(after.labelOf("D3"), std::string("Bell rope"));
    QCOMPARE(after.labelOf("D2"), std::string());
    QVERIFY(check(changed->after).findings.size() <= 1);  // pressed reads low: a note
    // Of two pins that are used the one that stays keeps its own.
    const auto both = edits::insertSteps(p, {p.programs[0]->lanes[0]->id, {}, {}, 1},
                                         parseSteps("set d12 d2").steps);
    const auto one = remedies::changePin(edits::assignIds(both), "D2", "D3", {step});
    QVERIFY(one->after.programs[0]->pulledUp("D2"));
    // Where wires move as well, all goes over.
    const Project wired = edits::setPinLabel(Bench()
                                                 .button("btn1", 18)
                                                 .wire("GND", "a18")
                                                 .wire("D2", "a20")
                                                 .pullUp("D2")
                                                 .program("set d13 d2\nwait 0.02\n"),
                                             "b1", "D2", "Bell rope");
    const Project moved = remedies::movePin(wired, "b1", "D2", "D7").after;
    QVERIFY(moved.programs[0]->pulledUp("D7") && !moved.programs[0]->pulledUp("D2"));
    QCOMPARE(moved.programs[0]->labelOf("D7"), std::string("Bell rope"));
    QCOMPARE(check(moved).findings.size(), check(wired).findings.size());
  }
};

QTEST_GUILESS_MAIN(TestCheck)
#include "tst_check.moc"
