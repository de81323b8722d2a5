#include <QtTest>
#include <random>

#include "demos.h"
#include "parts/catalogue.h"
#include "project/edits.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The window as an impatient class uses it, by the machine's own clock and with the worker's
// thread: power, reset, edits, looking back, turning the past, other boards, one or two, by steps
// and by the chips' own code, at random. A few seconds here; IGNAVO_HAMMER says for how many, for a
// build with sanitizers.
class TestHammering : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;
  std::mt19937 random_;

  RunControl& run() { return window_->runControl(); }
  Document& doc() { return window_->document(); }
  const Project& project() { return doc().project(); }
  std::size_t below(std::size_t count) { return count == 0 ? 0 : random_() % count; }

  std::string anyPart() {
    const auto& parts = *project().parts;
    return parts.empty() ? std::string() : parts[below(parts.size())]->id;
  }
  QString anyBoard() {
    const auto& boards = project().boards;
    return boards.empty() ? QString() : QString::fromStdString(boards[below(boards.size())].id);
  }
  std::string anyStep() {
    std::vector<std::string> all;
    for (const auto& program : project().programs)
      for (const auto& lane : program->lanes)
        forEachStep(lane->steps, [&](const Step& s) { all.push_back(s.id); });
    return all.empty() ? std::string() : all[below(all.size())];
  }

  // Two boards that make each other do something.
  static Project bothBanks() {
    return Bench()
        .board("b2")
        .wire("D5", "b2.D2")
        .wire("b2.D6", "D7")
        .wire("GND", "b2.GND")
        .lane("always", "flip d5\nwait 0.004\nlog seconds\nset level of d9 to 40\n")
        .lane("each time d7 goes high", "flip d4\nwait 0.01\nflip d4\n")
        .lane("each time d2 goes high", "flip d6\nadd 1 to seen\n", "b2")
        .lane("always", "flip d13\nwait 0.001\n", "b2");
  }

  void edit() {
    Project p = project();
    switch (below(7)) {
      case 0:  // a number in a step
        p = edits::changeStep(std::move(p), anyStep(), [&](Step& s) {
          for (auto& [key, value] : s.fields)
            if (value.shape == Expr::Shape::number)
              value.number = 0.001 * static_cast<double>(1 + below(400));
        });
        break;
      case 1:  // a part taken out
        p = edits::remove(std::move(p), {anyPart()});
        break;
      case 2:  // a wire less
        if (!p.wires->empty())
          p = edits::remove(std::move(p), {(*project().wires)[below(project().wires->size())]->id});
        break;
      case 3:  // a resistor
        p = edits::changePart(std::move(p), anyPart(), [&](Part& part) {
          if (part.type == "resistor")
            part.setProp("ohms", 10.0 + 100.0 * static_cast<double>(below(40)));
          if (part.type == "ldr") part.setProp("light", static_cast<double>(below(100)));
        });
        break;
      case 4:  // another lane
        p = edits::addLane(std::move(p), "b1", Lane(*p.programs[0]->lanes[0]));
        for (auto& program : p.programs) {
          Lane& last = program.edit().lanes.back().edit();
          last.id.clear();
          const std::function<void(Steps&)> bare = [&](Steps& steps) {
            for (Step& s : steps) {
              s.id.clear();
              for (auto& [key, body] : s.bodies) bare(body);
            }
          };
          bare(last.steps);
          break;
        }
        p = edits::assignIds(std::move(p));
        break;
      case 5:  // a board less, and what was joined to it
        if (p.boards.size() > 1) p = edits::remove(std::move(p), {p.boards.back().id});
        break;
      default:  // the board moves
        if (!p.boards.empty()) p.boards[0].at.y += below(2) == 0 ? 0.5 : -0.5;
        break;
    }
    doc().edit(QStringLiteral("hammer"), std::move(p));
  }

  void act() {
    static const Nanoseconds moments[] = {0, second / 100, second / 2, 3 * second, 100 * second};
    const QString part = QString::fromStdString(anyPart());
    switch (below(24)) {
      case 0:
      case 1:
        return window_->togglePower();
      case 2:
        return run().reset();
      case 3:
        return run().setPaused(below(2) == 0);
      case 4: {
        static const double speeds[] = {0.001, 0.1, 1, 10, 100};
        return run().setSpeed(speeds[below(5)]);
      }
      case 5:
      case 6:
        return run().press(part, below(2) == 0);
      case 7:
        return run().key(QStringLiteral("space"), below(2) == 0);
      case 8:
      case 9:
      case 10:
        return edit();
      case 11:
        return doc().undo();
      case 12:
        return doc().redo();
      case 13:
      case 14:
        return run().lookAt(moments[below(5)]);
      case 15:
        return run().lookAtNow();
      case 16:
        return run().stepOnce();
      case 17:
        return run().hold(anyBoard(), QStringLiteral("D%1").arg(2 + below(12)),
                          static_cast<double>(below(101)));
      case 18:
        return run().letGo(anyBoard(), QStringLiteral("D%1").arg(2 + below(12)));
      case 19:
        if (!run().isOn()) return;
        switch (below(4)) {
          case 0:
            return run().again();
          case 1:
            return run().turn(std::make_shared<const Project>(project()));
          case 2:
            return run().branch(std::make_shared<const Project>(project()));
          default:
            return run().probe({Signal::What::partAmps, anyPart(), {}});
        }
      case 20:
        return window_->setStation(static_cast<Station>(below(stationCount)));
      case 21:
        return window_->chipRun().choose(below(2) == 0 ? ChipRun::Source::code
                                                       : ChipRun::Source::steps);
      case 22:
        if (below(6) == 0) window_->document().reset(bothBanks(), {});
        return;
      default:
        if (below(4) == 0) {
          const std::vector<Demo>& all = demos();
          (void)window_->openDemo(QString::fromStdString(all[below(all.size())].name));
        }
    }
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void nothingBreaks_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 3; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void nothingBreaks() {
    QFETCH(unsigned, seed);
    random_.seed(seed);
    const int seconds = std::max(2, qEnvironmentVariableIntValue("IGNAVO_HAMMER"));
    window_ = std::make_unique<MainWindow>(answers_);
    window_->resize(1024, 700);
    window_->show();
    QVERIFY(window_->openDemo("berth-signals"));
    QElapsedTimer since;
    since.start();
    int acts = 0;
    while (since.elapsed() < seconds * 1000) {
      for (std::size_t i = 0; i <= below(4); ++i) act(), ++acts;
      QTest::qWait(static_cast<int>(below(12)));
      // What is shown is of one piece.
      if (const auto shown = run().shown()) {
        QCOMPARE(shown->light.size(), shown->project->parts->size());
        QVERIFY(shown->now >= 0);
        if (run().trace()) QVERIFY(run().trace()->begin() <= run().trace()->end());
      } else {
        QVERIFY(!run().isOn());
      }
    }
    QVERIFY2(acts > 50, qPrintable(QString::number(acts)));
    if (run().isOn()) window_->togglePower();
    QVERIFY(!run().isOn());
    window_.reset();
  }
};

QTEST_MAIN(TestHammering)
#include "tst_hammering.moc"
