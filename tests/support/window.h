#pragma once
#include <QApplication>
#include <QMouseEvent>
#include <QPrinter>
#include <QtTest>
#include <memory>

#include "theme/theme.h"
#include "window/main_window.h"

// The real window in a test: opened, active, its questions answered.
namespace ignavo::test {

// Answers every question as the test wants.
class Answers : public app::Dialogs {
 public:
  QString open, keep, printTo;
  Answer answer = Answer::discard;
  int asked = 0;
  bool mayOverwrite = false;
  QStringList overwriteAsked;  // "changed: " before those that somebody else changed
  QString openFile(QWidget*, const QString&, const QString&) override { return open; }
  QString saveFile(QWidget*, const QString&, const QString&, const QString&) override {
    return keep;
  }
  Answer unsaved(QWidget*, const QString&) override {
    ++asked;
    return answer;
  }
  bool overwrite(QWidget*, const QString& file, bool changed) override {
    overwriteAsked << (changed ? QStringLiteral("changed: ") : QString()) + file;
    return mayOverwrite;
  }
  QString named;
  QString name(QWidget*, const QString&, const QString& suggested) override {
    return named.isNull() ? suggested : named;
  }
  bool choosePrinter(QWidget*, QPrinter& printer) override {
    printer.setOutputFileName(printTo);
    return !printTo.isEmpty();
  }
};

inline void lookAsInDaylight() {
  QApplication::setStyle(QStringLiteral("Fusion"));
  app::setTheme(false);
  app::applyTheme();
}

// What follows from what was done is done: layouts, pages that are made anew, pages that go.
inline void settle() {
  for (int i = 0; i < 5; ++i) {
    QApplication::processEvents();
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  }
}

// 1280 × 800, waiting until it can take keys. Without a clock the run stands until the test moves
// it; with one it goes on as the clock does.
inline std::unique_ptr<app::MainWindow> openWindow(Answers& answers, app::Clock* clock = nullptr) {
  auto window = std::make_unique<app::MainWindow>(answers, clock ? *clock : app::machineClock());
  window->resize(1280, 800);
  if (!clock) window->runControl().setByHand(true);
  window->show();
  (void)QTest::qWaitForWindowExposed(window.get());
  // Without a window manager nobody else gives it the keys.
  window->activateWindow();
  (void)QTest::qWaitForWindowActive(window.get());
  QApplication::processEvents();
  window->bench()->fit();
  return window;
}

// The visible child of that name; of several the newest, for panes are made anew.
template <typename T>
T* visibleChild(QWidget* of, const char* name) {
  QApplication::processEvents();
  QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  const auto all = of->findChildren<T*>(QString::fromLatin1(name));
  for (auto it = all.rbegin(); it != all.rend(); ++it)
    if ((*it)->isVisible()) return *it;
  return nullptr;
}

// What a test of a pane works with: the window that is open, and what is in it.
class OpenedWindow {
 protected:
  app::Document& doc() { return window_->document(); }
  app::BenchView* bench() { return window_->bench(); }
  template <typename T>
  T* child(const std::string& name) {
    return visibleChild<T>(window_.get(), name.c_str());
  }

  Answers answers_;
  std::unique_ptr<app::MainWindow> window_;
};

inline void moveMouse(QWidget* on, QPoint to, Qt::MouseButtons buttons = Qt::LeftButton,
                      Qt::KeyboardModifiers modifiers = {}) {
  QMouseEvent e(QEvent::MouseMove, to, on->mapToGlobal(to), Qt::NoButton, buttons, modifiers);
  QApplication::sendEvent(on, &e);
}

inline void dragMouse(QWidget* on, QPoint from, QPoint to, Qt::MouseButton button = Qt::LeftButton,
                      Qt::KeyboardModifiers modifiers = {}) {
  QTest::mousePress(on, button, modifiers, from);
  for (int i = 1; i <= 6; ++i) moveMouse(on, from + (to - from) * i / 6, button, modifiers);
  QTest::mouseRelease(on, button, modifiers, to);
}

}  // namespace ignavo::test
