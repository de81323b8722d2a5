#include <QImage>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "program/facts.h"
#include "program/own_steps.h"
#include "program/signals.h"
#include "program/steps.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "trace/trace_view.h"
#include "trace/trace_words.h"

// The lines of the trace: which there are, in which order, and how each is drawn.
namespace ignavo::app {

namespace {

constexpr double leastRow = 12.5;

bool isPin(const Signal& signal) { return signal.what == Signal::What::pinLevel; }

// What a lane keeps at something: a pin or a variable.
QString keptName(const Trigger& sign) {
  const Expr* variable = sign.field(variableKey);
  return str(variable ? variable->text : sign.pin);
}

// The signal operators that stand in front of what a lane keeps, or of the test that starts it:
// the path of each, and how it is called.
std::vector<std::pair<std::string, QString>> operatorsOf(const Lane& lane) {
  std::vector<std::pair<std::string, QString>> out;
  const bool kept = isKept(lane.trigger);
  if (const Expr* whole = sensedBy(lane.trigger))
    forEachOperator(*whole, [&](const std::string& path, const Expr& e) {
      if (path.empty() && kept) return;  // that is what is kept
      const QString phrase = str(operatorPhrase(e));
      out.emplace_back(path, kept ? TraceView::tr("%1 · %2").arg(keptName(lane.trigger), phrase)
                                  : TraceView::tr("each time · %1").arg(phrase));
    });
  return out;
}

// "12.4 mA", "3.30 V"
QString amountText(const Signal& signal, double value) {
  if (std::isnan(value)) return TraceView::tr("no voltage");
  if (signal.what == Signal::What::variable || signal.what == Signal::What::kept)
    return QString::number(value, 'g', 6);
  if (signal.what == Signal::What::step)
    return value < 1 ? TraceView::tr("at rest") : TraceView::tr("step %1").arg(value);
  return signal.what == Signal::What::partAmps
             ? TraceView::tr("%1 mA").arg(value * 1000, 0, 'f', std::abs(value) < 0.1 ? 1 : 0)
             : TraceView::tr("%1 V").arg(value, 0, 'f', 2);
}

}  // namespace

QString TraceView::nameOf(const Signal& signal) const {
  if (isPin(signal)) return str(signal.name);
  if (signal.what == Signal::What::volts) {
    const int net = doc_.nets().of({signal.owner, signal.name});
    return net < 0 ? str(signal.name) : str(doc_.nets().all()[static_cast<std::size_t>(net)].name);
  }
  if (signal.what == Signal::What::variable) return str(signal.name);
  if (signal.what == Signal::What::step || signal.what == Signal::What::kept) {
    const Program* program = doc_.project().program(signal.owner);
    if (!program) return str(signal.name);
    for (const auto& lane : program->lanes)
      if (lane->id == signal.name)
        return isKept(lane->trigger) ? tr("%1 · value").arg(keptName(lane->trigger))
                                     : str(signOf(lane->trigger));
    for (const auto& lane : program->lanes) {
      if (!signal.name.starts_with(operatorName(lane->id, {}))) continue;
      for (const auto& [path, phrase] : operatorsOf(*lane))
        if (operatorName(lane->id, path) == signal.name) return phrase;
    }
    return str(signal.name);
  }
  if (const Part* part = doc_.project().part(signal.owner))
    return partNames_[signal.owner] = str(part->name);
  const auto was = partNames_.find(signal.owner);
  return tr("%1, taken out").arg(was == partNames_.end() ? str(signal.owner) : was->second);
}

// Pins as the run has them, then what was asked for beside; in the order that was chosen.
std::vector<TraceView::Row> TraceView::rows() const {
  std::vector<Row> out;
  const auto trace = run_.trace();
  if (!trace) return out;
  const std::vector<Signal>& probes = run_.probes();
  for (std::size_t s = 0; s < trace->signals().size(); ++s) {
    const Signal& signal = trace->signals()[s];
    const bool asked = std::find(probes.begin(), probes.end(), signal) != probes.end();
    const bool hidden = std::find(hidden_.begin(), hidden_.end(), signal) != hidden_.end();
    if ((!isPin(signal) && !asked) || hidden) continue;
    Row row{static_cast<int>(s), signal, signal.owner, signal.name, {}, {}};
    if (isPin(signal)) {
      const int index = doc_.identities().ofPin(signal.owner, signal.name);
      QStringList words;  // of several boards, which one
      if (doc_.project().boards.size() > 1) words << str(signal.owner);
      if (const QString label = doc_.pinLabel(signal.owner, signal.name); !label.isEmpty())
        words << label;
      row.label = words.join(QStringLiteral(" · "));
      row.colour = {index < 0 ? NetColour::Kind::plain : NetColour::Kind::pin, std::max(0, index)};
    } else {
      row.pin = signal.what == Signal::What::partAmps   ? "mA"
                : signal.what == Signal::What::variable ? "="
                : signal.what == Signal::What::kept     ? "="
                : signal.what == Signal::What::step     ? "▸"
                                                        : "V";
      row.label = nameOf(signal);
    }
    out.push_back(std::move(row));
  }
  const auto place = [&](const Row& row) {
    const auto it = std::find(order_.begin(), order_.end(), row.of);
    if (it != order_.end()) return it - order_.begin();
    return static_cast<std::ptrdiff_t>(order_.size()) + (isPin(row.of) ? 0 : 1);
  };
  std::stable_sort(out.begin(), out.end(),
                   [&](const Row& a, const Row& b) { return place(a) < place(b); });
  return out;
}

std::vector<Signal> TraceView::lines() const {
  std::vector<Signal> out;
  for (const Row& row : rows()) out.push_back(row.of);
  return out;
}

double TraceView::heightOf(const Signal& signal) const {
  for (const auto& [of, times] : heights_)
    if (of == signal) return times;
  return 1;
}

void TraceView::setHeight(int lane, double times) {
  const auto list = rows();
  if (lane < 0 || lane >= static_cast<int>(list.size())) return;
  const Signal& signal = list[static_cast<std::size_t>(lane)].of;
  std::erase_if(heights_, [&](const auto& held) { return held.first == signal; });
  constexpr double least = 0.5, most = 6;
  heights_.emplace_back(signal, std::clamp(times, least, most));
  update();
}

QRectF TraceView::laneBox(int lane) const { return laneBox(lane, rows()); }

QRectF TraceView::laneBox(int lane, const std::vector<Row>& list) const {
  double before = 0, all = 0;
  for (std::size_t i = 0; i < list.size(); ++i) {
    if (static_cast<int>(i) == lane) before = all;
    all += heightOf(list[i].of);
  }
  const bool there = lane >= 0 && lane < static_cast<int>(list.size());
  if (!there) before = lane < 0 ? 0 : all;
  const double top = compact() ? 15 + markerTall : 46 + markerTall, bottom = height() - 6;
  // Never so low that nothing can be read; what has no room then is told of.
  const double one = std::max(leastRow, std::min(34.0, (bottom - top) / std::max(1.0, all)));
  const double times = there ? heightOf(list[static_cast<std::size_t>(lane)].of) : 1;
  return {plotLeft(), top + before * one, plotRight() - plotLeft(),
          std::max(leastRow, times * one)};
}

QRectF TraceView::chipBox(int lane) const { return chipIn(laneBox(lane)); }

QRectF TraceView::chipIn(const QRectF& box) {
  // In a low strip the chips shrink with their lines.
  const double tall = std::min(18.0, box.height() - 2);
  return {20, box.center().y() - tall / 2, 34, tall};
}

void TraceView::wantPin(int lane) {
  const auto list = rows();
  if (lane < 0 || lane >= static_cast<int>(list.size()) || !run_.isOn()) return;
  const Row& row = list[static_cast<std::size_t>(lane)];
  if (!isPin(row.of)) return;
  Q_EMIT pinWanted(QString::fromStdString(row.board), QString::fromStdString(row.pin),
                   mapToGlobal(chipBox(lane).center().toPoint()));
}

namespace {

// A column of many edges is shaded by how long it is high.
constexpr int mostShade = 64;
std::array<QRgb, mostShade + 1> shadesOf(QColor colour, double palest) {
  constexpr double more = 0.6;
  std::array<QRgb, mostShade + 1> out{};
  for (int i = 0; i <= mostShade; ++i) {
    colour.setAlphaF(static_cast<float>(palest + more * i / mostShade));
    out[static_cast<std::size_t>(i)] = qPremultiply(colour.rgba());
  }
  return out;
}

// Side by side, one dot wide each: one picture that is drawn as tall as they are, for there may be
// thousands.
void paintColumns(QPainter& p, QPointF at, double tall, const std::vector<QRgb>& columns) {
  const auto count = static_cast<int>(columns.size());
  if (count == 0) return;
  const QImage row(reinterpret_cast<const uchar*>(columns.data()), count, 1,
                   count * static_cast<int>(sizeof(QRgb)), QImage::Format_ARGB32_Premultiplied);
  p.drawImage(QRectF(std::round(at.x()), at.y(), count, tall), row);
}

}  // namespace

// One lane. Where edges are denser than pixels, the column is filled and its
// share of high time gives the shade: own decimation, one column at a time.
void TraceView::paintRow(QPainter& p, const Row& row, const QRectF& box, const Trace& trace,
                         bool ghost) const {
  const Theme& t = theme();
  const int signal = ghost ? trace.find(Signal::What::pinLevel, row.board, row.pin) : row.signal;
  if (signal < 0) return;
  const double inset = std::min(4.0, box.height() / 5);
  // On whole dots, so that a line and its casing stay even.
  const double high = std::round(box.top() + inset), low = std::round(box.bottom() - inset - 1);
  QColor colour = ghost ? t.ink2 : t.net(row.colour);
  const QColor casing = ghost ? QColor() : t.casing(row.colour, t.card);
  if (ghost) colour.setAlpha(90);
  const Nanoseconds from = std::max<Nanoseconds>(trace.begin(), timeAt(box.left()));
  const Nanoseconds to = std::min(trace.end(), timeAt(box.right()));
  if (from >= to) return;
  const double perPixel = static_cast<double>(to - from) / std::max(1.0, xOf(to) - xOf(from));
  // Upright bars, without smoothing: of these there may be very many.
  const double width = ghost || box.height() < 12 ? 1 : 2;
  QList<QRectF> line, wash;
  float value = trace.valueAt(signal, from);
  double x = xOf(from);
  Nanoseconds at = from;
  const auto level = [&](double until) {
    const double y = value > 0 ? high : low;
    line.append(QRectF(x, y - std::floor(width / 2), until - x, width));
    if (value > 0 && !ghost) wash.append(QRectF(x, high, until - x, low - high));
  };
  const auto edgeAt = [&](double place) {
    line.append(QRectF(std::round(place) - std::floor(width / 2), high - std::floor(width / 2),
                       width, low - high + width));
  };
  const std::array<QRgb, mostShade + 1> shades = shadesOf(colour, ghost ? 0.15 : 0.25);
  p.save();
  p.setRenderHint(QPainter::Antialiasing, false);
  int guard = 0;
  while (at < to && ++guard < 20000) {
    const Nanoseconds next = trace.nextEdge(signal, at);
    if (next < 0 || next >= to) break;
    const double nx = xOf(next);
    level(nx);
    // Several edges within this pixel: fill the column by its share of high time.
    const auto pixelEnd = static_cast<Nanoseconds>(static_cast<double>(next) + perPixel);
    const Nanoseconds following = perPixel > 1 ? trace.nextEdge(signal, next) : -1;
    if (following >= 0 && following < pixelEnd) {
      Nanoseconds dense = next;
      double dx = nx;
      std::vector<QRgb> columns;
      Trace::Sums sums(trace, signal, dense);
      while (dense < to && ++guard < 20000) {
        const auto end =
            std::min(to, static_cast<Nanoseconds>(static_cast<double>(dense) + perPixel));
        const double share = sums.upTo(end) / (static_cast<double>(end - dense) * 1e-9);
        // Only where it is all high or all low it may be that nothing changes any more.
        constexpr double nothing = 1e-9;  // sums are rounded
        if (share <= nothing || share >= 1 - nothing) {
          const Nanoseconds edge = trace.nextEdge(signal, dense);
          if (edge < 0 || edge > end) break;
        }
        columns.push_back(shades[static_cast<std::size_t>(
            std::clamp<long>(std::lround(share * mostShade), 0, mostShade))]);
        dense = end;
        dx += 1;
      }
      paintColumns(p, {nx, high}, low - high, columns);
      if (casing.isValid())
        for (const double y : {high, low}) p.fillRect(QRectF(nx, y - 0.5, dx - nx, 1), casing);
      at = dense;
    } else {
      edgeAt(nx);
      at = next;
    }
    value = trace.valueAt(signal, at);
    x = xOf(at);
  }
  level(xOf(to));
  QColor pale = colour;
  pale.setAlpha(45);
  for (const QRectF& bar : std::as_const(wash)) p.fillRect(bar, pale);
  if (casing.isValid())
    for (const QRectF& bar : std::as_const(line)) p.fillRect(bar.adjusted(-1, -1, 1, 1), casing);
  for (const QRectF& bar : std::as_const(line)) p.fillRect(bar, colour);
  p.restore();
}

// Volts and amps: a curve between the least and the most that is in sight, with the most beside
// it. Where there are many edges in a column of dots, from the least to the most of them.
void TraceView::paintCurve(QPainter& p, const Row& row, const QRectF& box, const Trace& trace,
                           bool ghost) const {
  const Theme& t = theme();
  const int signal = ghost ? trace.find(row.of.what, row.of.owner, row.of.name) : row.signal;
  if (signal < 0) return;
  const Nanoseconds from = std::max<Nanoseconds>(trace.begin(), timeAt(box.left()));
  const Nanoseconds to = std::min(trace.end(), timeAt(box.right()));
  if (from >= to) return;
  struct Column {
    double x, least, most;
  };
  std::vector<Column> columns;
  const double x0 = xOf(from), x1 = xOf(to);
  for (double x = x0; x <= x1; x += 1) {
    const Nanoseconds begin = std::max(from, timeAt(x)), end = std::min(to, timeAt(x + 1));
    const double value = trace.valueAt(signal, begin);
    Column column{x, value, value};
    constexpr int most = 32;  // that are looked at in a column: more are alike
    int seen = 0;
    trace.forEachEdge(signal, begin, end, [&](const Edge& e) {
      if (!(column.least <= e.value)) column.least = e.value;
      if (!(column.most >= e.value)) column.most = e.value;
      return ++seen < most;
    });
    columns.push_back(column);
  }
  // What is less than that is no more than noise.
  double least = 0, most = row.of.what == Signal::What::partAmps ? 1e-3 : 1;
  for (const Column& c : columns) {
    if (c.least < least) least = c.least;
    if (c.most > most) most = c.most;
  }
  const double inset = std::min(4.0, box.height() / 5);
  const auto yOf = [&](double value) {
    return box.bottom() - inset - (value - least) / (most - least) * (box.height() - 2 * inset);
  };
  QColor colour = t.ink2;
  if (ghost) colour.setAlpha(90);
  if (!ghost) {
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(box.left(), yOf(0)), QPointF(box.right(), yOf(0)));
  }
  p.setPen(QPen(colour, ghost ? 1.2 : 1.6));
  QPainterPath line;
  bool drawn = false;
  for (const Column& c : columns) {
    if (std::isnan(c.least) || std::isnan(c.most)) {
      drawn = false;
      continue;
    }
    drawn ? line.lineTo(c.x, yOf(c.least)) : line.moveTo(c.x, yOf(c.least));
    if (c.most > c.least) line.lineTo(c.x, yOf(c.most));
    drawn = true;
  }
  p.setBrush(Qt::NoBrush);
  p.drawPath(line);
  if (ghost || box.height() < leastRow) return;
  p.setFont(t.mono(10));
  p.setPen(t.ink2);
  p.drawText(QRectF(box.right() - 70, box.top(), 68, 12), Qt::AlignRight | Qt::AlignVCenter,
             amountText(row.of, most));
}

