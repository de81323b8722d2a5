#include <QtTest>
#include <random>

#include "check/finding.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "make/c_text.h"
#include "make/firmware.h"
#include "posix_runner.h"
#include "run/kernel.h"
#include "run/lamp_light.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// Pins between high and low: dimmed, measured, flipped, and lanes that a pin starts.
namespace {

constexpr Nanoseconds tick = 4'000, period = 256 * tick;  // of the board's timers

// A button with pull-down on D2, joined to 5 V.
Bench callBell(const std::string& contacts = "ideal") {
  return Bench()
      .button("btn1", 18)
      .resistor("r1", 10000, "c20", "c25")
      .wire("5V", "a18")
      .wire("D2", "a20")
      .wire("GND", "a25")
      .prop("btn1", "contacts", contacts);
}

// A lamp on D9, which can be dimmed.
Bench deckLamp() {
  return Bench()
      .led("led1", "i9", "i11")
      .resistor("r1", 220, "c9", "h9")
      .wire("D9", "a9")
      .wire("GND", "j11");
}

int signalOf(const Kernel& k, const char* part) {
  return k.trace().find(Signal::What::partAmps, part, "");
}

// A voltage divider on A0: `share` of the supply.
Bench divider(double share) {
  return Bench()
      .resistor("r1", 10e3 * (1 - share), "c9", "h9")
      .resistor("r2", 10e3 * share, "d9", "d14")
      .wire("5V", "j9")
      .wire("A0", "a9")
      .wire("GND", "a14");
}

}  // namespace

