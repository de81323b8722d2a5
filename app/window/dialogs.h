#pragma once
#include <QString>

class QPrinter;
class QWidget;

namespace ignavo::app {

// Questions to the user, behind an interface so that tests can answer them.
class Dialogs {
 public:
  virtual ~Dialogs() = default;
  virtual QString openFile(QWidget* parent, const QString& title, const QString& filter) = 0;
  virtual QString saveFile(QWidget* parent, const QString& title, const QString& suggested,
                           const QString& filter) = 0;
  enum class Answer { save, discard, cancel };
  virtual Answer unsaved(QWidget* parent, const QString& title) = 0;
  // May that file be written over? `changed`: somebody else changed it since it was opened.
  virtual bool overwrite(QWidget* parent, const QString& file, bool changed) = 0;
  // A name for something; empty: none, after all.
  virtual QString name(QWidget* parent, const QString& title, const QString& suggested) = 0;
  virtual bool choosePrinter(QWidget* parent, QPrinter& printer) = 0;
};

// The ordinary ones of the desktop.
Dialogs& desktopDialogs();

}  // namespace ignavo::app
