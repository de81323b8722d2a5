#include <QPaintEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "parts/circuit.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double u = Theme::pitch;
}  // namespace

Point BenchView::pitches(QPointF bench) { return {bench.x() / u, bench.y() / u}; }

std::optional<QPointF> BenchView::place(const Project& project, const Socket& socket) const {
  const auto at = socketAt(project, catalogue(), socket);
  return at ? std::optional<QPointF>(px(*at)) : std::nullopt;
}

QPointF BenchView::screenOf(const Socket& socket) const {
  const auto at = place(doc_.project(), socket);
  return at ? toScreen(*at) : QPointF(-1000, -1000);
}
QPointF BenchView::screenOf(Point p) const { return toScreen(px(p)); }
QRectF BenchView::screenOfPart(const std::string& id) const {
  const Part* part = doc_.project().part(id);
  if (!part) return {};
  const PartLook look = lookOf(doc_.project(), *part);
  if (look.legs.empty()) return {};
  const QRectF body = bodyOf(*part, look);
  return {toScreen(body.topLeft()), body.size() * zoom_};
}

// What the simulator says, if it speaks of this very project.
const Snapshot* BenchView::live() const {
  const auto shown = run_.shown();
  if (!shown || shown->project->parts->size() != doc_.project().parts->size()) return nullptr;
  return shown.get();
}

int BenchView::partIndex(const std::string& id) const {
  const auto& parts = *doc_.project().parts;
  for (std::size_t i = 0; i < parts.size(); ++i)
    if (parts[i]->id == id) return static_cast<int>(i);
  return -1;
}

double BenchView::opacityOf(const std::string& id) const {
  if (proposal_ && proposal_->changed.contains(id))
    return proposal_->arranged.clear() ? (mode_ == Mode::placing ? 0.85 : 1.0) : 0.5;
  // What is in the way of a wire fades.
  if ((mode_ == Mode::wiring || mode_ == Mode::movingEnd) && hover_.id == id) return 0.4;
  if (style_ != Style::building) return 1;
  const auto& ticks = doc_.project().ticks;
  for (const char* kind : {"part:", "wire:"})
    if (std::find(ticks.begin(), ticks.end(), kind + id) != ticks.end()) return 1;
  return isBuildFocus(id) ? 0.9 : 0.2;
}

bool BenchView::isBuildFocus(const std::string& id) const {
  return style_ == Style::building && QString::fromStdString(id) == buildFocus_;
}

// How a part looks in the run, or in the combination that is shown.
void BenchView::enliven(const Part& part, std::size_t i, PartLook& look) const {
  if (mode_ == Mode::movingLeg && dragging_ && grabbed_.id == part.id && !proposal_) {
    const int leg = catalogue().part(part.type)->legIndex(grabbed_.leg);
    if (leg >= 0) look.legs[static_cast<std::size_t>(leg)] = toBench(mouse_);
  }
  const PartKind* kind = catalogue().partKind(part.type);
  const Snapshot* s = live();
  if (poseState_ && i < poseState_->pressed.size()) look.pressed = poseState_->pressed[i] != 0;
  if (s && i < s->light.size() && (*s->project->parts)[i]->id == part.id) {
    look.light = s->light[i];
    look.lamps = s->lamps[i];
    look.pressed = look.pressed || s->state.pressed[i] != 0;
    look.broken = s->state.broken[i] != 0;
    const Motion& m = s->motion[i];
    look.hertz = m.hertz;
    look.armDegrees = m.degrees;
    look.turning = std::abs(m.revolutionsPerMinute) > 30;
    // As fast as it turns, though no faster than the eye can follow.
    const double perSecond = std::clamp(m.revolutionsPerMinute / 60, -2.0, 2.0);
    look.shaftDegrees = std::fmod(static_cast<double>(s->now) * 1e-9 * perSecond * 360, 360);
  } else if (poseReading_ && i < poseReading_->parts.size() && kind) {
    const PartReading& r = poseReading_->parts[i];
    if (kind->shows == Shows::light && kind->lamps.size() == 1) look.light = lightOf(r.amps);
    for (const double amps : r.lamps) look.lamps.push_back(lightOf(amps));
  }
}

