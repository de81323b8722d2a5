#include <QContextMenuEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>

#include "run/trace_measure.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "trace/trace_view.h"
#include "trace/trace_words.h"

// Two marks and what lies between them, from edge to edge, and the menu of the trace.
namespace ignavo::app {

int TraceView::laneAt(QPointF place) const {
  for (int i = 0; i < static_cast<int>(rows().size()); ++i)
    if (const QRectF box = laneBox(i); place.y() >= box.top() && place.y() < box.bottom()) return i;
  return -1;
}

// A third one begins anew.
void TraceView::setMark(Nanoseconds moment) {
  const auto trace = run_.trace();
  if (!trace) return;
  if (marks_.size() >= 2) marks_.clear();
  marks_.push_back(std::clamp(moment, trace->begin(), trace->end()));
  std::sort(marks_.begin(), marks_.end());
  update();
}

QString TraceView::measured() const {
  const auto trace = run_.trace();
  if (marks_.empty() || !trace) return {};
  if (marks_.size() == 1)
    return tr("A is at %1 · another mark (M, Shift+click) measures what lies between")
        .arg(timeText(inSeconds(marks_[0]), span_ / 1000));
  QStringList words{tr("A to B: %1").arg(lengthText(inSeconds(marks_[1] - marks_[0])))};
  const auto list = rows();
  const auto lane = static_cast<std::size_t>(std::max(0, lane_));
  if (lane < list.size() && list[lane].of.what != Signal::What::pinLevel) {
    const double seconds = inSeconds(marks_[1] - marks_[0]);
    if (seconds > 0) {
      const double mean = trace->integral(list[lane].signal, marks_[0], marks_[1]) / seconds;
      using What = Signal::What;
      const What what = list[lane].of.what;
      const QString& name = list[lane].label;
      words << (what == What::partAmps
                    ? tr("%1: %2 mA on the mean").arg(name).arg(mean * 1000, 0, 'f', 2)
                : what == What::volts ? tr("%1: %2 V on the mean").arg(name).arg(mean, 0, 'f', 2)
                                      : tr("%1: %2 on the mean").arg(name).arg(mean, 0, 'g', 4));
    }
  } else if (lane < list.size()) {
    const Stretch s = stretchOf(*trace, list[lane].signal, marks_[0], marks_[1]);
    words << tr("%1: %n edges", nullptr, static_cast<int>(s.edges)).arg(str(list[lane].pin));
    if (const auto hertz = s.hertz())
      words << tr("period %1 (%2 Hz)").arg(lengthText(*s.seconds), QString::number(*hertz, 'g', 4));
    words << tr("high for %1 %").arg(s.duty * 100, 0, 'f', 1);
  }
  return words.join(QStringLiteral(" · "));
}

// The next edge of the chosen line, else of any: it is looked at, and comes into sight.
void TraceView::goToEdge(bool forward) {
  const auto trace = run_.trace();
  const auto list = rows();
  if (!trace || !run_.isOn()) return;
  const bool chosen = lane_ >= 0 && lane_ < static_cast<int>(list.size());
  const int signal = chosen ? list[static_cast<std::size_t>(lane_)].signal : -1;
  const Nanoseconds from = run_.shownAt();
  const Nanoseconds at =
      forward ? edgeAfter(*trace, signal, from) : edgeBefore(*trace, signal, from);
  if (at < 0) return;
  bringIntoSight(at);
  run_.lookAt(at);
}

void TraceView::bringIntoSight(Nanoseconds moment) {
  following_ = false;
  const double seconds = inSeconds(moment);
  if (seconds < start_ || seconds > start_ + span_) start_ = std::max(0.0, seconds - span_ / 2);
  update();
}

void TraceView::paintMarks(QPainter& p) const {
  const Theme& t = theme();
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    const double x = xOf(marks_[i]);
    if (x < plotLeft() || x > plotRight()) continue;
    const double top = laneBox(0).top() - markerTall - 2;  // below the times
    p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
    p.drawLine(QPointF(x, top), QPointF(x, height() - 4));
    const QRectF flag(i == 0 ? x - 14 : x, top, 14, 11);
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    p.drawRect(flag);
    p.setPen(t.inkOnDark);
    p.setFont(t.text(9, QFont::Bold));
    p.drawText(flag, Qt::AlignCenter, i == 0 ? QStringLiteral("A") : QStringLiteral("B"));
  }
}

