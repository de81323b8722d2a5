#pragma once
#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>

#include "document/document.h"
#include "document/firmware_maker.h"
#include "run/comparison.h"
#include "run/run_control.h"

namespace ignavo::app {

// What the boards run when the power comes on: their steps, the chip's own code that is compiled
// of them, or a HEX file from elsewhere. Code that was compiled is compared, while it runs, with
// what the steps make of the same inputs.
class ChipRun : public QObject {
  Q_OBJECT
 public:
  ChipRun(Document& document, RunControl& run, QObject* parent = nullptr);
  ~ChipRun() override;

  enum class Source { steps, code, file };
  Source source() const { return source_; }
  // From the next power-on on; what is on goes off and on again.
  void choose(Source source);
  // The code of a HEX file, for the board that is shown. Empty when it can be run; else what is
  // wrong with it.
  QString load(const QString& path);
  QString fileName() const { return fileName_; }

  void powerOn(std::shared_ptr<const Project> project);
  void cancel();  // compiling
  // Another project takes the place of this one: power off, and nothing is left of what was
  // compiled, compared or loaded for it.
  void leave();
  bool isCompiling() const { return maker_.isBusy(); }
  double compiled() const { return share_; }
  // Why the power did not come on; empty: it did.
  QString problem() const { return problem_; }
  // Is the program another one than the boards run?
  bool isOld() const;

  // The last comparison, and until when it goes; null: none yet.
  const Comparison* comparison() const { return compared_ ? &compared_->comparison : nullptr; }
  Nanoseconds comparedUntil() const { return comparedUntil_; }
  QString verdictText() const;
  bool isComparing() const { return comparing_ != nullptr; }
  // Compares what has been run by now, and waits for it (tests and pictures).
  void compareNow();
  // Shows the first moment that differs, with the run by steps behind.
  void showDifference();

  FirmwareMaker& maker() { return maker_; }

 Q_SIGNALS:
  void changed();

 private:
  void start(std::shared_ptr<const Project> project, ChipPrograms code);
  void forgetComparison();
  void made(const FirmwareMaker::Made& all);
  void compareSometimes();
  void compare();
  void compared(const RunRecord& record, std::optional<ComparedRun> done);
  std::vector<std::string> boardsToCompile(const Project& project) const;

  Document& doc_;
  RunControl& run_;
  FirmwareMaker maker_;
  Source source_ = Source::steps;
  double share_ = 0;
  QString problem_, fileName_;
  std::string fileBoard_;
  std::shared_ptr<const ChipProgram> file_;
  std::shared_ptr<const Project> wanted_;  // that is compiled
  std::shared_ptr<const Project> runs_;    // that was
  // What was compiled last, by board, and the text that it was compiled of.
  struct Known {
    std::string text;
    std::shared_ptr<const ChipProgram> program;
  };
  std::map<std::string, Known> known_;
  QTimer timer_;
  double pauses_ = 0;                             // seconds until it is compared again
  std::shared_ptr<std::atomic<bool>> comparing_;  // set: it is cancelled
  std::optional<ComparedRun> compared_;
  Nanoseconds comparedUntil_ = -1;
};

}  // namespace ignavo::app
