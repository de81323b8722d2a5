#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "program/facts.h"
#include "program/own_steps.h"
#include "program/program_view.h"
#include "theme/text.h"
#include "theme/theme.h"

// Signs, cards, labels and threads, and what they say while time runs.
namespace ignavo::app {

namespace {

// What a part of a thread gives: levels of pins, answers, signals and figures read differently.
QString valueText(const LaneView::Value& value, const Expr* of) {
  if (value.type != ValueType::truth) {
    const QString figure = QString::number(value.number, 'g', 4);
    return of && measuresPercent(*of) ? figure + QStringLiteral(" %") : figure;
  }
  const bool so = value.number != 0;
  if (of && pinRead(*of)) return so ? QStringLiteral("high") : QStringLiteral("low");
  if (of && of->shape == Expr::Shape::op) return so ? QStringLiteral("yes") : QStringLiteral("no");
  return so ? QStringLiteral("on") : QStringLiteral("off");
}

void elided(QPainter& p, const QRectF& box, int align, const QString& text, double slack = 0) {
  p.drawText(
      box, align | Qt::AlignVCenter,
      p.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(box.width() + slack)));
}

QString finding(const Finding& f) {
  return (f.severity == Severity::note ? QStringLiteral("● ") : QStringLiteral("▲ ")) +
         str(f.title);
}

}  // namespace

// ---- tokens

void ProgramView::paintToken(QPainter& p, const Token& token, bool focused) const {
  const Theme& t = theme();
  switch (token.what) {
    case Token::What::word:
    case Token::What::label:
      p.setFont(t.text(13, token.what == Token::What::label ? QFont::Medium : QFont::Normal));
      p.setPen(t.ink);
      elided(p, token.box, Qt::AlignLeft, token.text, 2);
      break;
    case Token::What::pin: {
      const int index = doc_.identities().ofPin(board_, token.pin);
      const bool known = index >= 0;
      const NetColour colour{NetColour::Kind::pin, std::max(0, index)};
      const QColor casing = t.casing(colour, t.card);
      p.setPen(!known             ? QPen(t.ink2, 1, Qt::DashLine)
               : casing.isValid() ? QPen(casing, 1)
                                  : QPen(Qt::NoPen));
      p.setBrush(known ? t.net(colour) : t.field);
      p.drawRoundedRect(token.box, 4, 4);
      p.setFont(t.mono(12.5, QFont::Bold));
      p.setPen(known ? t.netInk(colour) : t.ink);
      p.drawText(token.box, Qt::AlignCenter, token.text);
      if (run_.isOn() && run_.heldPercent(board_, token.pin)) {  // in the hand
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.ink, 1.6));
        p.drawRoundedRect(token.box.adjusted(-2.5, -2.5, 2.5, 2.5), 6, 6);
      }
      break;
    }
    case Token::What::knot:
      p.setPen(QPen(t.edge, 1.4));
      p.setBrush(t.card);
      p.drawRoundedRect(token.box, 5, 5);
      break;
    default: {
      p.setPen(Qt::NoPen);
      p.setBrush(t.field);
      p.drawRoundedRect(token.box, 3, 3);
      p.setPen(QPen(t.ink2, 1.4));
      // What has a name is underlined twice, here as in the strip above.
      const bool named =
          token.type == SlotKind::Type::variable || token.type == SlotKind::Type::list;
      p.drawLine(token.box.bottomLeft() + QPointF(1, 0), token.box.bottomRight() - QPointF(1, 0));
      if (named)
        p.drawLine(token.box.bottomLeft() + QPointF(1, -3),
                   token.box.bottomRight() - QPointF(1, 3));
      p.setFont(t.mono(12.5));
      p.setPen(t.ink);
      p.drawText(token.box, Qt::AlignCenter, token.text);
    }
  }
  if (!focused) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.paper, 2));
  p.drawRoundedRect(token.box.adjusted(-1, -1, 1, 1), 4, 4);
  p.setPen(QPen(t.ink, 2));
  p.drawRoundedRect(token.box.adjusted(-3, -3, 3, 3), 5, 5);
}

