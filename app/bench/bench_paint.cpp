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

QPointF BenchView::px(Point p) { return {p.x * u, p.y * u}; }
Point BenchView::pitches(QPointF bench) { return {bench.x() / u, bench.y() / u}; }

std::optional<QPointF> BenchView::place(const Project& project, const Socket& socket) const {
  const auto at = socketAt(project, catalogue(), socket);
  return at ? std::optional<QPointF>(px(*at)) : std::nullopt;
}

std::vector<QPointF> BenchView::legsOf(const Project& project, const Part& part) const {
  std::vector<QPointF> legs;
  const Footprint* print = catalogue().part(part.type);
  if (!print) return legs;
  const Point lying = part.at.value_or(Point{4, 36});
  for (std::size_t i = 0; i < print->legs.size(); ++i) {
    const Leg* leg = part.leg(print->legs[i].id);
    std::optional<QPointF> at;
    if (leg && leg->in) at = place(project, *leg->in);
    legs.push_back(at.value_or(px(lying + print->ways[0][i])));
  }
  return legs;
}

QPainterPath BenchView::pathOf(const Project& project, const Wire& wire) const {
  const auto a = place(project, wire.from), b = place(project, wire.to);
  if (!a || !b) return {};
  std::vector<QPointF> bends;
  for (const Point& bend : wire.bends) bends.push_back(px(bend));
  return wirePath(*a, *b, bends);
}

QRectF BenchView::contents() const {
  QRectF box;
  for (const BoardItem& b : doc_.project().boards)
    if (const BoardShape* s = catalogue().board(b.type))
      box |= QRectF(px(b.at) - QPointF(0, 18), QSizeF(s->width * u, s->height * u + 18));
  for (const BreadboardItem& b : doc_.project().breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type))
      box |= QRectF(px(b.at), QSizeF(k->width * u, k->height * u));
  for (const auto& part : *doc_.project().parts)
    for (const QPointF& leg : legsOf(doc_.project(), *part))
      box |= QRectF(leg - QPointF(20, 20), QSizeF(40, 40));
  return box.isNull() ? QRectF(0, 0, 500, 400) : box;
}

QPointF BenchView::screenOf(const Socket& socket) const {
  const auto at = place(doc_.project(), socket);
  return at ? toScreen(*at) : QPointF(-1000, -1000);
}
QPointF BenchView::screenOf(Point p) const { return toScreen(px(p)); }
QRectF BenchView::screenOfPart(const std::string& id) const {
  const Part* part = doc_.project().part(id);
  if (!part) return {};
  const QRectF body = bodyOf(*part, legsOf(doc_.project(), *part));
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
  if (style_ != Style::building) return 1;
  const auto& ticks = doc_.project().ticks;
  for (const char* kind : {"part:", "wire:"})
    if (std::find(ticks.begin(), ticks.end(), kind + id) != ticks.end()) return 1;
  return isBuildFocus(id) ? 0.9 : 0.2;
}

bool BenchView::isBuildFocus(const std::string& id) const {
  return style_ == Style::building && QString::fromStdString(id) == buildFocus_;
}

void BenchView::paintStatic(QPainter& p) {
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
  for (const BreadboardItem& b : doc_.project().breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type)) paintBreadboard(p, *k, px(b.at));
}

