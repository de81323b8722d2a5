// The window while a run is on: frames, a very long trace, how soon the interface answers, and
// what a start takes beside an empty main window.
#include "live.h"

#include "first_frame.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QMainWindow>
#include <QProcess>
#include <QTimer>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <memory>
#include <string>

#include <unistd.h>

#include "bench/breadboards.h"
#include "demos.h"
#include "format/project_file.h"
#include "project/edits.h"
#include "support/build.h"
#include "theme/theme.h"
#include "window/main_window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace perf {

namespace {

constexpr double frame = 1000.0 / 60;

template <typename What>
double milliseconds(What what) {
  const auto begin = std::chrono::steady_clock::now();
  what();
  return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin)
      .count();
}

double share(std::vector<double> v, double part) {
  std::sort(v.begin(), v.end());
  return v[std::min(v.size() - 1, static_cast<std::size_t>(part * static_cast<double>(v.size())))];
}

Project withLanes(Project p, const std::vector<std::pair<std::string, std::string>>& lanes) {
  Bench bench(std::move(p));
  for (const auto& [sign, steps] : lanes) bench.lane(sign, steps);
  return bench;
}

// Flips of pins, as a text.
std::string flips(int from, int to) {
  std::string out;
  for (int pin = from; pin <= to; ++pin) out += "flip d" + std::to_string(pin) + "\n";
  return out;
}

// The slowest of nine zooms, each the median of nine drawings, in milliseconds.
double slowestZoom(TraceView* view, const Trace& trace) {
  QImage image(view->size(), QImage::Format_ARGB32_Premultiplied);
  double slowest = 0;
  const Nanoseconds all = trace.end() - trace.begin();
  for (const double part : {1.0, 0.3, 0.1, 0.01, 1e-3, 1e-4, 1e-5, 1e-6, 1e-7}) {
    const auto wide = static_cast<Nanoseconds>(part * static_cast<double>(all));
    view->showStretch(std::max(trace.begin(), trace.end() - all / 3 - wide / 2), wide);
    std::vector<double> times;
    for (int i = 0; i < 9; ++i) times.push_back(milliseconds([&] { view->render(&image); }));
    slowest = std::max(slowest, share(times, 0.5));
  }
  return slowest;
}

void begin(MainWindow& window, Project project) {
  window.document().reset(std::move(project), {});
  window.setStation(Station::run);
  window.runControl().setByHand(true);
  window.togglePower();
}
void end(MainWindow& window) {
  window.togglePower();
  window.runControl().setByHand(false);
}

}  // namespace

// 200 parts and 400 wires, and twenty pins that change all the time.
void framesOfARun(MainWindow& window, Project large) {
  std::vector<std::pair<std::string, std::string>> lanes;
  for (int pin = 0; pin <= 13; ++pin)
    lanes.push_back(
        {"Every " + std::to_string(0.004 + 0.001 * pin), "flip d" + std::to_string(pin) + "\n"});
  for (int pin = 0; pin <= 5; ++pin)
    lanes.push_back(
        {"Every " + std::to_string(0.02 + 0.003 * pin), "flip a" + std::to_string(pin) + "\n"});
  begin(window, withLanes(std::move(large), lanes));
  RunControl& run = window.runControl();
  run.advanceBy(2);
  QApplication::processEvents();
  std::vector<double> frames;
  for (int i = 0; i < 90; ++i) {
    run.advanceBy(1.0 / 60);
    frames.push_back(milliseconds([] { QApplication::processEvents(); }));
  }
  std::printf(
      "a frame of the running window, 200 parts, 400 wires, %zu lines: %.2f of a 60 Hz "
      "frame, median (at most 1)\n",
      run.trace()->signals().size(), share(frames, 0.5) / frame);
  end(window);
}

// Ten million edges that nothing repeats.
void tenMillionEdges(MainWindow& window) {
  begin(window,
        withLanes(emptyProject(),
                  {{"Round and round", flips(2, 13) + "if random from 0 to 1 = 1\n  flip a0\n"}}));
  RunControl& run = window.runControl();
  while (run.trace()->storedEdges() < 10'000'000) run.advanceBy(0.5);
  const std::shared_ptr<const Trace> trace = run.trace();
  std::printf(
      "drawing %.1f million edges on %zu lines: %.2f of a 60 Hz frame at the slowest of "
      "nine zooms, median (at most 1)\n",
      static_cast<double>(trace->storedEdges()) * 1e-6, trace->signals().size(),
      slowestZoom(window.trace(), *trace) / frame);
  end(window);
}

