#include "bench/bench_view.h"

#include <QAccessible>
#include <QApplication>
#include <QMouseEvent>
#include <QNativeGestureEvent>
#include <algorithm>
#include <cmath>

#include "bench/damage_card.h"
#include "bench/meter.h"
#include "bench/note_paper.h"
#include "bench/part_tags.h"
#include "bench/wiring.h"
#include "check/sweep.h"
#include "program/steps.h"
#include "theme/pitch.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double zoomLeast = 0.5, zoomMost = 4.0;
constexpr double fitLeast = 0.25;  // three full breadboards still fit the window
}  // namespace

bool isTableItem(const std::string& type) {
  return catalogue().boardKind(type) || breadboardKind(type);
}

BenchView::BenchView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("bench"));
  setAccessibleName(QStringLiteral("Bench"));
  setAccessibleDescription(QStringLiteral(
      "Board, breadboard, parts and wires. Arrow keys move from hole to hole, Return takes what is "
      "there, W lays a wire. The menu key lists everything that can be done."));
  meter_ = new Meter(*this);
  damage_ = new DamageCard(doc_, run_, this);
  tags_ = new PartTags(doc_, run_, this);
  connect(tags_, &PartTags::hearWanted, this, &BenchView::hearWanted);
  connect(tags_, &PartTags::closerLookWanted, this, &BenchView::closerLookWanted);
  connect(tags_, &PartTags::whyWanted, this, &BenchView::whyWanted);
  note_ = new NotePaper(doc_, run_, this);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  connect(&doc_, &Document::changed, this, &BenchView::followDocument);
  connect(&doc_, &Document::checked, this, qOverload<>(&QWidget::update));
  connect(&doc_, &Document::boardChosen, this, qOverload<>(&BenchView::update));
  connect(&doc_, &Document::selectionChanged, this, [this] {
    refreshHover();
    update();
  });
  connect(&run_, &RunControl::updated, this, [this] {
    refreshOver();
    update();
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    refreshOver();
    refreshHover();
  });
  animate_.setInterval(900);
  animate_.setSingleShot(true);
  connect(&animate_, &QTimer::timeout, this, [this] {
    pulseParts_.clear();
    pulseSockets_.clear();
    update();
  });
}

void BenchView::followDocument() {
  // Most edits of a program leave what lies on the bench as it is. Where the very same project is
  // told of again, it is to be drawn anew: in other colours.
  const auto before = std::exchange(drawn_, doc_.shared());
  const bool same = before && before != drawn_ && before->parts == drawn_->parts &&
                    before->wires == drawn_->wires && before->boards == drawn_->boards &&
                    before->breadboards == drawn_->breadboards;
  const bool shows = proposal_ || preview_ || poseReading_ || !callOut_.words.isEmpty() ||
                     run_.isOn() || style_ == Style::tinted;
  if (same && mode_ == Mode::idle && !shows) return forgetCircuit();
  if (mode_ != Mode::placing && mode_ != Mode::wiring && mode_ != Mode::turningKnob &&
      mode_ != Mode::pressing)
    letGo();
  dropProposal();
  preview_.reset();
  poseReading_.reset();
  poseState_.reset();
  callOut_ = {};
  forgetCircuit();
  solveRest();
  if (same)
    refreshHover();
  else
    invalidate();
  update();
}

void BenchView::invalidate() {
  static_ = QPixmap();
  still_ = QPixmap();
  if (fitted_) fit();
  refreshHover();
  viewMoved();
}

// What lies over the bench goes with it.
void BenchView::viewMoved() {
  refreshOver();
  update();
}

void BenchView::refreshOver() {
  meter_->refresh();
  tags_->refresh();
  damage_->refresh();
  note_->setBelow(damage_->isVisible() ? damage_->geometry().bottom() : 0);
}

void BenchView::setCalmLamps(bool calm) {
  tags_->setCalm(calm);
  update();
}
void BenchView::setHearing(bool available, bool muted) { tags_->setHearing(available, muted); }
bool BenchView::hasCalmLamps() const { return tags_->isCalm(); }

