#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/wiring.h"
#include "explain/looks.h"
#include "project/edits.h"
#include "theme/text.h"

// What is in hand and what would become of it: proposals, placing, wiring, turning knobs.
namespace ignavo::app {

void BenchView::propose(Arranged arranged) {
  Proposal p{std::move(arranged), {}, {}, {}};
  const Project& now = doc_.project();
  const Project& then = p.arranged.project;
  p.nets = Nets(then, catalogue());
  p.identities = Identities(then, p.nets, catalogue());
  const auto compare = [&](const auto& a, const auto& b) {
    for (std::size_t i = 0; i < b->size(); ++i)
      if (i >= a->size() || !((*a)[i] == (*b)[i])) p.changed.insert((*b)[i]->id);
  };
  compare(now.parts, then.parts);
  compare(now.wires, then.wires);
  for (std::size_t i = 0; i < then.boards.size(); ++i)
    if (i >= now.boards.size() || !(now.boards[i] == then.boards[i])) {
      p.changed.insert(then.boards[i].id);
      for (const auto& wire : *then.wires)
        if (wire->from.owner == then.boards[i].id || wire->to.owner == then.boards[i].id)
          p.changed.insert(wire->id);
    }
  if (!proposal_ || proposal_->changed != p.changed) still_ = QPixmap();
  proposal_ = std::move(p);
  update();
}

void BenchView::dropProposal() {
  proposal_.reset();
  still_ = QPixmap();
}

bool BenchView::commit(const Arranged& arranged, const QString& name) {
  if (!arranged.clear()) {
    std::string type;
    if (!arranged.ids.empty())
      if (const Part* part = arranged.project.part(arranged.ids.front())) type = part->type;
    setHint(obstacleText(arranged.obstacle, type));
    return false;
  }
  doc_.edit(name, arranged.project);
  return true;
}

void BenchView::keepMove() {
  if (!proposal_) return;
  const Arranged arranged = proposal_->arranged;
  letGo();
  commitMove(arranged, movedBy_);
}

void BenchView::commitMove(const Arranged& arranged, Point offset) {
  const Project before = doc_.project();
  const std::vector<std::string> ids = selectedIds();
  if (commit(arranged, QStringLiteral("move %1").arg(titleOfSelection())))
    moves_.made(before, arranged, ids, offset);
}

bool BenchView::keepProposal(const QString& name) {
  if (!proposal_) return false;
  const Arranged arranged = proposal_->arranged;
  letGo();
  return commit(arranged, name);
}

void BenchView::take(const std::string& type) {
  letGo();
  inHandType_ = type;
  inHandWay_ = 0;
  mode_ = Mode::placing;
  setFocus();
  // Without a pointer on the bench it begins in the middle, for the keyboard.
  if (!rect().contains(mouse_.toPoint())) {
    if (isTableItem(type)) mouse_ = rect().center();
    for (const BreadboardItem& bb : doc_.project().breadboards)
      if (const BreadboardKind* k = breadboardKind(bb.type); k && !isTableItem(type)) {
        mouse_ = toScreen(px(bb.at + k->at({2, -1, std::min(9, k->rows)})));
        break;
      }
  }
  updateInHand(mouse_);
  refreshHover();
  update();
}

void BenchView::takeWire() {
  letGo();
  mode_ = Mode::wiring;
  setFocus();
  refreshHover();
}

void BenchView::letGo() {
  mode_ = Mode::idle;
  dragging_ = false;
  wireFrom_.reset();
  wireTo_.reset();
  lastMagnet_.reset();
  wireObstacle_ = {};
  dropProposal();
  unsetCursor();
  refreshHover();
  update();
}

// What is in hand, as it would lie at a point of the screen.
void BenchView::updateInHand(QPointF screen) {
  mouse_ = screen;
  const Point at = pitches(toBench(screen));
  const Project& project = doc_.project();
  if (isTableItem(inHandType_)) {
    BoardItem item;
    item.type = inHandType_;
    item.id = freeId(project, breadboardKind(inHandType_) ? "bb" : "b");
    item.at = {std::round(at.x), std::round(at.y)};
    return propose(withTable(project, catalogue(), item));
  }
  const PartKind* kind = catalogue().partKind(inHandType_);
  if (!kind) return;
  Part part = newPart(project, *kind);
  const Placement p = layOutBest(project, catalogue(), inHandType_, at, inHandWay_);
  const bool anyHole = std::any_of(p.sockets.begin(), p.sockets.end(), [](auto& s) { return s; });
  if (!anyHole) {
    part.turnDegrees = (inHandWay_ % 4) * 90;
    return propose(
        laidOnMat(project, catalogue(), std::move(part), {std::round(at.x), std::round(at.y)}));
  }
  Arranged a = placed(project, catalogue(), std::move(part), p.sockets);
  if (!p.obstacle.clear()) a.obstacle = p.obstacle;
  propose(std::move(a));
}

void BenchView::placeInHand() {
  if (!proposal_) return;
  const std::string type = inHandType_;
  if (!proposal_->arranged.clear()) {
    setHint(obstacleText(proposal_->arranged.obstacle, type));
    return;
  }
  const std::string id = proposal_->arranged.ids.front();
  const Part* part = proposal_->arranged.project.part(id);
  const QString name = part ? str(part->name) : partTypeOf(type);
  if (keepProposal(QStringLiteral("place %1").arg(name))) doc_.select({str(id)});
}

QString BenchView::partTypeOf(const std::string& type) const {
  if (const BreadboardKind* table = breadboardKind(type)) return str(table->name);
  if (const BoardKind* board = catalogue().boardKind(type)) return str(board->label);
  return str(type);
}

void BenchView::dragMoved(const QPoint& global) {
  if (mode_ == Mode::placing) updateInHand(mapFromGlobal(global));
}

void BenchView::dragReleased(const QPoint& global) {
  if (mode_ != Mode::placing) return;
  updateInHand(mapFromGlobal(global));
  if (rect().contains(mapFromGlobal(global)))
    placeInHand();
  else
    letGo();
}

void BenchView::finishWire(const Socket& to, bool keepGoing) {
  if (!wireFrom_ || to == *wireFrom_) return;
  const Socket from = *wireFrom_;
  if (const Obstacle o = canWire(doc_.project(), catalogue(), to); !o.clear())
    return setHint(obstacleText(o, {}));
  Project next = withWire(doc_.project(), catalogue(), from, to);
  const QString id = str((*next.wires).back()->id);
  const QString name =
      QStringLiteral("lay a wire from %1 to %2").arg(str(from.point), str(to.point));
  letGo();
  doc_.edit(name, std::move(next));
  doc_.select({id});
  if (keepGoing) takeWire();
}

// Slides a switch to its other side.
void BenchView::throwSwitch(const std::string& id) {
  const Part* part = doc_.project().part(id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind || kind->thrownKey.empty()) return;
  for (const PropKind& prop : kind->props) {
    if (prop.key != kind->thrownKey) continue;
    const std::string now = part->text(prop.key, prop.choices.front());
    const auto& other = now == prop.choices[0] ? prop.choices[1] : prop.choices[0];
    doc_.edit(QStringLiteral("slide %1 to the %2").arg(str(part->name), str(other)),
              edits::changePart(doc_.project(), id, [&](Part& q) { q.setProp(prop.key, other); }),
              QStringLiteral("throw %1").arg(str(id)));
  }
}

void BenchView::turnKnob(const std::string& id, double change, double base) {
  const Part* part = doc_.project().part(id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind || kind->knob.empty()) return;
  for (const PropKind& prop : kind->props) {
    if (prop.key != kind->knob) continue;
    const double value = std::round(std::clamp(base + change, prop.min, prop.max));
    if (value == part->number(prop.key, prop.defaultValue)) return;
    doc_.edit(tr("turn %1: %2").arg(str(part->name), str(prop.label)),
              edits::changePart(doc_.project(), id, [&](Part& q) { q.setProp(prop.key, value); }),
              QStringLiteral("knob %1").arg(str(id)));
  }
}

// ---- pins by hand

void BenchView::holdPin(const Socket& pin, double percent) {
  run_.hold(str(pin.owner), str(pin.point), std::clamp(std::round(percent), 0.0, 100.0));
  refreshHover();
}

// "high", "30 %"; empty: nobody holds it.
QString BenchView::heldText(const std::string& board, const std::string& pin) const {
  const auto held = run_.isOn() ? run_.heldPercent(board, pin) : std::nullopt;
  if (!held) return {};
  return *held <= 0     ? QStringLiteral("low")
         : *held >= 100 ? QStringLiteral("high")
                        : QStringLiteral("%1 %").arg(*held, 0, 'f', 0);
}

// Beside its hole, so that its name stays in sight.
void BenchView::wantPin(const Socket& pin) {
  Q_EMIT pinWanted(str(pin.owner), str(pin.point), mapToGlobal(screenOf(pin).toPoint()));
}

// Of what is selected, else of what is pointed at.
void BenchView::askWhy() {
  const auto shows = [&](const std::string& id) {
    return outputNamed(doc_.project(), id).has_value();
  };
  for (const std::string& id : selectedIds())
    if (shows(id)) return Q_EMIT whyWanted(str(id));
  if (shows(hover_.id)) return Q_EMIT whyWanted(str(hover_.id));
  setHint(QStringLiteral("? asks why a lamp is dark, a sounder silent, a motor still: select it."));
}

// First in the menu of what shows something, in the words that fit how it is.
void BenchView::offerWhy(QMenu* menu) {
  const auto ids = selectedIds();
  const auto output = ids.size() == 1 ? outputNamed(doc_.project(), ids.front()) : std::nullopt;
  if (!output) return;
  auto* ask = menu->addAction(whyWords(*output) + QStringLiteral("\t?"), this, &BenchView::askWhy);
  ask->setObjectName(QStringLiteral("askWhy"));
  menu->addSeparator();
}

QString BenchView::whyWords(const Output& output) const {
  const Snapshot* s = live();
  if (output.board >= 0) {
    const auto b = static_cast<std::size_t>(output.board);
    const bool lit = s && b < s->boardLight.size() && s->boardLight[b] > litLight;
    return lit ? tr("Why is its own lamp lit?") : tr("Why is its own lamp dark?");
  }
  const auto i = static_cast<std::size_t>(output.part);
  const bool known = s && i < s->light.size() && i < s->motion.size();
  switch (catalogue().partKind((*doc_.project().parts)[i]->type)->shows) {
    case Shows::light:
      return known && s->light[i] > litLight ? tr("Why is it lit?") : tr("Why is this dark?");
    case Shows::sound:
      return known && s->motion[i].hertz > 0 ? tr("Why does it sound?") : tr("Why is this silent?");
    default:
      return known && isTurning(s->motion[i]) ? tr("Why does it turn?")
                                              : tr("Why does this stand still?");
  }
}

// A board's pin that one could hold, in the net of a hole, pin or leg.
std::optional<Socket> BenchView::pinJoinedTo(const Socket& socket) const {
  const int net = doc_.nets().of(socket);
  if (net < 0) return std::nullopt;
  for (const PinRef& ref : doc_.nets().all()[static_cast<std::size_t>(net)].pins) {
    const BoardItem& board = doc_.project().boards[static_cast<std::size_t>(ref.board)];
    const BoardKind* kind = catalogue().boardKind(board.type);
    const auto i = static_cast<std::size_t>(ref.pin);
    if (kind && kind->pins[i].role == PinShape::Role::io)
      return Socket{board.id, kind->pins[i].name};
  }
  return std::nullopt;
}

// Of the board that is shown: the first pin on which something hangs.
std::optional<Socket> BenchView::firstUsedPin() const {
  for (const std::string& pin : programPins(doc_.project(), doc_.board()))
    if (!doc_.pinLabel(doc_.board(), pin).isEmpty()) return Socket{doc_.board(), pin};
  return std::nullopt;
}

// The pin where the cursor is, or the pointer; else the only one in question: the first in use.
void BenchView::holdAtCursor() {
  if (!run_.isOn()) return setHint(QStringLiteral("P switches the power on; then H holds a pin."));
  std::optional<Socket> at = cursorShown_ ? cursor_ : anySocketNear(mouse_);
  std::optional<Socket> pin = at ? pinJoinedTo(*at) : std::nullopt;
  if (hover_.what == Hit::What::pinName) pin = hover_.socket;
  if (!at && !pin) pin = firstUsedPin();
  if (!pin)
    return setHint(
        QStringLiteral("H holds a pin of the board: point at one, or at a hole joined to it."));
  wantPin(*pin);
}

QRectF BenchView::screenOfPinName(const std::string& id, const std::string& pin) const {
  const BoardItem* board = doc_.project().board(id);
  const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
  for (std::size_t i = 0; kind && i < kind->pins.size(); ++i)
    if (kind->pins[i].name == pin) {
      const QRectF box = nameOfPin(*kind, i, px(board->at));
      return {toScreen(box.topLeft()), box.size() * zoom_};
    }
  return {};
}

}  // namespace ignavo::app
