#include <QtTest>
#include <set>
#include <sstream>

#include "demos.h"
#include "format/project_file.h"
#include "make/c_text.h"
#include "make/firmware.h"
#include "make/sheet.h"
#include "posix_runner.h"
#include "support/build.h"
#include "support/runners.h"

using namespace ignavo;
using namespace ignavo::test;

class TestMake : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void oneLaneIsStraightCode() {
    const std::string text = cText(beacon().program(blink), "b1").text;
    for (const char* line : {"DDRD |= _BV(4);", "set_D4(HIGH);  /* led1 */", "_delay_ms(500);",
                             "for (;;) {", "#include <util/delay.h>"})
      QVERIFY2(text.find(line) != std::string::npos, line);
    QVERIFY(text.find("STEP") == std::string::npos);
    QVERIFY(cText(beacon(), "zz").text.empty());
  }
  // Numbers are 32 bits wide or floats, brackets stand where C or its compiler's warnings ask.
  void expressionsAreTyped() {
    const auto text = [](const char* trigger, const char* steps) {
      Bench b = beacon().lane(trigger, steps);
      return cText(b, "b1").text;
    };
    const auto has = [](const std::string& all, const char* part) {
      return all.find(part) != std::string::npos;
    };
    QVERIFY(has(text("always", "wait 0.5 + 0.25"), "wait_seconds(0.5f + 0.25f);"));
    QVERIFY(has(text("always", "repeat 3 > 2 times\n  flip d4"),
                "for (round = (int32_t)(3L > 2L); round > 0; round--) {"));
    Bench two = beacon().lane("always", "wait 1 - 0.25").lane("always", "flip d5\nwait 1");
    QVERIFY(has(cText(two, "b1").text, "WAIT(turns_of(1.0f - 0.25f));"));
    const auto test = [&](const char* so, const char* inC) {
      const std::string all = text("always", (std::string("if ") + so + "\n  flip d4").c_str());
      const std::string line = std::string("if (") + inC + ") {";
      QVERIFY2(has(all, line.c_str()), (line + "\n" + all).c_str());
    };
    test("300 × 200 > 50000", "300L * 200L > 50000L");
    test("(1 + 2) × 3 = 9", "(1L + 2L) * 3L == 9L");
    test("1 + 2 × 3 = 7", "1L + 2L * 3L == 7L");
    test("1 - (2 - 3) = 2", "1L - (2L - 3L) == 2L");
    test("1 - 2 - 3 = -4", "1L - 2L - 3L == -4L");
    test("0.3 - 0.2 < 0.1", "0.3f - 0.2f < 0.1f");
    test("1 ÷ 3 > 0.3", "1.0f / 3.0f > 0.3f");
    test("1 ÷ (D2 is high) > 2", "quotient(1, (float)read_D2()) > 2.0f");
    test("level of A0 + 1 > 50", "level_A0() + 1.0f > 50.0f");
    test("D2 or D3 and D5", "read_D2() || (read_D3() && read_D5())");
    test("not (D2 and D3)", "!(read_D2() && read_D3())");
    test("(D2 is low) = (D3 is high)", "!read_D2() == read_D3()");
    test("(1 < 2) = (3 < 4)", "(1L < 2L) == (3L < 4L)");
    test("1 + 2", "1L + 2L != 0");
    test("round 2.5 = 3", "rounded(2.5f) == 3L");
    test("remainder of -7 ÷ 3 = 2", "remainder_of(-7, 3) == 2L");
    test("map 5 from 0 … 10 to 0 … 1 > 0.4", "mapped(5, 0, 10, 0, 1) > 0.4f");
    test("smaller of 1 and 2.5 < 2", "smaller_of_f(1, 2.5f) < 2.0f");
    test("random 1 to 6 > 3", "random_from(&dice, 1, 6) > 3L");
    // C may work out either side first: where that matters it is told.
    test(
        "(random 1 to 6) - (random 1 to 3) > 2",
        "({ int32_t v1 = random_from(&dice, 1, 6); int32_t v2 = random_from(&dice, 1, 3); v1 - v2; "
        "}) > 2L");
  }
  void linesBelongToSteps() {
    const Project p =
        Bench().program("if d2 high\n  set d4 high\notherwise\n  set d4 low\nwait 1\n");
    const CText c = cText(p, "b1");
    QCOMPARE(c.spans.size(), std::size_t(4));
    std::vector<std::string> lines;
    std::istringstream in(c.text);
    for (std::string l; std::getline(in, l);) lines.push_back(l);
    const auto at = [&](int n) { return lines[static_cast<std::size_t>(n - 1)]; };
    QVERIFY(at(c.spans[0].first).find("if (read_D2())") != std::string::npos);
    QCOMPARE(c.spans[0].last - c.spans[0].first, 4);
    QVERIFY(at(c.spans[1].first).find("set_D4(HIGH)") != std::string::npos);
    QVERIFY(at(c.spans[3].first).find("_delay_ms(1000)") != std::string::npos);
  }
  void userTextCannotBreakOut() {
    Project p = beacon().program(blink);
    p.title =
        "x */ int main(void) { for(;;); } /* \n#error no\\\n ?"
        "?/";
    p = edits::changePart(p, "led1", [](Part& q) { q.name = "*/ #error broken /*"; });
    const CText c = cText(p, "b1");
    QVERIFY(commentSafe("a*/b").find("*/") == std::string::npos);
    QVERIFY(commentSafe("*" + std::string("/")).find("*/") == std::string::npos);
    PosixRunner runner;
    const Firmware f = buildFirmware(p, "b1", runner);
    if (f.code == Firmware::Code::compilerMissing) QSKIP("avr-gcc is not installed");
    QVERIFY2(f.code == Firmware::Code::done, f.messages.c_str());
    QVERIFY2(f.messages.empty(), f.messages.c_str());
  }
  void everyDemoCompilesWithoutAWord_data() {
    QTest::addColumn<QByteArray>("project");
    for (const Demo& d : demos())
      QTest::newRow(d.name.c_str()) << QByteArray::fromStdString(d.text);
    const auto row = [](const char* name, const Bench& b) {
      QTest::newRow(name) << QByteArray::fromStdString(writeProject(b));
    };
    row("empty program", beacon());
    row("power lane", beacon().lane("power", "set d4 high\nwait 0.0001\nset d4 low"));
    row("two lanes", beacon()
                         .lane("always", blink)
                         .lane("power",
                               "repeat 3 times\n  repeat 2 times\n    set d5 high\n    wait "
                               "0.1\nkeep going round\n  set d13 d5\n"));
    row("nested loops",
        beacon().program(
            "repeat 3 times\n  repeat 4 times\n    set d4 high\n    wait 7200 s\n  if 1 "
            "+ 2 × 3 ≥ 7 and not d4\n    wait 0.1\n"));
    row("long waits in tasks",
        beacon().lane("always", "wait 10000 s").lane("always", "wait 0.00001\nset d4 high"));
    row("pulled up input",
        beacon().pullUp("D2").program("if d2 low\n  set d4 high\notherwise\n  set d4 not d4\n"));
  }
  void everyDemoCompilesWithoutAWord() {
    QFETCH(QByteArray, project);
    const ReadResult r = readProject(project.toStdString());
    QVERIFY(r.sound());
    PosixRunner runner;
    const Firmware f = buildFirmware(r.project, "b1", runner);
    if (f.code == Firmware::Code::compilerMissing) QSKIP("avr-gcc is not installed");
    QVERIFY2(f.code == Firmware::Code::done, (f.messages + cText(r.project, "b1").text).c_str());
    QVERIFY2(f.messages.empty(), f.messages.c_str());
    QVERIFY(f.flashBytes > 100 && f.flashBytes < f.flashMost && f.ramBytes < f.ramMost);
    // Intel HEX: each record's bytes add up to zero, the last one is the end.
    std::istringstream lines(f.hex);
    std::string last;
    for (std::string line; std::getline(lines, line);) {
      if (!line.empty() && line.back() == '\r') line.pop_back();
      QVERIFY(line.size() >= 11 && line[0] == ':');
      unsigned sum = 0;
      for (std::size_t i = 1; i + 1 < line.size(); i += 2)
        sum += static_cast<unsigned>(std::stoul(line.substr(i, 2), nullptr, 16));
      QCOMPARE(sum & 0xFFu, 0u);
      last = line;
    }
    QCOMPARE(last, std::string(":00000001FF"));
  }
  void firmwareCanBeCancelled() {
    PosixRunner runner;
    BuildWatch watch;
    watch.cancelled = [] { return true; };
    QCOMPARE(buildFirmware(beacon().program(blink), "b1", runner, watch).code,
             Firmware::Code::cancelled);
    QCOMPARE(buildFirmware(beacon(), "zz", runner).code, Firmware::Code::noSuchBoard);
  }
  void whatDoesNotFitIsMeasuredAllTheSame() {
    PosixRunner runner;
    std::string steps;
    for (int i = 0; i < 1500; ++i) steps += "set d4 level of A0 > " + std::to_string(i % 99) + "\n";
    const Firmware large = buildFirmware(beacon().program(steps), "b1", runner);
    if (large.code == Firmware::Code::compilerMissing) QSKIP("avr-gcc is not installed");
    QCOMPARE(large.code, Firmware::Code::tooBig);
    QVERIFY(large.flashBytes > large.flashMost && large.hex.empty());
    QVERIFY(inWords(sentence(large)).find(std::to_string(large.flashBytes)) != std::string::npos);
    // Lists that fill the memory.
    const std::string hundred = [] {
      std::string out = "0.5";
      for (int i = 1; i < 100; ++i) out += ", 1";
      return out;
    }();
    Bench lists;
    for (int i = 0; i < 6; ++i) lists.name("list l" + std::to_string(i) + " is " + hundred);
    std::string all;
    for (int i = 0; i < 6; ++i) {
      const std::string list = "l" + std::to_string(i);
      all +=
          "put 2 into item (random from 1 to 100) of " + list + "\nwait item 3 of " + list + "\n";
    }
    const Firmware wide = buildFirmware(lists.program(all), "b1", runner);
    QCOMPARE(wide.code, Firmware::Code::tooBig);
    QVERIFY(wide.ramBytes > wide.ramMost - 256 && wide.flashBytes < wide.flashMost);
  }
  void firmwareTellsHowFarItIs() {
    using Stage = BuildWatch::Stage;
    std::vector<Stage> stages;
    BuildWatch watch;
    watch.stage = [&](Stage stage) { stages.push_back(stage); };
    PosixRunner runner;
    QCOMPARE(buildFirmware(beacon().program(blink), "b1", runner, watch).code,
             Firmware::Code::done);
    QVERIFY(stages ==
            (std::vector<Stage>{Stage::writing, Stage::compiling, Stage::packing, Stage::done}));
  }
  void otherProgramsAreRun() { keepsItsPromises<PosixRunner>(); }
  void sheetGoesFromFlatToTallAndPowerComesLast() {
    const BuildSheet sheet = buildSheet(readProject(demo("berth-signals")->text).project);
    QCOMPARE(sheet.groups.size(), std::size_t(4));
    QCOMPARE(inWords(sheet.groups[0].title), std::string("Join the rails"));
    QCOMPARE(inWords(sheet.groups.back().title), std::string("Power, last"));
    QCOMPARE(inWords(sheet.groups.back().steps.back().text), std::string("Red wire: 5V → lp2"));
    QCOMPARE(inWords(sheet.groups[1].steps[0].text), std::string("220 Ω: c9 → h9"));
    QVERIFY(inWords(sheet.groups[1].steps.back().text).find("long leg i19 and short leg i21") !=
            std::string::npos);
    QCOMPARE(sheet.stepCount(), 20);
    std::set<std::string> ticks;
    for (const SheetGroup& g : sheet.groups)
      for (const SheetStep& s : g.steps) ticks.insert(s.tick);
    QCOMPARE(static_cast<int>(ticks.size()), 20);
    const auto item = [&](const char* name) {
      for (const SheetItem& i : sheet.items)
        if (i.name == name) return i.count;
      return 0;
    };
    QCOMPARE(item("Resistor 220 Ω"), 3);
    QCOMPARE(item("Red LED"), 2);
    QCOMPARE(item("Jumper wire"), 12);
  }
  void meterReadingsComeFromTheSolver() {
    const BuildSheet sheet = buildSheet(readProject(demo("ferry-call-bell")->text).project);
    QVERIFY(!sheet.groundMissing && !sheet.readings.front().black.empty());
    const auto reading = [&](const char* when) {
      for (const MeterReading& r : sheet.readings)
        if (inWords(r.when) == when) return r.volts;
      return -1.0;
    };
    QVERIFY(std::abs(reading("Call button up")) < 0.01);
    QVERIFY(std::abs(reading("Call button held") - 5) < 0.01);
    QVERIFY(std::abs(reading("while D3 is high") - 4.71) < 0.03);
  }
};

QTEST_GUILESS_MAIN(TestMake)
#include "tst_make.moc"
