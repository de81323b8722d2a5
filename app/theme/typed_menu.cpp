#include "theme/typed_menu.h"

#include <QKeyEvent>

namespace ignavo::app {

void TypedMenu::keyPressEvent(QKeyEvent* e) {
  constexpr int pauseMilliseconds = 1500;
  const QString letter = e->text();
  const bool types = letter.size() == 1 && letter.front().isLetterOrNumber() &&
                     (e->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0;
  if (!types) {
    typed_.clear();
    return QMenu::keyPressEvent(e);
  }
  if (!since_.isValid() || since_.elapsed() > pauseMilliseconds) typed_.clear();
  since_.start();
  QAction* to = beginning(typed_ + letter);
  typed_ = to ? typed_ + letter : letter;  // it may be the beginning of another
  if (!to) to = beginning(letter);
  if (to) setActiveAction(to);
}

// A line whose first word is that, or at least begins so.
QAction* TypedMenu::beginning(const QString& typed) const {
  QAction* begins = nullptr;
  for (QAction* action : actions()) {
    const QString word = action->text().section(QLatin1Char(' '), 0, 0);
    if (!action->isEnabled()) continue;
    if (word.compare(typed, Qt::CaseInsensitive) == 0) return action;
    if (!begins && word.startsWith(typed, Qt::CaseInsensitive)) begins = action;
  }
  return begins;
}

}  // namespace ignavo::app
