#include <QtTest>

#include "make/c_text.h"
#include "make/firmware.h"
#include "posix_runner.h"
#include "program/steps.h"
#include "support/build.h"
#include "support/random_programs.h"

using namespace ignavo;
using namespace ignavo::test;

// The C of any program compiles without a word from the compiler.
class TestCTexts : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void anyProgramCompilesWithoutAWord_data() {
    QTest::addColumn<unsigned>("from");
    for (unsigned i = 0; i < 8; ++i)
      QTest::addRow("programs %u to %u", i * 25, i * 25 + 24) << i * 25;
  }
  void anyProgramCompilesWithoutAWord() {
    QFETCH(unsigned, from);
    PosixRunner runner;
    for (unsigned seed = from; seed < from + 25; ++seed) {
      Bench bench = beacon();
      for (const std::string& name : RandomProgram::names()) bench.name(name);
      std::string text;
      RandomProgram writer(seed);
      auto all = writer.own();
      for (auto& lane : writer.lanes()) all.push_back(std::move(lane));
      for (const auto& [sign, steps] : all) {
        bench.lane(sign, steps);
        text += sign + ":\n" + steps;
      }
      const Project p = bench;
      const Firmware f = buildFirmware(p, "b1", runner);
      if (f.code == Firmware::Code::compilerMissing) QSKIP("avr-gcc is not installed");
      QVERIFY2(f.code == Firmware::Code::done && f.messages.empty(),
               (f.messages + "\n" + text + "\n" + cText(p, "b1").text).c_str());
    }
  }
};

QTEST_GUILESS_MAIN(TestCTexts)
#include "tst_c_texts.moc"
