#pragma once
#include <QLabel>

#include "support/build.h"
#include "support/window.h"

namespace ignavo::test {

// The Program station in a test: a program is opened, and its steps are gone through by keys.
class ProgramByKeys : protected OpenedWindow {
 protected:
  app::ProgramView* program() { return window_->program()->view(); }
  const Steps& steps() { return doc().project().programs[0]->lanes[0]->steps; }
  std::string text() { return textOf(steps()); }
  void open(const std::string& steps) {
    doc().reset(beacon().program(steps), {});
    window_->setStation(app::Station::program);
    QApplication::processEvents();
    program()->setFocus();
  }
  void key(int k, Qt::KeyboardModifiers with = {}) {
    QTest::keyClick(program(), static_cast<Qt::Key>(k), with);
  }
  QString problem() {
    if (const QString asked = window_->findChild<app::TypingCard*>()->question(); !asked.isEmpty())
      return asked;
    auto* label = window_->findChild<QLabel*>("programProblem");
    return label->isVisible() ? label->text() : QString();
  }
  // The id of the first step with this phrase.
  QString idOf(const char* phrase) {
    QString id;
    forEachStep(steps(), [&](const Step& s) {
      if (id.isEmpty() && phraseOf(s) == phrase) id = QString::fromStdString(s.id);
    });
    return id;
  }
};

}  // namespace ignavo::test
