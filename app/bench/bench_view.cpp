#include "bench/bench_view.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "program/steps.h"
#include "project/edits.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double u = Theme::pitch;
constexpr double zoomLeast = 0.5, zoomMost = 4.0;
constexpr double fitLeast = 0.25;  // three full breadboards still fit the window
QString str(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

BenchView::BenchView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("bench"));
  setAccessibleName(QStringLiteral("Bench"));
  setAccessibleDescription(QStringLiteral(
      "Board, breadboard, parts and wires. Arrow keys move from hole to hole, W lays a wire."));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  connect(&doc_, &Document::changed, this, [this] {
    if (mode_ != Mode::placing && mode_ != Mode::wiring) letGo();
    preview_.reset();
    poseReading_.reset();
    poseState_.reset();
    solveRest();
    invalidate();
  });
  connect(&doc_, &Document::checked, this, qOverload<>(&QWidget::update));
  connect(&doc_, &Document::selectionChanged, this, [this] {
    refreshHover();
    update();
  });
  connect(&run_, &RunControl::updated, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::stateChanged, this, &BenchView::refreshHover);
  animate_.setInterval(900);
  animate_.setSingleShot(true);
  connect(&animate_, &QTimer::timeout, this, [this] {
    pulseParts_.clear();
    pulseSockets_.clear();
    update();
  });
}

void BenchView::invalidate() {
  static_ = QPixmap();
  if (fitted_) fit();
  refreshHover();
  update();
}

void BenchView::setStyle(Style style) {
  style_ = style;
  solveRest();
  letGo();
  preview(nullptr);
  update();
}

void BenchView::fit() {
  const QRectF box = contents().adjusted(-16, -8, 16, 40);
  if (width() < 50 || height() < 50) return;
  zoom_ = std::clamp(std::min(width() / box.width(), height() / box.height()), fitLeast, 1.6);
  pan_ = QPointF(std::clamp((width() - box.width() * zoom_) / 2, 0.0, 60.0) - box.left() * zoom_,
                 (height() - box.height() * zoom_) / 2 - box.top() * zoom_);
  fitted_ = true;
  static_ = QPixmap();
  update();
}

void BenchView::zoomBy(double factor, QPointF around) {
  const double wanted = std::clamp(zoom_ * factor, std::min(zoomLeast, zoom_), zoomMost);
  pan_ = around - (around - pan_) * (wanted / zoom_);
  zoom_ = wanted;
  fitted_ = false;
  static_ = QPixmap();
  update();
}

void BenchView::focusInEvent(QFocusEvent* e) {
  keyboardFocus_ = e->reason() == Qt::TabFocusReason || e->reason() == Qt::BacktabFocusReason ||
                   e->reason() == Qt::ShortcutFocusReason;
  update();
}

void BenchView::resizeEvent(QResizeEvent*) {
  static_ = QPixmap();
  if (fitted_) fit();
}

void BenchView::preview(const Project* project) {
  preview_ = project ? std::optional<Project>(*project) : std::nullopt;
  update();
}

void BenchView::showPose(const Pose* pose) {
  poseReading_.reset();
  poseState_.reset();
  if (pose) {
    Circuit circuit(doc_.project());
    CircuitState state = circuit.restState();
    for (std::size_t p = 0; p < circuit.pins().size(); ++p) {
      const CircuitPin& pin = circuit.pins()[p];
      for (const std::string& name : {pin.name, pin.board + "." + pin.name})
        if (const auto it = pose->find(name); it != pose->end())
          state.pins[p] = it->second == "high" ? PinDrive::high : PinDrive::low;
    }
    for (std::size_t i = 0; i < doc_.project().parts->size(); ++i)
      if (const auto it = pose->find((*doc_.project().parts)[i]->id); it != pose->end())
        state.pressed[i] = it->second == "pressed" ? 1 : 0;
    poseReading_ = circuit.solve(state);
    poseState_ = state;
  }
  update();
}

