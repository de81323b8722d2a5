#include <QHelpEvent>
#include <QMenu>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "program/steps.h"
#include "run/trace_differences.h"
#include "theme/text.h"
#include "trace/trace_view.h"
#include "trace/trace_words.h"

// What the trace tells in words: what happened at a mark on the time axis, and where the run and
// the one before it part.
namespace ignavo::app {

namespace {

// The sign of a lane: "Each time D2 goes high".
QString signOfLane(const Project& project, const std::string& id) {
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes)
      if (lane->id == id) return str(signOf(lane->trigger));
  return {};
}

}  // namespace

QString TraceView::told(const Event& event) const {
  const Part* part = doc_.project().part(event.id);
  const QString name = part ? str(part->name) : str(event.id);
  const QString at = tr("%1 s").arg(inSeconds(event.at), 0, 'f', 3);
  switch (event.what) {
    case Event::What::press:
      return tr("%1: %2 pressed").arg(at, name);
    case Event::What::release:
      return tr("%1: %2 let go").arg(at, name);
    case Event::What::reset:
      return tr("%1: reset").arg(at);
    case Event::What::changed:
      return tr("%1: something was changed").arg(at);
    case Event::What::broke:
      return tr("%1: %2 burnt").arg(at, name);
    case Event::What::tripped:
      return tr("%1: the supply was overloaded").arg(at);
    case Event::What::recovered:
      return tr("%1: the supply is back").arg(at);
    case Event::What::bounced:
      return tr("%1: the contacts of %2 bounce: %3 changes in place of one")
          .arg(at, name)
          .arg(event.figure, 0, 'f', 0);
    case Event::What::overlooked:
      return tr("%1: not seen: %2 was let go again after %3, and nothing had looked meanwhile")
          .arg(at, name, str(Message("trace", "{}", {asSeconds(event.figure)})));
    case Event::What::missed:
      return tr("%1: not seen, for “%2” was still at its steps")
          .arg(at, signOfLane(doc_.project(), event.id));
    default:
      return {};
  }
}

// With what the program did that gives no number, as a division by zero.
std::vector<TraceView::Happening> TraceView::happenings() const {
  std::vector<Happening> out;
  for (const Event& event : run_.events())
    if (const QString words = told(event); !words.isEmpty()) out.push_back({event.at, words});
  for (const FindingMoments::Moment& m : found_.all())
    out.push_back({m.at, tr("%1 s: from here on so, as the check says: %2")
                             .arg(inSeconds(m.at), 0, 'f', 3)
                             .arg(m.words)});
  const auto shown = run_.isOn() ? run_.shown() : nullptr;
  if (!shown) return out;
  for (const ProgramFault& fault : shown->faults) {
    const QString at = tr("%1 s").arg(inSeconds(fault.at), 0, 'f', 3);
    const Step* step = doc_.project().step(fault.step);
    out.push_back(
        {fault.at, step ? tr("%1, at “%2”: %3").arg(at, str(phraseOf(*step)), str(sentence(fault)))
                        : tr("%1: %2").arg(at, str(sentence(fault)))});
  }
  return out;
}

// What happened within a few dots of there; the nearest first.
QString TraceView::happenedNear(double x) const {
  constexpr double near = 6;
  QString out;
  double nearest = near;
  for (const auto& [at, words] : happenings()) {
    const double away = std::abs(xOf(at) - x);
    if (away > nearest) continue;
    // Of one moment all.
    const bool same = away == nearest && !out.isEmpty();
    nearest = away;
    out = same ? out + QLatin1Char('\n') + words : words;
  }
  return out;
}

bool TraceView::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip) return QWidget::event(e);
  const auto* help = static_cast<QHelpEvent*>(e);
  const QString words = help->pos().x() >= plotLeft() && help->pos().x() <= plotRight()
                            ? happenedNear(help->pos().x())
                            : QString();
  if (words.isEmpty()) {
    QToolTip::hideText();
    e->ignore();
  } else {
    QToolTip::showText(help->globalPos(), words, this);
  }
  return true;
}