class TestLevels : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // What drives a pin otherwise may be stronger than the pin: then it is what a meter says of it,
  // for the trace and for who reads it alike.
  void aPinThatIsOverruled() {
    Kernel k(shared(Bench()
                        .button("btn1", 20)
                        .wire("5V", "a20")
                        .wire("D2", "a22")
                        .program("set d2 low\nset d6 d2\nwait 0.25")));
    k.schedule(at(1.1, Input::What::press, "btn1"));
    k.schedule(at(1.6, Input::What::release, "btn1"));
    k.advance(3 * second);
    const auto seen = edgesOf(k, "b1", "D2");  // in milliseconds; contacts bounce for three
    QVERIFY(seen.size() >= 2);
    QVERIFY(std::abs(seen.front() - 1100) <= 1 && std::abs(seen.back() - 1600) <= 4);
    for (const int ms : seen) QVERIFY(std::abs(ms - 1100) <= 4 || std::abs(ms - 1600) <= 4);
    QCOMPARE(k.trace().valueAt(k.trace().find(Signal::What::pinLevel, "b1", "D2"), 1'400'000'000),
             1.0F);
    QCOMPARE(edgesOf(k, "b1", "D6"), (std::vector<int>{1250, 1750}));
  }
  // A capacitor holds it back for a moment: the trace has when it was set, read meanwhile or not.
  void aPinThatIsHeldBack() {
    Kernel k(shared(Bench()
                        .part("capacitor", "c1", {"b10", "b15"})
                        .prop("c1", "farads", 1e-4)
                        .wire("D4", "a10")
                        .wire("GND", "a15")
                        .program("set d4 high\nset d6 d4\nwait 0.001\nset d6 d4\nwait 0.499\n"
                                 "set d4 low\nset d6 d4\nwait 0.5")));
    k.advance(1'900'000'000);
    QCOMPARE(edgesOf(k, "b1", "D4"), (std::vector<int>{0, 500, 1000, 1500}));
    QVERIFY(edgesOf(k, "b1", "D6").size() >= 2);
  }
  void phrases_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("said");
    QTest::newRow("dim") << "dim d9 to 30 %"
                         << "dim D9 to 30 %";
    QTest::newRow("no sign") << "dim d9 30"
                             << "dim D9 to 30 %";
    QTest::newRow("in words") << "dim pin d9 to 30 percent"
                              << "dim D9 to 30 %";
    QTest::newRow("level of") << "set level of d9 to 30%"
                              << "dim D9 to 30 %";
    QTest::newRow("set") << "set d9 to 30 %"
                         << "dim D9 to 30 %";
    QTest::newRow("flip") << "Flip D4"
                          << "flip D4";
    QTest::newRow("toggle") << "toggle pin d4"
                            << "flip D4";
    QTest::newRow("measure") << "if level of a0 < 40"
                             << "if level of A0 < 40";
    QTest::newRow("with unit") << "if level of a0 < 40 %"
                               << "if level of A0 < 40";
    QTest::newRow("short") << "if a0 > 55"
                           << "if level of A0 > 55";
    QTest::newRow("not short") << "if a0 high"
                               << "if A0 is high";
    QTest::newRow("follow") << "dim d9 to level of a0"
                            << "dim D9 to level of A0";
    QTest::newRow("reversed") << "dim d9 to 100 - level of a0"
                              << "dim D9 to 100 - level of A0";
  }
  void phrases() {
    QFETCH(QString, typed);
    QFETCH(QString, said);
    const ParsedStep step = parseStep(typed.toStdString());
    QVERIFY2(step.step, inWords(step.problem).c_str());
    QCOMPARE(QString::fromStdString(phraseOf(*step.step)), said);
    QCOMPARE(*parseStep(phraseOf(*step.step)).step, *step.step);
  }
  void wrongPhrasesSayWhy() {
    QCOMPARE(inWords(parseStep("dim d9 to 130 %").problem),
             std::string("This can be from 0 to 100 %."));
    QVERIFY(inWords(parseStep("dim lamp to 30 %").problem).find("not a pin") != std::string::npos);
    QVERIFY(inWords(parseStep("dim d9").problem).find("How much?") != std::string::npos);
    QVERIFY(inWords(parseStep("if level of < 3").problem).find("level of A0") != std::string::npos);
    QVERIFY(inWords(parseStep("flip").problem).find("Which pin?") != std::string::npos);
  }
  void signsGoBothWays() {
    for (const TriggerKind& kind : triggerKinds())
      for (const char* pin : {"D2", "A0", ""}) {
        for (const char* again : {"", "restart", "queue"}) {
          const bool asks = kind.slot("pin") != nullptr;
          Trigger t = newTrigger(kind, asks ? pin : "");
          if (kind.startsAgain()) t.again = again;
          const auto read = parseSign(signOf(t));
          QVERIFY2(read && *read == t, signOf(t).c_str());
        }
      }
    QCOMPARE(parseSign("  each TIME d2 goes HIGH")->pin, std::string("D2"));
    QVERIFY(!parseSign("each time goes high") && !parseSign("each time door goes high"));
  }
  void filesAndWiringTextKeepThem() {
    const Project p = deckLamp()
                          .lane("Each time D2 goes low",
                                "flip d9\nif level of a0 ≥ 40\n  dim d9 "
                                "to level of a0\n")
                          .lane("Each time D3 goes high", "dim d9 to 12.5 %\n");
    const ReadResult again = readProject(writeProject(p));
    QVERIFY(again.problems.empty());
    QVERIFY(again.project == p);
    const WiringText text = readWiring(writeWiring(p));
    QVERIFY(text.problems.empty());
    QCOMPARE(text.project.programs[0]->lanes.size(), std::size_t(2));
    QVERIFY(text.project.programs[0]->lanes[0]->trigger == p.programs[0]->lanes[0]->trigger);
    QCOMPARE(textOf(text.project.programs[0]->lanes[0]->steps),
             textOf(p.programs[0]->lanes[0]->steps));
  }
  void badFilesAreNamedAndKept() {
    std::string text = writeProject(Bench().lane("Each time D2 goes low", "flip d9\n"));
    const auto with = [&](const std::string& from, const std::string& to) {
      std::string s = text;
      s.replace(s.find(from), from.size(), to);
      return readProject(s);
    };
    const ReadResult noPin = with("\"pin\": \"D2\"", "\"pin\": \"D99\"");
    QCOMPARE(noPin.problems.size(), std::size_t(1));
    QVERIFY(inWords(sentence(noPin.problems[0])).find("lanes[0].trigger.pin") != std::string::npos);
    QCOMPARE(noPin.project.programs[0]->lanes[0]->steps.size(), std::size_t(1));
    const ReadResult again = with("\"pin\": \"D2\"", "\"pin\": \"D2\", \"again\": \"later\"");
    QCOMPARE(again.problems.size(), std::size_t(1));
    const ReadResult queue = with("\"pin\": \"D2\"", "\"pin\": \"D2\", \"again\": \"queue\"");
    QVERIFY(queue.problems.empty());
    QVERIFY(writeProject(queue.project).find("\"again\": \"queue\"") != std::string::npos);
    QVERIFY(with("\"pin\": \"D2\"", "\"pin\": \"D2\", \"again\": \"ignore\"").problems.empty());
  }

  void settingsAreKeptAndChecked() {
    const Project p = edits::setPartsSurvive(Bench(), true);
    const std::string text = writeProject(p);
    QVERIFY(readProject(text).project == p);
    QVERIFY(writeProject(Bench()).find("settings") == std::string::npos);
    std::string wrong = text;
    wrong.replace(wrong.find("\"partsSurvive\": true"), 20, "\"partsSurvive\": 3, \"x\": 1");
    const ReadResult read = readProject(wrong);
    QCOMPARE(read.problems.size(), std::size_t(1));
    QVERIFY(inWords(sentence(read.problems[0])).find("settings.partsSurvive") != std::string::npos);
    QVERIFY(writeProject(read.project).find("\"x\": 1") != std::string::npos);
  }

  // ---- dimming ----
  void aDimmedPinIsHighForItsShareOfEachPeriod() {
    Kernel k(shared(deckLamp().lane("power", "dim d9 to 25 %")));
    k.advance(21 * period - 1);
    const auto t = edgeTimes(k, "D9");
    QCOMPARE(t.size(), std::size_t(40));
    for (std::size_t i = 0; i < t.size(); ++i)
      QCOMPARE(t[i], static_cast<Nanoseconds>(i / 2 + 1) * period + (i % 2 ? 64 * tick : 0));
  }
  void dimmedLightIsThatOfTheMeanCurrent() {
    Kernel full(shared(deckLamp().lane("power", "set d9 high")));
    full.advance(second);
    const double amps = full.snapshot().reading.parts[0].amps;
    for (const double percent : {5.0, 30.0, 50.0, 80.0, 99.0}) {
      Kernel k(shared(deckLamp().lane("power", "dim d9 to " + std::to_string(percent) + " %")));
      k.advance(second);
      const double share = std::round(percent * 2.56) / 256;
      const double light = lightAt(k.trace(), signalOf(k, "led1"), k.now());
      // The 20 ms of the eye are 19.5 periods: an edge more or less.
      QVERIFY(std::abs(light - lightOf(amps * share)) < 0.03);
    }
  }
  void dimmingEndsWhereItIsPlain() {
    Kernel k(shared(deckLamp().lane("power",
                                    "dim d9 to 40 %\nwait 0.1\ndim d9 to 100 %\nwait 0.1\n"
                                    "dim d9 to 0 %\nwait 0.1\ndim d9 to 40 %\nwait 0.1\nset "
                                    "d9 high\nwait 0.1\ndim d9 to 40 %\nwait 0.1\nflip d9")));
    const auto edgesIn = [&](double from, double to) {
      int n = 0;
      for (Nanoseconds e : edgeTimes(k, "D9"))
        n += e > static_cast<Nanoseconds>(from * 1e9) && e < static_cast<Nanoseconds>(to * 1e9);
      return n;
    };
    k.advance(second);
    QVERIFY(edgesIn(0.01, 0.09) > 140 && edgesIn(0.31, 0.39) > 140 && edgesIn(0.51, 0.59) > 140);
    for (const double quiet : {0.1, 0.2, 0.4, 0.6})
      QCOMPARE(edgesIn(quiet + 0.001, quiet + 0.09), 0);
    QCOMPARE(lightAt(k.trace(), signalOf(k, "led1"), second), 0.0);  // flipped: off
    QVERIFY(lightAt(k.trace(), signalOf(k, "led1"), second * 19 / 100) > 0.7);
    QVERIFY(lightAt(k.trace(), signalOf(k, "led1"), second * 29 / 100) < 0.01);
    QVERIFY(lightAt(k.trace(), signalOf(k, "led1"), second * 49 / 100) > 0.7);
  }
  void whatCannotDimIsSwitched() {
    for (const auto& [percent, on] : {std::pair{49.0, false}, {50.0, true}}) {
      Kernel k(shared(beacon().lane("power", "dim d4 to " + std::to_string(percent))));
      k.advance(second / 10);
      QCOMPARE(edgeTimes(k, "D4").size(), std::size_t(on ? 1 : 0));
    }
  }
  void dimmedRunsAreTheSameHoweverTheyAreAdvanced() {
    const auto project =
        shared(deckLamp()
                   .lane("always", "dim d9 to 10 %\nwait 0.004\ndim d9 to 70 %\nwait 0.0035")
                   .lane("always", "flip d13\nwait 0.0071"));
    Kernel whole(project), plain(project), pieces(project);
    plain.allowSkipping(false);
    whole.advance(second);
    plain.advance(second);
    std::mt19937 random(7);
    while (pieces.now() < second)
      pieces.advance(std::min<Nanoseconds>(second, pieces.now() + 1 + random() % 3'000'000));
    QVERIFY(edges(whole.trace()) == edges(plain.trace()));
    QVERIFY(edges(whole.trace()) == edges(pieces.trace()));
    QVERIFY(edges(Kernel::replay(project, {}, second)->trace()) == edges(whole.trace()));
  }

  // ---- measuring ----
  void levelsAreSharesOfTheSupply() {
    for (int percent = 4; percent < 100; percent += 7) {
      // Lights D13 when the level is within one stage of what the divider gives.
      Kernel k(shared(divider(percent / 100.0)
                          .program("if (level of a0 > " + std::to_string(percent - 0.2) +
                                   ") and (level of a0 < " + std::to_string(percent + 0.2) +
                                   ")\n  set d13 high\notherwise\n  set d13 low\n")));
      k.advance(second / 50);
      QCOMPARE(edgeTimes(k, "D13").size(), std::size_t(1));
    }
  }
  void endsOfTheScaleAreReached() {
    for (const char* rail : {"5V", "GND"}) {
      const std::string all = rail == std::string("5V") ? "100" : "0";
      Kernel k(shared(Bench()
                          .wire(rail, "a9")
                          .wire("A0", "b9")
                          .program("if level of a0 = " + all + "\n  set d13 high\nwait 0.01")));
      k.advance(second / 50);
      QCOMPARE(edgeTimes(k, "D13").size(), std::size_t(1));
    }
  }
  void aPinThatCannotMeasureKnowsTwoLevels() {
    Kernel k(shared(Bench()
                        .wire("5V", "a9")
                        .wire("D7", "b9")
                        .program("if level of d7 = 100\n  set d13 high\nwait 0.01")));
    k.advance(second / 50);
    QCOMPARE(edgeTimes(k, "D13").size(), std::size_t(1));
  }
  void aFloatingPinMeasuresHum() {
    const auto run = [](std::uint64_t seed) {
      Project p =
          Bench()
              .wire("A0", "a9")
              .program("if level of a0 > 50\n  set d13 high\notherwise\n  set d13 low\nwait 0.002");
      p.seed = seed;
      Kernel k(shared(p));
      k.advance(second);
      return edgeTimes(k, "D13");
    };
    QVERIFY(run(1).size() > 20);
    QVERIFY(run(1) == run(1) && run(1) != run(2));
  }

  // ---- lanes that a pin starts ----
  void eachPressStartsTheLane() {
    Kernel k(shared(callBell().lane("Each time D2 goes high", "flip d13")));
    for (int i = 0; i < 7; ++i) {
      k.schedule(at(0.2 + i, Input::What::press, "btn1"));
      k.schedule(at(0.5 + i, Input::What::release, "btn1"));
    }
    k.advance(10 * second);
    const auto t = edgeTimes(k, "D13");
    QCOMPARE(t.size(), std::size_t(7));
    for (int i = 0; i < 7; ++i)
      QCOMPARE(t[static_cast<std::size_t>(i)], static_cast<Nanoseconds>((0.2 + i) * 1e9));
    Kernel falls(shared(callBell().lane("Each time D2 goes low", "flip d13")));
    falls.schedule(at(0.2, Input::What::press, "btn1"));
    falls.schedule(at(0.5, Input::What::release, "btn1"));
    falls.advance(second);
    QCOMPARE(edgeTimes(falls, "D13").front(), second / 2);
  }
  void whatComesWhileItRunsIsMissedAndCounted() {
    Kernel k(
        shared(callBell().lane("Each time D2 goes high", "set d13 high\nwait 1\nset d13 low")));
    for (int i = 0; i < 6; ++i) {
      k.schedule(at(0.1 + 0.3 * i, Input::What::press, "btn1"));
      k.schedule(at(0.2 + 0.3 * i, Input::What::release, "btn1"));
    }
    k.advance(4 * second);
    QCOMPARE(edgeTimes(k, "D13").size(), std::size_t(4));
    QCOMPARE(k.snapshot().lanes[0].missed, 4);
    QVERIFY(k.snapshot().lanes[0].step.empty());  // waiting for the next press, in no step
  }
  // Each press that comes to nothing is told once, however its contacts bounce; letting go, never.
  void bouncesThatComeToNothingAreNoMissedPresses() {
    struct Way {
      const char* sign;
      bool pulledUp, onRelease;
    };
    int bounced = 0;
    for (const Way& way :
         {Way{"Each time D2 goes high", false, false}, Way{"Each time D2 goes low", false, true},
          Way{"Each time D2 goes low", true, false}, Way{"Each time D2 is high", false, false},
          Way{"Each time D2 is low", true, false}, Way{"Each time D2 is low", false, true}})
      for (std::uint64_t seed = 1; seed <= 30; ++seed) {
        Project p = callBell("real").lane(way.sign, "flip d13\nwait 2");
        if (way.pulledUp)
          p = Bench()
                  .button("btn1", 18)
                  .wire("GND", "a18")
                  .wire("D2", "a20")
                  .pullUp("D2")
                  .lane(way.sign, "flip d13\nwait 2");
        p.seed = seed;
        Kernel k(shared(p));
        std::vector<Nanoseconds> presses, releases;
        for (int i = 0; i < 4; ++i) {
          presses.push_back(static_cast<Nanoseconds>(1e9 * (0.5 + 0.4 * i)));
          releases.push_back(presses.back() + 150'000'000);
          k.schedule({presses.back(), Input::What::press, "btn1"});
          k.schedule({releases.back(), Input::What::release, "btn1"});
        }
        k.advance(2'200'000'000);
        std::vector<Nanoseconds> told;
        for (const Event& e : k.events())
          if (e.what == Event::What::missed) told.push_back(e.at);
        // All that come behind what started it: that may have been a bounce of the first press.
        std::vector<Nanoseconds> real = way.onRelease ? releases : presses;
        const auto begun = edgeTimes(k, "D13");
        QCOMPARE(begun.size(), std::size_t(1));
        if (begun[0] >= real[0]) real.erase(real.begin());
        const auto words = QString("%1, seed %2").arg(way.sign).arg(seed);
        QVERIFY2(told.size() == real.size(), qPrintable(words + QString(": %1").arg(told.size())));
        for (std::size_t i = 0; i < told.size(); ++i)
          QVERIFY2(told[i] >= real[i] && told[i] <= real[i] + 3'500'000, qPrintable(words));
        const LaneView lane = k.snapshot().lanes[0];
        QCOMPARE(lane.missed - lane.bounced, static_cast<std::int64_t>(told.size()));
        bounced += static_cast<int>(lane.bounced);
      }
    QVERIFY2(bounced > 300, qPrintable(QString::number(bounced)));
  }
  // What is not a button's is told each time, however fast it comes.
  void whatNoContactsDidIsMissedEachTime() {
    Kernel k(shared(callBell("real")
                        .wire("D2", "c20")
                        .lane("Each time D12 goes high", "flip d13\nwait 1")
                        .wire("D11", "a28")
                        .wire("D12", "b28")
                        .lane("When power comes on",
                              "wait 0.5\nrepeat 3 times\n  set d11 high\n  wait 0.001\n"
                              "  set d11 low\n  wait 0.001")));
    k.advance(second);
    const LaneView lane = k.snapshot().lanes[0];
    QCOMPARE(lane.missed, 2);
    QCOMPARE(lane.bounced, 0);
    QCOMPARE(std::count_if(k.events().begin(), k.events().end(),
                           [](const Event& e) { return e.what == Event::What::missed; }),
             2);
  }
  void realContactsFlipSeveralTimesAndAreCuredByTheRemedy() {
    const Project p = callBell("real").lane("Each time D2 goes high", "flip d13");
    const auto flips = [](const Project& project) {
      Kernel k(shared(project));
      for (int i = 0; i < 20; ++i) {
        k.schedule(at(0.2 + i, Input::What::press, "btn1"));
        k.schedule(at(0.5 + i, Input::What::release, "btn1"));
      }
      k.advance(21 * second);
      return edgeTimes(k, "D13").size();
    };
    QVERIFY(flips(p) > 25);
    const CheckResult result = check(p);
    QCOMPARE(result.findings.size(), std::size_t(1));
    QCOMPARE(result.findings[0].rule, std::string("bounce"));
    QCOMPARE(result.findings[0].remedies.size(), std::size_t(1));
    const Project mended = result.findings[0].remedies[0].after;
    QCOMPARE(flips(mended), std::size_t(20));
    QVERIFY(check(mended).findings.empty());
  }
  void aPulledUpPinIsNoPressAtPowerOn() {
    Kernel k(shared(Bench()
                        .button("btn1", 18)
                        .wire("GND", "a18")
                        .wire("D2", "a20")
                        .pullUp("D2")
                        .prop("btn1", "contacts", std::string("ideal"))
                        .lane("Each time D2 goes high", "flip d13")));
    k.schedule(at(1, Input::What::press, "btn1"));
    k.schedule(at(2, Input::What::release, "btn1"));
    k.advance(3 * second);
    QCOMPARE(edgeTimes(k, "D13").size(), std::size_t(1));
    QCOMPARE(k.snapshot().lanes[0].missed, 0);
  }
  void aFloatingPinStartsItByItself() {
    Kernel k(shared(Bench().wire("D2", "a20").lane("Each time D2 goes high", "flip d13")));
    k.advance(second);
    QVERIFY(edgeTimes(k, "D13").size() > 20);  // the hum of the mains: some 50 times a second
  }
  void anOutputStartsALaneToo() {
    const auto flips = [](bool listenerFirst) {
      Bench bench;
      if (listenerFirst) bench.lane("Each time D4 goes high", "flip d13");
      bench.lane("always", "flip d4\nwait 0.1");
      if (!listenerFirst) bench.lane("Each time D4 goes high", "flip d13");
      Kernel k(shared(bench));
      k.advance(second * 95 / 100);
      return edgeTimes(k, "D13").size();
    };
    // The lane hears in a turn what came in the one before it, wherever it stands.
    QCOMPARE(flips(true), std::size_t(5));
    QCOMPARE(flips(false), std::size_t(5));
  }
  void runsWithSuchLanesAreTheSameHoweverTheyAreAdvanced() {
    std::mt19937 random(20);
    const char* bodies[] = {"flip d13", "flip d12\nwait 0.003",
                            "dim d9 to 30 %\nwait 0.05\nset d9 low",
                            "repeat 3 times\n  flip d11\n  wait 0.001"};
    for (int round = 0; round < 30; ++round) {
      Bench bench = callBell(random() % 2 ? "real" : "ideal");
      bench.lane(random() % 2 ? "Each time D2 goes high" : "Each time D2 goes low",
                 bodies[random() % 4]);
      bench.lane("always", std::string(bodies[random() % 4]) + "\nwait 0.01");
      bench.lane("Each time D12 goes high", "flip d10");
      const auto project = shared(bench);
      Kernel whole(project), plain(project), pieces(project);
      plain.allowSkipping(false);
      for (Kernel* k : {&whole, &plain, &pieces})
        for (int i = 0; i < 8; ++i)
          k->schedule(
              at(0.04 + 0.1 * i, i % 2 ? Input::What::release : Input::What::press, "btn1"));
      whole.advance(second);
      plain.advance(second);
      while (pieces.now() < second)
        pieces.advance(std::min<Nanoseconds>(second, pieces.now() + 1 + random() % 30'000'000));
      QVERIFY(edges(whole.trace()) == edges(plain.trace()));
      QVERIFY(edges(whole.trace()) == edges(pieces.trace()));
      for (std::size_t l = 0; l < 3; ++l) {
        QCOMPARE(whole.snapshot().lanes[l].missed, plain.snapshot().lanes[l].missed);
        QCOMPARE(whole.snapshot().lanes[l].missed, pieces.snapshot().lanes[l].missed);
      }
    }
  }
  void aWaitingLaneGoesOnWaitingWhenTheProgramIsEdited() {
    const Project p = callBell().lane("Each time D2 goes high", "flip d13\nwait 0.1");
    Kernel k(shared(p));
    k.advance(second / 2);
    const std::string wait = p.programs[0]->lanes[0]->steps[1].id;
    k.inputNow(edited(edits::setExpr(p, wait, "seconds", Expr::of(0.2))));
    k.schedule(at(1, Input::What::press, "btn1"));
    k.advance(2 * second);
    QCOMPARE(edgeTimes(k, "D13"), (std::vector<Nanoseconds>{second}));
  }
  void aPinGoesOnDimmedUntilTheNextStepThatSetsIt() {
    // The dim is edited away while the pin is dimmed: time goes on, and so does the dimming.
    const Project p = deckLamp().lane("always", "dim d9 to 30 %\nwait 0.5\n");
    Project q = p;
    Steps& steps = q.programs[0].edit().lanes[0].edit().steps;
    const std::string wait = steps[1].id;
    steps = parseSteps("wait 0.5\nset d9 low\n").steps;
    steps[0].id = wait;
    q = edits::assignIds(std::move(q));
    Kernel k(shared(p)), plain(shared(p));
    plain.allowSkipping(false);
    for (Kernel* kernel : {&k, &plain}) {
      kernel->advance(second / 10);
      kernel->inputNow(edited(q));
      kernel->advance(2 * second);
    }
    const auto t = edgeTimes(k, "D9");
    QVERIFY(t.back() > second * 49 / 100 && t.back() < second * 51 / 100);
    QVERIFY(edges(k.trace()) == edges(plain.trace()));
  }
  void anOutputThatIsNoLongerDimmedIsQuiet() {
    const Project p = deckLamp().lane("power", "dim d9 to 30 %");
    Kernel k(shared(p));
    k.advance(second / 10);
    k.inputNow(edited(deckLamp()));
    k.advance(second);
    const auto t = edgeTimes(k, "D9");
    QVERIFY(t.empty() || t.back() <= second / 10 + period);
  }

  // ---- the same as C ----
  void theTextSaysTheSame() {
    const std::string one = cText(callBell().lane("Each time D2 goes high", "flip d13"), "b1").text;
    QVERIFY(one.find("if (turn > 0 && is_D2 && !was_D2)") != std::string::npos);
    QVERIFY(one.find("STEP flip_D13();") != std::string::npos);
    const std::string dim = cText(deckLamp().lane("power", "dim d9 to level of a0"), "b1").text;
    QVERIFY(dim.find("dim_D9(level_A0());") != std::string::npos);
    QVERIFY(dim.find("OCR1A = (uint8_t)(ticks - 1);") != std::string::npos);
    QVERIFY(dim.find("TCCR1B = _BV(WGM12) | _BV(CS11) | _BV(CS10);") != std::string::npos);
  }
  void everyKindOfItCompilesWithoutAWord() {
    const std::string bodies[] = {"flip d13",
                                  "dim d9 to 40 %\nflip d9",
                                  "dim d3 to level of a0",
                                  "dim d4 to 10 %\nflip d4",
                                  "if level of d7 > 3\n  dim d11 to 3 %",
                                  "dim d5 to 100 - level of a1\nwait 0.1\ndim d10 to 5 %"};
    for (const std::string& a : bodies)
      for (const std::string& sign : {std::string("always"), std::string("Each time D2 goes high")})
        for (const bool several : {false, true}) {
          Bench bench = callBell().lane(sign, a);
          if (several) bench.lane("Each time A2 goes low", bodies[1]);
          PosixRunner runner;
          const Firmware made = buildFirmware(bench, "b1", runner);
          if (made.code == Firmware::Code::compilerMissing) QSKIP("avr-gcc is not installed");
          QVERIFY2(made.code == Firmware::Code::done && made.messages.empty(),
                   (a + "\n" + made.messages + cText(bench, "b1").text).c_str());
        }
  }
};

QTEST_GUILESS_MAIN(TestLevels)
#include "tst_levels.moc"