void BenchView::setFlowShown(bool shown) {
  flows_ = shown;
  update();
}

void BenchView::setStyle(Style style) {
  style_ = style;
  tags_->setShown(style != Style::building);
  solveRest();
  letGo();
  preview(nullptr);
  update();
}

void BenchView::fit() {
  constexpr double hint = 44;  // a line over the lower edge
  const QRectF box =
      Scene(doc_.project(), doc_.nets(), doc_.identities()).bounds().adjusted(-16, -8, 16, 0);
  if (width() < 50 || height() < 50) return;
  const double room = height() - hint;
  zoom_ = std::clamp(std::min(width() / box.width(), room / box.height()), fitLeast, 1.6);
  pan_ = QPointF(std::clamp((width() - box.width() * zoom_) / 2, 0.0, 60.0) - box.left() * zoom_,
                 (room - box.height() * zoom_) / 2 - box.top() * zoom_);
  fitted_ = true;
  static_ = QPixmap();
  still_ = QPixmap();
  viewMoved();
}

// The selection in the middle, as large as it fits.
void BenchView::fitSelection() {
  QRectF box;
  for (const std::string& id : selectedIds()) {
    if (const Part* part = doc_.project().part(id))
      box |= bodyOf(*part, lookOf(doc_.project(), *part)).adjusted(-40, -40, 40, 40);
    if (const Wire* wire = doc_.project().wire(id))
      for (const Socket& end : {wire->from, wire->to})
        if (const auto at = place(doc_.project(), end))
          box |= QRectF(*at - QPointF(40, 40), QSizeF(80, 80));
  }
  if (box.isNull()) return fit();
  zoom_ = std::clamp(std::min(width() / box.width(), height() / box.height()), zoomLeast, zoomMost);
  pan_ = QPointF(width(), height()) / 2 - box.center() * zoom_;
  fitted_ = false;
  static_ = QPixmap();
  still_ = QPixmap();
  viewMoved();
}

void BenchView::zoomBy(double factor, QPointF around) {
  const double wanted = std::clamp(zoom_ * factor, std::min(zoomLeast, zoom_), zoomMost);
  pan_ = around - (around - pan_) * (wanted / zoom_);
  zoom_ = wanted;
  fitted_ = false;
  static_ = QPixmap();
  still_ = QPixmap();
  viewMoved();
}

void BenchView::focusInEvent(QFocusEvent* e) {
  keyboardFocus_ = e->reason() == Qt::TabFocusReason || e->reason() == Qt::BacktabFocusReason ||
                   e->reason() == Qt::ShortcutFocusReason;
  update();
}

// Two fingers that pinch.
bool BenchView::event(QEvent* e) {
  if (e->type() == QEvent::NativeGesture) {
    auto* gesture = static_cast<QNativeGestureEvent*>(e);
    if (gesture->gestureType() == Qt::ZoomNativeGesture) {
      zoomBy(1 + gesture->value(), gesture->position());
      return true;
    }
  }
  return QWidget::event(e);
}

void BenchView::resizeEvent(QResizeEvent*) {
  static_ = QPixmap();
  still_ = QPixmap();
  if (fitted_) fit();
  viewMoved();
}

void BenchView::preview(const Project* project) {
  preview_ = project ? std::optional<Project>(*project) : std::nullopt;
  update();
}

void BenchView::callOut(const QString& words, const std::string& part,
                        const std::optional<Socket>& socket) {
  callOut_ = {words, part, socket};
  update();
}

void BenchView::showPose(const Pose* pose) {
  callOut_ = {};
  poseReading_.reset();
  poseState_.reset();
  if (pose) {
    const CircuitState state = stateOf(doc_.project(), circuit(), *pose);
    poseReading_ = circuit().solve(state);
    poseState_ = state;
  }
  viewMoved();
}