std::vector<TraceView::Spoken> TraceView::spoken() const {
  std::vector<Spoken> out;
  const auto trace = run_.trace();
  if (!trace) return out;
  const Nanoseconds at =
      std::clamp(run_.isOn() ? run_.shownAt() : trace->end(), trace->begin(), trace->end());
  const auto list = rows();
  for (std::size_t i = 0; i < list.size(); ++i) {
    QString name = str(list[i].pin);
    if (!list[i].label.isEmpty()) name += QStringLiteral(" · ") + list[i].label;
    const QRectF box = laneBox(static_cast<int>(i));
    out.push_back({tr("%1: %2 at %3 s")
                       .arg(name, levelText(list[i], *trace, at))
                       .arg(inSeconds(at), 0, 'f', 3),
                   QRectF(0, box.top(), width(), box.height())});
  }
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    const double x = xOf(marks_[i]);
    out.push_back({(i == 0 ? tr("Mark A at %1 s") : tr("Mark B at %1 s"))
                       .arg(inSeconds(marks_[i]), 0, 'f', 6),
                   QRectF(x - 7, 0, 14, height())});
  }
  constexpr std::size_t most = 200;
  for (const auto& [when, words] : happenings()) {
    const double x = xOf(when);
    if (x < plotLeft() || x > plotRight()) continue;
    out.push_back({words, QRectF(x - 4, 0, 8, height())});
    if (out.size() >= most) break;
  }
  return out;
}

std::vector<TraceView::Spoken> TraceView::spokenEdges(int line) const {
  std::vector<Spoken> out;
  const auto trace = run_.trace();
  const auto list = rows();
  if (!trace || line < 0 || line >= static_cast<int>(list.size())) return out;
  constexpr std::size_t most = 100;
  const Row& row = list[static_cast<std::size_t>(line)];
  const QRectF box = laneBox(line);
  trace->forEachEdge(row.signal, timeAt(plotLeft()) - 1, timeAt(plotRight()), [&](const Edge& e) {
    const QString level = levelText(row, *trace, e.at);
    out.push_back({tr("%1 from %2 s on").arg(level).arg(inSeconds(e.at), 0, 'f', 6),
                   QRectF(xOf(e.at) - 3, box.top(), 6, box.height())});
    return out.size() < most;
  });
  return out;
}

// Where this run and the one before it part; whoever chooses one is shown it.
void TraceView::fillDifferences(QMenu* menu) {
  const auto trace = run_.trace();
  const auto ghost = run_.ghost();
  if (!trace || !ghost) return;
  constexpr std::size_t most = 12;
  std::vector<TraceDifference> parts = traceDifferences(*ghost, *trace);
  if (parts.empty()) menu->addAction(tr("Nowhere so far"))->setEnabled(false);
  if (parts.size() > most) parts.resize(most);
  const bool several = doc_.project().boards.size() > 1;
  for (TraceDifference& d : parts) {
    if (several) d.pin = d.board + "." + d.pin;  // as pins of several boards are called
    menu->addAction(str(sentence(d)), this, [this, at = d.at] {
      showMoment(at);
      run_.lookAt(at);
    });
  }
}

void TraceView::offerDifferences(QMenu* menu) {
  if (!run_.trace() || !run_.ghost() || !run_.isOn()) return;
  QMenu* all = menu->addMenu(tr("Where it parts from the run before"));
  all->setObjectName(QStringLiteral("differences"));
  fillDifferences(all);
}

void TraceView::showDifferences(QPoint global) {
  if (!run_.isOn()) return;
  QMenu menu(this);
  menu.setObjectName(QStringLiteral("differencesMenu"));
  fillDifferences(&menu);
  if (!menu.isEmpty()) menu.exec(global);
}

}  // namespace ignavo::app
