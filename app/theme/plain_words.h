#pragma once
#include <QObject>
#include <QString>
#include <string>

#include "text/plain.h"

namespace ignavo::app {

// Texts of a project come from anywhere. Installed on the application, every label shows them
// letter by letter, never as markup, and so does every tip of a widget that does not say with its
// property "markup" that its tip is written here.
void showWordsPlainly();

// For the words on a button, in a menu or a tab: an & is an & and underlines nothing.
inline QString literal(QString words) {
  return words.replace(QLatin1Char('&'), QLatin1String("&&"));
}

// What was typed or pasted into a field of one line, as a project keeps it.
inline std::string typedWords(const QString& typed) {
  return plainLine(typed.trimmed().toStdString());
}

}  // namespace ignavo::app
