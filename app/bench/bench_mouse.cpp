#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/wiring.h"
#include "project/edits.h"
#include "theme/pitch.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double dragFrom = 4;  // pixels before a press becomes a drag
}  // namespace

void BenchView::mousePressEvent(QMouseEvent* e) {
  const bool again = QLineF(pressedAt_, e->position()).length() < 3;
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
  if (mode_ == Mode::placing) return updateInHand(mouse_);
  if (mode_ == Mode::wiring) {
    if (!wireFrom_) {
      const auto from = magnet(mouse_);
      if (from && canWire(doc_.project(), catalogue(), *from).clear()) wireFrom_ = from;
      refreshHover();
      update();
    }
    return;  // second click: finished on release
  }
  const std::vector<Hit> hits = hitsAt(mouse_);
  grabbed_ = hits.empty() ? Hit{} : hits.front();
  // Clicking again takes what lies below.
  const auto solid = [](const Hit& h) {
    return h.what == Hit::What::part || h.what == Hit::What::wire || h.what == Hit::What::wireEnd;
  };
  if (again && doc_.selection().size() == 1 && solid(grabbed_)) {
    for (std::size_t i = 0; i + 1 < hits.size(); ++i)
      if (str(hits[i].id) == doc_.selection().front())
        for (std::size_t k = i + 1; k < hits.size(); ++k)
          if (solid(hits[k]) && hits[k].id != hits[i].id) {
            grabbed_ = hits[k];
            i = hits.size();
            break;
          }
  }
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
    case Hit::What::cap: {
      const Part* part = doc_.project().part(grabbed_.id);
      if (!adding) choose(grabbed_.id);
      if (!catalogue().partKind(part->type)->pressable) return throwSwitch(grabbed_.id);
      mode_ = Mode::pressing;
      run_.press(str(grabbed_.id), true);
      break;
    }
    case Hit::What::latch: {
      const auto kept = std::find(held_.begin(), held_.end(), grabbed_.id);
      if (kept != held_.end())
        held_.erase(kept), run_.press(str(grabbed_.id), false);
      else
        held_.push_back(grabbed_.id), run_.press(str(grabbed_.id), true);
      break;
    }
    case Hit::What::knob: {
      choose(grabbed_.id);
      const Part* part = doc_.project().part(grabbed_.id);
      const PartKind* kind = catalogue().partKind(part->type);
      knobBase_ = part->number(kind->knob, 0);
      mode_ = Mode::turningKnob;
      break;
    }
    case Hit::What::pinName:
      knobBase_ = run_.heldPercent(grabbed_.socket.owner, grabbed_.socket.point).value_or(0);
      mode_ = Mode::holdingPin;
      break;
    case Hit::What::mark:
      Q_EMIT findingClicked(grabbed_.index);
      break;
    case Hit::What::leg: {
      choose(grabbed_.id);
      // A leg that is in no hole is clipped; leads and long legs are plugged elsewhere.
      const Part* part = doc_.project().part(grabbed_.id);
      const Footprint* print = catalogue().part(part->type);
      const bool inHole = part->leg(grabbed_.leg) && part->leg(grabbed_.leg)->in;
      if (!inHole && !print->leads) {
        mode_ = Mode::wiring;
        wireFrom_ = grabbed_.socket;
      } else {
        mode_ = print->stretches || print->leads ? Mode::movingLeg : Mode::movingPart;
      }
      break;
    }
    case Hit::What::part:
    case Hit::What::board:
    case Hit::What::breadboard:
      choose(grabbed_.id);
      mode_ = Mode::movingPart;
      break;
    case Hit::What::wireEnd:
      choose(grabbed_.id);
      mode_ = Mode::movingEnd;
      break;
    case Hit::What::bend:
      mode_ = Mode::movingBend;
      break;
    case Hit::What::wire:
      choose(grabbed_.id);
      if (doc_.selection().size() > 1) mode_ = Mode::movingPart;
      break;
    case Hit::What::socket:
      doc_.select({});
      mode_ = Mode::wiring;
      wireFrom_ = grabbed_.socket;
      wireTo_.reset();
      wireObstacle_ = {};
      break;
    case Hit::What::none:
      if (!adding) doc_.select({});
      mode_ = Mode::marquee;
      marquee_ = QRectF(toBench(mouse_), QSizeF(0, 0));
      break;
  }
  update();
}

