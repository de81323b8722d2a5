#include "bench/scene.h"

#include <algorithm>

#include "bench/placing.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

Scene::Scene(const Project& project, const Nets& nets, const Identities& identities)
    : project_(project), nets_(nets), identities_(identities) {}

std::optional<QPointF> Scene::at(const Socket& socket) const {
  const auto place = socketAt(project_, catalogue(), socket);
  return place ? std::optional<QPointF>(px(*place)) : std::nullopt;
}

QPainterPath Scene::pathOf(const Wire& wire) const {
  const auto a = at(wire.from), b = at(wire.to);
  if (!a || !b) return {};
  std::vector<QPointF> bends;
  for (const Point& bend : wire.bends) bends.push_back(px(bend));
  return wirePath(*a, *b, bends);
}

PartLook Scene::lookOfPart(const Part& part, std::size_t index) const {
  PartLook look = lookOf(project_, part);
  if (applyLiveState && !look.legs.empty()) applyLiveState(part, index, look);
  return look;
}

QRectF Scene::bounds() const {
  QRectF box;
  for (const BoardItem& b : project_.boards)
    if (const BoardShape* s = catalogue().board(b.type))
      box |= QRectF(px(b.at) - QPointF(0, 18),
                    QSizeF(s->width * Theme::pitch, s->height * Theme::pitch + 18));
  for (const BreadboardItem& b : project_.breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type))
      box |= QRectF(px(b.at), QSizeF(k->width * Theme::pitch, k->height * Theme::pitch));
  for (const auto& part : *project_.parts) {
    const PartLook look = lookOf(project_, *part);
    if (look.legs.empty()) continue;
    box |= bodyOf(*part, look).adjusted(-8, -8, 8, 8);
    for (const QPointF& leg : look.legs) box |= QRectF(leg - QPointF(8, 8), QSizeF(16, 16));
  }
  return box.isNull() ? QRectF(0, 0, 500, 400) : box;
}

void Scene::breadboards(QPainter& p) const {
  const bool several = project_.breadboards.size() > 1;
  for (const BreadboardItem& b : project_.breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type); k && shown(b.id))
      paintBreadboard(p, *k, px(b.at), several ? str(b.id) : QString());
}

std::vector<PinPill> Scene::pillsOf(std::size_t b) const {
  const BoardItem& board = project_.boards[b];
  const BoardKind* kind = catalogue().boardKind(board.type);
  std::set<std::string> wired;
  for (const auto& w : *project_.wires)
    for (const Socket& end : {w->from, w->to})
      if (end.owner == board.id) wired.insert(end.point);
  std::vector<PinPill> pills;
  for (std::size_t i = 0; i < kind->pins.size(); ++i) {
    const int net = nets_.ofPin({static_cast<int>(b), static_cast<int>(i)});
    const NetColour colour = identities_.ofNet(net);
    const bool alone = nets_.all()[static_cast<std::size_t>(net)].pins.size() == 1;
    const bool used =
        wired.contains(kind->pins[i].name) ||
        (kind->pins[i].role == PinShape::Role::io && colour.kind == NetColour::Kind::pin && alone);
    const QString byHand = held ? held(board.id, kind->pins[i].name) : QString();
    if ((used && colour.kind != NetColour::Kind::plain) || !byHand.isEmpty())
      pills.push_back({kind->pins[i].name, colour, byHand});
  }
  return pills;
}

BoardLook Scene::lookOfBoard(std::size_t b) const {
  BoardLook look;
  if (boardLook) look = boardLook(b);
  look.pills = pillsOf(b);
  return look;
}

void Scene::boards(QPainter& p) const { boardsBy(paintBoard, p, &Scene::lookOfBoard); }
void Scene::darkBoards(QPainter& p) const { boardsBy(paintDarkBoard, p, &Scene::lookOfBoard); }
void Scene::boardLamps(QPainter& p) const {
  if (boardLook)
    boardsBy(paintBoardLamps, p, [](const Scene& s, std::size_t b) { return s.boardLook(b); });
}

void Scene::boardsBy(BoardPart paint, QPainter& p,
                     const std::function<BoardLook(const Scene&, std::size_t)>& look) const {
  for (std::size_t b = 0; b < project_.boards.size(); ++b) {
    const BoardItem& board = project_.boards[b];
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (kind && shown(board.id)) paint(p, *kind, px(board.at), look(*this, b));
  }
}

void Scene::parts(QPainter& p) const {
  for (std::size_t i = 0; i < project_.parts->size(); ++i) {
    const Part& part = *(*project_.parts)[i];
    const PartPainter painter = painterOf(part.type);
    if (!painter || !shown(part.id)) continue;
    const PartLook look = lookOfPart(part, i);
    if (look.legs.empty()) continue;
    if (opacity) p.setOpacity(opacity(part.id));
    const std::optional<Part> turned = shownAs ? shownAs(part, i) : std::nullopt;
    const Part& now = turned ? *turned : part;
    if (!painted || !painted(p, now, look, painter)) painter(p, now, look);
    p.setOpacity(1);
  }
}

void Scene::wires(QPainter& p) const {
  for (const auto& wire : *project_.wires) {
    if (!shown(wire->id)) continue;
    const auto a = at(wire->from), b = at(wire->to);
    if (!a || !b) continue;
    if (opacity) p.setOpacity(opacity(wire->id));
    paintWire(p, pathOf(*wire), *a, *b, identities_.ofWire(*wire, nets_),
              selected && selected(wire->id));
    p.setOpacity(1);
  }
}

QPointF markPlace(const Project& project, const Finding& f) {
  if (f.mark)
    if (const auto at = socketAt(project, catalogue(), *f.mark))
      return Scene::px(*at) + QPointF(0, -18);
  for (const std::string& id : f.parts)
    if (const Part* part = project.part(id)) {
      const PartLook look = lookOf(project, *part);
      if (look.legs.empty()) continue;
      const QRectF body = bodyOf(*part, look);
      return {body.right() + 15, body.center().y()};
    }
  for (const Socket& s : f.sockets)
    if (const auto at = socketAt(project, catalogue(), s))
      return Scene::px(*at) + QPointF(project.board(s.owner) ? 19 : 14, 0);
  return {-1000, -1000};
}

std::vector<QPointF> markPlaces(const Project& project, const std::vector<Finding>& findings) {
  constexpr double apart = 14, aside = 21;
  std::vector<QPointF> out;
  for (const Finding& f : findings) {
    QPointF at = f.meant ? QPointF(-1000, -1000) : markPlace(project, f);
    const auto taken = [&] {
      return std::find_if(out.begin(), out.end(),
                          [&](QPointF other) { return QLineF(other, at).length() < apart; });
    };
    for (auto other = taken(); !f.meant && other != out.end(); other = taken())
      at.setX(other->x() + aside);
    out.push_back(at);
  }
  return out;
}

QRectF benchBounds(const Project& project) {
  const Nets nets;
  const Identities identities;
  return Scene(project, nets, identities).bounds().adjusted(-20, -12, 20, 20);
}

void paintBench(QPainter& p, const Project& project) {
  const Nets nets(project, catalogue());
  const Identities identities(project, nets, catalogue());
  const Scene scene(project, nets, identities);
  scene.breadboards(p);
  scene.boards(p);
  scene.parts(p);
  scene.wires(p);
}

}  // namespace ignavo::app
