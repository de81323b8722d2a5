#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "bench/part_tags.h"
#include "parts/circuit.h"
#include "parts/measuring.h"
#include "theme/theme.h"

// How what lies on the bench looks at the moment: in the run, in a combination that is shown, while
// something is in the way or being built.
namespace ignavo::app {

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
void BenchView::applyLiveState(const Part& part, std::size_t i, PartLook& look) const {
  if (mode_ == Mode::movingLeg && dragging_ && grabbed_.id == part.id && !proposal_) {
    const int leg = catalogue().part(part.type)->legIndex(grabbed_.leg);
    if (leg >= 0) look.legs[static_cast<std::size_t>(leg)] = toBench(mouse_);
  }
  const PartKind* kind = catalogue().partKind(part.type);
  const Snapshot* s = live();
  if (poseState_ && i < poseState_->pressed.size()) look.pressed = poseState_->pressed[i] != 0;
  if (s && i < s->light.size() && (*s->project->parts)[i]->id == part.id) {
    look.light = s->light[i];
    if (const auto steady = tags_->steadyLight(part.id)) look.light = *steady;
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
  const auto& parts = *doc_.project().parts;
  if (kind && kind->isInstrument() && i < parts.size() && parts[i]->id == part.id)
    look.shown = displayed(i);
}

QString BenchView::displayed(std::size_t part) const {
  const CircuitReading* r = hasTripped() ? nullptr : shownReading();
  return QString::fromStdString(displayOf(doc_.project(), circuit(), circuit().restState(),
                                          static_cast<int>(part), r ? &r->parts[part] : nullptr,
                                          shownReading() != nullptr));
}

// What stands in the run at the moment that is shown: a knob may have been turned since.
std::optional<Part> BenchView::shownPart(const Part& part, std::size_t i) const {
  const PartKind* kind = catalogue().partKind(part.type);
  const Snapshot* s = live();
  if (!kind || kind->knob.empty() || !s || proposal_) return std::nullopt;
  const Part& held = *(*s->project->parts)[i];
  const PropKind* prop = kind->prop(kind->knob);
  if (!prop || held.id != part.id || held.type != part.type) return std::nullopt;
  Part out = part;
  out.setProp(prop->key, held.number(prop->key, prop->defaultValue));
  return out;
}

void BenchView::applyLiveState(Scene& scene) const {
  scene.shownAs = [this](const Part& part, std::size_t i) { return shownPart(part, i); };
  scene.applyLiveState = [this](const Part& part, std::size_t i, PartLook& look) {
    applyLiveState(part, i, look);
  };
  scene.opacity = [this](const std::string& id) { return opacityOf(id); };
  scene.selected = [this](const std::string& id) { return doc_.isSelected(id); };
  scene.held = [this](const std::string& board, const std::string& pin) {
    return heldText(board, pin);
  };
  scene.boardLook = [this](std::size_t b) {
    BoardLook look;
    const Snapshot* s = live();
    if (doc_.project().boards.size() > 1) {
      look.tag = doc_.project().boards[b].id;
      look.active = look.tag == doc_.board();
    }
    look.powered = run_.isOn() && s && s->powered && b < s->fed.size() && s->fed[b] != 0;
    if (!look.powered) return look;
    const std::string& id = doc_.project().boards[b].id;
    if (b < s->boardLight.size()) look.lamp = tags_->steadyLight(id).value_or(s->boardLight[b]);
    return look;
  };
}

}  // namespace ignavo::app
