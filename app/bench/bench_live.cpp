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

// What the simulator says, told on the document as it is now: what is looked at may lie before an
// edit, and what runs may be a moment older than what is drawn.
const Snapshot* BenchView::live() const {
  const auto shown = run_.shown();
  if (!shown) {
    told_ = {};
    return nullptr;
  }
  const Project& now = doc_.project();
  const bool known = told_.mapping && told_.from == shown->project &&
                     told_.to.parts.sharesWith(now.parts) && told_.to.wires.sharesWith(now.wires) &&
                     told_.to.boards == now.boards && told_.to.breadboards == now.breadboards;
  if (!known) told_ = {shown->project, now, SnapshotMapping(*shown->project, now), {}, {}};
  if (told_.shown != shown) {
    told_.shown = told_.mapped = shown;
    if (!told_.mapping->isIdentity())
      told_.mapped = std::make_shared<const Snapshot>(told_.mapping->mapped(*shown));
  }
  return told_.mapped.get();
}

bool BenchView::wasThere(std::size_t part) const {
  return !live() || part >= told_.to.parts->size() || told_.mapping->wasThere(part);
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
  // So does what was not there at the moment that is looked at.
  if (run_.isLookingBack() && live() && !told_.mapping->isIdentity())
    if (const int part = partIndex(id); part >= 0 && !wasThere(static_cast<std::size_t>(part)))
      return 0.4;
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
  const auto& parts = *doc_.project().parts;
  const bool here = i < parts.size() && parts[i]->id == part.id;
  if (s && here) {
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
  if (kind && kind->isInstrument() && here) look.shown = displayed(i);
}

QString BenchView::displayed(std::size_t part) const {
  const CircuitReading* r = hasTripped() ? nullptr : shownReading();
  return QString::fromStdString(displayOf(doc_.project(), circuit(), circuit().restState(),
                                          static_cast<int>(part), r ? &r->parts[part] : nullptr,
                                          shownReading() != nullptr));
}

// What stands in the run at the moment that is shown: a knob may have been turned since.
std::optional<Part> BenchView::shownPart(const Part& part) const {
  const PartKind* kind = catalogue().partKind(part.type);
  const Snapshot* s = live();
  if (!kind || kind->knob.empty() || !s || proposal_) return std::nullopt;
  const Part* held = s->project->part(part.id);
  const PropKind* prop = kind->prop(kind->knob);
  if (!prop || !held || held->type != part.type) return std::nullopt;
  Part out = part;
  out.setProp(prop->key, held->number(prop->key, prop->defaultValue));
  return out;
}

void BenchView::applyLiveState(Scene& scene) const {
  scene.shownAs = [this](const Part& part, std::size_t) { return shownPart(part); };
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