// How the bench would stand right after power-on, for the tint.
void BenchView::solveRest() {
  restReading_.reset();
  if (style_ != Style::tinted) return;
  Circuit circuit(doc_.project());
  CircuitState state = circuit.restState();
  for (const BoardItem& board : doc_.project().boards)
    if (const Program* program = doc_.project().program(board.id))
      for (const PinUse& use : pinUses(*program))
        if (const int pin = circuit.pinIndex(board.id, use.pin); pin >= 0 && !use.writers.empty())
          state.pins[static_cast<std::size_t>(pin)] = PinDrive::low;
  restReading_ = circuit.solve(state);
}

void BenchView::pulse(const std::vector<std::string>& parts, const std::vector<Socket>& sockets) {
  pulseParts_ = std::set<std::string>(parts.begin(), parts.end());
  pulseSockets_ = sockets;
  animate_.start();
  update();
}

void BenchView::setBuildFocus(const QString& id) {
  buildFocus_ = id;
  update();
}

// What lies under a point of the screen, the most specific first.
BenchView::Hit BenchView::hitAt(QPointF screen) const {
  Hit hit;
  const QPointF at = toBench(screen);
  const double reach = std::max(8.5, 12 / zoom_ * 0.6);
  if (style_ != Style::building)
    for (std::size_t i = 0; i < doc_.check().findings.size() && doc_.checkIsCurrent(); ++i) {
      const Finding& f = doc_.check().findings[i];
      if (f.meant || (style_ != Style::tinted && f.severity == Severity::note)) continue;
      if (QLineF(markAt(static_cast<int>(i)), at).length() < 11) {
        hit.what = Hit::What::mark;
        hit.finding = static_cast<int>(i);
        return hit;
      }
    }
  const auto& parts = *doc_.project().parts;
  for (auto it = parts.rbegin(); it != parts.rend(); ++it) {
    const Part& part = **it;
    const auto legs = legsOf(doc_.project(), part);
    if (legs.empty()) continue;
    const PartKind* kind = catalogue().partKind(part.type);
    hit.id = part.id;
    if (kind->pressable && run_.isOn() && capOf(legs).contains(at)) {
      hit.what = Hit::What::cap;
      return hit;
    }
    for (std::size_t l = 0; l < legs.size(); ++l)
      if (QLineF(legs[l], at).length() < 7) {
        hit.what = Hit::What::leg;
        hit.leg = kind->print.legs[l].id;
        const Leg* leg = part.leg(hit.leg);
        hit.socket = leg && leg->in ? *leg->in : Socket{part.id, hit.leg};
        return hit;
      }
    if (bodyOf(part, legs).contains(at)) {
      hit.what = Hit::What::part;
      return hit;
    }
  }
  hit = {};
  const auto socket = nearestSocket(doc_.project(), catalogue(), pitches(at), reach / u);
  if (socket) {
    hit.socket = *socket;
    for (const auto& wire : *doc_.project().wires)
      for (const bool from : {true, false})
        if ((from ? wire->from : wire->to) == *socket) {
          hit.what = Hit::What::wireEnd;
          hit.id = wire->id;
          hit.leg = from ? "from" : "to";
          return hit;
        }
  }
  // Twelve pixels wide to the pointer, but a free hole right under it comes first.
  const bool onHole =
      socket && QLineF(place(doc_.project(), *socket).value_or(QPointF()), at).length() < 5;
  if (!onHole) {
    QPainterPathStroker stroker;
    stroker.setWidth(12 / zoom_);
    const auto& wires = *doc_.project().wires;
    for (auto it = wires.rbegin(); it != wires.rend(); ++it)
      if (stroker.createStroke(pathOf(doc_.project(), **it)).contains(at)) {
        hit.what = Hit::What::wire;
        hit.id = (*it)->id;
        return hit;
      }
  }
  if (socket) {
    hit.what = Hit::What::socket;
    return hit;
  }
  for (const BoardItem& b : doc_.project().boards)
    if (const BoardShape* s = catalogue().board(b.type);
        s && QRectF(px(b.at), QSizeF(s->width * u, s->height * u)).contains(at)) {
      hit.what = Hit::What::board;
      hit.id = b.id;
      return hit;
    }
  for (const BreadboardItem& b : doc_.project().breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type);
        k && QRectF(px(b.at), QSizeF(k->width * u, k->height * u)).contains(at)) {
      hit.what = Hit::What::breadboard;
      hit.id = b.id;
      return hit;
    }
  return hit;
}

