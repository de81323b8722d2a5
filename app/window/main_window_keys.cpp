#include <QAbstractSpinBox>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>

#include "program/said.h"
#include "theme/text.h"
#include "window/main_window.h"

// Keys of the computer that go to the boards' programs, and that press buttons on the bench.
namespace ignavo::app {

namespace {
// The name of a key that programs can listen to; empty: it is none.
QString keyName(const QKeyEvent& e) {
  if (e.modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)) return {};
  switch (e.key()) {
    case Qt::Key_Space:
      return QStringLiteral("space");
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return QStringLiteral("return");
    case Qt::Key_Left:
      return QStringLiteral("left");
    case Qt::Key_Right:
      return QStringLiteral("right");
    case Qt::Key_Up:
      return QStringLiteral("up");
    case Qt::Key_Down:
      return QStringLiteral("down");
    default:
      break;
  }
  const bool letter = e.key() >= Qt::Key_A && e.key() <= Qt::Key_Z;
  const bool digit = e.key() >= Qt::Key_0 && e.key() <= Qt::Key_9;
  return letter || digit ? QString(QChar(e.key())).toLower() : QString();
}
}  // namespace

// At the Run station keys that a program listens to go to it, but for while something is typed.
// Those that went to it are let go wherever the focus is by then.
bool MainWindow::keyToProgram(const QKeyEvent& e) {
  const QString name = keyName(e);
  if (name.isEmpty()) return false;
  if (e.type() == QEvent::KeyRelease) {
    if (!keysHeld_.contains(name)) return false;
    if (e.isAutoRepeat()) return true;
    keysHeld_.remove(name);
    strike(name, false);
    return true;
  }
  if (station_ != Station::run || !run_.isOn()) return false;
  const QWidget* focus = focusWidget();
  if (qobject_cast<const QLineEdit*>(focus) || qobject_cast<const QAbstractSpinBox*>(focus) ||
      qobject_cast<const QComboBox*>(focus))
    return false;
  bool listened = false;
  for (const auto& program : doc_.project().programs)
    for (const std::string& key : keysOf(*program)) listened = listened || str(key) == name;
  for (const KeyTie& tie : doc_.project().keys) listened = listened || str(tie.key) == name;
  if (!listened) return false;
  if (e.type() == QEvent::KeyPress && !e.isAutoRepeat()) {
    keysHeld_.insert(name);
    strike(name, true);
  }
  return true;
}

// For the programs, and for the buttons that are tied to it.
void MainWindow::strike(const QString& key, bool down) {
  for (const KeyTie& tie : doc_.project().keys)
    if (str(tie.key) == key) run_.press(str(tie.part), down);
  run_.key(key, down);
}

// The window is left, or its Run station: nobody would tell when they come up.
void MainWindow::letKeysGo() {
  for (const QString& name : std::exchange(keysHeld_, {})) strike(name, false);
}

}  // namespace ignavo::app