void BenchView::dress(Scene& scene) const {
  scene.enliven = [this](const Part& part, std::size_t i, PartLook& look) {
    enliven(part, i, look);
  };
  scene.opacity = [this](const std::string& id) { return opacityOf(id); };
  scene.selected = [this](const std::string& id) { return doc_.isSelected(id); };
  scene.boardLook = [this](std::size_t b) {
    BoardLook look;
    const Snapshot* s = live();
    look.powered = run_.isOn() && s && s->powered && !s->tripped;
    if (!look.powered) return look;
    // Pins of all boards stand one after the other, those that can be switched only.
    std::size_t io = 0;
    for (std::size_t i = 0; i <= b; ++i)
      if (const BoardKind* kind = catalogue().boardKind(doc_.project().boards[i].type))
        for (const BoardPin& pin : kind->pins) {
          if (pin.role != PinShape::Role::io) continue;
          if (i == b && pin.name == kind->lampPin && io < s->state.pins.size())
            look.lamp = s->state.pins[io] == PinDrive::high ? 1 : 0;
          ++io;
        }
    return look;
  };
}

void BenchView::paintBackground(QPainter& p, const Scene& scene) {
  const Theme& t = theme();
  p.fillRect(rect(), t.mat);
  // A faint dot grid at the hole pitch.
  const double step = u * zoom_ * (zoom_ < 0.7 ? 2 : 1);
  p.setPen(Qt::NoPen);
  p.setBrush(t.matDot);
  for (double x = std::fmod(pan_.x(), step); x < width(); x += step)
    for (double y = std::fmod(pan_.y(), step); y < height(); y += step)
      p.drawRect(QRectF(x, y, 1.2, 1.2));
  p.translate(pan_);
  p.scale(zoom_, zoom_);
  scene.breadboards(p);
}

