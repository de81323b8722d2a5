#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/meter.h"
#include "bench/wiring.h"
#include "theme/theme.h"

// What the meter and the dashes of current are told by the bench.
namespace ignavo::app {

Circuit& BenchView::circuit() const {
  if (!circuit_) circuit_ = std::make_unique<Circuit>(doc_.project());
  return *circuit_;
}

const CircuitReading* BenchView::shownReading() const {
  if (poseReading_) return &*poseReading_;
  const Snapshot* s = live();
  return s ? &s->reading : nullptr;
}

const CircuitReading* BenchView::tintReading() const {
  const Snapshot* s = live();
  return poseReading_                              ? &*poseReading_
         : s                                       ? &s->reading
         : style_ == Style::tinted && restReading_ ? &*restReading_
                                                   : nullptr;
}

std::optional<BenchView::Voltages> BenchView::voltages(const CircuitReading* now) const {
  if (!now) return std::nullopt;
  if (const BenchThen* stood = then())
    return Voltages{stood->project(), stood->circuit().nets(), stood->circuit(),
                    told_.shown->reading};
  return Voltages{doc_.project(), doc_.nets(), circuit(), *now};
}

double BenchView::scaleVolts() const {
  double most = 5;
  for (const auto& part : *doc_.project().parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    if (!kind || !kind->devices) continue;
    for (const auto& cells : kind->devices(*part).batteries) most = std::max(most, cells.volts);
  }
  return most;
}

bool BenchView::hasTripped() const {
  const Snapshot* s = live();
  return !poseReading_ && s && s->tripped;
}

void BenchView::forgetCircuit() {
  metal_.reset();
  circuit_.reset();
}

const std::vector<double>& BenchView::shownWireAmps() {
  wireAmps_.clear();
  const CircuitReading* reading = shownReading();
  if (!reading) return wireAmps_;
  // With other wires other currents flowed; a wire that was there had its own.
  if (const BenchThen* stood = then()) {
    const std::vector<double> amps = stood->wireAmps(*told_.shown);
    std::map<std::string, double> byId;
    for (std::size_t i = 0; i < amps.size(); ++i) byId[(*stood->project().wires)[i]->id] = amps[i];
    for (const auto& wire : *doc_.project().wires)
      wireAmps_.push_back(stoodThere(wire->id) ? byId[wire->id] : 0);
    return wireAmps_;
  }
  const bool asWired = poseReading_ || (told_.mapping && told_.mapping->isIdentity());
  if (!asWired) return wireAmps_;
  if (!metal_) metal_.emplace(doc_.project(), circuit());
  return wireAmps_ = metal_->amps(*reading);
}

std::optional<Socket> BenchView::anySocketNear(QPointF screen) const {
  constexpr double within = 0.8;  // of a pitch
  return nearestTarget(doc_.project(), catalogue(), pitches(toBench(screen)),
                       std::max(within, 12 / zoom_ / Theme::pitch), true);
}

std::string BenchView::wireNear(QPointF screen) const {
  const QPointF at = toBench(screen);
  const Scene scene(doc_.project(), doc_.nets(), doc_.identities());
  double best = std::max(12.0, 14 / zoom_);
  std::string id;
  for (const auto& wire : *doc_.project().wires) {
    const QPainterPath path = scene.pathOf(*wire);
    if (!path.controlPointRect().adjusted(-20, -20, 20, 20).contains(at)) continue;
    for (int k = 0; k <= 40; ++k)
      if (const double d = QLineF(path.pointAtPercent(k / 40.0), at).length(); d < best)
        best = d, id = wire->id;
  }
  return id;
}

std::optional<QPointF> BenchView::middleOfWire(const std::string& id) const {
  const Wire* wire = doc_.project().wire(id);
  if (!wire) return std::nullopt;
  const Scene scene(doc_.project(), doc_.nets(), doc_.identities());
  return toScreen(scene.pathOf(*wire).pointAtPercent(0.5));
}

void BenchView::toggleMeter() {
  if (meter_->isVisible()) {
    meter_->hide();
    return update();
  }
  const auto under = cursorShown_ ? cursor_ : anySocketNear(mouse_);
  if (under) meter_->put(MeterTip::Kind::red, *under);
  // The black probe begins at a ground, as people do it.
  if (!meter_->black())
    for (const BoardItem& board : doc_.project().boards)
      if (const BoardKind* kind = catalogue().boardKind(board.type))
        for (const BoardPin& pin : kind->pins)
          if (pin.role == PinShape::Role::ground && !meter_->black())
            meter_->put(MeterTip::Kind::black, {board.id, pin.name});
  meter_->show();
  meter_->refresh();
  setHint(
      QStringLiteral("Drag the tips to holes, pins or legs. Tab and the arrow keys do it too."));
}

}  // namespace ignavo::app
