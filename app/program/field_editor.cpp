#include "program/field_editor.h"

#include <QKeyEvent>

#include "theme/theme.h"

namespace ignavo::app {

FieldEditor::FieldEditor(const QString& text, const QRectF& box, QWidget* parent)
    : QLineEdit(text, parent) {
  setFont(theme().mono(12.5));
  setStyleSheet(
      QStringLiteral("QLineEdit { padding: 0 4px; border: 2px solid %1; border-radius: 4px; "
                     "background: %2; font-family: 'JetBrains Mono'; font-size: 12.5px; }")
          .arg(theme().ink.name(), theme().card.name()));
  setGeometry(box.toRect());
  show();
  setFocus();
  selectAll();
}

bool FieldEditor::event(QEvent* e) {
  if (e->type() != QEvent::KeyPress) return QLineEdit::event(e);
  switch (static_cast<QKeyEvent*>(e)->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      Q_EMIT taken();
      return true;
    case Qt::Key_Escape:
      Q_EMIT given();
      return true;
    case Qt::Key_Tab:
      Q_EMIT next(1);
      return true;
    case Qt::Key_Backtab:
      Q_EMIT next(-1);
      return true;
    case Qt::Key_Up:
      Q_EMIT stepped(1);
      return true;
    case Qt::Key_Down:
      Q_EMIT stepped(-1);
      return true;
    default:
      return QLineEdit::event(e);
  }
}

void FieldEditor::focusOutEvent(QFocusEvent* e) {
  QLineEdit::focusOutEvent(e);
  if (e->reason() != Qt::PopupFocusReason) Q_EMIT left();
}

void FieldEditor::wheelEvent(QWheelEvent* e) {
  Q_EMIT stepped(e->angleDelta().y() > 0 ? 1 : -1);
  e->accept();
}

}  // namespace ignavo::app