void BenchView::paintEvent(QPaintEvent*) {
  const qreal dpr = devicePixelRatioF();
  const auto layer = [&](QPixmap& pixmap, bool clear) {
    pixmap = QPixmap(size() * dpr);
    pixmap.setDevicePixelRatio(dpr);
    if (clear) pixmap.fill(Qt::transparent);
  };
  const Project& project = shownProject();
  const Nets& nets = shownNets();
  const Identities& identities = proposal_ ? proposal_->identities : doc_.identities();
  Scene scene(project, nets, identities);
  dress(scene);
  QPainter p(this);
  // Breadboards stand still, but when one of them is in hand.
  const bool tables = proposal_ && !(project.breadboards == doc_.project().breadboards);
  if (tables) {
    p.save();
    paintBackground(p, scene);
    p.restore();
  } else {
    if (static_.isNull() || static_.size() != size() * dpr || static_.devicePixelRatio() != dpr) {
      layer(static_, false);
      QPainter cached(&static_);
      paintBackground(cached, scene);
    }
    p.drawPixmap(0, 0, static_);
  }
  p.save();
  p.translate(pan_);
  p.scale(zoom_, zoom_);
  p.setRenderHint(QPainter::Antialiasing);
  if (style_ == Style::tinted) paintTint(p);
  paintNets(p, nets, identities, netsToLight(nets), project);
  paintHighlights(p);

  // While something is dragged, all the rest is painted once.
  const bool still = proposal_ && dragging_ && !run_.isOn() && !tables;
  if (still) {
    if (still_.isNull() || still_.size() != size() * dpr) {
      layer(still_, true);
      QPainter cached(&still_);
      cached.translate(pan_);
      cached.scale(zoom_, zoom_);
      cached.setRenderHint(QPainter::Antialiasing);
      Scene rest(doc_.project(), doc_.nets(), doc_.identities());
      dress(rest);
      rest.without = proposal_->changed;
      rest.boards(cached);
      rest.parts(cached);
      rest.wires(cached);
    }
    p.restore();
    p.drawPixmap(0, 0, still_);
    p.save();
    p.translate(pan_);
    p.scale(zoom_, zoom_);
    p.setRenderHint(QPainter::Antialiasing);
    scene.only = &proposal_->changed;
    scene.boards(p);
  } else {
    scene.boards(p);
  }
  if (mode_ == Mode::movingEnd && dragging_) scene.without.insert(grabbed_.id);
  scene.parts(p);
  scene.wires(p);
  if (live() && !run_.isPaused() && !proposal_) paintFlow(p);
  paintPreview(p);
  paintInHand(p);
  paintMarks(p);
  paintHandles(p);
  paintCursor(p);
  p.restore();
  if (style_ == Style::tinted) paintScale(p);
  paintLoupe(p);
  paintTip(p);
  if (hasFocus() && keyboardFocus_) {
    p.setPen(QPen(theme().ink, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

// The nets of everything that is under the pointer or in hand.
std::vector<int> BenchView::netsToLight(const Nets& nets) const {
  std::vector<int> lit;
  const auto add = [&](const Socket& s) {
    const int net = nets.of(s);
    if (net >= 0 && std::find(lit.begin(), lit.end(), net) == lit.end()) lit.push_back(net);
  };
  if (mode_ == Mode::wiring || mode_ == Mode::movingEnd) {
    if (wireFrom_) add(*wireFrom_);
    if (wireTo_) add(*wireTo_);
  } else if (proposal_ && proposal_->arranged.clear()) {
    for (const std::string& id : proposal_->arranged.ids)
      if (const Part* part = proposal_->arranged.project.part(id))
        for (const Leg& leg : part->legs)
          if (leg.in) add(*leg.in);
  } else if (mode_ == Mode::idle) {
    if (hover_.what == Hit::What::socket || hover_.what == Hit::What::leg ||
        hover_.what == Hit::What::wireEnd)
      add(hover_.socket);
    else if (hover_.what == Hit::What::wire || hover_.what == Hit::What::bend)
      if (const Wire* w = doc_.project().wire(hover_.id)) add(w->from);
    if (cursor_ && cursorShown_) add(*cursor_);
  }
  return lit;
}

// Everything joined to what is under the pointer lights up.
void BenchView::paintNets(QPainter& p, const Nets& nets, const Identities& identities,
                          const std::vector<int>& lit, const Project& project) {
  const Theme& t = theme();
  for (const int net : lit) {
    const NetColour colour = identities.ofNet(net);
    QColor wash = colour.kind == NetColour::Kind::plain ? t.amber : t.net(colour);
    wash.setAlpha(t.dark ? 120 : 70);
    p.setPen(Qt::NoPen);
    p.setBrush(wash);
    const Net& n = nets.all()[static_cast<std::size_t>(net)];
    for (const StripRef& s : n.strips) {
      const BreadboardItem& bb = project.breadboards[static_cast<std::size_t>(s.breadboard)];
      const BreadboardKind* kind = breadboardKind(bb.type);
      const auto holes = kind->holesOf(s.strip);
      const QPointF a = px(bb.at + kind->at(holes.front())), b = px(bb.at + kind->at(holes.back()));
      p.drawRoundedRect(QRectF(a, b).adjusted(-7, -7, 7, 7), 7, 7);
    }
    for (const PinRef& pin : n.pins) {
      const BoardItem& board = project.boards[static_cast<std::size_t>(pin.board)];
      const QPointF c =
          px(board.at + catalogue().board(board.type)->pins[static_cast<std::size_t>(pin.pin)].at);
      p.drawRoundedRect(QRectF(c - QPointF(8, 8), QSizeF(16, 16)), 4, 4);
    }
  }
}

// Each used strip in the colour of its voltage: run, pose shown, or at rest.
void BenchView::paintTint(QPainter& p) {
  const Theme& t = theme();
  const Snapshot* snapshot = live();
  const CircuitReading* reading = poseReading_   ? &*poseReading_
                                  : snapshot     ? &snapshot->reading
                                  : restReading_ ? &*restReading_
                                                 : nullptr;
  if (!reading || reading->nets.size() != doc_.nets().all().size()) return;
  for (std::size_t n = 0; n < reading->nets.size(); ++n) {
    const Net& net = doc_.nets().all()[n];
    if (!net.used() || !reading->nets[n]) continue;
    const double share = std::clamp(*reading->nets[n] / 5.0, 0.0, 1.0);
    QColor c = QColor::fromRgbF(
        static_cast<float>(t.tintLow.redF() * (1 - share) + t.tintHigh.redF() * share),
        static_cast<float>(t.tintLow.greenF() * (1 - share) + t.tintHigh.greenF() * share),
        static_cast<float>(t.tintLow.blueF() * (1 - share) + t.tintHigh.blueF() * share));
    c.setAlpha(125);
    p.setPen(Qt::NoPen);
    p.setBrush(c);
    for (const StripRef& s : net.strips) {
      const BreadboardItem& bb = doc_.project().breadboards[static_cast<std::size_t>(s.breadboard)];
      const BreadboardKind* kind = breadboardKind(bb.type);
      const auto holes = kind->holesOf(s.strip);
      p.drawRoundedRect(
          QRectF(px(bb.at + kind->at(holes.front())), px(bb.at + kind->at(holes.back())))
              .adjusted(-6, -6, 6, 6),
          6, 6);
    }
  }
}

// Rings and washes around what is selected, pointed out or being built.
void BenchView::paintHighlights(QPainter& p) {
  const Theme& t = theme();
  const Project& project = shownProject();
  for (const auto& part : *project.parts) {
    const bool amber = pulseParts_.contains(part->id) || isBuildFocus(part->id);
    const bool chosen = doc_.isSelected(part->id);
    if (!amber && !chosen) continue;
    const PartLook look = lookOf(project, *part);
    if (look.legs.empty()) continue;
    const QRectF body = bodyOf(*part, look).adjusted(-5, -5, 5, 5);
    if (amber) {
      QColor wash = t.amber;
      wash.setAlpha(70);
      p.setPen(Qt::NoPen);
      p.setBrush(wash);
      p.drawEllipse(body.center(), body.width() * 0.75, body.height() * 0.75);
      p.setPen(QPen(t.amber, 2));
      p.setBrush(Qt::NoBrush);
      for (const QPointF& leg : look.legs) p.drawEllipse(leg, 6, 6);
    }
    if (chosen) {
      p.setPen(QPen(t.ink, 2, part->locked ? Qt::DashLine : Qt::SolidLine));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(body, 6, 6);
    }
  }
  for (auto* list : {&project.boards, &project.breadboards})
    for (const BoardItem& item : *list) {
      if (!doc_.isSelected(item.id)) continue;
      QSizeF size;
      if (const BoardShape* s = catalogue().board(item.type))
        size = {s->width * u, s->height * u};
      else if (const BreadboardKind* k = breadboardKind(item.type))
        size = {k->width * u, k->height * u};
      p.setPen(QPen(t.ink, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(QRectF(px(item.at), size).adjusted(-4, -4, 4, 4), 10, 10);
    }
  if (buildFocus_.isEmpty() || style_ != Style::building) return;
  if (const Wire* wire = doc_.project().wire(buildFocus_.toStdString())) {
    p.setPen(QPen(t.amber, 2));
    p.setBrush(Qt::NoBrush);
    for (const Socket& end : {wire->from, wire->to})
      if (const auto at = place(doc_.project(), end)) p.drawEllipse(*at, 8, 8);
  }
}

// Small dashes travel with the conventional current, faster for more.
void BenchView::paintFlow(QPainter& p) {
  const Snapshot* s = live();
  if (!s || s->project.get() != doc_.shared().get()) return;
  const Scene scene(doc_.project(), doc_.nets(), doc_.identities());
  for (const auto& wire : *doc_.project().wires) {
    // The current in a wire to a pin is that of the pin.
    for (const bool forward : {true, false}) {
      const Socket& end = forward ? wire->from : wire->to;
      const BoardItem* board = doc_.project().board(end.owner);
      if (!board) continue;
      const BoardKind* kind = catalogue().boardKind(board->type);
      int io = 0;
      for (const BoardPin& pin : kind->pins) {
        if (pin.role != PinShape::Role::io) continue;
        if (pin.name == end.point && static_cast<std::size_t>(io) < s->reading.pins.size()) {
          const double amps =
              s->reading.pins[static_cast<std::size_t>(io)].amps * (forward ? 1 : -1);
          if (std::abs(amps) > 1e-4) {
            QPen pen(theme().flow, 1.8, Qt::CustomDashLine, Qt::RoundCap);
            pen.setDashPattern({2, 7});
            const double speed = std::clamp(std::abs(amps) * 1500, 6.0, 60.0);
            const double offset = std::fmod(static_cast<double>(s->now) * 1e-9 * speed, 9.0);
            pen.setDashOffset(amps > 0 ? -offset : offset);
            p.setPen(pen);
            p.setBrush(Qt::NoBrush);
            p.drawPath(scene.pathOf(*wire));
          }
        }
        ++io;
      }
    }
  }
}

void BenchView::paintInHand(QPainter& p) {
  const Theme& t = theme();
  if (mode_ == Mode::wiring || (mode_ == Mode::movingEnd && dragging_)) {
    if (!wireFrom_) return;
    const auto a = place(doc_.project(), *wireFrom_);
    const auto b = wireTo_ ? place(doc_.project(), *wireTo_) : std::nullopt;
    if (!a) return;
    const QPointF end = b ? *b : toBench(mouse_);
    NetColour colour = doc_.identities().ofNet(doc_.nets().of(*wireFrom_));
    if (colour.kind == NetColour::Kind::plain && wireTo_)
      colour = doc_.identities().ofNet(doc_.nets().of(*wireTo_));
    p.setOpacity(wireObstacle_.clear() ? 0.9 : 0.45);
    paintWire(p, wirePath(*a, end, {}), *a, end, colour);
    p.setOpacity(1);
    if (b) {
      p.setPen(QPen(wireObstacle_.clear() ? t.good : t.danger, 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(*b, 8, 8);
    }
  }
  // Holes that would be used: green where they are free.
  if (proposal_ &&
      (mode_ == Mode::placing || mode_ == Mode::movingPart || mode_ == Mode::movingLeg)) {
    const Obstacle& o = proposal_->arranged.obstacle;
    for (const std::string& id : proposal_->arranged.ids) {
      const Part* part = proposal_->arranged.project.part(id);
      if (!part) continue;
      for (const Leg& leg : part->legs) {
        const auto at = leg.in ? place(proposal_->arranged.project, *leg.in) : std::nullopt;
        if (!at) continue;
        const bool here = !o.clear() && (o.leg == leg.id || o.hole == leg.in->point);
        p.setPen(QPen(here ? t.danger : o.clear() ? t.good : t.ink2, here ? 3 : 2));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(*at, 6.5, 6.5);
      }
    }
  }
  if (mode_ == Mode::marquee) {
    QColor wash = t.ink;
    wash.setAlpha(20);
    p.setPen(QPen(t.ink, 1, Qt::DashLine));
    p.setBrush(wash);
    p.drawRect(marquee_);
  }
}

void BenchView::paintPreview(QPainter& p) {
  if (!preview_) return;
  const Theme& t = theme();
  const Nets nets(*preview_, catalogue());
  const Identities identities(*preview_, nets, catalogue());
  Scene scene(*preview_, nets, identities);
  std::set<std::string> fresh;
  for (const auto& part : *preview_->parts)
    if (const Part* held = doc_.project().part(part->id); !held || !(*held == *part))
      fresh.insert(part->id);
  for (const auto& wire : *preview_->wires)
    if (const Wire* held = doc_.project().wire(wire->id); !held || !(*held == *wire))
      fresh.insert(wire->id);
  scene.only = &fresh;
  scene.opacity = [](const std::string&) { return 0.75; };
  scene.parts(p);
  scene.wires(p);
  p.setPen(QPen(t.amber, 2, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  for (const auto& part : *preview_->parts)
    if (fresh.contains(part->id))
      p.drawRoundedRect(bodyOf(*part, lookOf(*preview_, *part)).adjusted(-5, -5, 5, 5), 6, 6);
  p.setPen(QPen(t.amber, 2));
  for (const auto& wire : *preview_->wires)
    if (fresh.contains(wire->id))
      for (const Socket& end : {wire->from, wire->to})
        if (const auto at = place(*preview_, end)) p.drawEllipse(*at, 8, 8);
  // What would be gone.
  p.setPen(QPen(t.danger, 3));
  for (const auto& part : *doc_.project().parts)
    if (!preview_->part(part->id)) {
      const QRectF body = bodyOf(*part, lookOf(doc_.project(), *part));
      p.drawLine(body.topLeft(), body.bottomRight());
      p.drawLine(body.topRight(), body.bottomLeft());
    }
  const Scene now(doc_.project(), doc_.nets(), doc_.identities());
  for (const auto& wire : *doc_.project().wires)
    if (!preview_->wire(wire->id)) {
      const QPointF middle = now.pathOf(*wire).pointAtPercent(0.5);
      p.drawLine(middle - QPointF(7, 7), middle + QPointF(7, 7));
      p.drawLine(middle - QPointF(7, -7), middle + QPointF(7, -7));
    }
}

QPointF BenchView::markAt(int index) const {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  for (const std::string& id : f.parts)
    if (const Part* part = doc_.project().part(id)) {
      const PartLook look = lookOf(doc_.project(), *part);
      if (look.legs.empty()) continue;
      const QRectF body = bodyOf(*part, look);
      return {body.right() + 15, body.center().y()};
    }
  for (const Socket& s : f.sockets)
    if (const auto at = place(doc_.project(), s))
      return *at + QPointF(-46 - (doc_.project().board(s.owner) ? 30 : -60), 0);
  return {-1000, -1000};
}

void BenchView::paintMarks(QPainter& p) {
  if (style_ == Style::building || mode_ != Mode::idle) return;
  const auto& findings = doc_.check().findings;
  for (std::size_t i = 0; i < findings.size(); ++i) {
    if (findings[i].meant) continue;
    // Notes are marked only where findings are looked at.
    if (style_ != Style::tinted && findings[i].severity == Severity::note) continue;
    paintMark(p, markAt(static_cast<int>(i)), findings[i].severity, static_cast<int>(i) + 1);
  }
  const Theme& t = theme();
  p.setPen(QPen(t.amber, 2.5));
  p.setBrush(Qt::NoBrush);
  for (const Socket& s : pulseSockets_)
    if (const auto at = place(doc_.project(), s)) p.drawEllipse(*at, 8, 8);
}

// Bends of the selected wires, and the ring that keeps a button held.
void BenchView::paintHandles(QPainter& p) {
  const Theme& t = theme();
  for (const auto& wire : *shownProject().wires) {
    if (wire->bends.empty() || !doc_.isSelected(wire->id)) continue;
    p.setPen(QPen(t.ink, 1.6));
    p.setBrush(t.card);
    for (const Point& bend : wire->bends) p.drawEllipse(px(bend), 4.5, 4.5);
  }
  if (!run_.isOn() || mode_ != Mode::idle) return;
  if (hover_.what != Hit::What::cap && hover_.what != Hit::What::latch &&
      hover_.what != Hit::What::part)
    return;
  const Part* part = doc_.project().part(hover_.id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind || !kind->pressable) return;
  const QRectF latch = latchOf(lookOf(doc_.project(), *part));
  const bool kept = std::find(held_.begin(), held_.end(), part->id) != held_.end();
  p.setPen(QPen(t.ink, 1.6));
  p.setBrush(kept ? t.amber : t.card);
  p.drawEllipse(latch);
  p.setPen(QPen(kept ? t.onAmber : t.ink, 1.6));
  p.setBrush(Qt::NoBrush);
  p.drawArc(QRectF(latch.center() - QPointF(2.6, 5), QSizeF(5.2, 6)), 0, 180 * 16);
  p.drawRect(QRectF(latch.center() - QPointF(3.6, 1.5), QSizeF(7.2, 5)));
}

// While an end is held and the holes are small: five by five of them, larger.
void BenchView::paintLoupe(QPainter& p) {
  const bool holding = (mode_ == Mode::wiring || mode_ == Mode::movingEnd ||
                        (mode_ == Mode::movingLeg && dragging_)) &&
                       !cursorShown_;
  constexpr double hole = 36;
  if (!holding || u * zoom_ >= 24) return;
  const auto aim = wireTo_ ? wireTo_ : lastMagnet_;
  const auto at = aim ? place(doc_.project(), *aim) : std::nullopt;
  if (!at) return;
  const Theme& t = theme();
  const double scale = hole / u;
  const QSizeF size(5 * hole, 5 * hole);
  QRectF box(mouse_ + QPointF(40, -size.height() - 30), size);
  if (box.right() > width() - 8) box.moveRight(mouse_.x() - 40);
  if (box.top() < 8) box.moveTop(mouse_.y() + 40);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  QPainterPath frame;
  frame.addRoundedRect(box, 12, 12);
  p.setPen(Qt::NoPen);
  p.setBrush(t.shadow);
  p.drawPath(frame.translated(0, 3));
  p.setClipPath(frame);
  p.fillRect(box, t.mat);
  p.translate(box.center());
  p.scale(scale, scale);
  p.translate(-*at);
  Scene scene(doc_.project(), doc_.nets(), doc_.identities());
  dress(scene);
  scene.breadboards(p);
  paintNets(p, doc_.nets(), doc_.identities(), netsToLight(doc_.nets()), doc_.project());
  scene.boards(p);
  scene.parts(p);
  scene.wires(p);
  paintInHand(p);
  p.restore();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.ink, 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(frame);
  // The address of the hole in the middle.
  const QString name = QString::fromStdString(aim->point);
  p.setFont(t.mono(13, QFont::Bold));
  const double w = QFontMetricsF(p.font()).horizontalAdvance(name) + 14;
  const QRectF tag(box.center().x() - w / 2, box.bottom() - 24, w, 19);
  p.setPen(Qt::NoPen);
  p.setBrush(t.tooltip);
  p.drawRoundedRect(tag, 5, 5);
  p.setPen(t.tooltipInk);
  p.drawText(tag, Qt::AlignCenter, name);
  p.restore();
}

void BenchView::paintCursor(QPainter& p) {
  if (!cursor_ || !cursorShown_ || !hasFocus()) return;
  const auto at = place(doc_.project(), *cursor_);
  if (!at) return;
  p.setPen(QPen(theme().paper, 5));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(QRectF(*at - QPointF(8, 8), QSizeF(16, 16)), 3, 3);
  p.setPen(QPen(theme().ink, 2));
  p.drawRoundedRect(QRectF(*at - QPointF(8, 8), QSizeF(16, 16)), 3, 3);
}

void BenchView::paintScale(QPainter& p) {
  const Theme& t = theme();
  const QRectF box(width() - 236, height() - 50, 220, 34);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.line, 1));
  p.setBrush(t.card);
  p.drawRoundedRect(box, 6, 6);
  p.setPen(t.ink2);
  p.setFont(t.text(12));
  p.drawText(box.adjusted(14, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, QStringLiteral("0 V"));
  p.drawText(box.adjusted(0, 0, -14, 0), Qt::AlignVCenter | Qt::AlignRight, QStringLiteral("5 V"));
  QLinearGradient g(box.left() + 44, 0, box.right() - 44, 0);
  g.setColorAt(0, t.tintLow);
  g.setColorAt(1, t.tintHigh);
  p.setPen(Qt::NoPen);
  p.setBrush(g);
  p.drawRoundedRect(QRectF(box.left() + 44, box.center().y() - 6, box.width() - 88, 12), 4, 4);
}

}  // namespace ignavo::app
