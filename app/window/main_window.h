#pragma once
#include <QLabel>
#include <QMainWindow>
#include <QMap>
#include <QSet>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>
#include <map>

#include "bench/bench_view.h"
#include "build/build_panes.h"
#include "cabinet/cabinet.h"
#include "document/document.h"
#include "document/recovery.h"
#include "findings/findings_pane.h"
#include "findings/readings_pane.h"
#include "inspector/inspector.h"
#include "program/program_pane.h"
#include "run/chip_run.h"
#include "run/guess_bar.h"
#include "run/hand_card.h"
#include "run/run_control.h"
#include "run/sound.h"
#include "run/turn_bar.h"
#include "run/why_card.h"
#include "trace/find_bar.h"
#include "trace/trace_view.h"
#include "typed/type_line.h"
#include "window/dialogs.h"
#include "window/late.h"
#include "window/top_bar.h"

namespace ignavo::app {

class CodeBar;
class KeepBar;
class OfferBar;

// Joins the panes: a station is a layout of them around the bench.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(Dialogs& dialogs = desktopDialogs(), Clock& clock = machineClock());
  ~MainWindow() override;

  Document& document() { return doc_; }
  const Recovery* recovery() const { return recovery_.get(); }
  RunControl& runControl() { return run_; }
  Sound& sound() { return sound_; }
  ChipRun& chipRun() { return chip_; }
  BenchView* bench() { return bench_; }
  ProgramPane* program() { return program_->pane; }
  TraceView* trace() { return running_->trace; }
  TurnBar* turnBar() { return running_->turn; }
  HandCard* hand() { return cards_->hand; }
  WhyCard* why() { return cards_->why; }
  Cabinet* cabinet() { return cabinet_; }
  FindingsPane* findings() { return checking_->findings; }
  FirmwarePane* firmware() { return building_->firmware; }
  TopBar* topBar() { return bar_; }
  TypeLine* typeLine() { return typeLine_; }

  void setStation(Station station);
  Station station() const { return station_; }
  void togglePower();
  // Why that part is dark, silent or still, or is not; on a card beside it.
  void askWhy(const QString& part);
  // Opens a file or an example; says what could not be read. False when nothing was opened.
  bool openPath(const QString& path);
  bool openDemo(const QString& name);
  bool save(bool as);
  void newProject();
  // Where unsaved work is kept from now on, and offered that other windows left there. Until it
  // is called: nowhere (tests, pictures).
  void setRecoveryFolder(const QString& folder);
  void setNight(bool night);
  // Takes over what a person arranged last time, and keeps it there when the window closes: its
  // size, the stations' layouts, the night bench, the speed. Until it is called nothing is kept.
  void useSettings(std::unique_ptr<QSettings> settings);
  // How large everything is to be, for QT_SCALE_FACTOR, before there is a window; empty: as usual.
  static QByteArray scaleFactor(const QSettings& settings);

 protected:
  void closeEvent(QCloseEvent*) override;
  void showEvent(QShowEvent*) override;

