#include "document/recovery.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QPointer>

#include "format/files.h"
#include "format/project_file.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {

constexpr int patienceMs = 250;  // edits that follow each other closely are written once
const QString ending = QStringLiteral(".ignavo");

QString lockOf(const QString& journal) { return journal + QStringLiteral(".lock"); }
QString originOf(const QString& journal) { return journal + QStringLiteral(".origin"); }

std::unique_ptr<QLockFile> lockedFor(const QString& journal) {
  auto lock = std::make_unique<QLockFile>(lockOf(journal));
  lock->setStaleLockTime(0);  // however long a window is open; one that is gone gives it up
  return lock->tryLock(0) ? std::move(lock) : nullptr;
}

void removeJournal(const QString& journal) {
  QFile::remove(journal);
  QFile::remove(originOf(journal));
}

}  // namespace

Recovery::Recovery(Document& document, const QString& folder, Clock& clock, QObject* parent)
    : QObject(parent), doc_(document), folder_(folder), clock_(clock) {
  QDir().mkpath(folder);
  // Only the owner looks into it.
  QFile::setPermissions(folder, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
  for (int n = 1; !own_ && n < 1000; ++n) {
    journal_ = QDir(folder).filePath(
        QStringLiteral("%1-%2").arg(QCoreApplication::applicationPid()).arg(n) + ending);
    // A journal of an earlier process of that number is somebody's work.
    if (!QFile::exists(journal_)) own_ = lockedFor(journal_);
  }
  if (!own_) journal_.clear();
  writer_.setMaxThreadCount(1);
  connect(&doc_, &Document::changed, this, &Recovery::note);
}

Recovery::~Recovery() {
  writer_.waitForDone();
  if (own_ && !QFile::exists(journal_)) QFile::remove(originOf(journal_));
}

// The clock does not begin again with each edit: the first one that is not kept yet counts.
void Recovery::note() {
  if (journal_.isEmpty() || closed_) return;
  if (doc_.isSaved()) {
    due_ = false;
    again_ = false;
    if (!writing_) removeOwn();
  } else if (!std::exchange(due_, true)) {
    clock_.later(this, patienceMs, [this, which = ++waiting_] {
      if (which == waiting_ && std::exchange(due_, false)) write();
    });
  }
}

void Recovery::write() {
  if (writing_) {
    again_ = true;
    return;
  }
  writing_ = true;
  QPointer<Recovery> self(this);
  writer_.start([self, project = doc_.shared(), journal = journal_, origin = doc_.path()] {
    const bool good = !saveProjectFile(*project, journal.toStdString()) &&
                      !replaceFile(originOf(journal).toStdString(), origin.toStdString());
    QMetaObject::invokeMethod(
        qApp,
        [self, good] {
          if (self) self->written(good);
        },
        Qt::QueuedConnection);
  });
}

void Recovery::written(bool good) {
  writing_ = false;
  if (closed_ || doc_.isSaved()) {
    removeOwn();
  } else if (good) {
    removeSucceeded();
  }
  if (std::exchange(again_, false)) write();
}

void Recovery::removeSucceeded() {
  for (const Succeeded& s : succeeded_) removeJournal(s.journal);
  succeeded_.clear();
}

void Recovery::removeOwn() {
  if (!journal_.isEmpty()) removeJournal(journal_);
}

void Recovery::giveUp() {
  closed_ = true;
  due_ = false;
  again_ = false;
  writer_.waitForDone();
  removeOwn();
  removeSucceeded();
}

std::optional<Recovery::Left> Recovery::next() {
  offered_.reset();
  const QDir folder(folder_);
  for (const QString& name :
       folder.entryList({QLatin1Char('*') + ending}, QDir::Files, QDir::Name)) {
    const QString journal = folder.filePath(name);
    if (journal == journal_ || seen_.contains(journal)) continue;
    offered_ = lockedFor(journal);
    if (!offered_) continue;  // its window is open, or another one is being asked about it
    if (!QFile::exists(journal)) {
      offered_.reset();
      continue;
    }
    seen_ << journal;
    offeredJournal_ = journal;
    Left left;
    left.journal = journal;
    const ReadResult read = readProjectFile(journal.toStdString());
    if (!read.problems.empty()) left.problem = str(sentence(read.problems.front()));
    if (read.readable) {
      left.project = std::make_shared<const Project>(read.project);
      left.title = QString::fromStdString(read.project.title);
    }
    left.origin =
        QString::fromStdString(readTextFile(originOf(journal).toStdString(), 1 << 16).text);
    return left;
  }
  return std::nullopt;
}

void Recovery::taken() {
  if (!offered_) return;
  succeeded_.push_back({offeredJournal_, std::move(offered_)});
  if (doc_.isSaved()) removeSucceeded();  // it is what the file holds already
}

void Recovery::thrownAway() {
  removeJournal(offeredJournal_);
  offered_.reset();
}

void Recovery::put() { offered_.reset(); }

}  // namespace ignavo::app
