#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "project/edits.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double u = Theme::pitch;
constexpr double dragFrom = 4;  // pixels before a press becomes a drag
QString str(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

void BenchView::mousePressEvent(QMouseEvent* e) {
  mouse_ = pressedAt_ = e->position();
  cursorShown_ = false;
  dragging_ = false;
  if (e->button() == Qt::MiddleButton ||
      (e->button() == Qt::LeftButton && (e->modifiers() & Qt::ControlModifier) &&
       mode_ == Mode::idle && hitAt(mouse_).what == Hit::What::none)) {
    mode_ = Mode::panning;
    setCursor(Qt::ClosedHandCursor);
    return;
  }
  if (e->button() != Qt::LeftButton) return;
  if (mode_ == Mode::placing) {
    updateInHand(mouse_);
    return;
  }
  if (mode_ == Mode::wiring) return;  // second click: finished on release
  grabbed_ = hitAt(mouse_);
  const bool adding = e->modifiers() & Qt::ShiftModifier;
  const auto choose = [&](const std::string& id) {
    if (doc_.isSelected(id) && !adding) return;
    QStringList ids = adding ? doc_.selection() : QStringList();
    if (ids.contains(str(id)))
      ids.removeAll(str(id));
    else
      ids << str(id);
    doc_.select(ids);
  };
  switch (grabbed_.what) {
    case Hit::What::cap:
      mode_ = Mode::pressing;
      run_.press(str(grabbed_.id), true);
      if (!adding) choose(grabbed_.id);
      break;
    case Hit::What::mark:
      Q_EMIT findingClicked(grabbed_.finding);
      break;
    case Hit::What::leg:
      choose(grabbed_.id);
      mode_ = Mode::movingLeg;
      break;
    case Hit::What::part:
      choose(grabbed_.id);
      mode_ = Mode::movingPart;
      break;
    case Hit::What::wireEnd:
      choose(grabbed_.id);
      mode_ = Mode::movingEnd;
      break;
    case Hit::What::wire:
      choose(grabbed_.id);
      break;
    case Hit::What::socket:
      doc_.select({});
      mode_ = Mode::wiring;
      wireFrom_ = grabbed_.socket;
      wireTo_.reset();
      wireObstacle_ = {};
      break;
    case Hit::What::board:
    case Hit::What::breadboard:
      doc_.select({});
      mode_ = Mode::movingItem;
      break;
    case Hit::What::none:
      if (!adding) doc_.select({});
      mode_ = Mode::marquee;
      marquee_ = QRectF(toBench(mouse_), QSizeF(0, 0));
      break;
  }
  update();
}

Placement BenchView::dragPlacement(const Part& part, Point offset) const {
  return moveBy(doc_.project(), catalogue(), part, offset);
}

void BenchView::mouseMoveEvent(QMouseEvent* e) {
  const QPointF before = mouse_;
  mouse_ = e->position();
  if (e->buttons() != Qt::NoButton && QLineF(pressedAt_, mouse_).length() > dragFrom)
    dragging_ = true;
  switch (mode_) {
    case Mode::panning:
      pan_ += mouse_ - before;
      fitted_ = false;
      static_ = QPixmap();
      break;
    case Mode::placing:
      updateInHand(mouse_);
      break;
    case Mode::wiring: {
      wireTo_ = magnet(mouse_);
      if (wireTo_ && wireTo_ == wireFrom_) wireTo_.reset();
      wireObstacle_ = wireTo_ ? canWire(doc_.project(), catalogue(), *wireTo_) : Obstacle{};
      break;
    }
    case Mode::movingEnd: {
      const Wire* wire = doc_.project().wire(grabbed_.id);
      if (!wire || !dragging_) break;
      wireFrom_ = grabbed_.leg == "from" ? wire->to : wire->from;  // the end that stays
      wireTo_ = magnet(mouse_);
      wireObstacle_ =
          wireTo_ ? canWire(doc_.project(), catalogue(), *wireTo_, wire->id) : Obstacle{};
      break;
    }
    case Mode::movingLeg: {
      const Part* part = doc_.project().part(grabbed_.id);
      if (!part || !dragging_) break;
      const Footprint* print = catalogue().part(part->type);
      if (!print->stretches) {
        mode_ = Mode::movingPart;  // a stiff part moves as a whole
        break;
      }
      wireTo_ = magnet(mouse_);
      inHand_.obstacle = wireTo_
                             ? canPlug(doc_.project(), catalogue(), *part, grabbed_.leg, *wireTo_)
                             : Obstacle{Obstacle::Code::noSuchSocket, grabbed_.leg, {}, {}, 0, 0};
      break;
    }
    case Mode::movingPart: {
      if (!dragging_) break;
      const QPointF d = (mouse_ - pressedAt_) / (zoom_ * u);
      moveOffset_ = {std::round(d.x()), std::round(d.y())};
      inHand_.obstacle = {};
      for (const QString& id : doc_.selection())
        if (const Part* part = doc_.project().part(id.toStdString()))
          if (const Placement p = dragPlacement(*part, moveOffset_);
              !p.obstacle.clear() && !doc_.isSelected(p.obstacle.occupant))
            inHand_.obstacle = p.obstacle;
      break;
    }
    case Mode::movingItem:
      break;
    case Mode::marquee:
      marquee_ = QRectF(toBench(pressedAt_), toBench(mouse_)).normalized();
      break;
    case Mode::pressing:
      break;
    case Mode::idle:
      refreshHover();
      break;
  }
  update();
}

void BenchView::commitMove() {
  if (!inHand_.obstacle.clear() || (moveOffset_.x == 0 && moveOffset_.y == 0)) return;
  Project p = doc_.project();
  QString name;
  for (const QString& id : doc_.selection()) {
    const Part* part = doc_.project().part(id.toStdString());
    if (!part) continue;
    name = name.isEmpty() ? str(part->name) : QStringLiteral("parts");
    const Placement placed = dragPlacement(*part, moveOffset_);
    p = edits::changePart(std::move(p), part->id, [&](Part& q) {
      for (std::size_t i = 0; i < q.legs.size(); ++i)
        if (placed.sockets[i]) q.legs[i].in = placed.sockets[i];
      if (q.at) q.at = *q.at + moveOffset_;
    });
  }
  doc_.edit(QStringLiteral("move %1").arg(name), std::move(p));
}

void BenchView::mouseReleaseEvent(QMouseEvent* e) {
  mouse_ = e->position();
  const Mode was = mode_;
  const bool dragged = dragging_;
  switch (was) {
    case Mode::placing:
      updateInHand(mouse_);
      placeInHand();
      return;
    case Mode::wiring: {
      const auto to = magnet(mouse_);
      // A click on the first hole starts a wire that a second click ends.
      if (!dragged && to == wireFrom_) {
        setHint(QStringLiteral("Now click the hole where the wire should end."));
        return;
      }
      if (to) finishWire(*to);
      if (mode_ == Mode::wiring) {
        const bool refused = to.has_value();
        const QString why = hint_;
        letGo();
        if (refused) setHint(why);
      }
      return;
    }
    case Mode::movingEnd: {
      const auto to = dragged ? magnet(mouse_) : std::nullopt;
      const std::string id = grabbed_.id, end = grabbed_.leg;
      const bool clear = to && canWire(doc_.project(), catalogue(), *to, id).clear();
      letGo();
      const Wire* wire = doc_.project().wire(id);
      if (clear && wire && *to != (end == "from" ? wire->to : wire->from))
        doc_.edit(QStringLiteral("move a wire to %1").arg(str(to->point)),
                  edits::changeWire(doc_.project(), id, [&](Wire& w) {
                    (end == "from" ? w.from : w.to) = *to;
                    w.bends.clear();
                  }));
      return;
    }
    case Mode::movingLeg: {
      const auto to = dragged ? magnet(mouse_) : std::nullopt;
      const Hit grabbed = grabbed_;
      const Part* part = doc_.project().part(grabbed.id);
      const Obstacle o =
          part && to ? canPlug(doc_.project(), catalogue(), *part, grabbed.leg, *to) : Obstacle{};
      letGo();
      if (!part || !to) return;
      if (!o.clear()) return setHint(obstacleText(o, part->type));
      doc_.edit(QStringLiteral("move a leg of %1 to %2").arg(str(part->name), str(to->point)),
                edits::changePart(doc_.project(), grabbed.id,
                                  [&](Part& q) { q.leg(grabbed.leg)->in = *to; }));
      return;
    }
    case Mode::movingPart:
      if (dragged) commitMove();
      letGo();
      return;
    case Mode::movingItem: {
      const Hit grabbed = grabbed_;
      letGo();
      if (!dragged) return;
      const QPointF d = (mouse_ - pressedAt_) / (zoom_ * u);
      const Point offset{std::round(d.x()), std::round(d.y())};
      if (offset == Point{}) return;
      Project p = doc_.project();
      for (auto* list : {&p.boards, &p.breadboards})
        for (auto& item : *list)
          if (item.id == grabbed.id) item.at = item.at + offset;
      fitted_ = false;
      doc_.edit(QStringLiteral("move %1").arg(grabbed.what == Hit::What::board
                                                  ? QStringLiteral("the board")
                                                  : QStringLiteral("the breadboard")),
                std::move(p));
      return;
    }
    case Mode::marquee: {
      QStringList ids = e->modifiers() & Qt::ShiftModifier ? doc_.selection() : QStringList();
      if (dragged) {
        for (const auto& part : *doc_.project().parts)
          if (marquee_.contains(bodyOf(*part, legsOf(doc_.project(), *part)).center()))
            ids << str(part->id);
        for (const auto& wire : *doc_.project().wires) {
          const auto a = place(doc_.project(), wire->from), b = place(doc_.project(), wire->to);
          if (a && b && marquee_.contains(*a) && marquee_.contains(*b)) ids << str(wire->id);
        }
        ids.removeDuplicates();
        doc_.select(ids);
      }
      letGo();
      return;
    }
    case Mode::pressing: {
      const std::string id = grabbed_.id;
      const auto kept = std::find(held_.begin(), held_.end(), id);
      mode_ = Mode::idle;
      if ((e->modifiers() & Qt::ShiftModifier) && kept == held_.end()) {
        held_.push_back(id);  // stays held until it is clicked again
      } else {
        if (kept != held_.end()) held_.erase(kept);
        run_.press(str(id), false);
      }
      refreshHover();
      return;
    }
    case Mode::panning:
    case Mode::idle:
      break;
  }
  letGo();
}

void BenchView::mouseDoubleClickEvent(QMouseEvent* e) {
  const Hit hit = hitAt(e->position());
  if (hit.what == Hit::What::cap) return mousePressEvent(e);
  if (hit.what != Hit::What::wire) return;
  const Point at = pitches(toBench(e->position()));
  doc_.edit(QStringLiteral("bend a wire"), edits::changeWire(doc_.project(), hit.id, [&](Wire& w) {
              // In order along the wire, so that it does not turn back on itself.
              const auto from = socketAt(doc_.project(), catalogue(), w.from).value_or(Point{});
              const auto far = [&](Point p) { return std::hypot(p.x - from.x, p.y - from.y); };
              w.bends.insert(std::upper_bound(w.bends.begin(), w.bends.end(), at,
                                              [&](Point a, Point b) { return far(a) < far(b); }),
                             at);
            }));
}

void BenchView::wheelEvent(QWheelEvent* e) {
  zoomBy(std::pow(1.0015, e->angleDelta().y()), e->position());
  e->accept();
}

void BenchView::leaveEvent(QEvent*) {
  if (mode_ == Mode::idle) {
    mouse_ = {-1000, -1000};
    refreshHover();
    update();
  }
}

void BenchView::moveSelection(Point offset) {
  inHand_.obstacle = {};
  moveOffset_ = offset;
  for (const QString& id : doc_.selection())
    if (const Part* part = doc_.project().part(id.toStdString()))
      if (const Placement p = dragPlacement(*part, offset);
          !p.obstacle.clear() && !doc_.isSelected(p.obstacle.occupant))
        inHand_.obstacle = p.obstacle;
  const Obstacle o = inHand_.obstacle;
  commitMove();
  moveOffset_ = {};
  inHand_ = {};
  if (!o.clear()) setHint(obstacleText(o, {}));
}

// The keyboard's cursor goes to the nearest hole or pin in that direction.
void BenchView::moveCursor(int dx, int dy) {
  cursorShown_ = true;
  const auto here = cursor_ ? socketAt(doc_.project(), catalogue(), *cursor_) : std::nullopt;
  if (!here) {
    if (!doc_.project().breadboards.empty())
      cursor_ = Socket{doc_.project().breadboards.front().id, "a1"};
  } else {
    double best = 1e9;
    std::optional<Socket> next;
    const auto offer = [&](const Socket& s, Point at) {
      const double along = (at.x - here->x) * dx + (at.y - here->y) * dy;
      const double aside = std::abs((at.x - here->x) * dy) + std::abs((at.y - here->y) * dx);
      if (along < 0.3) return;
      const double cost = along + 3 * aside;
      if (cost < best) best = cost, next = s;
    };
    for (const BreadboardItem& bb : doc_.project().breadboards)
      if (const BreadboardKind* k = breadboardKind(bb.type))
        for (const Hole& h : k->allHoles()) offer({bb.id, k->address(h)}, bb.at + k->at(h));
    for (const BoardItem& b : doc_.project().boards)
      if (const BoardShape* s = catalogue().board(b.type))
        for (const PinShape& pin : s->pins) offer({b.id, pin.name}, b.at + pin.at);
    if (next) cursor_ = next;
  }
  if (!cursor_) return;
  if (mode_ == Mode::wiring) {
    wireTo_ = cursor_;
    wireObstacle_ = canWire(doc_.project(), catalogue(), *cursor_);
    mouse_ = screenOf(*cursor_);
  }
  const QStringList words = netTip(*cursor_);
  setHint(words.join(QStringLiteral(" · ")) + QStringLiteral("  —  W lays a wire from here"));
  update();
}

void BenchView::useCursor() {
  if (!cursor_) return moveCursor(0, 0);
  if (mode_ == Mode::wiring) {
    finishWire(*cursor_);
    return;
  }
  if (const Obstacle o = canWire(doc_.project(), catalogue(), *cursor_); !o.clear())
    return setHint(obstacleText(o, {}));
  mode_ = Mode::wiring;
  wireFrom_ = cursor_;
  wireTo_.reset();
  setHint(QStringLiteral("From %1: go to the other hole with the arrow keys, then Return.")
              .arg(str(cursor_->point)));
  update();
}

void BenchView::keyPressEvent(QKeyEvent* e) {
  const int dx = e->key() == Qt::Key_Left ? -1 : e->key() == Qt::Key_Right ? 1 : 0;
  const int dy = e->key() == Qt::Key_Up ? -1 : e->key() == Qt::Key_Down ? 1 : 0;
  const bool plain = !(e->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
  if ((dx || dy) && plain) {
    if (mode_ == Mode::placing) {
      // From hole to hole: over the trench as well.
      const Point at = pitches(toBench(mouse_));
      for (int k = 1; k <= 4; ++k) {
        const Point next{at.x + dx * k * 1.0, at.y + dy * k * 1.0};
        const auto socket = nearestSocket(doc_.project(), catalogue(), next, 0.6);
        if (!socket) continue;
        updateInHand(screenOf(*socket));
        return;
      }
      return;
    }
    const QStringList selected = doc_.selection();
    const bool parts = std::any_of(selected.begin(), selected.end(), [&](const QString& id) {
      return doc_.project().part(id.toStdString());
    });
    if (parts && mode_ == Mode::idle)
      return moveSelection({static_cast<double>(dx), static_cast<double>(dy)});
    return moveCursor(dx, dy);
  }
  switch (e->key()) {
    case Qt::Key_Escape:
      if (mode_ == Mode::idle) doc_.select({});
      cursorShown_ = false;
      letGo();
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (mode_ == Mode::placing) return placeInHand();
      if (mode_ == Mode::wiring) return useCursor();
      break;
    case Qt::Key_W:
      if (plain) return useCursor();
      break;
    case Qt::Key_F:
      if (plain) return flipSelected();
      break;
    case Qt::Key_R:
      if (plain) return turnSelected();
      break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return removeSelected();
    case Qt::Key_Space:
      // Holds the selected button down while the key is down.
      if (plain && !e->isAutoRepeat() && doc_.selection().size() == 1 && run_.isOn())
        return run_.press(doc_.selection().front(), true);
      if (plain) return;
      break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      return zoomBy(1.2, rect().center());
    case Qt::Key_Minus:
      return zoomBy(1 / 1.2, rect().center());
    case Qt::Key_0:
      return fit();
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