// ---- signs

// Behind the sign: what is wrong, else how its lane is.
ProgramView::Note ProgramView::noteOfSign(const ProgramRow& row) const {
  const Theme& t = theme();
  const auto pinOf = std::find_if(row.tokens.begin(), row.tokens.end(),
                                  [](const Token& k) { return k.what == Token::What::pin; });
  if (pinOf != row.tokens.end() && pinOf->pin.empty())
    return {tr("▲ Which pin? Click on it."), t.warning, true};
  if (const auto wrong = troubles_.find(row.lane); wrong != troubles_.end())
    return {QStringLiteral("▲ ") + wrong->second, t.warning, true};
  if (const Finding* f = findingOf(row.lane)) return {finding(*f), t.severity(f->severity), true};
  if (row.own) {
    int uses = 0;
    const Program* held = program();
    const Lane* own = lane(row.lane);
    if (held && own)
      for (const auto& l : held->lanes)
        forEachStep(l->steps, [&](const Step& s) { uses += ownRun(*held, s) == own ? 1 : 0; });
    return {uses == 0   ? tr("an own step, not used yet")
            : uses == 1 ? tr("an own step, used once")
                        : tr("an own step, used %1 times").arg(uses),
            t.ink2, true};
  }
  return {stateOf(row), t.ink2, true};
}

void ProgramView::paintSign(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  QPainterPath board(row.box.topLeft());
  if (row.own) {
    board.addRoundedRect(row.box, 3, 3);
  } else {
    board.lineTo(row.box.right() - 12, row.box.top());
    board.lineTo(row.box.right(), row.box.center().y());
    board.lineTo(row.box.right() - 12, row.box.bottom());
    board.lineTo(row.box.bottomLeft());
    board.closeSubpath();
  }
  p.setPen(row.own ? QPen(t.ink, rail::thin) : QPen(Qt::NoPen));
  p.setBrush(row.own ? t.card : t.ink);
  p.drawPath(board);
  if (isSelected(row)) {
    p.setPen(QPen(row.own ? t.ink : t.edge, 2.4));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(row.box.adjusted(-3, -3, 3, 3), 4, 4);
  }
  for (const Token& token : row.tokens) {
    if (token.isField()) {
      p.setPen(Qt::NoPen);
      p.setBrush(t.paper);
      p.drawRoundedRect(token.box.adjusted(-1.5, -1.5, 1.5, 1.5), 5, 5);
      paintToken(p, token, hasFocus() && focus_ == FieldRef{row.lane, token.path});
      continue;
    }
    p.setPen(row.own ? t.ink : t.inkOnDark);
    p.setFont(t.text(13, QFont::DemiBold));
    elided(p, token.box.adjusted(0, 0, 4, 0), Qt::AlignLeft, token.text, 2);
  }
  const Note note = noteOfSign(row);
  if (note.text.isEmpty()) return;
  p.setFont(t.text(12, QFont::Medium));
  p.setPen(note.ink);
  const QRectF room(row.box.right() + 8, row.box.top(), width() / zoom_ - row.box.right() - 16,
                    row.box.height());
  elided(p, room, Qt::AlignLeft, note.text);
}

// ---- branches

void ProgramView::paintBranch(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  bool taken = false;
  if (const auto now = run_.shown())
    if (const auto it = now->forks.find(row.step->id); it != now->forks.end())
      taken = it->second == row.yes;
  p.setPen(Qt::NoPen);
  p.setBrush(taken ? t.ink : t.tray);
  p.drawRoundedRect(row.box, 10, 10);
  p.setPen(taken ? t.inkOnDark : t.ink);
  p.setFont(t.text(12, QFont::DemiBold));
  elided(p, row.box.adjusted(12, 0, -6, 0), Qt::AlignLeft, row.tokens.front().text);
}