// Why that line is high or low there.
void TraceView::askWhy(int lane, Nanoseconds at) {
  const auto list = rows();
  if (!run_.isOn() || lane < 0 || lane >= static_cast<int>(list.size())) return;
  const Row& row = list[static_cast<std::size_t>(lane)];
  if (row.of.what != Signal::What::pinLevel) return;
  if (at != run_.shownAt()) run_.lookAt(at);
  const QRectF box = laneBox(lane);
  const QPointF from = mapToGlobal(QPointF(xOf(at) - 4, box.top()));
  Q_EMIT whyWanted(str(row.board), str(row.pin),
                   QRectF(from, QSizeF(8, box.height())).toAlignedRect());
}

void TraceView::offerWhy(QMenu* menu, int lane, Nanoseconds at) {
  const auto trace = run_.trace();
  const auto list = rows();
  if (!run_.isOn() || !trace || lane < 0 || lane >= static_cast<int>(list.size())) return;
  const Row& row = list[static_cast<std::size_t>(lane)];
  if (row.of.what != Signal::What::pinLevel) return;
  at = std::clamp(at, trace->begin(), trace->end());
  const bool high = trace->valueAt(row.signal, at) > 0.5F;
  auto* ask = menu->addAction(high ? tr("Why high here?\t?") : tr("Why low here?\t?"), this,
                              [this, lane, at] { askWhy(lane, at); });
  ask->setObjectName(QStringLiteral("askWhy"));
}

void TraceView::contextMenuEvent(QContextMenuEvent* e) {
  const auto trace = run_.trace();
  if (!trace || rows().empty()) return;
  const bool byKey = e->reason() == QContextMenuEvent::Keyboard;
  const QPointF place = byKey ? QPointF(xOf(run_.shownAt()), height() / 2.0) : QPointF(e->pos());
  if (!byKey) lane_ = laneAt(place);
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("traceMenu"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(marks_.size() == 1 ? tr("Mark B here\tM") : tr("Mark A here\tM"), this,
                  [this, at = timeAt(place.x())] { setMark(at); });
  if (!marks_.empty())
    menu->addAction(tr("Take the marks away\tShift+M"), this, [this] {
      marks_.clear();
      update();
    });
  menu->addAction(tr("To the next edge\tCtrl+→"), this, [this] { goToEdge(true); });
  menu->addAction(tr("To the edge before\tCtrl+←"), this, [this] { goToEdge(false); });
  if (run_.isOn()) menu->addAction(tr("Find when…\tCtrl+F"), this, [this] { Q_EMIT findWanted(); });
  if (const auto list = rows();
      run_.isOn() && lane_ >= 0 && lane_ < static_cast<int>(list.size()) &&
      list[static_cast<std::size_t>(lane_)].of.what == Signal::What::pinLevel)
    menu->addAction(tr("Hold this pin by hand…\tH"), this, [this] { wantPin(lane_); });
  offerWhy(menu, lane_, timeAt(place.x()));
  offerLines(menu, lane_);
  offerDifferences(menu);
  menu->addSeparator();
  for (const auto& [words, as] : {std::pair{tr("Keep it as VCD…"), Export::vcd},
                                  {tr("Keep it as a table (CSV)…"), Export::csv},
                                  {tr("Keep it as a picture…"), Export::png}})
    menu->addAction(words, this, [this, as = as] { Q_EMIT exportWanted(as); });
  menu->popup(byKey ? mapToGlobal(place.toPoint()) : e->globalPos());
}

}  // namespace ignavo::app
