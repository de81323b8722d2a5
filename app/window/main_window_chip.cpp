#include <QActionGroup>
#include <QMenu>

#include "run/code_bar.h"
#include "theme/text.h"
#include "window/main_window.h"

// Steps, or the chip's own code: the choice beside the power switch, and what the bar below says
// of it.
namespace ignavo::app {

void MainWindow::buildSources() {
  using Source = ChipRun::Source;
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("runsMenu"));
  auto* group = new QActionGroup(this);
  const auto offer = [&](const char* name, const QString& words, const QString& tip) {
    QAction* a = menu->addAction(words);
    a->setObjectName(QString::fromLatin1(name));
    a->setToolTip(tip);
    a->setCheckable(true);
    group->addAction(a);
    return a;
  };
  menu->setToolTipsVisible(true);
  sources_[Source::steps] =
      offer("runSteps", tr("Steps"), tr("The steps are done as they stand there"));
  sources_[Source::code] = offer("runCode", tr("The chip’s own code"),
                                 tr("The program is compiled, and the chip does it instruction by "
                                    "instruction; it is compared with the steps"));
  sources_[Source::file] =
      offer("runFile", tr("A HEX file…"), tr("Code from elsewhere, for this board"));
  for (const Source source : {Source::steps, Source::code})
    connect(sources_[source], &QAction::triggered, this, [this, source] { chip_.choose(source); });
  connect(sources_[Source::file], &QAction::triggered, this, &MainWindow::runHexFile);
  bar_->source->setMenu(menu);
  connect(&chip_, &ChipRun::changed, this, &MainWindow::showSource);
  showSource();
  connect(codeBar_, &CodeBar::differenceWanted, this, [this] {
    setStation(Station::run);
    chip_.showDifference();
    if (const Comparison* c = chip_.comparison(); c && c->first)
      running_->trace->showMoment(c->first->at);
  });
  connect(codeBar_, &CodeBar::againWanted, this, [this] {
    run_.powerOff();
    chip_.powerOn(doc_.shared());
  });
  connect(codeBar_, &CodeBar::stepsWanted, this, [this] {
    chip_.choose(Source::steps);
    togglePower();
  });
}

void MainWindow::runHexFile() {
  const QString path =
      dialogs_.openFile(this, tr("Run a HEX file"), QStringLiteral("Intel HEX (*.hex)"));
  const QString problem = path.isEmpty() ? QString() : chip_.load(path);
  if (!problem.isEmpty()) say(problem, true);
  showSource();  // what is chosen is still, or again, what it was
}

void MainWindow::showSource() {
  using Source = ChipRun::Source;
  const Source source = chip_.source();
  sources_[source]->setChecked(true);
  bar_->setSource(source == Source::steps  ? tr("steps")
                  : source == Source::code ? tr("chip’s code")
                                           : tr("HEX file"));
  bar_->power->setWaiting(chip_.isCompiling());
}

}  // namespace ignavo::app