// Goes on with what was begun by pressing.
void BenchView::dragTo(QPointF screen, bool fine) {
  switch (mode_) {
    case Mode::movingEnd: {
      const Wire* wire = doc_.project().wire(grabbed_.id);
      if (!wire || !dragging_) break;
      wireFrom_ = grabbed_.leg == "from" ? wire->to : wire->from;  // the end that stays
      wireTo_ = magnet(screen);
      wireObstacle_ =
          wireTo_ ? canWire(doc_.project(), catalogue(), *wireTo_, wire->id) : Obstacle{};
      break;
    }
    case Mode::movingLeg: {
      if (!dragging_) break;
      wireTo_ = magnet(screen);
      if (wireTo_)
        propose(plugged(doc_.project(), catalogue(), grabbed_.id, grabbed_.leg, *wireTo_));
      else
        dropProposal();
      break;
    }
    case Mode::movingPart: {
      if (!dragging_) break;
      const QPointF d = (screen - pressedAt_) / (zoom_ * u);
      const Point offset{std::round(d.x()), std::round(d.y())};
      // The breadboard is held fast while something else of the selection moves with it.
      movedBy_ = offset;
      propose(moves_.next(doc_.project(), catalogue(), selectedIds(), offset));
      break;
    }
    case Mode::movingBend: {
      if (!dragging_) break;
      Point at = pitches(toBench(screen));
      if (!fine) at = {std::round(at.x * 2) / 2, std::round(at.y * 2) / 2};
      Arranged a{edits::changeWire(doc_.project(), grabbed_.id,
                                   [&](Wire& w) {
                                     const auto i = static_cast<std::size_t>(grabbed_.index);
                                     if (i < w.bends.size()) w.bends[i] = at;
                                   }),
                 {},
                 {grabbed_.id}};
      propose(std::move(a));
      break;
    }
    case Mode::turningKnob:
      turnKnob(grabbed_.id, (pressedAt_.y() - screen.y()) * (fine ? 0.1 : 0.5), knobBase_);
      break;
    case Mode::holdingPin:
      if (dragging_)
        holdPin(grabbed_.socket, knobBase_ + (pressedAt_.y() - screen.y()) * (fine ? 0.1 : 1));
      break;
    default:
      break;
  }
}

// A part that is dragged beyond the edge is for whatever lies there; on the bench it stays.
bool BenchView::dragOutside(const QMouseEvent& e, bool drop) {
  const bool outside = mode_ == Mode::movingPart && dragging_ && doc_.project().part(grabbed_.id) &&
                       !rect().contains(mouse_.toPoint());
  if (std::exchange(outside_, outside && !drop) && !outside) Q_EMIT partBack();
  if (!outside) return false;
  dropProposal();
  const QPoint global = e.globalPosition().toPoint();
  if (drop)
    Q_EMIT partDropped(str(grabbed_.id), global);
  else
    Q_EMIT partOutside(str(grabbed_.id), global);
  return true;
}

void BenchView::mouseMoveEvent(QMouseEvent* e) {
  const QPointF before = mouse_;
  mouse_ = e->position();
  if (e->buttons() != Qt::NoButton && QLineF(pressedAt_, mouse_).length() > dragFrom)
    dragging_ = true;
  if (dragOutside(*e, false)) return update();
  switch (mode_) {
    case Mode::panning:
      pan_ += mouse_ - before;
      fitted_ = false;
      static_ = still_ = QPixmap();
      viewMoved();
      break;
    case Mode::placing:
      updateInHand(mouse_);
      break;
    case Mode::wiring:
      wireTo_ = magnet(mouse_);
      if (wireTo_ && wireTo_ == wireFrom_) wireTo_.reset();
      wireObstacle_ = wireTo_ ? canWire(doc_.project(), catalogue(), *wireTo_) : Obstacle{};
      {
        // What is in the way fades.
        const Hit under = hitAt(mouse_);
        hover_ = under.what == Hit::What::part || under.what == Hit::What::wire ? under : Hit{};
      }
      break;
    case Mode::marquee:
      marquee_ = QRectF(toBench(pressedAt_), toBench(mouse_)).normalized();
      break;
    case Mode::idle:
      cursorShown_ = false;
      refreshHover();
      break;
    case Mode::pressing:
      break;
    default:
      dragTo(mouse_, e->modifiers() & Qt::ShiftModifier);
  }
  update();
}