// What stands at a moment: "high", "12.4 mA".
QString TraceView::levelText(const Row& row, const Trace& trace, Nanoseconds at) const {
  const double value = trace.valueAt(row.signal, at);
  if (row.of.what == Signal::What::step && value >= 1) {
    // In the order of the text.
    const Program* program = doc_.project().program(row.of.owner);
    int left = static_cast<int>(value);
    QString words;
    if (program)
      for (const auto& lane : program->lanes)
        if (lane->id == row.of.name)
          forEachStep(lane->steps, [&](const Step& s) {
            if (--left == 0) words = str(phraseOf(s));
          });
    return words.isEmpty() ? amountText(row.of, value)
                           : QStringLiteral("%1 · %2").arg(amountText(row.of, value), words);
  }
  if (!isPin(row.of)) return amountText(row.of, value);
  return trace.valueAt(row.signal, at) > 0 ? tr("high") : tr("low");
}

// ---- more, fewer, another order

void TraceView::showLine(const Signal& signal) {
  std::erase(hidden_, signal);
  if (!isPin(signal)) run_.probe(signal);
  update();
}

void TraceView::hideLine(int lane) {
  const auto list = rows();
  if (lane < 0 || lane >= static_cast<int>(list.size())) return;
  const Signal& signal = list[static_cast<std::size_t>(lane)].of;
  if (isPin(signal))
    hidden_.push_back(signal);
  else
    run_.unprobe(signal);
  lane_ = std::min(lane, static_cast<int>(list.size()) - 2);
  update();
}