// How the bench would stand right after power-on, for the tint.
void BenchView::solveRest() {
  restReading_.reset();
  if (style_ != Style::tinted) return;
  restReading_ = circuit().solve(idleState(doc_.project(), circuit()));
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

QRectF BenchView::latchOf(const PartLook& look) const {
  const QRectF cap = capOf(look);
  return QRectF(cap.topRight() + QPointF(3, -19), QSizeF(17, 17));
}

// What lies under a point of the screen, the most specific first.
std::vector<BenchView::Hit> BenchView::hitsAt(QPointF screen) const {
  std::vector<Hit> hits;
  const QPointF at = toBench(screen);
  const double reach = std::max(8.5, 12 / zoom_ * 0.6);
  using What = Hit::What;
  const auto add = [&](What what, const std::string& id, const std::string& leg = {},
                       const Socket& socket = {}, int index = -1) {
    hits.push_back({what, id, leg, socket, index});
  };
  if (style_ != Style::building && doc_.checkIsCurrent()) {
    const std::vector<QPointF> places = markPlaces(doc_.project(), doc_.check().findings);
    for (std::size_t i = 0; i < places.size(); ++i) {
      const Finding& f = doc_.check().findings[i];
      if (f.meant || (style_ != Style::tinted && f.severity == Severity::note)) continue;
      if (QLineF(places[i], at).length() < 11) add(What::mark, {}, {}, {}, static_cast<int>(i));
    }
  }
  for (const auto& wire : *doc_.project().wires)
    if (doc_.isSelected(wire->id))
      for (std::size_t b = 0; b < wire->bends.size(); ++b)
        if (QLineF(px(wire->bends[b]), at).length() < std::max(7.0, 7 / zoom_))
          add(What::bend, wire->id, {}, {}, static_cast<int>(b));
  const auto& parts = *doc_.project().parts;
  for (auto it = parts.rbegin(); it != parts.rend(); ++it) {
    const Part& part = **it;
    const PartLook look = lookOf(doc_.project(), part);
    if (look.legs.empty()) continue;
    const PartKind* kind = catalogue().partKind(part.type);
    const bool on = run_.isOn();
    if (kind->pressable && on && latchOf(look).contains(at) && hover_.id == part.id)
      add(What::latch, part.id);
    const QRectF body = bodyOf(part, look);
    const QRectF cap(body.center() - QPointF(12, 12), QSizeF(24, 24));
    if (on && cap.contains(at)) {
      if (kind->pressable || !kind->thrownKey.empty())
        add(What::cap, part.id);
      else if (!kind->knob.empty())
        add(What::knob, part.id);
    }
    for (std::size_t l = 0; l < look.legs.size(); ++l)
      if (QLineF(look.legs[l], at).length() < 7) {
        const std::string& id = kind->print.legs[l].id;
        const Leg* leg = part.leg(id);
        add(What::leg, part.id, id, leg && leg->in ? *leg->in : Socket{part.id, id});
      }
    const QPointF off((at.x() - body.center().x()) / (body.width() / 2),
                      (at.y() - body.center().y()) / (body.height() / 2));
    const bool inside =
        kind->print.round ? off.x() * off.x() + off.y() * off.y() <= 1 : body.contains(at);
    if (inside) add(What::part, part.id);
  }
  // With power a pin's name is what one holds it by; without, it is a target for wires.
  if (run_.isOn())
    for (const BoardItem& b : doc_.project().boards) {
      const BoardKind* kind = catalogue().boardKind(b.type);
      for (std::size_t i = 0; kind && i < kind->pins.size(); ++i)
        if (kind->pins[i].role == PinShape::Role::io && nameOfPin(*kind, i, px(b.at)).contains(at))
          add(What::pinName, b.id, {}, {b.id, kind->pins[i].name});
    }
  const auto socket = nearestTarget(doc_.project(), catalogue(), pitches(at), reach / u, false);
  if (socket)
    for (const auto& wire : *doc_.project().wires)
      for (const bool from : {true, false})
        if ((from ? wire->from : wire->to) == *socket)
          add(What::wireEnd, wire->id, from ? "from" : "to", *socket);
  // Twelve pixels wide to the pointer, but a free hole right under it comes first.
  const bool onHole =
      socket && QLineF(place(doc_.project(), *socket).value_or(QPointF()), at).length() < 5;
  const auto addWires = [&] {
    const Scene scene(doc_.project(), doc_.nets(), doc_.identities());
    QPainterPathStroker stroker;
    stroker.setWidth(12 / zoom_);
    const auto& wires = *doc_.project().wires;
    for (auto it = wires.rbegin(); it != wires.rend(); ++it) {
      const QPainterPath path = scene.pathOf(**it);
      if (path.controlPointRect().adjusted(-8, -8, 8, 8).contains(at) &&
          stroker.createStroke(path).contains(at))
        add(What::wire, (*it)->id);
    }
  };
  if (!onHole) addWires();
  if (socket) add(What::socket, {}, {}, *socket);
  if (onHole) addWires();
  for (const BoardItem& b : doc_.project().boards)
    if (const BoardShape* s = catalogue().board(b.type);
        s && QRectF(px(b.at), QSizeF(s->width * u, s->height * u)).contains(at))
      add(What::board, b.id);
  for (const BreadboardItem& b : doc_.project().breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type);
        k && QRectF(px(b.at), QSizeF(k->width * u, k->height * u)).contains(at))
      add(What::breadboard, b.id);
  return hits;
}