// Six pins that are dimmed otherwise ten times a second, until the trace is full.
void manyStretches(MainWindow& window) {
  std::string steps;
  for (const char* percent : {"30", "60"}) {
    for (const char* pin : {"d3", "d5", "d6", "d9", "d10", "d11"})
      steps += std::string("set level of ") + pin + " to " + percent + " %\n";
    steps += "wait 0.1\n";
  }
  begin(window, withLanes(emptyProject(), {{"Round and round", steps}}));
  RunControl& run = window.runControl();
  while (run.trace()->begin() == 0) run.advanceBy(600);
  const std::shared_ptr<const Trace> trace = run.trace();
  std::printf(
      "drawing %.1f hours of dimmed pins, %zu stretches: %.2f of a 60 Hz frame at the slowest of "
      "nine zooms, median (at most 1)\n",
      inSeconds(trace->end() - trace->begin()) / 3600, trace->segments().size(),
      slowestZoom(window.trace(), *trace) / frame);
  end(window);
}

// How late the interface is with what is due each millisecond.
void latency(MainWindow& window) {
  RunControl& run = window.runControl();
  const auto measured = [&](const char* what, const Project& project, double speed) {
    window.document().reset(project, {});
    window.setStation(Station::run);
    run.setSpeed(speed);
    window.togglePower();
    std::vector<double> late;
    QElapsedTimer since;
    since.start();
    QTimer beat;
    beat.setTimerType(Qt::PreciseTimer);
    double due = 1;
    QObject::connect(&beat, &QTimer::timeout, [&] {
      const double now = static_cast<double>(since.nsecsElapsed()) * 1e-6;
      late.push_back(std::max(0.0, now - due));
      due = now + 1;
    });
    beat.start(1);
    int presses = 0;
    while (since.elapsed() < 4000) {
      QApplication::processEvents(QEventLoop::WaitForMoreEvents);
      if (since.elapsed() / 50 > presses) {
        ++presses;
        run.press(QStringLiteral("btn1"), presses % 2 == 1);
      }
    }
    beat.stop();
    std::printf(
        "the interface while %s: late by %.2f of 20 ms at the 99th percentile (at most 1), "
        "median %.3f; speed reached %.3g of %.3g\n",
        what, share(late, 0.99) / 20, share(late, 0.5) / 20, run.reachedSpeed(), speed);
    window.togglePower();
  };
  const auto opened = [](const char* name) { return readProject(demo(name)->text).project; };
  const Project bell = opened("ferry-call-bell");
  measured("a program spins without waits", withLanes(bell, {{"Round and round", "flip d3\n"}}), 1);
  measured(
      "nothing in it repeats",
      withLanes(bell, {{"Round and round", "flip d3\nif random from 0 to 1 = 1\n  flip d5\n"}}), 1);
  measured(
      "that runs at 100 times",
      withLanes(bell, {{"Round and round", "flip d3\nif random from 0 to 1 = 1\n  flip d5\n"}}),
      100);
  measured("a motor turns at 100 times", opened("ramp-winch"), 100);
  run.setSpeed(1);
}

// ---- a start

namespace {

long residentKilobytes() {
  std::ifstream in("/proc/self/status");
  std::string word;
  while (in >> word)
    if (word == "VmRSS:") {
      long kilobytes = 0;
      in >> kilobytes;
      return kilobytes;
    }
  return 0;
}

}  // namespace

// The whole window with a demo, shown and painted once, as the application makes it; `settles`: and
// left alone for a while.
int wholeWindow(int& argc, char** argv, bool settles) {
  QApplication app(argc, argv);
  QApplication::setStyle(QStringLiteral("Fusion"));
  loadFonts();
  setTheme(false);
  applyColours();
  MainWindow window;
  applyShapes();
  window.openDemo(QStringLiteral("landing-beacon"));
  window.resize(1280, 800);
  showPainted(window);
  if (settles) {
    QElapsedTimer since;
    since.start();
    while (since.elapsed() < 1500) QApplication::processEvents(QEventLoop::AllEvents, 50);
  }
  std::printf("%ld\n", residentKilobytes());
  std::fflush(stdout);
  _exit(0);
}

void starts(const char* self) {
  const QString here = QString::fromLocal8Bit(self);
  const QString bare = here.left(here.lastIndexOf('/') + 1) + QStringLiteral("ignavo-perf-bare");
  std::vector<double> times[2], memory[2];
  for (int i = 0; i < 21; ++i)
    for (const int whole : {0, 1}) {
      QProcess child;
      times[whole].push_back(milliseconds([&] {
        child.start(whole ? here : bare, whole ? QStringList{"whole"} : QStringList{});
        child.waitForFinished(60'000);
      }));
    }
  for (int i = 0; i < 5; ++i)
    for (const int whole : {0, 1}) {
      QProcess child;
      child.start(whole ? here : bare, whole ? QStringList{"whole", "settled"} : QStringList{});
      child.waitForFinished(60'000);
      memory[whole].push_back(child.readAllStandardOutput().trimmed().toDouble());
    }
  std::printf(
      "a start until the first frame with a demo: %.2f times an empty main window's (at "
      "most 2), %.0f ms\n",
      share(times[1], 0.5) / share(times[0], 0.5), share(times[1], 0.5));
  std::printf("memory with a demo open: %.2f times an empty main window's (at most 2), %.0f MB\n",
              share(memory[1], 0.5) / share(memory[0], 0.5), share(memory[1], 0.5) / 1024);
}

}  // namespace perf
