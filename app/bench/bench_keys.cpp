#include <QKeyEvent>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/wiring.h"
#include "project/edits.h"
#include "theme/pitch.h"
#include "theme/text.h"
#include "theme/theme.h"

// The bench without a mouse: a cursor that goes from hole to hole.
namespace ignavo::app {

// Over the trench as well: to the next place where the parts fit.
void BenchView::moveSelection(int dx, int dy) {
  Arranged first{doc_.project(), {}, {}};
  for (int k = 1; k <= 4; ++k) {
    const Point offset{static_cast<double>(dx * k), static_cast<double>(dy * k)};
    Arranged a = moves_.next(doc_.project(), catalogue(), selectedIds(), offset);
    if (k == 1) first = a;
    if (!a.clear()) continue;
    fitted_ = false;
    return commitMove(a, offset);
  }
  commitMove(first, {});
}

std::optional<Socket> BenchView::nextSocket(const std::optional<Socket>& from, int dx,
                                            int dy) const {
  const Project& project = doc_.project();
  const auto here = from ? socketAt(project, catalogue(), *from) : std::nullopt;
  if (!here)
    return project.breadboards.empty()
               ? std::nullopt
               : std::optional(Socket{project.breadboards.front().id, "a1"});
  double best = 1e9;
  std::optional<Socket> next;
  const auto offer = [&](const Socket& s, Point at) {
    const double along = (at.x - here->x) * dx + (at.y - here->y) * dy;
    const double aside = std::abs((at.x - here->x) * dy) + std::abs((at.y - here->y) * dx);
    if (along < 0.3) return;
    const double cost = along + 3 * aside;
    if (cost < best) best = cost, next = s;
  };
  for (const BreadboardItem& bb : project.breadboards)
    if (const BreadboardKind* k = breadboardKind(bb.type))
      for (const Hole& h : k->allHoles()) offer({bb.id, k->address(h)}, bb.at + k->at(h));
  for (const BoardItem& b : project.boards)
    if (const BoardShape* s = catalogue().board(b.type))
      for (const PinShape& pin : s->pins) offer({b.id, pin.name}, b.at + pin.at);
  for (const auto& part : *project.parts)
    for (const Leg& leg : part->legs)
      if (!leg.in)
        if (const auto at = socketAt(project, catalogue(), {part->id, leg.id}))
          offer({part->id, leg.id}, *at);
  return next;
}

void BenchView::moveCursor(int dx, int dy) {
  cursorShown_ = true;
  const Project& project = doc_.project();
  if (!cursor_ || dx || dy)
    if (const auto next = nextSocket(cursor_, dx, dy)) cursor_ = next;
  if (!cursor_) return;
  const QPointF before = mouse_;
  mouse_ = screenOf(*cursor_);
  if (mode_ == Mode::wiring) {
    wireTo_ = wireFrom_ && !(*cursor_ == *wireFrom_) ? cursor_ : std::nullopt;
    wireObstacle_ = wireTo_ ? canWire(project, catalogue(), *wireTo_) : Obstacle{};
  } else if (mode_ == Mode::movingEnd || mode_ == Mode::movingLeg || mode_ == Mode::movingBend) {
    dragTo(mouse_, false);
  } else {
    mouse_ = before;
  }
  sayCursor();
  update();
}

// Where the cursor is and what is there, in words.
void BenchView::sayCursor() {
  if (!cursor_) return;
  QStringList words = netTip(*cursor_);
  const Occupancy taken = occupancy(doc_.project());
  const auto it = taken.find(*cursor_);
  QString next = QStringLiteral("W lays a wire from here");
  if (mode_ == Mode::wiring)
    next = QStringLiteral("Return ends the wire here");
  else if (mode_ != Mode::idle)
    next = QStringLiteral("Return puts it here");
  if (it != taken.end()) {
    if (const Part* part = doc_.project().part(it->second.id)) {
      const Footprint* print = catalogue().part(part->type);
      const int leg = print->legIndex(it->second.what);
      words << QStringLiteral("%1, %2").arg(
          str(part->name),
          leg >= 0 ? str(print->legs[static_cast<std::size_t>(leg)].meaning) : QString());
    } else {
      words << QStringLiteral("end of a wire");
    }
    if (mode_ == Mode::idle) next = QStringLiteral("Return selects it, M takes this end elsewhere");
  }
  setHint(words.join(QStringLiteral(" · ")) + QStringLiteral("  —  ") + next);
}

void BenchView::useCursor() {
  if (!cursor_) return moveCursor(0, 0);
  if (mode_ == Mode::wiring && wireFrom_) return finishWire(*cursor_, false);
  Socket from = *cursor_;
  const auto at = socketAt(doc_.project(), catalogue(), from);
  if (!canWire(doc_.project(), catalogue(), from).clear() && at) {
    // A taken hole: another one of the same row.
    const auto instead = freeLike(from, *at);
    if (!instead) return setHint(obstacleText(canWire(doc_.project(), catalogue(), from), {}));
    from = *instead;
  }
  letGo();
  mode_ = Mode::wiring;
  cursorShown_ = true;
  wireFrom_ = from;
  setHint(QStringLiteral("From %1: go to the other hole with the arrow keys, then Return.")
              .arg(str(from.point)));
  update();
}

// What sits in the hole; again: the next thing there.
void BenchView::selectAtCursor() {
  if (!cursor_) return moveCursor(0, 0);
  const Occupancy taken = occupancy(doc_.project());
  std::string id = cursor_->owner;
  if (const auto it = taken.find(*cursor_); it != taken.end())
    id = it->second.id;
  else if (!doc_.project().part(id)) {
    doc_.select({});
    return sayCursor();
  }
  doc_.select({str(id)});
}

// M: the end of a wire or the leg that is here, to be put elsewhere.
void BenchView::pickUpAtCursor() {
  if (!cursor_) return moveCursor(0, 0);
  const Occupancy taken = occupancy(doc_.project());
  const auto it = taken.find(*cursor_);
  if (it == taken.end()) return sayCursor();
  letGo();
  grabbed_ = {};
  grabbed_.id = it->second.id;
  grabbed_.leg = it->second.what;
  grabbed_.socket = *cursor_;
  doc_.select({str(grabbed_.id)});
  cursorShown_ = true;
  dragging_ = true;
  mouse_ = pressedAt_ = screenOf(*cursor_);
  const Part* part = doc_.project().part(grabbed_.id);
  const Footprint* print = part ? catalogue().part(part->type) : nullptr;
  if (part && !print->stretches && !print->leads) {
    dragging_ = false;
    return setHint(QStringLiteral("Its legs are stiff. Arrow keys move the whole part."));
  }
  mode_ = part ? Mode::movingLeg : Mode::movingEnd;
  setHint(QStringLiteral("Go to the other hole with the arrow keys, then Return. Esc leaves it."));
  update();
}

// B: a bend of the selected wire where the cursor is, between the holes.
void BenchView::bendAtCursor() {
  const auto ids = selectedIds();
  const auto at = cursor_ ? socketAt(doc_.project(), catalogue(), *cursor_) : std::nullopt;
  if (ids.size() != 1 || !doc_.project().wire(ids[0]) || !at)
    return setHint(QStringLiteral("Select a wire first; B then bends it at the cursor."));
  doc_.edit(QStringLiteral("bend a wire"),
            withBend(doc_.project(), catalogue(), ids[0], {at->x, at->y + 0.5}));
}

void BenchView::keyPressEvent(QKeyEvent* e) {
  const int dx = e->key() == Qt::Key_Left ? -1 : e->key() == Qt::Key_Right ? 1 : 0;
  const int dy = e->key() == Qt::Key_Up ? -1 : e->key() == Qt::Key_Down ? 1 : 0;
  const bool plain = !(e->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
  const bool shift = e->modifiers() & Qt::ShiftModifier;
  const QStringList selected = doc_.selection();
  if ((dx || dy) && plain) {
    if (mode_ == Mode::placing) {
      // From hole to hole: over the trench as well; on the mat by whole pitches.
      const Point at = pitches(toBench(mouse_));
      for (int k = 1; k <= 4; ++k) {
        const Point next{at.x + dx * k * 1.0, at.y + dy * k * 1.0};
        const auto socket = nearestSocket(doc_.project(), catalogue(), next, 0.6);
        if (!socket) continue;
        updateInHand(screenOf(*socket));
        return;
      }
      return updateInHand(mouse_ + QPointF(dx, dy) * u * zoom_);
    }
    const bool things = std::any_of(selected.begin(), selected.end(), [&](const QString& id) {
      return !doc_.project().wire(id.toStdString());
    });
    if (things && mode_ == Mode::idle && !shift) return moveSelection(dx, dy);
    if (things && mode_ == Mode::idle) doc_.select({});
    return moveCursor(dx, dy);
  }
  switch (e->key()) {
    case Qt::Key_Escape:
      if (mode_ == Mode::idle) doc_.select({});
      if (mode_ == Mode::idle) cursorShown_ = false;
      return letGo();
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (mode_ == Mode::placing) return placeInHand();
      if (mode_ == Mode::wiring) return useCursor();
      if (mode_ == Mode::movingEnd && wireTo_) {
        const Socket to = *wireTo_;
        const std::string id = grabbed_.id, end = grabbed_.leg;
        const Obstacle o = canWire(doc_.project(), catalogue(), to, id);
        letGo();
        cursorShown_ = true;
        if (!o.clear()) return setHint(obstacleText(o, {}));
        doc_.edit(QStringLiteral("move a wire to %1").arg(str(to.point)),
                  edits::changeWire(doc_.project(), id, [&](Wire& w) {
                    (end == "from" ? w.from : w.to) = to;
                    w.bends.clear();
                  }));
        return;
      }
      if (mode_ == Mode::movingLeg) {
        const Part* part = doc_.project().part(grabbed_.id);
        const QString to = wireTo_ ? str(wireTo_->point) : QString();
        keepProposal(QStringLiteral("move a leg of %1 to %2").arg(str(part->name), to));
        cursorShown_ = true;
        return;
      }
      return selectAtCursor();
    case Qt::Key_W:
      if (plain && cursorShown_) return useCursor();
      if (plain && hover_.what == Hit::What::leg) {
        const Socket from{hover_.id, hover_.leg};
        letGo();
        mode_ = Mode::wiring;
        wireFrom_ = from;
        return refreshHover();
      }
      if (plain) return rect().contains(mouse_.toPoint()) ? takeWire() : useCursor();
      break;
    case Qt::Key_M:
      if (plain) return pickUpAtCursor();
      break;
    case Qt::Key_E:
      if (plain) return toggleMeter();
      break;
    case Qt::Key_H:
      if (plain) return holdAtCursor();
      break;
    case Qt::Key_Question:
      return askWhy();
    case Qt::Key_B:
      if (plain && shift) return straightenSelected();
      if (plain) return bendAtCursor();
      break;
    case Qt::Key_F:
      if (plain) return flipSelected();
      break;
    case Qt::Key_R:
      if (plain) return turnSelected();
      break;
    case Qt::Key_L:
      if (plain) return lockSelected();
      break;
    case Qt::Key_A:
      if (plain) return shift ? lineUpSelected() : alignSelected();
      break;
    case Qt::Key_Y:
      if (plain) return tidySelected();
      break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return removeSelected();
    case Qt::Key_Space:
      // Holds the selected button down while the key is down; slides a switch.
      if (plain && !e->isAutoRepeat() && selected.size() == 1) {
        const Part* part = doc_.project().part(selected.front().toStdString());
        const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
        if (kind && !kind->thrownKey.empty()) return throwSwitch(part->id);
        if (run_.isOn()) return run_.press(selected.front(), true);
      }
      if (plain) return;
      break;
    case Qt::Key_PageUp:
    case Qt::Key_PageDown:
      if (selected.size() == 1) {
        const Part* part = doc_.project().part(selected.front().toStdString());
        const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
        if (kind && !kind->knob.empty())
          return turnKnob(part->id, e->key() == Qt::Key_PageUp ? 5 : -5,
                          part->number(kind->knob, 0));
      }
      break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      return zoomBy(1.2, rect().center());
    case Qt::Key_Minus:
      return zoomBy(1 / 1.2, rect().center());
    case Qt::Key_0:
      return fit();
    case Qt::Key_1:
      if (plain) return fitSelection();
      break;
    default:
      break;
  }
  QWidget::keyPressEvent(e);
}

void BenchView::keyReleaseEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Space && !e->isAutoRepeat() && doc_.selection().size() == 1 &&
      run_.isOn())
    return run_.press(doc_.selection().front(), false);
  QWidget::keyReleaseEvent(e);
}

}  // namespace ignavo::app