 private:
  // The panes of the stations behind the first, and what comes over all of them.
  struct CheckPanes {
    FindingsPane* findings;
    ReadingsPane* readings;
    QWidget* scrolled;  // the readings
  };
  struct ProgramPanes {
    ProgramPane* pane;
  };
  struct RunPanes {
    QWidget* all;  // the trace, and what the boards say
    TraceView* trace;
    TurnBar* turn;
    FindBar* find;
    GuessBar* guess;
  };
  struct BuildPanes {
    StepsPane* steps;
    NeedsPane* needs;
    FirmwarePane* firmware;
  };
  struct Cards {
    HandCard* hand;
    WhyCard* why;
  };
  // How file dialogs name what they offer.
  static QString fileFilter() { return QStringLiteral("Ignavo projects (*.ignavo)"); }
  void buildPanes();
  void buildMenu();
  void buildShortcuts();
  void addRunKeys(QWidget* pane);
  void connectPanes();
  static void explain(QWidget* pane, const QString& name, const QString& what);
  CheckPanes makeChecking();
  void connectChecking(const CheckPanes& panes);
  ProgramPanes makeProgram();
  RunPanes makeRunning();
  BuildPanes makeBuilding();
  Cards makeCards();
  // One after another, once the first picture is there and nothing else is to be done.
  void makeTheRest();
  void refreshBar();
  void refreshStates();
  void refreshTime();
  void placeHint();
  bool mayLeave();
  void startCard(const QString& what);
  void choosePin(const std::string& circuit);
  void exportPicture();
  void printBench();
  QString suggestedName(const QString& ending) const;
  void say(const QString& text, bool bad = false);
  static QString listed(const std::vector<FileProblem>& problems);
  void offerWork();
  void answerOffer(const QString& answer);
  void rememberSizes();
  void cyclePanes(int direction);
  void connectProgram(ProgramPane* program);
  void connectDrags();
  void buildSources();
  void runHexFile();
  void showSource();
  std::shared_ptr<const Project> whatRuns() const;
  void tryStep(const Trial& trial);
  void endTrial();
  void runWhole();
  void resetRun();
  void lookCloser(Nanoseconds changesEvery);
  void connectRunning(const RunPanes& panes);
  void connectWhy(WhyCard* why);
  void holdPin(const QString& board, const QString& pin, QPoint global);
  void askWhyOfPin(const QString& board, const QString& pin, QRect global);
  void showMoment(Nanoseconds at);
  void followEdit();
  void turnBack();
  void runAgain();
  // What was done by hand in a run, kept in the project.
  void keepPresses();
  void replay(const std::string& recording);
  void offerRecordings(QMenu* menu);
  void keepTrace(TraceView::Export as);
  KeepBar* keepBar();
  void sayKept(const QString& file, const QString& why);
  void keepLog(const QString& text);
  QString nameForFile() const;
  void showEvidence(const Finding& finding);
  bool keyToProgram(const QKeyEvent& e);
  void letKeysGo();
  void strike(const QString& key, bool down);
  bool eventFilter(QObject* watched, QEvent* event) override;

  Dialogs& dialogs_;
  Clock& clock_;
  Document doc_;
  RunControl run_;
  Sound sound_;
  ChipRun chip_{doc_, run_};
  std::map<ChipRun::Source, QAction*> sources_;
  Station station_ = Station::wire;
  TopBar* bar_;
  QSplitter* upDown_;
  QSplitter* sides_;
  QStackedWidget* leftSide_;
  QStackedWidget* right_;
  QStackedWidget* below_;
  QLabel* notice_;
  OfferBar* offer_;
  CodeBar* codeBar_;
  KeepBar* keepBar_ = nullptr;  // made when a trace is kept
  BenchView* bench_;
  TypeLine* typeLine_;
  Inspector* inspector_;
  Cabinet* cabinet_;
  Late<CheckPanes> checking_;
  Late<ProgramPanes> program_;
  Late<RunPanes> running_;
  Late<BuildPanes> building_;
  Late<Cards> cards_;
  QTimer theRest_;
  QSet<QString> keysHeld_;  // that went to the programs
  QLabel* hint_;
  QAction* undoAction_;
  QAction* redoAction_;
  QAction* nightAction_;
  QAction* guessAction_;
  QAction *flowAction_, *calmAction_, *soundAction_, *projectorAction_;
  QAction* surviveAction_;
  QMap<int, QList<int>> sideSizes_, belowSizes_;
  void keepSettings();
  std::vector<std::pair<QString, QAction*>> motions() const;
  static QString textBesideKey() { return QStringLiteral("program/textBeside"); }
  static QString projectorKey() { return QStringLiteral("window/projector"); }
  bool nightChosen_ = false;
  std::optional<Trial> trial_;  // what alone is done of the program
  int trials_ = 0;

  std::unique_ptr<QSettings> settings_;
  std::unique_ptr<Recovery> recovery_;
  std::optional<Recovery::Left> left_;  // the work that is offered
  QString evidenceOf_;                  // the finding that was clicked last
  int evidenceAt_ = 0;
};

}  // namespace ignavo::app