void BenchView::setHint(const QString& hint) {
  if (hint == hint_) return;
  hint_ = hint;
  Q_EMIT hintChanged(hint_);
}

QString BenchView::obstacleText(const Obstacle& o, const std::string& type) const {
  const auto occupant = [&] {
    if (const Part* part = doc_.project().part(o.occupant)) return str(part->name);
    return QStringLiteral("a wire");
  };
  switch (o.code) {
    case Obstacle::Code::taken:
      return QStringLiteral("Hole %1 is taken by %2").arg(str(o.hole), occupant());
    case Obstacle::Code::noHole: {
      const Footprint* print = catalogue().part(type);
      const int leg = print ? print->legIndex(o.leg) : -1;
      const QString meaning = leg >= 0 ? str(print->legs[static_cast<std::size_t>(leg)].meaning)
                                       : QStringLiteral("leg");
      return QStringLiteral("No hole for the %1 here").arg(meaning);
    }
    case Obstacle::Code::outOfReach:
      return o.pitches > o.limit
                 ? QStringLiteral("The leg does not reach to %1").arg(str(o.hole))
                 : QStringLiteral("%1 is too near to the other leg").arg(str(o.hole));
    case Obstacle::Code::noSuchSocket:
      return QStringLiteral("There is no hole here");
    case Obstacle::Code::none:
      break;
  }
  return {};
}

// One sentence: the next useful thing for what is under the pointer or selected.
void BenchView::refreshHover() {
  if (mode_ == Mode::placing) {
    const PartKind* kind = catalogue().partKind(inHandType_);
    setHint(QStringLiteral("Click where %1 should go. R turns it, Esc puts it back.")
                .arg(kind ? str(kind->label) : QString()));
    return;
  }
  if (mode_ == Mode::wiring) {
    setHint(
        QStringLiteral("Click or let go at the hole where the wire should end. Esc puts it back."));
    return;
  }
  hover_ = mode_ == Mode::idle ? hitAt(mouse_) : hover_;
  switch (hover_.what) {
    case Hit::What::socket:
      setHint(QStringLiteral("Drag from this hole to another to lay a wire."));
      break;
    case Hit::What::leg:
      setHint(QStringLiteral("Drag the leg to another hole."));
      break;
    case Hit::What::wireEnd:
      setHint(QStringLiteral("Drag this end of the wire to another hole."));
      break;
    case Hit::What::cap:
      setHint(QStringLiteral("Press and hold. With Shift it stays held until you click again."));
      break;
    case Hit::What::mark:
      setHint(QStringLiteral("Click to read what was found here."));
      break;
    case Hit::What::wire:
      setHint(QStringLiteral("Double-click to bend the wire, Del removes it."));
      break;
    case Hit::What::part: {
      const Part* part = doc_.project().part(hover_.id);
      const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
      if (kind && kind->pressable && !run_.isOn())
        setHint(QStringLiteral("Power is off. P switches it on; then press the cap."));
      else if (kind && kind->print.polarised)
        setHint(QStringLiteral("Drag to move it. F turns it round, Del removes it."));
      else
        setHint(QStringLiteral("Drag to move it, Del removes it."));
      break;
    }
    case Hit::What::board:
      setHint(QStringLiteral("Drag from a pin to a hole to lay a wire."));
      break;
    default:
      if (!doc_.selection().isEmpty())
        setHint(QStringLiteral("Arrow keys move it, F turns it round, Del removes it."));
      else if (doc_.project().parts->empty())
        setHint(QStringLiteral(
            "Take a part from the cabinet below, or type a step for the board’s own lamp."));
      else if (!run_.isOn())
        setHint(QStringLiteral("P switches the power on."));
      else
        setHint(QStringLiteral("T resets the board, Ctrl+Space pauses, P switches the power off."));
  }
}

