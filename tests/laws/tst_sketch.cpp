#include <QtTest>
#include <cmath>
#include <random>

#include "run/kernel.h"
#include "support/build.h"
#include "support/composed.h"
#include "support/demo_rows.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// Every button is pressed and let go every second.
std::unique_ptr<Kernel> ran(const Project& project, bool sketch, Nanoseconds until) {
  RunSetup setup;
  setup.sketch = sketch;
  auto kernel = std::make_unique<Kernel>(shared(project), setup);
  for (const auto& part : *project.parts)
    for (int n = 0; part->type == "button" && n < 10; ++n)
      kernel->schedule(at(n + 0.3, n % 2 ? Input::What::release : Input::What::press, part->id));
  kernel->advance(until);
  return kernel;
}

// All edges of all pins, as one text.
std::string pinsOf(const Kernel& kernel) {
  std::string out;
  const Trace& trace = kernel.trace();
  for (std::size_t s = 0; s < trace.signals().size(); ++s) {
    const Signal& signal = trace.signals()[s];
    if (signal.what != Signal::What::pinLevel) continue;
    trace.forEachEdge(static_cast<int>(s), -1, trace.end(), [&](const Edge& e) {
      out += signal.owner + "." + signal.name + " " + std::to_string(e.at) + " " +
             std::to_string(e.value) + "\n";
      return true;
    });
  }
  return out;
}

}  // namespace

// A sketch of a run leaves out what goes on by itself and nobody asks; its pins do what they do.
class TestSketch : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void pinsOfDemosDoTheSame_data() { rowPerDemo(); }
  void pinsOfDemosDoTheSame() {
    QFETCH(QString, name);
    const Project project = *demoProject(name);
    const auto sketch = ran(project, true, 8 * second), run = ran(project, false, 8 * second);
    QCOMPARE(pinsOf(*sketch), pinsOf(*run));
    QCOMPARE(sketch->leavesOut(), name == "ramp-winch" || name == "ferry-call-bell");
    QVERIFY(!run->leavesOut());
  }
  // What it leaves out is not told as nothing: it is not known.
  void whatIsLeftOutIsUnknown() {
    const Project project = *demoProject("ramp-winch");
    const auto sketch = ran(project, true, 2 * second);
    const int motor =
        sketch->trace().find(Signal::What::partAmps, partNamed(project, "Winch motor"), {});
    QVERIFY(motor >= 0);
    QVERIFY(std::isnan(sketch->trace().valueAt(motor, second)));
  }
  // A program that asks a pin behind a capacitor is told what it stands at.
  void whatAProgramAsksIsNotLeftOut() {
    std::mt19937 random(29);
    int left = 0, kept = 0;
    for (int round = 0; round < 120; ++round) {
      Placed placed;
      Project project = programmed(composedBench(random, 5, round % 2, placed), placed, random);
      const auto run = ran(project, false, 3 * second);
      const bool calm =
          std::none_of(run->events().begin(), run->events().end(), [](const Event& e) {
            return e.what == Event::What::broke || e.what == Event::What::tripped;
          });
      if (!calm) continue;
      const auto sketch = ran(project, true, 3 * second);
      QVERIFY2(pinsOf(*sketch) == pinsOf(*run), qPrintable(QString("bench %1").arg(round)));
      ++(sketch->leavesOut() ? left : kept);
    }
    qInfo("%d with something left out, %d without", left, kept);
    QVERIFY(left > 5);
    QVERIFY(kept > 5);
  }
};

QTEST_APPLESS_MAIN(TestSketch)
#include "tst_sketch.moc"
