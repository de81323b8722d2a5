#pragma once
#include <QObject>
#include <QString>
#include <QStringList>
#include <atomic>
#include <memory>
#include <optional>

#include "bench/identity.h"
#include "check/finding.h"
#include "format/files.h"
#include "format/project_file.h"
#include "parts/catalogue.h"
#include "project/history.h"

namespace ignavo::app {

// The project that a window shows, with everything that is worked out from it
// and what is selected. Panes read it and ask it to make edits; it holds no widget.
class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);
  ~Document() override;

  const Project& project() const { return history_.now(); }
  // A shared copy, for the simulator and the check.
  std::shared_ptr<const Project> shared() const { return shared_; }
  const Nets& nets() const { return nets_; }
  const Identities& identities() const { return identities_; }
  bool hasSteps() const;  // in any board's program
  QString pinLabel(const std::string& board, const std::string& pin) const;

  // Makes an edit, named as people say it. False when nothing changed.
  bool edit(const QString& name, Project next, const QString& mergeKey = {});
  // The next edit is an undo step of its own, even with the same merge key.
  void settle() { history_.sealMerge(); }
  void undo();
  void redo();
  const History& history() const { return history_; }

  // `stamp`: what the file at `path` held when it was read.
  void reset(Project project, const QString& path, std::optional<FileStamp> stamp = {});
  QString path() const { return path_; }
  bool isSaved() const { return history_.isSaved(); }
  // Nothing when it worked. A file that somebody else changed since it was read or written here
  // is written over only when asked to.
  std::optional<FileProblem> save(const QString& path, bool overOthers = false);

  // The last finished check; `checkIsCurrent` tells whether it is of this very project.
  const CheckResult& check() const { return check_; }
  bool checkIsCurrent() const { return checkedGeneration_ == generation_; }
  quint64 checkedGeneration() const { return checkedGeneration_; }
  // Waits for the check of this project (tests and pictures).
  void finishCheck();
  // What the last compiling of a board's program came to.
  void setProgramSize(const std::string& board, ProgramSize size);
  // Makes a remedy of a finding of that check. Where the project has been edited since, it waits
  // for the new check and is made of what is there then, if it is still offered; a further edit
  // is the last word.
  void mend(std::size_t finding, std::size_t remedy);

  // The board whose program, text and firmware are shown: the one that was selected last, or
  // whose step was.
  const std::string& board() const { return board_; }
  void chooseBoard(const std::string& id);

  QStringList selection() const { return selection_; }
  void select(const QStringList& ids);
  QString selectedStep() const { return step_; }
  void selectStep(const QString& id);
  bool isSelected(const std::string& id) const {
    return selection_.contains(QString::fromStdString(id));
  }

 Q_SIGNALS:
  void changed();                    // the project is another one
  void refused(const QString& why);  // an edit that could not have been saved was not made
  void checked();                    // check() is new
  void selectionChanged();           // parts and wires
  void stepSelected();
  void boardChosen();  // another one than before

 private:
  // A remedy, however often the project was checked since.
  struct Mend {
    Suppression finding;
    Message title;
    bool operator==(const Mend&) const = default;
  };
  static Mend mendOf(const Finding& finding, const Remedy& remedy);
  void makeMend();
  void derive();
  void startCheck();

  History history_;
  std::shared_ptr<const Project> shared_;
  Nets nets_;
  Identities identities_;
  QString path_;
  std::optional<FileStamp> stamp_;  // of what the file holds, as far as is known here
  ProgramSizes sizes_;
  CheckResult check_;
  std::shared_ptr<std::atomic<quint64>> wanted_;  // generation that a check should be of
  quint64 generation_ = 0;
  quint64 checkedGeneration_ = 0;
  std::optional<Mend> mendWanted_;
  QStringList selection_;
  QString step_;
  std::string board_;
};

}  // namespace ignavo::app