std::optional<Socket> BenchView::magnet(QPointF screen) const {
  const double within = std::max(12 / zoom_, 0.6 * u) / u;
  const Point at = pitches(toBench(screen));
  const auto nearest = nearestSocket(doc_.project(), catalogue(), at, within);
  if (!nearest) return nearest;
  const std::string own =
      mode_ == Mode::movingEnd || mode_ == Mode::movingLeg ? grabbed_.id : std::string();
  const Occupancy taken = occupancy(doc_.project());
  const auto free = [&](const Socket& s) {
    const auto it = taken.find(s);
    return it == taken.end() || it->second.id == own || (wireFrom_ && s == *wireFrom_);
  };
  if (free(*nearest)) return nearest;
  // A taken hole offers the nearest free one that is joined to it inside.
  const BreadboardItem* bb = doc_.project().breadboard(nearest->owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  std::optional<Socket> best;
  double least = 1e9;
  for (const Hole& h :
       kind ? kind->holesOf(kind->stripOf(*kind->parse(nearest->point))) : std::vector<Hole>()) {
    const Point d = bb->at + kind->at(h) - at;
    const Socket s{bb->id, kind->address(h)};
    if (free(s) && std::hypot(d.x, d.y) < least) least = std::hypot(d.x, d.y), best = s;
  }
  return best ? best : nearest;
}

void BenchView::take(const std::string& type) {
  letGo();
  inHandType_ = type;
  inHandWay_ = 0;
  mode_ = Mode::placing;
  setFocus();
  // Without a pointer on the bench it begins in the middle, for the keyboard.
  if (!rect().contains(mouse_.toPoint())) {
    for (const BreadboardItem& bb : doc_.project().breadboards)
      if (const BreadboardKind* k = breadboardKind(bb.type)) {
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
  setFocus();
  setHint(QStringLiteral("Drag from one hole to another to lay a wire."));
}

void BenchView::letGo() {
  mode_ = Mode::idle;
  dragging_ = false;
  wireFrom_.reset();
  wireTo_.reset();
  wireObstacle_ = {};
  inHand_ = {};
  moveOffset_ = {};
  unsetCursor();
  refreshHover();
  update();
}

void BenchView::updateInHand(QPointF screen) {
  mouse_ = screen;
  inHandAt_ = toBench(screen);
  inHand_ = layOutBest(doc_.project(), catalogue(), inHandType_, pitches(inHandAt_), inHandWay_);
  update();
}

void BenchView::placeInHand() {
  const PartKind* kind = catalogue().partKind(inHandType_);
  if (!kind || !inHand_.obstacle.clear()) {
    setHint(obstacleText(inHand_.obstacle, inHandType_));
    return;
  }
  Part part = newPart(doc_.project(), *kind);
  for (std::size_t i = 0; i < part.legs.size(); ++i) part.legs[i].in = inHand_.sockets[i];
  const QString id = str(part.id), name = str(part.name);
  letGo();
  doc_.edit(QStringLiteral("place %1").arg(name), edits::addPart(doc_.project(), std::move(part)));
  doc_.select({id});
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

void BenchView::finishWire(const Socket& to) {
  if (!wireFrom_) return;
  const Socket from = *wireFrom_;
  if (to == from) return;
  const Obstacle o = canWire(doc_.project(), catalogue(), to);
  if (!o.clear()) {
    setHint(obstacleText(o, {}));
    return;
  }
  Wire wire;
  wire.id = freeId(doc_.project(), "w");
  wire.from = from;
  wire.to = to;
  // A pin keeps the colour that it gets with its first wire.
  for (const Socket* end : {&wire.from, &wire.to}) {
    const BoardItem* board = doc_.project().board(end->owner);
    const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
    const int pin = kind ? kind->shape.pinIndex(end->point) : -1;
    if (pin < 0 || kind->pins[static_cast<std::size_t>(pin)].role != PinShape::Role::io) continue;
    int colour = doc_.identities().ofPin(end->owner, end->point);
    if (colour < 0) colour = doc_.identities().firstFree();
    const auto& names = identityNames();
    if (colour < static_cast<int>(names.size()))
      wire.colour = names[static_cast<std::size_t>(colour)];
  }
  const QString name =
      QStringLiteral("lay a wire from %1 to %2").arg(str(from.point), str(to.point));
  const QString id = str(wire.id);
  letGo();
  doc_.edit(name, edits::addWire(doc_.project(), std::move(wire)));
  doc_.select({id});
}

void BenchView::flipSelected() {
  Project p = doc_.project();
  QString name;
  for (const QString& id : doc_.selection()) {
    const Part* part = p.part(id.toStdString());
    if (!part) continue;
    name = name.isEmpty() ? str(part->name) : QStringLiteral("parts");
    p = edits::changePart(p, id.toStdString(), [](Part& q) { q = flipped(q, catalogue()); });
  }
  doc_.edit(QStringLiteral("turn %1").arg(name), std::move(p));
}

// R: the next way of laying the part around its first leg.
void BenchView::turnSelected() {
  if (mode_ == Mode::placing) {
    const Footprint* print = catalogue().part(inHandType_);
    inHandWay_ = (inHand_.way + 1) % static_cast<int>(print->ways.size());
    updateInHand(mouse_);
    return;
  }
  if (doc_.selection().size() != 1) return;
  const Part* part = doc_.project().part(doc_.selection().front().toStdString());
  const Footprint* print = part ? catalogue().part(part->type) : nullptr;
  if (!print || !part->legs.front().in) return;
  const auto at = socketAt(doc_.project(), catalogue(), *part->legs.front().in);
  const auto second =
      part->legs[1].in ? socketAt(doc_.project(), catalogue(), *part->legs[1].in) : std::nullopt;
  const int ways = static_cast<int>(print->ways.size());
  int now = 0;
  for (int w = 0; w < ways && second && at; ++w) {
    const Point o = print->ways[static_cast<std::size_t>(w)][1];
    const Point d = *second - *at;
    if (std::abs(std::atan2(o.y, o.x) - std::atan2(d.y, d.x)) < 0.2) now = w;
  }
  for (int k = 1; k <= ways && at; ++k) {
    const Placement p = layOut(doc_.project(), catalogue(), part->type, *at, now + k, part->id);
    if (!p.obstacle.clear()) continue;
    doc_.edit(QStringLiteral("turn %1").arg(str(part->name)),
              edits::changePart(doc_.project(), part->id, [&](Part& q) {
                for (std::size_t i = 0; i < q.legs.size(); ++i) q.legs[i].in = p.sockets[i];
              }));
    return;
  }
  setHint(QStringLiteral("There is no room to turn it here."));
}

void BenchView::removeSelected() {
  std::vector<std::string> ids;
  QString name;
  for (const QString& id : doc_.selection()) {
    ids.push_back(id.toStdString());
    const Part* part = doc_.project().part(ids.back());
    name = !name.isEmpty() ? QStringLiteral("selection")
           : part          ? str(part->name)
                           : QStringLiteral("wire");
  }
  if (!ids.empty())
    doc_.edit(QStringLiteral("remove %1").arg(name), edits::remove(doc_.project(), ids));
}

// Copies the selected parts to the next free rows below.
void BenchView::duplicateSelected() {
  std::vector<const Part*> originals;
  for (const QString& id : doc_.selection())
    if (const Part* part = doc_.project().part(id.toStdString())) originals.push_back(part);
  if (originals.empty()) return;
  for (int down = 1; down < 60; ++down) {
    Project p = doc_.project();
    QStringList ids;
    bool fits = true;
    for (const Part* original : originals) {
      Part copy = *original;
      copy.id.clear();
      const Placement placed = moveBy(p, catalogue(), copy, {0, static_cast<double>(down)});
      fits = fits && placed.obstacle.clear();
      if (!fits) break;
      for (std::size_t i = 0; i < copy.legs.size(); ++i) copy.legs[i].in = placed.sockets[i];
      const PartKind* kind = catalogue().partKind(copy.type);
      copy.id = freeId(p, kind->idStem);
      copy.name = kind->passes ? newPart(p, *kind).name : freeName(p, original->name);
      ids << str(copy.id);
      p = edits::addPart(std::move(p), std::move(copy));
    }
    if (!fits) continue;
    doc_.edit(QStringLiteral("duplicate %1")
                  .arg(originals.size() == 1 ? str(originals[0]->name) : QStringLiteral("parts")),
              std::move(p));
    doc_.select(ids);
    return;
  }
  setHint(QStringLiteral("There are no free rows below for a copy."));
}

void BenchView::selectAll() {
  QStringList ids;
  for (const auto& part : *doc_.project().parts) ids << str(part->id);
  for (const auto& wire : *doc_.project().wires) ids << str(wire->id);
  doc_.select(ids);
}

}  // namespace ignavo::app