void BenchView::paintEvent(QPaintEvent*) {
  const qreal dpr = devicePixelRatioF();
  if (static_.isNull() || static_.size() != size() * dpr || static_.devicePixelRatio() != dpr) {
    static_ = QPixmap(size() * dpr);
    static_.setDevicePixelRatio(dpr);
    QPainter cached(&static_);
    paintStatic(cached);
  }
  QPainter p(this);
  p.drawPixmap(0, 0, static_);
  p.save();
  p.translate(pan_);
  p.scale(zoom_, zoom_);
  p.setRenderHint(QPainter::Antialiasing);

  const Snapshot* snapshot = live();
  for (std::size_t b = 0; b < doc_.project().boards.size(); ++b) {
    const BoardItem& board = doc_.project().boards[b];
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (!kind) continue;
    BoardLook look;
    look.powered = run_.isOn() && snapshot && snapshot->powered && !snapshot->tripped;
    for (std::size_t i = 0; i < kind->pins.size(); ++i) {
      const NetColour colour =
          doc_.identities().ofNet(doc_.nets().ofPin({static_cast<int>(b), static_cast<int>(i)}));
      const Net& net = doc_.nets().all()[static_cast<std::size_t>(
          doc_.nets().ofPin({static_cast<int>(b), static_cast<int>(i)}))];
      const bool wired = std::any_of(doc_.project().wires->begin(), doc_.project().wires->end(),
                                     [&](const auto& w) {
                                       return w->from == Socket{board.id, kind->pins[i].name} ||
                                              w->to == Socket{board.id, kind->pins[i].name};
                                     });
      const bool used = wired || (kind->pins[i].role == PinShape::Role::io &&
                                  colour.kind == NetColour::Kind::pin && net.pins.size() == 1);
      if (used && colour.kind != NetColour::Kind::plain)
        look.pills.push_back({kind->pins[i].name, colour});
    }
    if (snapshot && look.powered) {
      int io = 0;
      for (std::size_t i = 0; i < kind->pins.size(); ++i) {
        if (kind->pins[i].role != PinShape::Role::io) continue;
        if (kind->pins[i].name == kind->lampPin &&
            io < static_cast<int>(snapshot->state.pins.size()))
          look.lamp = snapshot->state.pins[static_cast<std::size_t>(io)] == PinDrive::high ? 1 : 0;
        ++io;
      }
    }
    paintBoard(p, *kind, px(board.at), look);
  }
  if (style_ == Style::tinted) paintTint(p);
  paintNet(p);
  paintParts(p);
  paintWires(p);
  if (snapshot && !run_.isPaused()) paintFlow(p);
  paintPreview(p);
  paintInHand(p);
  paintMarks(p);
  paintCursor(p);
  p.restore();
  if (style_ == Style::tinted) paintScale(p);
  paintTip(p);
  if (hasFocus() && keyboardFocus_) {
    p.setPen(QPen(theme().ink, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

// Everything joined to what is under the pointer lights up.
void BenchView::paintNet(QPainter& p) {
  std::vector<std::pair<int, NetColour>> lit;
  const auto add = [&](const Socket& s) {
    const int net = doc_.nets().of(s);
    if (net >= 0) lit.emplace_back(net, doc_.identities().ofNet(net));
  };
  if (mode_ == Mode::wiring || mode_ == Mode::movingEnd) {
    if (wireFrom_) add(*wireFrom_);
    if (wireTo_) add(*wireTo_);
  } else if (mode_ == Mode::placing || mode_ == Mode::movingLeg) {
    for (const auto& s : inHand_.sockets)
      if (s) add(*s);
    if (wireTo_) add(*wireTo_);
  } else if (mode_ == Mode::idle) {
    if (hover_.what == Hit::What::socket || hover_.what == Hit::What::leg ||
        hover_.what == Hit::What::wireEnd)
      add(hover_.socket);
    else if (hover_.what == Hit::What::wire)
      if (const Wire* w = doc_.project().wire(hover_.id)) add(w->from);
    if (cursor_ && cursorShown_) add(*cursor_);
  }
  const Theme& t = theme();
  for (const auto& [net, colour] : lit) {
    QColor wash = colour.kind == NetColour::Kind::plain ? t.amber : t.net(colour);
    wash.setAlpha(t.dark ? 120 : 70);
    p.setPen(Qt::NoPen);
    p.setBrush(wash);
    const Net& n = doc_.nets().all()[static_cast<std::size_t>(net)];
    for (const StripRef& s : n.strips) {
      const BreadboardItem& bb = doc_.project().breadboards[static_cast<std::size_t>(s.breadboard)];
      const BreadboardKind* kind = breadboardKind(bb.type);
      const auto holes = kind->holesOf(s.strip);
      const QPointF a = px(bb.at + kind->at(holes.front())), b = px(bb.at + kind->at(holes.back()));
      p.drawRoundedRect(QRectF(a, b).adjusted(-7, -7, 7, 7), 7, 7);
    }
    for (const PinRef& pin : n.pins) {
      const BoardItem& board = doc_.project().boards[static_cast<std::size_t>(pin.board)];
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

void BenchView::paintOnePart(QPainter& p, const Part& part, const std::vector<QPointF>& legs) {
  const PartPainter painter = painterOf(part.type);
  if (!painter || legs.empty()) return;
  PartLook look;
  look.legs = legs;
  const int i = partIndex(part.id);
  const Snapshot* s = live();
  if (poseState_ && i >= 0 && static_cast<std::size_t>(i) < poseState_->pressed.size())
    look.pressed = poseState_->pressed[static_cast<std::size_t>(i)] != 0;
  if (s && i >= 0 && (*s->project->parts)[static_cast<std::size_t>(i)]->id == part.id) {
    const auto k = static_cast<std::size_t>(i);
    look.light = s->light[k];
    look.pressed = look.pressed || s->state.pressed[k] != 0;
    look.broken = s->state.broken[k] != 0;
  } else if (poseReading_ && i >= 0 && static_cast<std::size_t>(i) < poseReading_->parts.size()) {
    const PartKind* kind = catalogue().partKind(part.type);
    if (kind && kind->shows == Shows::light)
      look.light = lightOf(poseReading_->parts[static_cast<std::size_t>(i)].amps);
  }
  painter(p, part, look);
}

void BenchView::paintParts(QPainter& p) {
  const Theme& t = theme();
  for (const auto& part : *doc_.project().parts) {
    std::vector<QPointF> legs = legsOf(doc_.project(), *part);
    if (legs.empty()) continue;
    const bool moved = mode_ == Mode::movingPart && dragging_ && doc_.isSelected(part->id);
    const bool legMoved = mode_ == Mode::movingLeg && dragging_ && grabbed_.id == part->id;
    if (moved)
      for (QPointF& l : legs) l += px(moveOffset_);
    if (legMoved) {
      const int leg = catalogue().part(part->type)->legIndex(grabbed_.leg);
      const auto target = wireTo_ ? place(doc_.project(), *wireTo_) : std::nullopt;
      legs[static_cast<std::size_t>(leg)] = target.value_or(toBench(mouse_));
    }
    p.setOpacity(opacityOf(part->id) * (moved && !inHand_.obstacle.clear() ? 0.5 : 1.0));
    const bool amber = pulseParts_.contains(part->id) || isBuildFocus(part->id);
    if (doc_.isSelected(part->id) || amber) {
      p.save();
      p.setOpacity(1);
      const QRectF body = bodyOf(*part, legs).adjusted(-5, -5, 5, 5);
      if (amber) {
        QColor wash = t.amber;
        wash.setAlpha(70);
        p.setPen(Qt::NoPen);
        p.setBrush(wash);
        p.drawEllipse(body.center(), body.width() * 0.75, body.height() * 0.75);
        p.setPen(QPen(t.amber, 2));
        p.setBrush(Qt::NoBrush);
        for (const QPointF& leg : legs) p.drawEllipse(leg, 6, 6);
      }
      if (doc_.isSelected(part->id)) {
        p.setPen(QPen(t.ink, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(body, 6, 6);
      }
      p.restore();
    }
    paintOnePart(p, *part, legs);
    p.setOpacity(1);
  }
}

void BenchView::paintWires(QPainter& p) {
  for (const auto& wire : *doc_.project().wires) {
    if (mode_ == Mode::movingEnd && dragging_ && grabbed_.id == wire->id) continue;
    auto a = place(doc_.project(), wire->from), b = place(doc_.project(), wire->to);
    if (!a || !b) continue;
    const auto follows = [&](const Socket& s) {
      return mode_ == Mode::movingPart && dragging_ && doc_.isSelected(s.owner);
    };
    QPainterPath path = pathOf(doc_.project(), *wire);
    if (follows(wire->from) || follows(wire->to)) {
      if (follows(wire->from)) *a += px(moveOffset_);
      if (follows(wire->to)) *b += px(moveOffset_);
      path = wirePath(*a, *b, {});
    }
    double opacity = opacityOf(wire->id);
    // What is in the way fades while something is being wired.
    if ((mode_ == Mode::wiring || mode_ == Mode::movingEnd) && hover_.what == Hit::What::wire &&
        hover_.id == wire->id)
      opacity = 0.4;
    p.setOpacity(opacity);
    paintWire(p, path, *a, *b, doc_.identities().ofWire(*wire, doc_.nets()),
              doc_.isSelected(wire->id));
    p.setOpacity(1);
    if (isBuildFocus(wire->id)) {
      p.setPen(QPen(theme().amber, 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(*a, 8, 8);
      p.drawEllipse(*b, 8, 8);
    }
  }
}

// Small dashes travel with the conventional current, faster for more.
void BenchView::paintFlow(QPainter& p) {
  const Snapshot* s = live();
  if (!s || s->project.get() != doc_.shared().get()) return;
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
            p.drawPath(pathOf(doc_.project(), *wire));
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
  if (mode_ == Mode::placing) {
    const PartKind* kind = catalogue().partKind(inHandType_);
    if (!kind) return;
    Part part = newPart(doc_.project(), *kind);
    std::vector<QPointF> legs;
    const auto& way = kind->print.ways[static_cast<std::size_t>(inHand_.way)];
    const bool ok = inHand_.obstacle.clear();
    QPointF base = inHandAt_;
    if (!inHand_.sockets.empty() && inHand_.sockets[0])
      base = place(doc_.project(), *inHand_.sockets[0]).value_or(base);
    for (std::size_t i = 0; i < way.size(); ++i) {
      QPointF at = base + px(way[i]);
      if (i < inHand_.sockets.size() && inHand_.sockets[i])
        at = place(doc_.project(), *inHand_.sockets[i]).value_or(at);
      legs.push_back(at);
    }
    p.setOpacity(ok ? 0.85 : 0.5);
    paintOnePart(p, part, legs);
    p.setOpacity(1);
    for (std::size_t i = 0; i < legs.size(); ++i) {
      const bool here = i < inHand_.sockets.size() && inHand_.sockets[i];
      p.setPen(QPen(ok ? t.good : here ? t.danger : t.ink2, 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(legs[i], 6.5, 6.5);
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
  p.setOpacity(0.75);
  const auto ring = [&](const QRectF& r) {
    p.setPen(QPen(t.amber, 2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(r, 6, 6);
  };
  for (const auto& part : *preview_->parts) {
    const Part* held = doc_.project().part(part->id);
    if (held && *held == *part) continue;
    const auto legs = legsOf(*preview_, *part);
    if (const PartPainter painter = painterOf(part->type); painter && !legs.empty()) {
      PartLook look;
      look.legs = legs;
      painter(p, *part, look);
      ring(bodyOf(*part, legs).adjusted(-5, -5, 5, 5));
    }
  }
  for (const auto& wire : *preview_->wires) {
    const Wire* held = doc_.project().wire(wire->id);
    if (held && *held == *wire) continue;
    const auto a = place(*preview_, wire->from), b = place(*preview_, wire->to);
    if (!a || !b) continue;
    paintWire(p, pathOf(*preview_, *wire), *a, *b, doc_.identities().ofWire(*wire, doc_.nets()));
    p.setPen(QPen(t.amber, 2));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(*a, 8, 8);
    p.drawEllipse(*b, 8, 8);
  }
  p.setOpacity(1);
}

QPointF BenchView::markAt(int index) const {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  for (const std::string& id : f.parts)
    if (const Part* part = doc_.project().part(id)) {
      const auto legs = legsOf(doc_.project(), *part);
      if (legs.empty()) continue;
      const QRectF body = bodyOf(*part, legs);
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
