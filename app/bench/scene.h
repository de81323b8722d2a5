#pragma once
#include <QPainter>
#include <functional>
#include <set>

#include "art/art.h"
#include "bench/identity.h"
#include "bench/nets.h"
#include "check/finding.h"
#include "project/project.h"
#include "theme/theme.h"

namespace ignavo::app {

// Draws what lies on a bench: boards, breadboards, parts, wires. Knows nothing
// of a window, so that pictures and prints come from the same hand.
class Scene {
 public:
  Scene(const Project& project, const Nets& nets, const Identities& identities);

  // How things look at the moment; unset: at rest, everything solid.
  std::function<void(const Part&, std::size_t index, PartLook&)> applyLiveState;
  // With a knob turned otherwise; nothing: as it is.
  std::function<std::optional<Part>(const Part&, std::size_t index)> shownAs;
  // In place of its painter; false: that is to paint it.
  std::function<bool(QPainter&, const Part&, const PartLook&, PartPainter)> painted;
  std::function<BoardLook(std::size_t index)> boardLook;
  std::function<QString(const std::string& board, const std::string& pin)> held;  // by hand
  std::function<double(const std::string& id)> opacity;
  std::function<bool(const std::string& id)> selected;
  std::set<std::string> without;  // ids that are left out
  const std::set<std::string>* only = nullptr;

  void breadboards(QPainter& p) const;
  void boards(QPainter& p) const;
  void darkBoards(QPainter& p) const;  // without their lamps
  void boardLamps(QPainter& p) const;
  void parts(QPainter& p) const;
  void wires(QPainter& p) const;

  PartLook lookOfPart(const Part& part, std::size_t index) const;
  BoardLook lookOfBoard(std::size_t index) const;
  QPainterPath pathOf(const Wire& wire) const;
  std::optional<QPointF> at(const Socket& socket) const;
  // Everything there is, with a little air.
  QRectF bounds() const;

  static QPointF px(Point p) { return {p.x * Theme::pitch, p.y * Theme::pitch}; }

 private:
  bool shown(const std::string& id) const {
    return !without.contains(id) && (!only || only->contains(id));
  }
  using BoardPart = void (*)(QPainter&, const BoardKind&, QPointF at, const BoardLook&);
  void boardsBy(BoardPart paint, QPainter& p,
                const std::function<BoardLook(const Scene&, std::size_t)>& look) const;
  std::vector<PinPill> pillsOf(std::size_t board) const;

  const Project& project_;
  const Nets& nets_;
  const Identities& identities_;
};

// Where the mark of a finding goes: beside its first part, else its first place.
QPointF markPlace(const Project& project, const Finding& finding);
// Those of several: what would lie over another stands beside it. The meant ones have no mark.
std::vector<QPointF> markPlaces(const Project& project, const std::vector<Finding>& findings);

// A whole bench at rest, for pictures and prints; `size` in pixels at 100 %.
QRectF benchBounds(const Project& project);
void paintBench(QPainter& p, const Project& project);

}  // namespace ignavo::app
