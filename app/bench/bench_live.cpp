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
  if (!known) told_ = {shown->project, now, SnapshotMapping(*shown->project, now), {}, {}, {}};
  if (told_.shown != shown) {
    told_.shown = told_.mapped = shown;
    if (!told_.mapping->isIdentity())
      told_.mapped = std::make_shared<const Snapshot>(told_.mapping->mapped(*shown));
  }
  return told_.mapped.get();
}

bool BenchView::stoodThere(const std::string& id) const {
  return !run_.isLookingBack() || !live() || !told_.mapping->notThen().contains(id);
}

const BenchThen* BenchView::then() const {
  if (!run_.isLookingBack() || !live() || told_.mapping->isIdentity() || poseReading_ ||
      style_ == Style::building)
    return nullptr;
  if (!told_.then)
    told_.then = std::make_unique<BenchThen>(*told_.from, told_.to, told_.mapping->notNow());
  return told_.then.get();
}

std::optional<Scene> BenchView::sceneThen() const {
  const BenchThen* stood = then();
  if (!stood) return std::nullopt;
  Scene scene = stood->scene();
  scene.applyLiveState = [this](const Part& part, std::size_t i, PartLook& look) {
    lookInRun(*told_.shown, part, i, look);
  };
  scene.boardLook = [this, stood](std::size_t b) {
    return lookInRun(*told_.shown, stood->project().boards[b], b);
  };
  return scene;
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
  // So does what did not stand there at the moment that is looked at.
  if (!stoodThere(id)) return 0.4;
  if (style_ != Style::building) return 1;
  const auto& ticks = doc_.project().ticks;
  for (const char* kind : {"part:", "wire:"})
    if (std::find(ticks.begin(), ticks.end(), kind + id) != ticks.end()) return 1;
  return isBuildFocus(id) ? 0.9 : 0.2;
}

bool BenchView::isBuildFocus(const std::string& id) const {
  return style_ == Style::building && QString::fromStdString(id) == buildFocus_;
}

// How a part and a board look in the run at a moment of it, told by their places.
void BenchView::lookInRun(const Snapshot& s, const Part& part, std::size_t i,
                          PartLook& look) const {
  look.light = tags_->steadyLight(part.id).value_or(s.light[i]);
  look.lamps = s.lamps[i];
  look.pressed = look.pressed || s.state.pressed[i] != 0;
  look.broken = s.state.broken[i] != 0;
  const Motion& m = s.motion[i];
  look.hertz = m.hertz;
  look.armDegrees = m.degrees;
  look.turning = std::abs(m.revolutionsPerMinute) > 30;
  // As fast as it turns, though no faster than the eye can follow.
  const double perSecond = std::clamp(m.revolutionsPerMinute / 60, -2.0, 2.0);
  look.shaftDegrees = std::fmod(static_cast<double>(s.now) * 1e-9 * perSecond * 360, 360);
}

BoardLook BenchView::lookInRun(const Snapshot& s, const BoardItem& board, std::size_t b) const {
  BoardLook look;
  look.powered = s.powered && b < s.fed.size() && s.fed[b] != 0;
  if (look.powered && b < s.boardLight.size())
    look.lamp = tags_->steadyLight(board.id).value_or(s.boardLight[b]);
  return look;
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
    if (stoodThere(part.id)) lookInRun(*s, part, i, look);
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

// As it was in the run at the moment that is shown: a knob may have been turned since, a resistor
// be another.
std::optional<Part> BenchView::shownPart(const Part& part) const {
  const Snapshot* s = live();
  const Part* held = s && !proposal_ ? s->project->part(part.id) : nullptr;
  if (!held || held->type != part.type || held->props == part.props) return std::nullopt;
  Part out = part;
  out.props = held->props;
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
    const BoardItem& board = doc_.project().boards[b];
    const Snapshot* s = live();
    BoardLook look = run_.isOn() && s ? lookInRun(*s, board, b) : BoardLook{};
    if (doc_.project().boards.size() > 1) {
      look.tag = board.id;
      look.active = look.tag == doc_.board();
    }
    return look;
  };
}

}  // namespace ignavo::app
