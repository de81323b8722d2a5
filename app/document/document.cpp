#include "document/document.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QPointer>
#include <algorithm>

#include "document/workers.h"
#include "format/sound.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
struct Asked {
  std::shared_ptr<std::atomic<quint64>> wanted;
  quint64 generation;
};
// The first with a program; else the first.
std::string firstBoard(const Project& project) {
  for (const auto& program : project.programs)
    if (project.board(program->board)) return program->board;
  return project.boards.empty() ? std::string() : project.boards.front().id;
}
bool outdated(void* asked) {
  const auto* a = static_cast<Asked*>(asked);
  return a->wanted->load() != a->generation;
}
}  // namespace

Document::Document(QObject* parent)
    : QObject(parent), wanted_(std::make_shared<std::atomic<quint64>>(0)) {
  reset(emptyProject(), {});
}

Document::~Document() {
  wanted_->store(~quint64(0));
  workers().waitForDone();
}

void Document::derive() {
  shared_ = std::make_shared<const Project>(history_.now());
  nets_ = Nets(*shared_, catalogue());
  identities_ = Identities(*shared_, nets_, catalogue());
  QStringList still;
  for (const QString& id : selection_)
    if (shared_->hasId(id.toStdString())) still << id;
  const bool selectionGone = still != selection_;
  selection_ = still;
  if (!step_.isEmpty() && !shared_->lane(step_.toStdString()) &&
      !shared_->step(step_.toStdString()))
    step_.clear();
  const bool boardGone = !shared_->board(board_);
  if (boardGone) board_ = firstBoard(*shared_);
  ++generation_;
  mendWanted_.reset();
  startCheck();
  Q_EMIT changed();
  if (selectionGone) Q_EMIT selectionChanged();
  if (boardGone) Q_EMIT boardChosen();
}

void Document::chooseBoard(const std::string& id) {
  if (id == board_ || !project().board(id)) return;
  board_ = id;
  Q_EMIT boardChosen();
}

void Document::startCheck() {
  wanted_->store(generation_);
  QPointer<Document> self(this);
  workers().start([self, project = shared_, wanted = wanted_, generation = generation_,
                   sizes = sizes_] {
    Asked asked{wanted, generation};
    auto result = std::make_shared<CheckResult>(ignavo::check(*project, outdated, &asked, sizes));
    if (outdated(&asked)) return;
    QMetaObject::invokeMethod(
        qApp,
        [self, result, generation] {
          if (!self || generation != self->generation_) return;
          self->check_ = std::move(*result);
          self->checkedGeneration_ = generation;
          Q_EMIT self->checked();
          self->makeMend();
        },
        Qt::QueuedConnection);
  });
}

void Document::setProgramSize(const std::string& board, ProgramSize size) {
  ProgramSize& held = sizes_[board];
  if (std::exchange(held, size) == size) return;
  ++generation_;
  startCheck();
}

void Document::finishCheck() {
  QElapsedTimer timer;
  timer.start();
  while (!checkIsCurrent() && timer.elapsed() < 20000) {
    workers().waitForDone(50);
    QCoreApplication::processEvents();
  }
}

Document::Mend Document::mendOf(const Finding& finding, const Remedy& remedy) {
  return {identityOf(finding), remedy.title};
}

void Document::mend(std::size_t finding, std::size_t remedy) {
  if (finding >= check_.findings.size() || remedy >= check_.findings[finding].remedies.size())
    return;
  mendWanted_ = mendOf(check_.findings[finding], check_.findings[finding].remedies[remedy]);
  makeMend();
}

void Document::makeMend() {
  if (!mendWanted_ || !checkIsCurrent()) return;
  const Mend wanted = *mendWanted_;
  mendWanted_.reset();
  for (const Finding& f : check_.findings)
    for (const Remedy& r : f.remedies)
      if (mendOf(f, r) == wanted) {
        edit(QStringLiteral("“%1”").arg(str(r.title)), Project(r.after));
        return;
      }
}

bool Document::hasSteps() const {
  const auto& all = project().programs;
  return std::any_of(all.begin(), all.end(), [](const auto& p) { return p->hasSteps(); });
}

QString Document::pinLabel(const std::string& board, const std::string& pin) const {
  return QString::fromStdString(ignavo::pinLabel(project(), nets_, board, pin));
}

bool Document::edit(const QString& name, Project next, const QString& mergeKey) {
  if (const auto bad = unsound(next, project())) {
    Q_EMIT refused(str(sentence(*bad)));
    return false;
  }
  if (!history_.push(name.toStdString(), std::move(next), mergeKey.toStdString())) return false;
  derive();
  return true;
}

void Document::undo() {
  if (history_.undo()) derive();
}
void Document::redo() {
  if (history_.redo()) derive();
}

void Document::reset(Project project, const QString& path, std::optional<FileStamp> stamp) {
  history_.reset(std::move(project));
  path_ = path;
  stamp_ = stamp;
  selection_.clear();
  step_.clear();
  board_.clear();
  sizes_.clear();  // it was not compiled yet
  derive();
  Q_EMIT selectionChanged();
}

std::optional<FileProblem> Document::save(const QString& path, bool overOthers) {
  FileStamp kept;
  const auto seen = path == path_ && !overOthers ? stamp_ : std::nullopt;
  if (auto problem = saveProjectFile(project(), path.toStdString(), seen, &kept)) return problem;
  path_ = path;
  stamp_ = kept;
  history_.markSaved();
  Q_EMIT changed();
  return std::nullopt;
}

void Document::select(const QStringList& ids) {
  if (ids == selection_) return;
  selection_ = ids;
  if (ids.size() == 1) chooseBoard(ids.front().toStdString());
  Q_EMIT selectionChanged();
}

void Document::selectStep(const QString& id) {
  if (id == step_) return;
  step_ = id;
  const std::string wanted = id.toStdString();
  for (const auto& program : project().programs) {
    bool holds = false;
    for (const auto& lane : program->lanes) {
      holds = holds || lane->id == wanted;
      forEachStep(lane->steps, [&](const Step& s) { holds = holds || s.id == wanted; });
    }
    if (holds) chooseBoard(program->board);
  }
  Q_EMIT stepSelected();
}

}  // namespace ignavo::app
