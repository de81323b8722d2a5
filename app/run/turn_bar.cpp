#include "run/turn_bar.h"

#include <QEvent>
#include <algorithm>
#include <map>

#include "program/facts.h"
#include "program/signals.h"
#include "program/steps.h"
#include "run/snapshot_mapping.h"
#include "theme/bar_parts.h"
#include "theme/named_button.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// Steps by id.
std::map<std::string, const Step*> stepsOf(const Project& project) {
  std::map<std::string, const Step*> out;
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps, [&](const Step& step) { out[step.id] = &step; });
  return out;
}

// Signs of lanes by their ids; in place of those that are worked out, their signal operators by
// their paths.
std::map<std::string, QString> signsOf(const Project& project) {
  std::map<std::string, QString> out;
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes) {
      const Trigger& sign = lane->trigger;
      const Expr* whole = sensedBy(sign);
      const std::size_t before = out.size();
      if (whole)
        forEachOperator(*whole, [&](const std::string& path, const Expr& e) {
          out[operatorName(lane->id, path)] = str(operatorPhrase(e));
        });
      if (out.size() == before) out[lane->id] = str(signOf(sign));
    }
  return out;
}

// "wait 0.5 → wait 0.25", where one step, sign or signal operator says something else; "R1", where
// one part does. Empty: it is more than that.
QString changeBetween(const Project& before, const Project& after) {
  QStringList changes;
  const auto was = stepsOf(before), is = stepsOf(after);
  if (was.size() != is.size()) return {};
  for (const auto& [id, step] : is) {
    const auto old = was.find(id);
    if (old == was.end()) return {};
    const QString a = str(phraseOf(*old->second)), b = str(phraseOf(*step));
    if (a != b) changes << a + QStringLiteral(" → ") + b;
  }
  const auto signedBefore = signsOf(before), signedNow = signsOf(after);
  if (signedBefore.size() != signedNow.size()) return {};
  for (const auto& [id, sign] : signedNow) {
    const auto old = signedBefore.find(id);
    if (old == signedBefore.end()) return {};
    if (old->second != sign) changes << old->second + QStringLiteral(" → ") + sign;
  }
  for (const auto& part : *after.parts)
    if (const Part* old = before.part(part->id); old && !(*old == *part))
      changes << str(part->name);
  return changes.size() == 1 ? changes.front() : QString();
}

}  // namespace

TurnBar::TurnBar(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  QHBoxLayout* row = barRow(this, "turnBar", {8, 2, 8, 0}, 8);
  words_ = barWords(this, "turnWords");
  words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(words_, 1);
  progress_ = barProgress(this, row, "turnProgress");
  cancel_ = namedButton(this, row, "cancelTurn", tr("Cancel"));
  differences_ = namedButton(this, row, "turnDifferences", tr("Where it differs"));
  differences_->setToolTip(tr("Lists where it parts from the run before, and leads there"));
  back_ = namedButton(this, row, "turnBack", tr("Back to before"));
  back_->setToolTip(tr("What was changed is taken back, and the past with it; undo brings it"));
  branch_ = namedButton(this, row, "runOnFromHere", tr("Run on from here"));
  branch_->setToolTip(tr("What came after it stays behind, pale"));
  now_ = namedButton(this, row, "backToNow", tr("Back to now"));
  now_->setToolTip(tr("End in the trace"));
  connect(branch_, &QPushButton::clicked, this, &TurnBar::branchWanted);
  connect(now_, &QPushButton::clicked, &run_, &RunControl::lookAtNow);
  connect(&run_, &RunControl::stateChanged, this, &TurnBar::refresh);
  connect(cancel_, &QPushButton::clicked, this, &TurnBar::cancelWanted);
  connect(back_, &QPushButton::clicked, this, &TurnBar::backWanted);
  connect(differences_, &QPushButton::clicked, this, [this] {
    Q_EMIT differencesWanted(differences_->mapToGlobal(QPoint(0, differences_->height())));
  });
  connect(&run_, &RunControl::turnChanged, this, &TurnBar::refresh);
  connect(&run_, &RunControl::updated, this, &TurnBar::refresh);
  if (parent) parent->installEventFilter(this);
  place();
  refresh();
}

// At the right of what stands at the head of the trace.
void TurnBar::place() {
  constexpr int left = 158, low = 110, top = 3;  // inside the frame of what has the focus
  if (!parentWidget()) return;
  const int tall = parentWidget()->height() < low ? 21 : 27;  // in a low strip over the times alone
  setGeometry(left, top, std::max(200, parentWidget()->width() - left - 8), tall);
}

bool TurnBar::eventFilter(QObject*, QEvent* e) {
  if (e->type() == QEvent::Resize) place();
  return false;
}

void TurnBar::refresh() {
  const bool turning = run_.isTurning();
  const auto before = run_.isOn() ? run_.turnedFrom() : nullptr;
  const auto now = before ? run_.runs() : nullptr;
  const bool turned = !turning && now && !(*before == *now);
  const bool looks = run_.isOn() && run_.isLookingBack() && !turning;
  setVisible(turning || turned || looks);
  if (isHidden()) return;
  QString words = turning && run_.isSketched()
                      ? tr("What the pins do is there; motors and sounders follow …")
                  : turning ? tr("The presses are played again …")
                            : QString();
  if (looks) {
    const auto shown = run_.shown();
    const bool changed = shown && shown->project && !standsAlike(*shown->project, doc_.project());
    words = (changed ? tr("This is %1 s, before the bench was changed.") : tr("This is %1 s."))
                .arg(inSeconds(run_.shownAt()), 0, 'f', 3);
  }
  if (turned) {
    const QString change = changeBetween(*before, *now);
    if (looks) words += QLatin1Char(' ');
    words += change.isEmpty() ? tr("Same presses, changed as you see; pale is before.")
                              : tr("Same presses, %1; pale is before.").arg(change);
  }
  words_->setText(words);
  branch_->setVisible(looks);
  now_->setVisible(looks);
  words_->setToolTip(words_->text());
  progress_->setVisible(turning);
  progress_->setValue(qRound(run_.turned() * 100));
  cancel_->setVisible(turning);
  back_->setVisible(turned);
  // In a narrow window the words need the room; the trace's menu has the list as well.
  constexpr int roomForAll = 900;
  differences_->setVisible(turned && run_.ghost() && (!looks || width() >= roomForAll));
  setAccessibleName(words_->text());
}

}  // namespace ignavo::app
