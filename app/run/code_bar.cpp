#include "run/code_bar.h"

#include "theme/bar_parts.h"
#include "theme/named_button.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
// A name of any length, so that the bar does not grow with it: its middle says least.
QString elided(const QString& name) {
  constexpr int most = 32;
  return name.size() <= most ? name : name.left(most / 2) + QChar(0x2026) + name.right(most / 2);
}
}  // namespace

CodeBar::CodeBar(ChipRun& chip, RunControl& run, QWidget* parent)
    : QWidget(parent), chip_(chip), run_(run) {
  QHBoxLayout* row = barRow(this, "codeBar", {20, 5, 16, 5}, 10);
  words_ = barWords(this, "codeState");
  row->addWidget(words_);
  progress_ = barProgress(this, row, "codeProgress");
  verdict_ = barWords(this, "codeVerdict");
  verdict_->setWordWrap(true);
  verdict_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  row->addWidget(verdict_, 1);
  cancel_ = namedButton(this, row, "cancelCode", tr("Cancel"));
  show_ = namedButton(this, row, "showDifference", tr("Show"));
  show_->setToolTip(tr("That moment in the trace, with the run by steps behind"));
  again_ = namedButton(this, row, "compileAgain", tr("Compile again"));
  steps_ = namedButton(this, row, "runBySteps", tr("Run by steps"));
  connect(cancel_, &QPushButton::clicked, &chip_, &ChipRun::cancel);
  connect(show_, &QPushButton::clicked, this, &CodeBar::differenceWanted);
  connect(again_, &QPushButton::clicked, this, &CodeBar::againWanted);
  connect(steps_, &QPushButton::clicked, this, &CodeBar::stepsWanted);
  connect(&chip_, &ChipRun::changed, this, &CodeBar::refresh);
  refresh();
}

QString CodeBar::state() const {
  using Source = ChipRun::Source;
  const QString file = elided(chip_.fileName());
  if (chip_.isCompiling()) return tr("Compiling the program for the chip …");
  if (!chip_.problem().isEmpty()) return tr("Not compiled.");
  if (chip_.isOld()) return tr("The chip still runs the program as it was.");
  if (chip_.source() == Source::file)
    return run_.runsCode() ? tr("The chip runs %1: only its pins can be seen.").arg(file)
                           : tr("With the power on the chip runs %1.").arg(file);
  if (run_.runsCode()) return tr("The chip runs its own code.");
  if (run_.isOn()) return tr("One step is tried, by steps.");
  if (chip_.comparison())
    return tr("Until %1 s:").arg(static_cast<double>(chip_.comparedUntil()) * 1e-9, 0, 'f', 1);
  return tr("With the power on the program is compiled, and the chip runs its own code.");
}

void CodeBar::refresh() {
  const bool byCode = chip_.source() != ChipRun::Source::steps;
  setVisible(byCode);
  if (!byCode) return;
  const bool compiling = chip_.isCompiling();
  // Of a step that is tried it says nothing.
  const bool tries = run_.isOn() && !run_.runsCode();
  const Comparison* c = compiling || tries ? nullptr : chip_.comparison();
  words_->setText(state());
  progress_->setVisible(compiling);
  progress_->setValue(qRound(chip_.compiled() * 100));
  cancel_->setVisible(compiling);
  const bool failed = !chip_.problem().isEmpty();
  const bool good = c && c->same();
  const bool none = c && c->edges == 0 && c->lines == 0;
  verdict_->setText(failed ? chip_.problem()
                    : !c   ? QString()
                    : none ? chip_.verdictText()
                           : (good ? QStringLiteral("✓ ") : QStringLiteral("✕ ")) +
                                 chip_.verdictText());
  const QColor ink = failed || (c && !good) ? theme().danger : none ? theme().ink2 : theme().good;
  const QString style = QStringLiteral("font-weight: 600; color: %1;").arg(ink.name());
  if (verdict_->styleSheet() != style) verdict_->setStyleSheet(style);
  show_->setVisible(c && !good && run_.runsCode());
  again_->setVisible(chip_.isOld());
  steps_->setVisible(failed);
  setAccessibleName(words_->text() + QLatin1Char(' ') + verdict_->text());
}

}  // namespace ignavo::app