void BenchView::mouseReleaseEvent(QMouseEvent* e) {
  mouse_ = e->position();
  const Mode was = mode_;
  const bool dragged = dragging_;
  const bool shift = e->modifiers() & Qt::ShiftModifier;
  if (dragOutside(*e, true)) return letGo();
  if (dragged) dragTo(mouse_, shift);
  switch (was) {
    case Mode::placing:
      updateInHand(mouse_);
      return placeInHand();
    case Mode::wiring: {
      if (!wireFrom_) return;
      const auto to = magnet(mouse_);
      // A click on the first hole starts a wire that a second click ends.
      if (!dragged && (!to || to == wireFrom_)) {
        setHint(QStringLiteral("Now click the hole where the wire should end."));
        return;
      }
      if (to) finishWire(*to, shift);
      if (mode_ == Mode::wiring && wireFrom_) {
        const QString why = hint_;
        const bool refused = to.has_value();
        letGo();
        if (refused) setHint(why);
      }
      return;
    }
    case Mode::movingEnd: {
      const auto to = dragged ? wireTo_ : std::nullopt;
      const std::string id = grabbed_.id, end = grabbed_.leg;
      const Obstacle o = to ? canWire(doc_.project(), catalogue(), *to, id) : Obstacle{};
      letGo();
      if (!o.clear()) return setHint(obstacleText(o, {}));
      const Wire* wire = doc_.project().wire(id);
      if (to && wire && *to != (end == "from" ? wire->to : wire->from))
        doc_.edit(QStringLiteral("move a wire to %1").arg(str(to->point)),
                  edits::changeWire(doc_.project(), id, [&](Wire& w) {
                    (end == "from" ? w.from : w.to) = *to;
                    w.bends.clear();
                  }));
      return;
    }
    case Mode::movingLeg: {
      const Part* part = doc_.project().part(grabbed_.id);
      const Footprint* print = part ? catalogue().part(part->type) : nullptr;
      if (part && dragged && proposal_) {
        keepProposal(QStringLiteral("move a leg of %1 to %2")
                         .arg(str(part->name), wireTo_ ? str(wireTo_->point) : QString()));
        return;
      }
      // A lead that is dropped beside the breadboard is pulled out.
      const std::string id = grabbed_.id, leg = grabbed_.leg;
      letGo();
      if (print && dragged && print->leads)
        commit(unplugged(doc_.project(), id, leg),
               QStringLiteral("pull out a lead of %1").arg(str(part->name)));
      return;
    }
    case Mode::movingPart:
      if (dragged && proposal_ && !(proposal_->arranged.project == doc_.project())) {
        fitted_ = false;
        keepMove();
      } else {
        letGo();
      }
      return;
    case Mode::movingBend:
      if (dragged)
        keepProposal(QStringLiteral("bend a wire"));
      else
        letGo();
      return;
    case Mode::marquee: {
      QStringList ids = shift ? doc_.selection() : QStringList();
      if (dragged) {
        for (const auto& part : *doc_.project().parts)
          if (marquee_.contains(bodyOf(*part, lookOf(doc_.project(), *part)).center()))
            ids << str(part->id);
        for (const auto& wire : *doc_.project().wires) {
          const auto a = place(doc_.project(), wire->from), b = place(doc_.project(), wire->to);
          if (a && b && marquee_.contains(*a) && marquee_.contains(*b)) ids << str(wire->id);
        }
        ids.removeDuplicates();
        doc_.select(ids);
      }
      return letGo();
    }
    case Mode::pressing: {
      const std::string id = grabbed_.id;
      const auto kept = std::find(held_.begin(), held_.end(), id);
      mode_ = Mode::idle;
      if (shift && kept == held_.end()) {
        held_.push_back(id);  // stays held until it is clicked again
      } else {
        if (kept != held_.end()) held_.erase(kept);
        run_.press(str(id), false);
      }
      return refreshHover();
    }
    case Mode::holdingPin: {
      const Socket pin = grabbed_.socket;
      letGo();
      if (!dragged) wantPin(pin);
      return;
    }
    case Mode::turningKnob:
    case Mode::panning:
    case Mode::idle:
      break;
  }
  letGo();
}

void BenchView::mouseDoubleClickEvent(QMouseEvent* e) {
  const Hit hit = hitAt(e->position());
  if (hit.what == Hit::What::cap || mode_ != Mode::idle) return mousePressEvent(e);
  if (hit.what == Hit::What::bend) {
    doc_.edit(QStringLiteral("take out a bend"),
              edits::changeWire(doc_.project(), hit.id,
                                [&](Wire& w) { w.bends.erase(w.bends.begin() + hit.index); }));
    return;
  }
  if (hit.what != Hit::What::wire) return;
  const Point at = pitches(toBench(e->position()));
  doc_.edit(QStringLiteral("bend a wire"), withBend(doc_.project(), catalogue(), hit.id, at));
}

void BenchView::wheelEvent(QWheelEvent* e) {
  // Two fingers on a touchpad pan; a wheel zooms.
  if (e->phase() != Qt::NoScrollPhase && !(e->modifiers() & Qt::ControlModifier)) {
    pan_ += e->pixelDelta().isNull() ? QPointF(e->angleDelta()) / 2 : QPointF(e->pixelDelta());
    fitted_ = false;
    static_ = still_ = QPixmap();
    viewMoved();
  } else {
    zoomBy(std::pow(1.0015, e->angleDelta().y()), e->position());
  }
  e->accept();
}

void BenchView::leaveEvent(QEvent*) {
  if (mode_ == Mode::idle) {
    mouse_ = {-1000, -1000};
    refreshHover();
    update();
  }
}

}  // namespace ignavo::app
