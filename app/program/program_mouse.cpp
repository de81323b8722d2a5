#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "format/suggestion.h"
#include "program/names.h"
#include "program/program_view.h"
#include "program/words.h"
#include "theme/text.h"

// The mouse in the program: fields to open, steps to choose and to drag, menus to ask for. A card
// is dragged alone or with what is chosen besides; by its dot on the rail all that follows comes
// along.
namespace ignavo::app {

namespace {
constexpr double outside = 40;  // pixels beyond the edge at which a dragged step is removed
}  // namespace

ProgramView::FieldRef ProgramView::fieldAt(const ProgramRow& row, QPointF at) const {
  FieldRef out;
  // What stands in an operator's box lies on top of it.
  for (const Token& t : row.tokens)
    if (t.isField() && t.box.adjusted(-2, -3, 2, 3).contains(at)) out = {row.owner(), t.path};
  return out;
}

void ProgramView::mousePressEvent(QMouseEvent* e) {
  closeEditor(true);
  pressing_ = true;
  setFocus();
  const QPointF at = e->position() / zoom_;
  pressedAt_ = at;
  pressedStep_.clear();
  dragged_.clear();
  const ProgramRow* row = rowAt(at);
  if (row) {
    pressRow(*row, e);
  } else {
    selectOnly({});
    focus_ = {};
    update();
  }
  if (!pressedStep_.empty()) return;
  pressing_ = false;
  makeRoom();
}

void ProgramView::pressRow(const ProgramRow& row, QMouseEvent* e) {
  const bool left = e->button() == Qt::LeftButton;
  switch (row.what) {
    case ProgramRow::What::empty:
      if (!left) return;
      insertAt_ = {row.lane, row.step->id, row.body, 0};
      pressing_ = false;
      return openInsert();
    case ProgramRow::What::branch: {
      // A branch that has steps: the next one, at its end.
      const Steps* body = row.step->body(row.body);
      if (!left || !body) return;
      insertAt_ = {row.lane, row.step->id, row.body, body->size()};
      pressing_ = false;
      return openInsert();
    }
    case ProgramRow::What::folded:
      return fold(row.step->id, false);
    case ProgramRow::What::sign:
    case ProgramRow::What::thread:
      focus_ = fieldAt(row, pressedAt_);
      selectOnly(row.lane);
      if (!left || (focus_.path.empty() && row.what == ProgramRow::What::sign))
        return contextMenu(e->globalPosition().toPoint());
      if (focus_.path.empty()) return;
      return openField(focus_);
    case ProgramRow::What::step:
      break;
    default:
      return;
  }
  const std::string id = row.step->id;
  if (e->modifiers() & Qt::ShiftModifier) {
    focus_ = {};
    return selectTo(id);
  }
  // What is chosen together stays so, to be dragged or asked for its menu.
  const bool among = isSelected(row) && !also_.empty();
  const FieldRef field = fieldAt(row, pressedAt_);
  if (!among)
    selectOnly(id);
  else
    doc_.selectStep(str(id));
  focus_ = field;
  if (!left) return contextMenu(e->globalPosition().toPoint());
  pressedStep_ = id;
  pulled_ = pressedAt_.x() < row.box.left();
  update();
}

// The cursor and what is shown of what lies there.
void ProgramView::pointAt(QPointF at) {
  const ProgramRow* row = rowAt(at);
  const FieldRef over = row ? fieldAt(*row, at) : FieldRef();
  const bool card = row && row->what == ProgramRow::What::step;
  setCursor(!over.step.empty()                             ? Qt::PointingHandCursor
            : card                                         ? Qt::OpenHandCursor
            : row && row->what == ProgramRow::What::folded ? Qt::PointingHandCursor
                                                           : Qt::ArrowCursor);
  hover_ = over;
  const bool onDot = card && at.x() < row->box.left();
  const QString hint =
      !over.step.empty()    ? tr("Click to change it; ↑ and ↓ step a number.")
      : onDot               ? tr("Pull the dot: the step moves with all that follows it.")
      : card && run_.isOn() ? ranText(row->step->id)
      : card ? tr("Drag to move it, out of the pane to remove it; Ctrl+Return tries it.")
      : row && row->what == ProgramRow::What::thread
          ? tr("Type what should be done to it: flips, held for 3 s, at most every 0.5 s.")
          : QString();
  if (std::exchange(hint_, hint) != hint) Q_EMIT hinted(hint);
  // The return of a loop shows while one points into it.
  std::string loop;
  for (const RailPiece& piece : picture_.rails) {
    if (!piece.inner || !piece.owner) continue;
    const auto [least, most] =
        std::minmax_element(piece.points.begin(), piece.points.end(),
                            [](const QPointF& a, const QPointF& b) { return a.y() < b.y(); });
    if (at.y() > least->y() - 10 && at.y() < most->y()) loop = piece.owner->id;
  }
  if (std::exchange(hoverLoop_, loop) != loop) update();
}

// The gap that a card whose left edge is there would go into; -1: none is so near.
int ProgramView::gapAt(QPointF at, double left, double reach) const {
  double best = reach;
  int out = -1;
  // Right on a body that has nothing inside yet: there.
  const ProgramRow* over = rowAt(at);
  if (over && over->what == ProgramRow::What::empty) {
    const edits::StepPlace inside{over->lane, over->step->id, over->body, 0};
    for (std::size_t i = 0; i < picture_.gaps.size(); ++i)
      if (picture_.gaps[i].place == inside) return static_cast<int>(i);
  }
  for (std::size_t i = 0; i < picture_.gaps.size(); ++i) {
    const ProgramGap& gap = picture_.gaps[i];
    if (at.x() > gap.right + 20) continue;
    const double d = std::abs(gap.y - at.y()) + 0.3 * std::min(100.0, std::abs(gap.x - left));
    if (d < best) best = d, out = static_cast<int>(i);
  }
  return out;
}

void ProgramView::mouseMoveEvent(QMouseEvent* e) {
  const QPointF at = e->position() / zoom_;
  if ((e->buttons() & Qt::LeftButton) && !pressedStep_.empty() && dragged_.empty() &&
      QLineF(at, pressedAt_).length() > 5)
    dragged_ = pulled_ ? withFollowers(pressedStep_) : selected();
  if (dragged_.empty()) return pointAt(at);
  dragAt_ = at;
  dropGap_ = -1;
  if (e->position().x() > -outside && e->position().x() < width() + outside) {
    const ProgramRow* held = rowOf(pressedStep_);
    dropGap_ = gapAt(at, (held ? held->box.left() : at.x()) + at.x() - pressedAt_.x(), 40);
  }
  update();
}

void ProgramView::mouseReleaseEvent(QMouseEvent* e) {
  const std::string id = std::exchange(pressedStep_, {});
  pressing_ = false;
  if (const auto ids = std::exchange(dragged_, {}); !ids.empty()) {
    const double out = std::max(-e->position().x(), e->position().x() - width());
    if (out > outside)
      doc_.edit(tr("remove %1").arg(nameOf(ids)), edits::removeSteps(doc_.project(), ids));
    else if (dropGap_ >= 0)
      move(ids, picture_.gaps[static_cast<std::size_t>(dropGap_)].place);
    dropGap_ = -1;
    return update();
  }
  makeRoom();
  if (e->button() == Qt::LeftButton && !id.empty() && !focus_.path.empty()) openField(focus_);
}

void ProgramView::mouseDoubleClickEvent(QMouseEvent* e) { mousePressEvent(e); }
void ProgramView::leaveEvent(QEvent*) { unsetCursor(); }

void ProgramView::wheelEvent(QWheelEvent* e) {
  if (!(e->modifiers() & Qt::ControlModifier)) return e->ignore();
  setZoom(zoom_ * std::pow(1.25, e->angleDelta().y() / 120.0));
  e->accept();
}

// ---- parts of the bench that are dragged onto a rail

void ProgramView::hoverPart(const std::string& part, QPointF at) {
  part_ = part;
  dragAt_ = at / zoom_;
  constexpr double reach = 75;  // it is no card: where it is held matters little
  dropGap_ = dragAt_.y() > picture_.height ? -1 : gapAt(dragAt_, dragAt_.x(), reach);
  update();
}

void ProgramView::leavePart() {
  part_.clear();
  dropGap_ = -1;
  update();
}

bool ProgramView::dropPart(const std::string& part, QPointF at) {
  hoverPart(part, at);
  const int gap = dropGap_;
  leavePart();
  const Suggestion suggested = suggestionFor(doc_.project(), doc_.nets(), board_, part);
  if (suggested.steps.empty()) {
    Q_EMIT problem(str(suggested.problem));
    return false;
  }
  if (suggested.lane && at.y() > picture_.height * zoom_) {
    Lane fresh;
    fresh.trigger = *suggested.lane;
    doc_.edit(tr("add a lane"), edits::addLane(doc_.project(), board_, std::move(fresh)));
    return true;
  }
  edits::StepPlace place =
      gap < 0 ? placeForNew() : picture_.gaps[static_cast<std::size_t>(gap)].place;
  if (place.lane.empty()) return false;
  const Step& first = suggested.steps.front();
  doc_.edit(tr("add “%1”").arg(str(phraseOf(first))),
            edits::assignIds(edits::insertSteps(doc_.project(), place, suggested.steps)));
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step && edits::placeOf(doc_.project(), row.step->id) == place)
      selectOnly(row.step->id);
  setFocus();
  return true;
}

}  // namespace ignavo::app
