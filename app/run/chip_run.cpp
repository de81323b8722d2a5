#include "run/chip_run.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QPointer>
#include <algorithm>

#include "document/workers.h"
#include "make/c_text.h"
#include "make/chip_program.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
constexpr int looksEveryMs = 250;
constexpr Nanoseconds worthIt = 400'000'000;  // of what has been run since the last comparison
constexpr double restsFor = 3;                // times as long as a comparison took
constexpr qint64 mostHexBytes = 1 << 20;
}  // namespace

ChipRun::ChipRun(Document& document, RunControl& run, QObject* parent)
    : QObject(parent), doc_(document), run_(run) {
  connect(&maker_, &FirmwareMaker::made, this, &ChipRun::made);
  connect(&maker_, &FirmwareMaker::progressed, this, [this](double share) {
    share_ = share;
    Q_EMIT changed();
  });
  connect(&doc_, &Document::changed, this, [this] {
    if (run_.runsCode()) Q_EMIT changed();  // what runs may be old by that
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    // The last of it, and what one stops at, is compared at once.
    if (!run_.isOn() || run_.isPaused()) compare();
    Q_EMIT changed();
  });
  timer_.setInterval(looksEveryMs);
  connect(&timer_, &QTimer::timeout, this, &ChipRun::compareSometimes);
  timer_.start();
}

ChipRun::~ChipRun() {
  if (comparing_) *comparing_ = true;
}

// ---- which code

void ChipRun::choose(Source source) {
  if (source == source_) return;
  const bool on = run_.isOn() || isCompiling();
  run_.powerOff();
  maker_.forget();
  source_ = source;
  problem_.clear();
  forgetComparison();
  if (on) powerOn(doc_.shared());
  Q_EMIT changed();
}

void ChipRun::leave() {
  run_.powerOff();
  maker_.forget();
  wanted_.reset();
  forgetComparison();
  problem_.clear();
  file_.reset();
  if (source_ == Source::file) source_ = Source::steps;
  Q_EMIT changed();
}

QString ChipRun::load(const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly))
    return tr("%1 cannot be read: %2").arg(path, file.errorString());
  if (file.size() > mostHexBytes) return tr("%1 is too large for a HEX file.").arg(path);
  const BoardItem* board = doc_.project().board(doc_.board());
  const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
  if (!kind) return tr("There is no board that could run it.");
  ForeignProgram read = foreignProgram(*kind, file.readAll().toStdString());
  const QString name = QFileInfo(path).fileName();
  if (!read.program) return name + QStringLiteral(": ") + str(read.problem);
  file_ = std::make_shared<const ChipProgram>(std::move(*read.program));
  fileBoard_ = board->id;
  fileName_ = name;
  if (source_ == Source::file) source_ = Source::steps;  // another file
  choose(Source::file);
  return {};
}

std::vector<std::string> ChipRun::boardsToCompile(const Project& project) const {
  std::vector<std::string> out;
  for (const BoardItem& board : project.boards)
    if (project.program(board.id)) out.push_back(board.id);
  return out;
}

void ChipRun::powerOn(std::shared_ptr<const Project> project) {
  problem_.clear();
  if (source_ == Source::steps) return start(std::move(project), {});
  if (source_ == Source::file) return start(std::move(project), {{fileBoard_, file_}});
  const std::vector<std::string> boards = boardsToCompile(*project);
  ChipPrograms code;
  for (const std::string& board : boards)
    if (const auto it = known_.find(board);
        it != known_.end() && it->second.text == cText(*project, board).text)
      code[board] = it->second.program;
  if (code.size() == boards.size()) return start(std::move(project), std::move(code));
  wanted_ = project;
  share_ = 0;
  maker_.make(std::move(project), boards);
  Q_EMIT changed();
}

void ChipRun::cancel() {
  maker_.forget();
  wanted_.reset();
  run_.doNext({});
  Q_EMIT changed();
}

