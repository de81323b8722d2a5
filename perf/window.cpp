// What the window must do within a frame, measured on a large bench: dragging
// a part with its nets, undo, and opening a project against parsing its JSON.
#include <QApplication>
#include <QMouseEvent>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <ctime>
#include <nlohmann/json.hpp>
#include <string_view>
#include <tuple>

#include "bench/breadboards.h"
#include "bench/wiring.h"
#include "format/project_file.h"
#include "live.h"
#include "program/steps.h"
#include "project/edits.h"
#include "theme/theme.h"
#include "window/main_window.h"

using namespace ignavo;
using namespace ignavo::app;

namespace {

using Clock = std::chrono::steady_clock;

template <typename What>
double milliseconds(What what) {
  const auto begin = Clock::now();
  what();
  return std::chrono::duration<double, std::milli>(Clock::now() - begin).count();
}

// Of the interface's thread alone: what others do meanwhile on a machine that is not ours is not
// in it.
double ownMilliseconds() {
  timespec now{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
}

double median(std::vector<double> v) {
  std::sort(v.begin(), v.end());
  return v[v.size() / 2];
}

// 200 parts and 400 wires on three full breadboards.
Project largeBench() {
  Project p = emptyProject();
  p.breadboards.clear();
  for (int i = 0; i < 3; ++i)
    p.breadboards.push_back({"bb" + std::to_string(i + 1), "full", {14.0 + 26 * i, 2}, {}});
  int made = 0;
  for (const int odd : {1, 0})
    for (const BreadboardItem& bb : p.breadboards)
      for (int row = 1; row <= 61 && made < 200; ++row)
        for (const char* side : {"b", "h"}) {
          if (made >= 200 || row % 2 != odd) continue;
          const bool lamp = row % 4 == 1;
          Part part = newPart(p, *catalogue().partKind(lamp ? "led" : "resistor"));
          part.legs[0].in = Socket{bb.id, side + std::to_string(row)};
          part.legs[1].in = Socket{bb.id, side + std::to_string(row + 2)};
          if (!canWire(p, catalogue(), *part.legs[0].in).clear() ||
              !canWire(p, catalogue(), *part.legs[1].in).clear()) {
            part.legs[0].in->point[0] = side[0] == 'b' ? 'c' : 'i';
            part.legs[1].in->point[0] = part.legs[0].in->point[0];
          }
          p = edits::addPart(std::move(p), std::move(part));
          ++made;
        }
  int wires = 0;
  for (int k = 0; wires < 400; ++k) {
    const BreadboardItem& bb = p.breadboards[static_cast<std::size_t>(k % 3)];
    static const char* from[] = {"a", "d", "e", "f", "j", "g"};
    const int row = 1 + (k / 3) % 63, column = (k / 190) % 6;
    const Socket a{bb.id, from[column] + std::to_string(row)};
    const Socket b{bb.id, (column < 3 ? "ln" : "rn") + std::to_string(1 + (k / 3) % 50)};
    const Socket c{bb.id, (column < 3 ? "lp" : "rp") + std::to_string(1 + (k / 3) % 50)};
    Wire w;
    w.id = freeId(p, "w");
    w.from = a;
    w.to = canWire(p, catalogue(), b).clear() ? b : c;
    if (!canWire(p, catalogue(), w.to).clear())
      w.to = Socket{bb.id, from[(column + 1) % 6] + std::to_string((row + 7) % 63 + 1)};
    if (!canWire(p, catalogue(), w.from).clear() || !canWire(p, catalogue(), w.to).clear()) {
      if (k > 6000) break;
      continue;
    }
    p = edits::addWire(std::move(p), std::move(w));
    ++wires;
  }
  return p;
}

// Lanes with so many steps each.
Project longProgram(int lanes, int steps) {
  Project p = emptyProject();
  std::vector<Cow<Lane>> all;
  for (int l = 0; l < lanes; ++l) {
    Lane lane;
    lane.trigger.on = "always";
    for (int i = 0; i < steps; ++i) {
      Step s = newStep(*stepKind("set"));
      s.setField("pin", Expr::of("D" + std::to_string(2 + (i + l) % 12)));
      lane.steps.push_back(std::move(s));
    }
    all.emplace_back(std::move(lane));
  }
  p.programs[0].edit().lanes = std::move(all);
  return edits::assignIds(std::move(p));
}

// Editing and opening long programs in the Program station.
void ofPrograms(MainWindow& window) {
  window.setStation(Station::program);
  // A number in a program of 1,000 steps is typed over: letter after letter, until all is painted.
  const Project thousand = longProgram(1, 1000);
  window.document().reset(thousand, {});
  QApplication::processEvents();
  ProgramView* view = window.program()->view();
  QImage pane(window.program()->size(), QImage::Format_ARGB32_Premultiplied);
  const std::string step = thousand.programs[0]->lanes[0]->steps[500].id;
  const auto painted = [&] { window.program()->render(&pane); };
  std::vector<double> keys, fields, texts, own;
  window.document().selectStep(QString::fromStdString(step));
  const auto edited = [&](int i) {
    Step held = *window.document().project().step(step);
    held.setField("pin", Expr::of("D" + std::to_string(2 + i % 12)));
    window.document().edit(
        QStringLiteral("pin"),
        edits::changeStep(window.document().project(), step, [&](Step& s) { s = held; }),
        QStringLiteral("field"));
  };
  for (int i = 0; i < 40; ++i) {
    const double before = ownMilliseconds();
    fields.push_back(milliseconds([&] {
      edited(i);
      QApplication::processEvents();  // what is painted anew by it
    }));
    own.push_back(ownMilliseconds() - before);
    window.document().finishCheck();  // as between two keystrokes of a person
    QApplication::processEvents();
  }
  std::printf(
      "an edit in 1,000 steps until it is painted: %.2f of a 60 Hz frame, median (at most 1); the "
      "thread's own time %.2f\n",
      median(fields) / (1000.0 / 60), median(own) / (1000.0 / 60));
  QLineEdit* box = view->endBox(thousand.programs[0]->lanes[0]->id);
  box->setFocus();
  for (int i = 0; i < 40; ++i) {
    if (i % 12 == 0) box->clear();
    const QString letter = QStringLiteral("set d4 high ")[i % 12];
    keys.push_back(milliseconds([&] {
      QKeyEvent press(QEvent::KeyPress, Qt::Key_A, {}, letter);
      QApplication::sendEvent(box, &press);
      QApplication::processEvents();
    }));
  }
  std::printf(
      "a letter typed under 1,000 steps until it is painted: %.2f of a 60 Hz frame, median "
      "(at most 1)\n",
      median(keys) / (1000.0 / 60));
  window.program()->setTextBeside(true);
  for (int i = 0; i < 20; ++i) {
    edited(i);
    texts.push_back(milliseconds([&] { QApplication::processEvents(); }));
    window.document().finishCheck();
    QApplication::processEvents();
  }
  std::printf("the text of 1,000 steps follows: %.2f of 50 ms, median (at most 1)\n",
              median(texts) / 50);

  // Opening 10,000 steps, beside opening their circuit alone.
  const std::string many = writeProject(longProgram(10, 1000)),
                    none = writeProject(longProgram(1, 1));
  window.program()->setTextBeside(false);
  std::vector<double> full, bare;
  for (int i = 0; i < 5; ++i) {
    const auto opened = [&](const std::string& file) {
      return milliseconds([&] {
        window.document().reset(readProject(file).project, {});
        QApplication::processEvents();
        painted();
      });
    };
    bare.push_back(opened(none));
    full.push_back(opened(many));
  }
  std::printf(
      "opening 10,000 steps: %.2f of 300 ms beyond their circuit alone, median (at most 1)\n",
      (median(full) - median(bare)) / 300);
}

}  // namespace

int main(int argc, char** argv) {
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  if (argc > 1 && std::string_view(argv[1]) == "whole")
    return perf::wholeWindow(argc, argv, argc > 2);
  QApplication app(argc, argv);
  QApplication::setStyle(QStringLiteral("Fusion"));
  loadFonts();
  setTheme(false);
  applyTheme();
  if (argc > 1 && std::string_view(argv[1]) == "programs") {
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    ofPrograms(window);
    return 0;
  }
  if (argc > 1 && std::string_view(argv[1]) == "run") {
    const std::string_view only = argc > 2 ? argv[2] : "";
    const auto asked = [&](std::string_view what) { return only.empty() || only == what; };
    if (asked("start")) perf::starts(argv[0]);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (asked("frames")) perf::framesOfARun(window, largeBench());
    if (asked("edges")) perf::tenMillionEdges(window);
    if (asked("stretches")) perf::manyStretches(window);
    if (asked("latency")) perf::latency(window);
    return 0;
  }
  const Project project = largeBench();
  std::printf("%zu parts, %zu wires, %zu breadboards\n", project.parts->size(),
              project.wires->size(), project.breadboards.size());

  const std::string text = writeProject(project);
  std::vector<double> open, parse;
  for (int i = 0; i < 15; ++i) {
    parse.push_back(milliseconds([&] { (void)nlohmann::json::parse(text).size(); }));
    open.push_back(milliseconds([&] { (void)readProject(text); }));
  }
  std::printf("reading the project: %.2f times the parsing of its JSON (at most 3)\n",
              median(open) / median(parse));

  MainWindow window;
  window.resize(1280, 800);
  window.show();
  window.document().reset(project, {});
  window.bench()->fit();
  QApplication::processEvents();
  window.document().finishCheck();
  BenchView* bench = window.bench();
  const auto mouse = [&](QEvent::Type type, QPointF at) {
    QMouseEvent e(type, at, bench->mapToGlobal(at),
                  type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, Qt::LeftButton, {});
    QApplication::sendEvent(bench, &e);
  };
  // One frame: the pointer moves, nets are worked out, the bench is painted.
  const std::string id = (*project.parts)[40]->id;
  const QPointF from = bench->screenOfPart(id).center();
  QImage image(bench->size(), QImage::Format_ARGB32_Premultiplied);
  std::vector<double> frames;
  mouse(QEvent::MouseButtonPress, from);
  for (int i = 0; i < 120; ++i) {
    const QPointF to = from + QPointF(8 + i % 40, 10 + (i * 3) % 90);
    frames.push_back(milliseconds([&] {
      mouse(QEvent::MouseMove, to);
      bench->render(&image);
    }));
  }
  mouse(QEvent::MouseButtonRelease, from);
  std::printf("a frame of dragging a part: %.2f of a 60 Hz frame, median (at most 1)\n",
              median(frames) / (1000.0 / 60));

  std::vector<double> undo;
  History history(project);
  for (int i = 0; i < 50; ++i)
    history.push("move", moved(history.now(), catalogue(),
                               {(*project.parts)[static_cast<std::size_t>(i * 3)]->id}, {40, 0})
                             .project);
  while (history.canUndo()) undo.push_back(milliseconds([&] { history.undo(); }));
  std::printf("undo of an edit alone: %.4f of 5 ms, median (at most 1)\n", median(undo) / 5);
  // In the window: nets, colours and bench made anew; the inspector follows after the frame.
  undo.clear();
  for (int i = 0; i < 20; ++i) {
    window.document().edit(QStringLiteral("turn"),
                           edits::changePart(window.document().project(), id, [&](Part& q) {
                             q.setProp("colour", std::string(i % 2 ? "green" : "blue"));
                           }));
    QApplication::processEvents();
    undo.push_back(milliseconds([&] { window.document().undo(); }));
    QApplication::processEvents();
  }
  std::printf("undo in the window until it can be drawn: %.2f of 5 ms, median (at most 1)\n",
              median(undo) / 5);

  // How the time to show a program grows with its length: 2 is as it should be, 4 quadratic.
  window.setStation(Station::program);
  const auto shown = [&](const Project& p) {
    return milliseconds([&] {
      window.document().reset(p, {});
      QApplication::processEvents();
    });
  };
  for (const auto& [words, lanes, steps] :
       {std::tuple{"200 lanes of 50 steps", 200, 50}, {"10,000 steps in one lane", 1, 10000}}) {
    const Project whole = longProgram(lanes, steps),
                  half = lanes > 1 ? longProgram(lanes / 2, steps) : longProgram(1, steps / 2);
    std::vector<double> ratios, seconds;
    for (int i = 0; i < 5; ++i) {
      const double before = shown(half), large = shown(whole), after = shown(half);
      ratios.push_back(2 * large / (before + after));
      seconds.push_back(large / 1000);
    }
    std::printf("showing %s: %.2f times half of it (at most 3), %.2f s\n", words, median(ratios),
                median(seconds));
  }

  ofPrograms(window);
  return 0;
}
