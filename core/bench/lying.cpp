#include "bench/lying.h"

#include <algorithm>
#include <cmath>

#include "bench/placing.h"

namespace ignavo {

namespace {

constexpr double pi = 3.14159265358979323846;

Point extent(const Lying& l) {
  const double a = l.degrees * pi / 180;
  const double c = std::abs(std::cos(a)), s = std::abs(std::sin(a));
  return {(l.width * c + l.height * s) / 2, (l.width * s + l.height * c) / 2};
}

double angle(Point v) { return std::atan2(v.y, v.x) * 180 / pi; }

}  // namespace

Point Lying::least() const { return centre - extent(*this); }
Point Lying::most() const { return centre + extent(*this); }

Point turned(Point p, int degrees) {
  switch (((degrees % 360) + 360) % 360) {
    case 90:
      return {-p.y, p.x};
    case 180:
      return {-p.x, -p.y};
    case 270:
      return {p.y, -p.x};
    default:
      return p;
  }
}

Lying lyingOn(const Footprint& print, std::vector<Point> legs, Point at, int turnDegrees) {
  Lying out;
  out.width = print.bodyWidth;
  out.height = print.bodyHeight;
  out.legs = std::move(legs);
  if (print.leads) {
    out.centre = at;
    out.degrees = turnDegrees;
    return out;
  }
  Point sum;
  for (const Point& p : out.legs) sum = sum + p;
  const auto n = static_cast<double>(std::max<std::size_t>(1, out.legs.size()));
  out.centre = {sum.x / n, sum.y / n};
  // The direction in which the legs lie, against that of the first way. A part
  // that stretches is drawn along its legs.
  const auto& way = print.orientations.front();
  for (std::size_t i = 1; i < out.legs.size() && i < way.size(); ++i) {
    const Point now = out.legs[i] - out.legs[0], then = way[i] - way[0];
    if (std::hypot(now.x, now.y) < 1e-9 || std::hypot(then.x, then.y) < 1e-9) continue;
    out.degrees = angle(now) - (print.stretches ? 0 : angle(then));
    break;
  }
  return out;
}

std::optional<Lying> lyingOf(const Project& project, const Shapes& shapes, const Part& part) {
  const Footprint* print = shapes.part(part.type);
  if (!print) return std::nullopt;
  const std::vector<Point>& rest = print->leads ? print->rest : print->orientations.front();
  std::vector<std::optional<Point>> found;
  std::optional<Point> shift;  // from the resting place to where the part really is
  for (std::size_t i = 0; i < print->legs.size(); ++i) {
    const Leg* leg = part.leg(print->legs[i].id);
    // Not where it is clipped to another part. Tables are few, and looked for first.
    const auto onTable = [&](const std::string& owner) {
      return project.breadboard(owner) || project.board(owner);
    };
    found.push_back(leg && leg->in && onTable(leg->in->owner) ? socketAt(project, shapes, *leg->in)
                                                              : std::nullopt);
    if (found.back() && !shift && !print->leads)
      shift = *found.back() - turned(rest[i], part.turnDegrees);
  }
  if (!shift || print->leads) shift = part.at.value_or(Point{4, 36});
  std::vector<Point> legs;
  for (std::size_t i = 0; i < found.size(); ++i)
    legs.push_back(found[i] ? *found[i] : *shift + turned(rest[i], part.turnDegrees));
  return lyingOn(*print, std::move(legs), *shift, part.turnDegrees);
}

bool overlaps(Point leastA, Point mostA, Point leastB, Point mostB) {
  return leastA.x < mostB.x && leastB.x < mostA.x && leastA.y < mostB.y && leastB.y < mostA.y;
}

}  // namespace ignavo