BenchView::Hit BenchView::hitAt(QPointF screen) const {
  const std::vector<Hit> hits = hitsAt(screen);
  return hits.empty() ? Hit{} : hits.front();
}

// The nearest free socket that is joined inside to a taken one.
std::optional<Socket> BenchView::freeLike(const Socket& wanted, Point near) const {
  const BreadboardItem* bb = doc_.project().breadboard(wanted.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(wanted.point) : std::nullopt;
  if (!hole) return std::nullopt;
  const Occupancy taken = occupancy(doc_.project());
  std::optional<Socket> best;
  double least = 1e9;
  for (const Hole& h : kind->holesOf(kind->stripOf(*hole))) {
    const Point d = bb->at + kind->at(h) - near;
    const Socket s{bb->id, kind->address(h)};
    if (!taken.contains(s) && std::hypot(d.x, d.y) < least) least = std::hypot(d.x, d.y), best = s;
  }
  return best;
}

std::optional<Socket> BenchView::magnet(QPointF screen) {
  const double within = std::max(12 / zoom_, 0.6 * u) / u;
  const Point at = pitches(toBench(screen));
  const bool legs = mode_ == Mode::wiring || mode_ == Mode::movingEnd;
  auto nearest = nearestTarget(doc_.project(), catalogue(), at, within, legs);
  // What was caught is held on to until another is clearly nearer.
  if (lastMagnet_ && nearest && !(*nearest == *lastMagnet_)) {
    const auto before = socketAt(doc_.project(), catalogue(), *lastMagnet_);
    const auto now = socketAt(doc_.project(), catalogue(), *nearest);
    const auto far = [&](const std::optional<Point>& p) {
      return p ? std::hypot(p->x - at.x, p->y - at.y) : 1e9;
    };
    if (far(before) < within && far(before) < far(now) + 0.15) nearest = lastMagnet_;
  }
  lastMagnet_ = nearest;
  if (!nearest || doc_.project().part(nearest->owner)) return nearest;
  const std::string own =
      mode_ == Mode::movingEnd || mode_ == Mode::movingLeg ? grabbed_.id : std::string();
  const Occupancy taken = occupancy(doc_.project());
  const auto it = taken.find(*nearest);
  if (it == taken.end() || it->second.id == own || (wireFrom_ && *nearest == *wireFrom_))
    return nearest;
  const auto instead = freeLike(*nearest, at);
  return instead ? instead : nearest;
}

}  // namespace ignavo::app