void ChipRun::made(const FirmwareMaker::Made& all) {
  const auto project = std::exchange(wanted_, nullptr);
  if (!project) return;
  ChipPrograms code;
  for (const auto& [board, firmware] : all) {
    const bool done = firmware.code == Firmware::Code::done;
    if (done || firmware.code == Firmware::Code::tooBig)
      doc_.setProgramSize(board, {firmware.flashBytes, firmware.ramBytes});
    if (!done) {
      problem_ = str(sentence(firmware));
      run_.doNext({});
      return Q_EMIT changed();
    }
    code[board] = std::make_shared<const ChipProgram>(chipProgramOf(*project, board, firmware));
    known_[board] = {cText(*project, board).text, code[board]};
  }
  start(project, std::move(code));
  // What was changed meanwhile.
  if (!(*project == doc_.project())) run_.adopt(doc_.shared());
}

void ChipRun::forgetComparison() {
  if (comparing_) *comparing_ = true;
  comparing_.reset();
  compared_.reset();
  runs_.reset();
  comparedUntil_ = -1;
  pauses_ = 0;
}

void ChipRun::start(std::shared_ptr<const Project> project, ChipPrograms code) {
  forgetComparison();
  runs_ = project;
  run_.powerOn(std::move(project), std::move(code));
  Q_EMIT changed();
}

bool ChipRun::isOld() const {
  return source_ == Source::code && run_.runsCode() && runs_ &&
         !(runs_->programs == doc_.project().programs);
}

// ---- compared with the steps

void ChipRun::compareSometimes() {
  if (!run_.runsCode() || run_.isPaused()) return;
  pauses_ -= looksEveryMs * 1e-3;
  if (pauses_ <= 0 && run_.shownAt() - comparedUntil_ > worthIt) compare();
}

void ChipRun::compare() {
  if (source_ != Source::code || !runs_ || comparing_) return;
  const auto record = run_.record();
  if (!record || record->setup.chipPrograms.empty() || record->now <= comparedUntil_) return;
  comparing_ = std::make_shared<std::atomic<bool>>(false);
  QPointer<ChipRun> self(this);
  workers().start([self, record, cancelled = comparing_] {
    QElapsedTimer timer;
    timer.start();
    auto out = std::make_shared<std::optional<ComparedRun>>(
        comparedWithSteps(*record, [&] { return cancelled->load(); }));
    const double took = static_cast<double>(timer.elapsed()) * 1e-3;
    QMetaObject::invokeMethod(
        qApp,
        [self, record, out, cancelled, took] {
          if (!self || self->comparing_ != cancelled) return;
          self->comparing_.reset();
          self->pauses_ = took * restsFor;
          self->compared(*record, std::move(*out));
        },
        Qt::QueuedConnection);
  });
}

void ChipRun::compared(const RunRecord& record, std::optional<ComparedRun> done) {
  if (!done) return;
  compared_ = std::move(done);
  comparedUntil_ = record.now;
  Q_EMIT changed();
  if (!run_.isOn() || run_.isPaused()) compare();  // what came while it was compared
}

void ChipRun::compareNow() {
  const auto record = run_.record();
  if (source_ != Source::code || !runs_ || !record || record->setup.chipPrograms.empty()) return;
  if (comparing_) *comparing_ = true;
  comparing_.reset();
  compared(*record, comparedWithSteps(*record));
}

QString ChipRun::verdictText() const {
  const Comparison* c = comparison();
  if (!c) return {};
  QString where;
  if (!c->same()) {
    where = str(c->first->pin.empty() ? c->first->board : c->first->pin);
    const QString label = doc_.pinLabel(c->first->board, c->first->pin);
    if (!label.isEmpty()) where += QStringLiteral(" · ") + label;
  }
  return str(verdict(*c, where.toStdString()));
}

void ChipRun::showDifference() {
  if (!compared_ || compared_->comparison.same()) return;
  run_.setGhost(std::make_shared<const Trace>(compared_->steps));
  run_.lookAt(compared_->comparison.first->at);
}

}  // namespace ignavo::app
