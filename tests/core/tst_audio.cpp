#include <QtTest>
#include <cmath>

#include "run/audio.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/named_circuits.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

constexpr int rate = 44'100;

// A sounder at D5, and what is heard of it in that second.
std::vector<float> heard(const char* kind, const char* steps, double from = 0.25,
                         double seconds = 0.5) {
  Bench bench;
  bench.part(kind, "bell", {"c1", "c4"}).wire("D5", "a1").wire("GND", "a4");
  bench.lane("Round and round", steps);
  Kernel kernel(std::make_shared<const Project>(bench.get()));
  kernel.advance(second);
  AudioRenderer renderer(rate);
  std::vector<float> out(static_cast<std::size_t>(seconds * rate));
  renderer.render(kernel.trace(), soundersOf(bench.get(), kernel.trace()),
                  static_cast<Nanoseconds>(from * 1e9), 1.0 / rate, out);
  return out;
}
double loudness(const std::vector<float>& samples, std::size_t from = 2000) {
  double sum = 0;
  for (std::size_t i = from; i < samples.size(); ++i)
    sum += static_cast<double>(samples[i]) * static_cast<double>(samples[i]);
  return std::sqrt(sum / static_cast<double>(samples.size() - from));
}
int risesOf(const std::vector<float>& samples) {
  int rises = 0;
  for (std::size_t i = 1; i < samples.size(); ++i)
    rises += samples[i - 1] < 0 && samples[i] >= 0 ? 1 : 0;
  return rises;
}

}  // namespace

// What is heard is the voltage that the sounder really gets.
class TestAudio : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void aToneIsHeardAsHighAsItIs_data() {
    QTest::addColumn<int>("hertz");
    for (const int hertz : {100, 440, 1000, 4000}) QTest::addRow("%d Hz", hertz) << hertz;
  }
  void aToneIsHeardAsHighAsItIs() {
    QFETCH(int, hertz);
    const auto samples =
        heard("piezo", ("tone of " + std::to_string(hertz) + " Hz on d5\nwait 9").c_str());
    QVERIFY(loudness(samples) > 0.05);
    const int rises = risesOf(samples);
    QVERIFY2(std::abs(2 * rises - hertz) <= 4, qPrintable(QString::number(rises)));
  }
  // What never changes, and what nobody switches on, is silent; so is what nobody can hear.
  void whatIsSteadyIsSilent_data() {
    QTest::addColumn<QString>("steps");
    QTest::newRow("low") << "set d5 low\nwait 9";
    QTest::newRow("high") << "set d5 high\nwait 9";
    QTest::newRow("far too high") << "set d5 high\nwait 0.00001\nset d5 low\nwait 0.00001";
  }
  void whatIsSteadyIsSilent() {
    QFETCH(QString, steps);
    const double loud = loudness(heard("piezo", steps.toStdString().c_str()));
    QVERIFY2(loud < 0.005, qPrintable(QString::number(loud)));
  }
  void aBuzzerBuzzesByItself() {
    const auto samples = heard("buzzer", "set d5 high\nwait 9");
    QVERIFY(loudness(samples) > 0.05);
    QVERIFY(std::abs(2 * risesOf(samples) - 2300) < 10);
    QVERIFY(loudness(heard("buzzer", "set d5 low\nwait 9")) < 1e-6);
  }
  // In pieces it is the same as at once, and there is no click where they meet.
  void piecesAreTheWhole() {
    Bench bench(with(emptyProject(), "sounder", "D5", "piezo", "Bell"));
    bench.lane("Round and round", "tone of 440 Hz on d5\nwait 9");
    Kernel kernel(std::make_shared<const Project>(bench.get()));
    kernel.advance(second);
    const auto sounders = soundersOf(bench.get(), kernel.trace());
    QCOMPARE(sounders.size(), std::size_t(1));
    constexpr Nanoseconds slice = 10'000'000;
    constexpr std::size_t each = rate / 100;
    AudioRenderer whole(rate), pieces(rate);
    std::vector<float> all(10 * each), piece(each);
    whole.render(kernel.trace(), sounders, 0, 1.0 / rate, all);
    for (std::size_t n = 0; n < 10; ++n) {
      pieces.render(kernel.trace(), sounders, slice * static_cast<Nanoseconds>(n), 1.0 / rate,
                    piece);
      for (std::size_t i = 0; i < each; ++i)
        QVERIFY(std::abs(piece[i] - all[n * each + i]) < 1e-3F);
    }
  }
  void behindTheEndItIsSilent() {
    const auto samples = heard("piezo", "tone of 440 Hz on d5\nwait 9", 5);
    QVERIFY(loudness(samples, 20000) < 1e-6);
    QVERIFY(soundersOf(emptyProject(), Trace()).empty());
  }
};

QTEST_APPLESS_MAIN(TestAudio)
#include "tst_audio.moc"