void TraceView::moveLine(int lane, int to) {
  const auto list = rows();
  const int last = static_cast<int>(list.size()) - 1;
  if (lane < 0 || lane > last) return;
  to = std::clamp(to, 0, last);
  order_.clear();
  for (const Row& row : list) order_.push_back(row.of);
  const Signal moved = order_[static_cast<std::size_t>(lane)];
  order_.erase(order_.begin() + lane);
  order_.insert(order_.begin() + to, moved);
  lane_ = to;
  update();
}

// What there could be a line for, too: what flows through a part, the volts of a net.
void TraceView::offerLines(QMenu* menu, int lane) {
  const auto trace = run_.trace();
  if (!trace) return;
  QMenu* more = menu->addMenu(tr("A line more"));
  more->setObjectName(QStringLiteral("moreLines"));
  const auto offer = [&](const QString& words, const Signal& signal) {
    const auto& probes = run_.probes();
    if (std::find(probes.begin(), probes.end(), signal) != probes.end()) return;
    more->addAction(words, this, [this, signal] { showLine(signal); });
  };
  for (const auto& part : *doc_.project().parts)
    offer(tr("mA through %1").arg(str(part->name)), {Signal::What::partAmps, part->id, {}});
  more->addSeparator();
  const std::vector<Net>& nets = doc_.nets().all();
  for (std::size_t n = 0; n < nets.size(); ++n) {
    if (nets[n].legs.size() + nets[n].pins.size() < 2) continue;
    const std::vector<Socket> sockets =
        doc_.nets().sockets(static_cast<int>(n), doc_.project(), catalogue());
    if (!sockets.empty())
      offer(tr("V of %1").arg(str(nets[n].name)),
            {Signal::What::volts, sockets.front().owner, sockets.front().point});
  }
  more->addSeparator();
  const bool several = doc_.project().boards.size() > 1;
  for (const auto& program : doc_.project().programs)
    for (const Variable& variable : program->variables)
      if (!run_.runsCode() && typeOf(variable.start) != ValueType::text)
        offer(several ? tr("%1 of %2").arg(str(variable.name), str(program->board))
                      : tr("variable %1").arg(str(variable.name)),
              {Signal::What::variable, program->board, variable.name});
  more->addSeparator();
  for (const auto& program : doc_.project().programs)
    for (const auto& one : program->lanes)
      if (!run_.runsCode() && isKept(one->trigger))
        offer(tr("value that %1 is kept at").arg(keptName(one->trigger)),
              {Signal::What::kept, program->board, one->id});
      else if (!run_.runsCode() && !one->steps.empty() && !isOwn(*one))
        offer(tr("steps of “%1”").arg(str(signOf(one->trigger))),
              {Signal::What::step, program->board, one->id});
  for (const auto& program : doc_.project().programs)
    for (const auto& one : program->lanes)
      for (const auto& [path, phrase] : operatorsOf(*one))
        if (!run_.runsCode())
          offer(several ? tr("%1 of %2").arg(phrase, str(program->board)) : phrase,
                {Signal::What::kept, program->board, operatorName(one->id, path)});
  const auto list = rows();
  if (lane >= 0 && lane < static_cast<int>(list.size())) {
    menu->addAction(tr("Hide this line\tDel"), this, [this, lane] { hideLine(lane); });
    const double times = heightOf(list[static_cast<std::size_t>(lane)].of);
    menu->addAction(tr("Taller\tAlt++"), this,
                    [this, lane, times] { setHeight(lane, times * 1.5); });
    menu->addAction(tr("Lower\tAlt+−"), this,
                    [this, lane, times] { setHeight(lane, times / 1.5); });
    if (lane > 0)
      menu->addAction(tr("One up\tAlt+↑"), this, [this, lane] { moveLine(lane, lane - 1); });
    if (lane + 1 < static_cast<int>(list.size()))
      menu->addAction(tr("One down\tAlt+↓"), this, [this, lane] { moveLine(lane, lane + 1); });
  }
  if (!hidden_.empty())
    menu->addAction(tr("Show all pins again"), this, [this] {
      hidden_.clear();
      update();
    });
}

}  // namespace ignavo::app
