#pragma once
#include <QObject>
#include <QString>
#include <QStringList>
#include <QThreadPool>
#include <atomic>
#include <memory>
#include <optional>
#include <vector>

#include "document/clock.h"
#include "document/document.h"

class QLockFile;

namespace ignavo::app {

// Unsaved work of one window, kept on disk within a second of each edit: a journal per window,
// named by the process and held by a lock that dies with it. It is written beside the interface
// and goes once the work is saved or given up. Journals whose window is gone are offered, one at
// a time; whoever is offered one holds it, so that two windows never take the same.
class Recovery : public QObject {
  Q_OBJECT
 public:
  Recovery(Document& document, const QString& folder, Clock& clock, QObject* parent = nullptr);
  ~Recovery() override;

  // Work that a window left behind.
  struct Left {
    QString journal;
    QString title;
    QString origin;   // file that it was opened from or saved to; empty: none
    QString problem;  // why it cannot be read, or what of it; then the journal is kept
    std::shared_ptr<const Project> project;  // null when nothing can be read
  };
  std::optional<Left> next();
  // The work is on the screen: its journal goes once that of this window holds it.
  void taken();
  // It is not wanted: the journal goes.
  void thrownAway();
  // Not now, or it cannot be read: the journal stays for another start.
  void put();

  // The user leaves without saving: nothing is kept.
  void giveUp();
  QString journal() const { return journal_; }
  // A write to the disk has begun and is not done.
  bool isWriting() const { return writing_; }

 private:
  void note();
  void write();
  void written(bool good);
  void removeOwn();
  void removeSucceeded();

  Document& doc_;
  QString folder_, journal_;
  std::unique_ptr<QLockFile> own_, offered_;
  QString offeredJournal_;
  QStringList seen_;  // journals that were offered already
  // They go when this window's own journal holds the work, and stay locked until then.
  struct Succeeded {
    QString journal;
    std::unique_ptr<QLockFile> lock;
  };
  std::vector<Succeeded> succeeded_;
  Clock& clock_;
  bool due_ = false;     // an edit waits to be kept
  quint64 waiting_ = 0;  // counts those
  QThreadPool writer_;
  bool writing_ = false, again_ = false, closed_ = false;
};

}  // namespace ignavo::app
