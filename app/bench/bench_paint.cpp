#include <QPaintEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/meter.h"
#include "parts/circuit.h"
#include "theme/pitch.h"
#include "theme/theme.h"

namespace ignavo::app {

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

QRectF BenchView::screenOfOutput(const std::string& id) const {
  const BoardItem* board = doc_.project().board(id);
  const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
  if (!kind) return screenOfPart(id.substr(0, id.find('.')));  // of a lamp inside: all of it
  for (const BoardFeature& f : kind->features)
    if (f.ownLamp)
      return {toScreen(px(board->at) + px(f.min)), toScreen(px(board->at) + px(f.max))};
  return {};
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

QPixmap BenchView::layer(bool clear) const {
  QPixmap out(size() * devicePixelRatioF());
  out.setDevicePixelRatio(devicePixelRatioF());
  if (clear) out.fill(Qt::transparent);
  return out;
}

std::set<std::string> BenchView::unchangingParts() const {
  std::set<std::string> out;
  const Snapshot* s = live();
  for (std::size_t i = 0; i < doc_.project().parts->size(); ++i) {
    const Part& part = *(*doc_.project().parts)[i];
    const PartKind* kind = catalogue().partKind(part.type);
    const bool broken = s && i < s->state.broken.size() && s->state.broken[i] != 0;
    if (kind && kind->shows == Shows::nothing && !kind->sweepable() && !kind->isInstrument() &&
        kind->knob.empty() && !broken && stoodThere(part.id))
      out.insert(part.id);
  }
  return out;
}

bool BenchView::layOutUnchanging(Scene& scene) {
  if (!run_.isOn() || mode_ != Mode::idle || proposal_ || dragging_ || style_ == Style::building) {
    sprites_.clear();
    return false;
  }
  Unchanging now;
  now.project = doc_.project();
  now.parts = unchangingParts();
  if (then()) now.notThen = told_.mapping->notThen();
  now.selected = doc_.selection();
  now.pan = pan_;
  now.zoom = zoom_;
  now.dark = theme().dark;
  now.style = style_;
  now.checked = doc_.checkedGeneration();
  for (std::size_t b = 0; b < doc_.project().boards.size(); ++b) {
    BoardLook look = scene.lookOfBoard(b);
    look.lamp = 0;
    look.powered = false;
    now.boards.push_back(std::move(look));
  }
  const QSize wanted = size() * devicePixelRatioF();
  if (unchangingOf_ != now || wires_.size() != wanted) {
    const auto painted = [&](QPixmap& on, auto paint) {
      on = layer(true);
      QPainter p(&on);
      p.translate(pan_);
      p.scale(zoom_, zoom_);
      p.setRenderHint(QPainter::Antialiasing);
      paint(p);
    };
    if (!unchangingOf_ || !unchangingOf_->sameWires(now) || wires_.size() != wanted)
      painted(wires_, [&](QPainter& p) { scene.wires(p); });
    painted(boardsAndParts_, [&](QPainter& p) {
      scene.darkBoards(p);
      scene.only = &now.parts;
      scene.parts(p);
      scene.only = nullptr;
    });
    painted(marks_, [&](QPainter& p) { paintMarks(p); });
    unchangingOf_ = std::move(now);
    sprites_.clear();
  }
  scene.painted = [this](QPainter& p, const Part& part, const PartLook& look, PartPainter painter) {
    const PartKind* kind = catalogue().partKind(part.type);
    const bool shines = kind && kind->shows == Shows::light;
    if (shines) sprites_.paint(p, part, look, painter);
    return shines;
  };
  scene.without.insert(unchangingOf_->parts.begin(), unchangingOf_->parts.end());
  return true;
}

void BenchView::paintEvent(QPaintEvent*) {
  const qreal dpr = devicePixelRatioF();
  const Project& project = shownProject();
  const Nets& nets = shownNets();
  const Identities& identities = proposal_ ? proposal_->identities : doc_.identities();
  Scene scene(project, nets, identities);
  applyLiveState(scene);
  QPainter p(this);
  // Breadboards stand still, but when one of them is in hand. They are kept as pixels once they are
  // painted again and again.
  const bool tables = proposal_ && !(project.breadboards == doc_.project().breadboards);
  const bool kept = static_.size() == size() * dpr && static_.devicePixelRatio() == dpr;
  constexpr int again = 3;
  if (!kept) static_ = QPixmap();
  if (tables || (!kept && paintedSince_++ < again)) {
    p.save();
    paintBackground(p, scene);
    p.restore();
  } else {
    if (!kept) {
      paintedSince_ = 0;
      static_ = layer(false);
      QPainter cached(&static_);
      paintBackground(cached, scene);
    }
    p.drawPixmap(0, 0, static_);
  }
  p.save();
  p.translate(pan_);
  p.scale(zoom_, zoom_);
  p.setRenderHint(QPainter::Antialiasing);
  std::optional<Scene> stood = sceneThen();
  if (stood) stood->breadboards(p);
  if (style_ == Style::tinted) paintTint(p);
  paintNets(p, nets, identities, netsToLight(nets), project);
  paintHighlights(p);

  // While something is dragged, all the rest is painted once.
  const bool still = proposal_ && dragging_ && !run_.isOn() && !tables;
  if (still) {
    if (still_.isNull() || still_.size() != size() * dpr) {
      still_ = layer(true);
      QPainter cached(&still_);
      cached.translate(pan_);
      cached.scale(zoom_, zoom_);
      cached.setRenderHint(QPainter::Antialiasing);
      Scene rest(doc_.project(), doc_.nets(), doc_.identities());
      applyLiveState(rest);
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
  }
  const bool unchanging = layOutUnchanging(scene);
  const auto lay = [&](const QPixmap& pixmap) {
    p.save();
    p.resetTransform();
    p.drawPixmap(0, 0, pixmap);
    p.restore();
  };
  if (unchanging) {
    lay(boardsAndParts_);
    scene.boardLamps(p);
  } else {
    scene.boards(p);
  }
  if (stood) stood->boards(p);
  if (mode_ == Mode::movingEnd && dragging_) scene.without.insert(grabbed_.id);
  scene.parts(p);
  if (stood) {
    stood->painted = scene.painted;
    stood->parts(p);
  }
  if (unchanging)
    lay(wires_);
  else
    scene.wires(p);
  if (stood) stood->wires(p);
  if (shownReading() && !run_.isPaused() && !proposal_) paintFlow(p);
  paintPreview(p);
  paintInHand(p);
  // They are about the bench as it is now.
  if (unchanging && !stood)
    lay(marks_);
  else if (!stood)
    paintMarks(p);
  paintPulses(p);
  paintHandles(p);
  paintCursor(p);
  p.restore();
  if (style_ == Style::tinted) paintScale(p);
  meter_->paintLeads(p);
  paintLoupe(p);
  paintCallOut(p);
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

// Each used strip in the colour of its voltage: run, pose shown, or at rest. What has no fixed
// level is hatched.
void BenchView::paintTint(QPainter& p) {
  const Theme& t = theme();
  const auto stood = voltages(tintReading());
  if (!stood || stood->reading.nets.size() != stood->nets.all().size()) return;
  const std::set<int> floating = stood->circuit.floatingNets(stood->reading);
  const double most = scaleVolts();
  for (std::size_t n = 0; n < stood->reading.nets.size(); ++n) {
    const Net& net = stood->nets.all()[n];
    if (!net.used() || !stood->reading.nets[n]) continue;
    const double share = std::clamp(*stood->reading.nets[n] / most, 0.0, 1.0);
    QColor c = QColor::fromRgbF(
        static_cast<float>(t.tintLow.redF() * (1 - share) + t.tintHigh.redF() * share),
        static_cast<float>(t.tintLow.greenF() * (1 - share) + t.tintHigh.greenF() * share),
        static_cast<float>(t.tintLow.blueF() * (1 - share) + t.tintHigh.blueF() * share));
    c.setAlpha(125);
    p.setPen(Qt::NoPen);
    p.setBrush(c);
    if (floating.contains(static_cast<int>(n))) {
      p.setPen(QPen(t.ink2, 1, Qt::DotLine));
      p.setBrush(QBrush(t.ink2, Qt::BDiagPattern));
    }
    for (const StripRef& s : net.strips) {
      const BreadboardItem& bb = stood->project.breadboards[static_cast<std::size_t>(s.breadboard)];
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

// Small dashes travel with the conventional current, faster for more. In a combination
// that is only looked at they stand still, with an arrow.
void BenchView::paintFlow(QPainter& p) {
  if (!flows_) return;
  const auto paint = [&](const Project& project, const std::vector<double>& amps,
                         const Scene& scene) {
    for (std::size_t i = 0; i < amps.size() && i < project.wires->size(); ++i)
      paintFlow(p, scene, *(*project.wires)[i], amps[i]);
  };
  if (const BenchThen* stood = then())
    paint(stood->project(), stood->wireAmps(*told_.shown), stood->scene());
  else
    paint(doc_.project(), shownWireAmps(), Scene(doc_.project(), doc_.nets(), doc_.identities()));
}

void BenchView::paintFlow(QPainter& p, const Scene& scene, const Wire& wire, double amps) {
  constexpr double leastAmps = 1e-4;
  if (std::abs(amps) < leastAmps) return;
  QPen pen(theme().flow, 1.8, Qt::CustomDashLine, Qt::RoundCap);
  pen.setDashPattern({2, 7});
  const QPainterPath path = scene.pathOf(wire);
  const Snapshot* s = live();
  const double speed = std::clamp(std::abs(amps) * 1500, 6.0, 60.0);
  const double now = s && !poseReading_ ? static_cast<double>(s->now) * 1e-9 : 0;
  const double offset = std::fmod(now * speed, 9.0);
  pen.setDashOffset(amps > 0 ? -offset : offset);
  p.setPen(pen);
  p.setBrush(Qt::NoBrush);
  p.drawPath(path);
  if (!poseReading_) return;
  const double angle = path.angleAtPercent(0.5) + (amps > 0 ? 0 : 180);
  p.save();
  p.translate(path.pointAtPercent(0.5));
  p.rotate(-angle);
  p.setPen(QPen(theme().ink, 1));
  p.setBrush(theme().flow);
  p.drawPolygon(QPolygonF{{6, 0}, {-4, -5}, {-4, 5}});
  p.restore();
}

}  // namespace ignavo::app