void ProgramView::paintEmpty(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  if (row.slim) {
    p.setPen(QPen(t.line, 1));
    p.setBrush(t.card);
    p.drawRoundedRect(row.box, 10, 10);
    p.setPen(t.ink2);
    p.setFont(t.text(12));
    p.drawText(row.box, Qt::AlignCenter, tr("no: goes on  +"));
    return;
  }
  p.setPen(QPen(t.ink2, 1, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(row.box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
  p.setPen(t.ink2);
  p.setFont(t.text(12.5));
  p.drawText(row.box.adjusted(12, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
             tr("click to add a step"));
}

// What is folded away still shows when it runs, or has a problem.
void ProgramView::paintFolded(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  const bool running = runs(row);
  bool wrong = false;
  for (const auto& [key, body] : row.step->bodies)
    forEachStep(body, [&](const Step& s) {
      const Finding* found = findingOf(s.id);
      wrong = wrong || troubles_.count(s.id) != 0 || (found && found->severity != Severity::note);
    });
  p.setPen(QPen(running ? t.amber : t.edge, running ? 2 : 1));
  p.setBrush(running ? t.amberWash : t.tray);
  p.drawRoundedRect(row.box, 10, 10);
  p.setPen(wrong ? t.warning : t.ink);
  p.setFont(t.text(12, QFont::Medium));
  const QString mark = wrong ? QStringLiteral("▲ ") : running ? QStringLiteral("▶ ") : QString();
  elided(p, row.box.adjusted(12, 0, -4, 0), Qt::AlignLeft, mark + row.tokens.front().text);
}

// ---- threads

// What stands along it, and what each part of it gives just now.
void ProgramView::paintThread(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  for (const Token& token : row.tokens)
    paintToken(p, token, hasFocus() && focus_ == FieldRef{row.lane, token.path});
  const auto now = run_.shown();
  if (!now || !now->powered) return;
  const Lane* held = lane(row.lane);
  const std::string from = held ? keptField(held->trigger) : std::string();
  p.setFont(t.mono(11.5));
  for (const LaneView& l : now->lanes) {
    if (l.id != row.lane) continue;
    for (const ProgramRow::Under& under : row.values)
      for (const LaneView::Part& part : l.parts) {
        if (part.path != under.part) continue;
        const std::string path = from + (part.path.empty() ? "" : "/") + part.path;
        QString text = valueText(part.value, edits::exprAt(*now->project, row.lane, path));
        if (part.left)
          text = tr("%1 s left").arg(static_cast<double>(*part.left) * 1e-9, 0, 'f', 1);
        p.setPen(part.left ? t.ink : t.ink2);
        elided(p, under.box, Qt::AlignHCenter, text, 4);
      }
  }
}

// ---- cards

QString ProgramView::wasText(const ProgramRow& row, const Token& token) const {
  if (!atPowerOn_ || !token.isField() || !row.step) return {};
  const Expr* was = edits::exprAt(*atPowerOn_, row.owner(), token.path);
  const Expr* now = edits::exprAt(doc_.project(), row.owner(), token.path);
  if (!was || !now || *was == *now) return {};
  const StepKind* kind = stepKind(row.step->kind);
  const SlotKind* slot = kind ? kind->slot(token.path) : nullptr;
  return tr("was %1%2")
      .arg(str(slotText(*was, slot ? *slot : SlotKind{.type = token.type})),
           slot && !slot->unit.empty() ? QStringLiteral(" ") + str(slot->unit) : QString());
}

// What the pin of a fork's test is just now.
QString ProgramView::nowOf(const Step& fork) const {
  const auto now = run_.shown();
  const Expr* test = testOf(fork);
  if (!now || !test) return {};
  std::string pin;
  bool measured = false;
  forEachGetter(*test, [&](const GetterKind& getter, const std::string& name) {
    pin = name;
    measured = getter.measures;
  });
  const int index = programPinIndex(*now->project, board_, pin);
  const auto i = static_cast<std::size_t>(index);
  if (index < 0 || i >= now->levels.size()) return {};
  const PinReading& reading = now->reading.pins[i];
  if (!measured) return now->levels[i] ? tr("now: high") : tr("now: low");
  const double volts = reading.volts.value_or(0) - reading.groundVolts;
  const double share =
      reading.supplyVolts > 0 ? std::clamp(volts / reading.supplyVolts, 0.0, 1.0) : 0;
  return tr("now: %1 %").arg(share * 100, 0, 'f', 0);
}

ProgramView::Note ProgramView::noteOf(const ProgramRow& row) const {
  const Theme& t = theme();
  Note note{{}, t.ink2, false};
  const std::string& id = row.step->id;
  if (mendedStep_ == str(id)) note.text = tr("read as “%1”").arg(mendedWords_);
  const bool copied = std::any_of(fresh_.begin(), fresh_.end(),
                                  [&](const FieldRef& field) { return field.step == id; });
  if (copied) note = {tr("a copy: what is different?"), t.ink2, true};
  const bool running = runs(row);
  const auto wrong = troubles_.find(id);
  const Finding* found = findingOf(id);
  if (running) {
    Nanoseconds left = 0;
    for (const LaneView& l : run_.shown()->lanes)
      if (l.step == id) left = l.waitLeft;
    note = {left > 0
                ? QStringLiteral("▶ %1 s left").arg(static_cast<double>(left) * 1e-9, 0, 'f', 2)
                : QStringLiteral("▶"),
            t.ink, false};
  } else if (wrong != troubles_.end()) {
    note = {QStringLiteral("▲ ") + wrong->second, t.warning, true};
  } else if (found) {
    note = {finding(*found), t.severity(found->severity), true};
  } else if (isFork(*row.step) && run_.shown()) {
    note = {nowOf(*row.step), t.ink2, false};
  }
  for (const Token& token : row.tokens)
    if (const QString was = wasText(row, token); !was.isEmpty())
      note.text = running ? was + QStringLiteral("  ") + note.text : was;
  return note;
}

void ProgramView::paintCard(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  const bool running = runs(row), selected = isSelected(row);
  p.setPen(QPen(running ? t.amber : selected ? t.ink : t.line, running || selected ? 2 : 1));
  p.setBrush(running ? t.amberWash : t.card);
  p.drawRoundedRect(row.box, 5, 5);
  if (runsOwnStep(*row.step)) {  // its steps stand elsewhere
    p.setPen(QPen(t.ink, 1.4));
    for (const double x : {0.0, 3.5})
      p.drawLine(row.box.topLeft() + QPointF(x, 4), row.box.bottomLeft() + QPointF(x, -4));
  }
  for (const Token& token : row.tokens) {
    const FieldRef ref{row.step->id, token.path};
    paintToken(p, token, token.isField() && focus_ == ref && hasFocus());
    // Of a copy: this probably changes.
    if (!isFresh(ref.step, ref.path)) continue;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 1.6, Qt::DashLine));
    p.drawRoundedRect(token.box.adjusted(-1.5, -2, 1.5, 2), 5, 5);
  }
  if (mendedStep_ == str(row.step->id) && !row.tokens.empty()) {
    p.setPen(QPen(t.ink2, 1.6, Qt::DotLine));
    const double y = row.tokens.back().box.bottom() + 3;
    p.drawLine(QPointF(row.tokens.front().box.left(), y),
               QPointF(row.tokens.back().box.right(), y));
  }
  if (const Note note = noteOf(row); !note.text.isEmpty()) {
    const double from = row.tokens.empty() ? row.box.left() : row.tokens.back().box.right();
    p.setFont(note.plain ? t.text(12, QFont::Medium) : t.mono(11.5));
    p.setPen(note.ink);
    const QRectF place(from + 14, row.box.bottom() - rail::rowHeight, row.box.right() - from - 24,
                       rail::rowHeight);
    if (place.width() > 24) elided(p, place, Qt::AlignRight, note.text);
  }
  // Its station dot.
  if (running) {
    QColor glow = t.amber;
    glow.setAlpha(90);
    p.setPen(Qt::NoPen);
    p.setBrush(glow);
    p.drawEllipse(QPointF(row.dotX, row.dotY), 9, 9);
  }
  p.setPen(QPen(t.ink, 2));
  p.setBrush(running ? t.amber : t.card);
  p.drawEllipse(QPointF(row.dotX, row.dotY), 5, 5);
}

}  // namespace ignavo::app
