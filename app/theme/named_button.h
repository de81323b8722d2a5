#pragma once
#include <QBoxLayout>
#include <QPushButton>

namespace ignavo::app {

// A button with words on it, at the end of a row, and with a name by which it is found.
inline QPushButton* namedButton(QWidget* parent, QBoxLayout* row, const char* name,
                                const QString& words) {
  auto* button = new QPushButton(words, parent);
  button->setObjectName(QString::fromLatin1(name));
  row->addWidget(button);
  return button;
}

}  // namespace ignavo::app
