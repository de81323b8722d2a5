#include <QMouseEvent>
#include <cmath>

#include "theme/text.h"

#include "program/program_view.h"

// The mouse in the program: fields to open, steps to drag, menus to ask for.
namespace ignavo::app {

namespace {
constexpr double outside = 40;  // pixels beyond the edge at which a dragged step is removed
}  // namespace

void ProgramView::mousePressEvent(QMouseEvent* e) {
  closeEditor(true);
  setFocus();
  const QPointF at = e->position();
  pressedAt_ = at;
  pressedStep_.clear();
  dragging_ = false;
  const ProgramRow* row = rowAt(at);
  if (!row) {
    doc_.selectStep({});
    focus_ = {};
    update();
    return;
  }
  if (row->what == ProgramRow::What::empty && e->button() == Qt::LeftButton) {
    insertAt_ = {row->lane, row->step->id, row->body, 0};
    openInsert();
    return;
  }
  if (row->what == ProgramRow::What::sign) {
    focus_ = {};
    for (const Token& t : row->tokens)
      if (t.isField() && t.box.adjusted(-2, -3, 2, 3).contains(at)) focus_ = {row->lane, t.path};
    doc_.selectStep(str(row->lane));
    if (e->button() == Qt::RightButton || focus_.path.empty())
      return contextMenu(e->globalPosition().toPoint());
    return openField(focus_);
  }
  if (row->what != ProgramRow::What::step) return;
  const std::string id = row->step->id;
  FieldRef field;
  for (const Token& t : row->tokens)
    if (t.isField() && t.box.adjusted(-2, -3, 2, 3).contains(at)) field = {id, t.path};
  doc_.selectStep(str(id));
  focus_ = field;
  if (e->button() == Qt::RightButton) return contextMenu(e->globalPosition().toPoint());
  pressedStep_ = id;
  update();
}

void ProgramView::mouseMoveEvent(QMouseEvent* e) {
  const QPointF at = e->position();
  if ((e->buttons() & Qt::LeftButton) && !pressedStep_.empty() &&
      QLineF(at, pressedAt_).length() > 5)
    dragging_ = true;
  if (!dragging_) {
    const ProgramRow* row = rowAt(at);
    FieldRef over;
    if (row && (row->what == ProgramRow::What::step || row->what == ProgramRow::What::sign))
      for (const Token& t : row->tokens)
        if (t.isField() && t.box.adjusted(-2, -3, 2, 3).contains(at)) over = {row->owner(), t.path};
    setCursor(over.step.empty() ? (row && row->what == ProgramRow::What::step ? Qt::OpenHandCursor
                                                                              : Qt::ArrowCursor)
                                : Qt::PointingHandCursor);
    hover_ = over;
    return;
  }
  dragAt_ = at;
  dropGap_ = -1;
  if (rect()
          .adjusted(-static_cast<int>(outside), -10000, static_cast<int>(outside), 10000)
          .contains(at.toPoint())) {
    double best = 40;
    const ProgramRow* held = rowOf(pressedStep_);
    const double cardLeft = (held ? held->box.left() : at.x()) + at.x() - pressedAt_.x();
    for (std::size_t i = 0; i < picture_.gaps.size(); ++i) {
      const ProgramGap& gap = picture_.gaps[i];
      const double d = std::abs(gap.y - at.y()) + 0.3 * std::abs(gap.x - cardLeft);
      if (d < best) best = d, dropGap_ = static_cast<int>(i);
    }
  }
  update();
}

void ProgramView::mouseReleaseEvent(QMouseEvent* e) {
  const std::string id = pressedStep_;
  pressedStep_.clear();
  if (dragging_) {
    dragging_ = false;
    const Step* step = doc_.project().step(id);
    if (!step) return;
    const QString name = str(phraseOf(*step));
    const double out = std::max(-e->position().x(), e->position().x() - width());
    if (out > outside)
      doc_.edit(tr("remove “%1”").arg(name), edits::removeSteps(doc_.project(), {id}));
    else if (dropGap_ >= 0)
      doc_.edit(tr("move “%1”").arg(name),
                edits::moveStep(doc_.project(), id,
                                picture_.gaps[static_cast<std::size_t>(dropGap_)].place));
    update();
    return;
  }
  if (e->button() == Qt::LeftButton && !id.empty() && !focus_.path.empty()) openField(focus_);
}

void ProgramView::mouseDoubleClickEvent(QMouseEvent* e) { mousePressEvent(e); }
void ProgramView::leaveEvent(QEvent*) { unsetCursor(); }

}  // namespace ignavo::app
