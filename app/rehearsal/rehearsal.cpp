#include "rehearsal/rehearsal.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <cstdio>

#include "theme/text.h"
#include "window/main_window.h"

namespace ignavo::app {

namespace {

class Rehearsal {
 public:
  explicit Rehearsal(MainWindow& window) : w_(window) {
    w_.runControl().setByHand(true);
    w_.show();
    QApplication::processEvents();
  }

  int run(const QString& picture) {
    beacon();
    bell(picture);
    std::printf("%s\n", failed_ ? "Something was not as it should be." : "All as it should be.");
    return failed_;
  }

 private:
  void say(const QString& text) { std::printf("%s\n", qPrintable(text)); }
  void expect(bool good, const QString& text) {
    say((good ? QStringLiteral("  ✓ ") : QStringLiteral("  ✗ ")) + text);
    if (!good) failed_ = 1;
  }
  void mouse(QEvent::Type type, QPoint at) {
    QWidget* bench = w_.bench();
    QMouseEvent e(type, at, bench->mapToGlobal(at), Qt::LeftButton,
                  type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, {});
    QApplication::sendEvent(bench, &e);
  }
  void click(QPoint at) {
    mouse(QEvent::MouseButtonPress, at);
    mouse(QEvent::MouseButtonRelease, at);
  }
  void key(int code) {
    for (const auto type : {QEvent::KeyPress, QEvent::KeyRelease}) {
      QKeyEvent e(type, code, {});
      QApplication::sendEvent(w_.bench(), &e);
    }
  }
  QPoint middleOf(const char* part) { return w_.bench()->screenOfPart(part).center().toPoint(); }
  double light(const char* id) {
    const auto shown = w_.runControl().shown();
    if (!shown) return 0;
    for (std::size_t i = 0; i < shown->project->parts->size(); ++i)
      if ((*shown->project->parts)[i]->id == id) return shown->light[i];
    return 0;
  }
  // Lets time pass in frames and counts how often the lamp came on.
  int pass(double seconds, const char* lamp) {
    int flashes = 0;
    bool lit = light(lamp) > litLight;
    for (double t = 0; t < seconds; t += 0.02) {
      w_.runControl().advanceBy(0.02);
      const bool now = light(lamp) > litLight;
      flashes += now && !lit ? 1 : 0;
      lit = now;
    }
    return flashes;
  }

  void beacon() {
    w_.openDemo(QStringLiteral("landing-beacon"));
    w_.setStation(Station::run);
    say(QStringLiteral("Landing beacon: a red lamp with 220 Ω on pin D4."));
    w_.togglePower();
    const int flashes = pass(4, "led1");
    expect(flashes == 4,
           QStringLiteral("Power on: in four seconds the lamp flashed %1 times.").arg(flashes));
    click(middleOf("led1"));
    key(Qt::Key_F);
    const int after = pass(3, "led1");
    w_.document().finishCheck();
    const auto& findings = w_.document().check().findings;
    expect(after == 0 && findings.size() == 1,
           QStringLiteral("Turned round it stays dark. The check says: %1.")
               .arg(findings.empty() ? QStringLiteral("nothing") : str(findings[0].title)));
    key(Qt::Key_F);
    const int again = pass(3, "led1");
    expect(again >= 2,
           QStringLiteral("Turned back, it flashed %1 times in three seconds.").arg(again));
    w_.togglePower();
  }

  void bell(const QString& picture) {
    w_.openDemo(QStringLiteral("ferry-call-bell"));
    w_.setStation(Station::run);
    w_.bench()->fit();
    say(QStringLiteral(
        "Ferry call bell: a button with pull-down on D2, a lamp on D3, a bell on D5."));
    w_.togglePower();
    pass(0.5, "led1");
    expect(light("led1") < litLight, QStringLiteral("Button up: the lamp is dark."));
    mouse(QEvent::MouseButtonPress, middleOf("btn1"));
    pass(0.2, "led1");
    expect(light("led1") > 0.5,
           QStringLiteral("Button pressed: while the bell rings, the lamp is lit."));
    w_.document().finishCheck();
    QApplication::processEvents();
    expect(w_.grab().save(picture),
           QStringLiteral("A picture of this moment is in %1.").arg(picture));
    mouse(QEvent::MouseButtonRelease, middleOf("btn1"));
    pass(1, "led1");
    expect(light("led1") < litLight, QStringLiteral("It has rung: dark again."));
    w_.togglePower();
  }

  MainWindow& w_;
  int failed_ = 0;
};

}  // namespace

int rehearse(MainWindow& window, const QString& picture) { return Rehearsal(window).run(picture); }

}  // namespace ignavo::app
