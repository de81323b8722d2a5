#include "bench/tidy.h"

#include <algorithm>
#include <cmath>
#include <queue>
#include <set>

#include "bench/breadboards.h"
#include "bench/lying.h"
#include "bench/placing.h"

namespace ignavo {

namespace {

constexpr double margin = 3;      // free space around everything, in pitches
constexpr double bodyAir = 0.15;  // kept from a body
constexpr double cornerCost = 2.5;
constexpr double bodyCost = 30;   // per step across a body, when there is no way round
constexpr double besideCost = 3;  // per step along another wire
constexpr double boardCost = 60;

struct Box {
  Point min, max;
  bool holds(Point p) const { return p.x > min.x && p.x < max.x && p.y > min.y && p.y < max.y; }
};

bool crosses(const Box& box, Point a, Point b) {
  const double length = std::hypot(b.x - a.x, b.y - a.y);
  const int steps = std::max(2, static_cast<int>(length * 4));
  for (int i = 0; i <= steps; ++i) {
    const double s = static_cast<double>(i) / steps;
    if (box.holds({a.x + (b.x - a.x) * s, a.y + (b.y - a.y) * s})) return true;
  }
  return false;
}

struct Obstacles {
  std::vector<Box> bodies, boards;
};

Obstacles obstaclesOf(const Project& project, const Shapes& shapes) {
  Obstacles out;
  for (const auto& part : *project.parts) {
    const auto lying = lyingOf(project, shapes, *part);
    if (!lying) continue;
    const Point air{bodyAir, bodyAir};
    out.bodies.push_back({lying->least() - air, lying->most() + air});
  }
  for (const BoardItem& board : project.boards)
    if (const BoardShape* s = shapes.board(board.type)) {
      // Its pins lie at its edge: the edge itself is free.
      double edge = 0;
      for (const PinShape& pin : s->pins) edge = std::max(edge, pin.at.x);
      out.boards.push_back({board.at, board.at + Point{edge - 0.6, s->height}});
    }
  return out;
}

std::vector<Point> pointsOf(const Project& project, const Shapes& shapes, const Wire& wire) {
  const auto a = socketAt(project, shapes, wire.from), b = socketAt(project, shapes, wire.to);
  if (!a || !b) return {};
  std::vector<Point> points{*a};
  points.insert(points.end(), wire.bends.begin(), wire.bends.end());
  points.push_back(*b);
  return points;
}

// Does this line lie across a body (but for those at its ends)?
bool covers(const Obstacles& o, const std::vector<Point>& line) {
  for (const auto* list : {&o.bodies, &o.boards})
    for (const Box& box : *list) {
      if (box.holds(line.front()) || box.holds(line.back())) continue;
      for (std::size_t i = 0; i + 1 < line.size(); ++i)
        if (crosses(box, line[i], line[i + 1])) return true;
    }
  return false;
}

// Does `line` run along one of `others` for more than `shared` pitches, so
// that the two could not be told apart?
bool runsAlong(const std::vector<Point>& line, const std::vector<std::vector<Point>>& others) {
  constexpr double shared = 1.5, apart = 0.25, stride = 0.25;
  const auto distance = [](Point p, Point a, Point b) {
    const Point d = b - a;
    const double square = d.x * d.x + d.y * d.y;
    const double s = square > 0 ? ((p.x - a.x) * d.x + (p.y - a.y) * d.y) / square : 0;
    const double t = std::clamp(s, 0.0, 1.0);
    return std::hypot(p.x - a.x - d.x * t, p.y - a.y - d.y * t);
  };
  for (const std::vector<Point>& other : others) {
    double together = 0;
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
      const double length = std::hypot(line[i + 1].x - line[i].x, line[i + 1].y - line[i].y);
      const int steps = std::max(1, static_cast<int>(length / stride));
      for (int k = 0; k < steps; ++k) {
        const double s = (k + 0.5) / steps;
        const Point p{line[i].x + (line[i + 1].x - line[i].x) * s,
                      line[i].y + (line[i + 1].y - line[i].y) * s};
        for (std::size_t j = 0; j + 1 < other.size(); ++j)
          if (distance(p, other[j], other[j + 1]) < apart) {
            together += length / steps;
            break;
          }
      }
    }
    if (together > shared) return true;
  }
  return false;
}

// The channels between the holes, as a grid.
class Channels {
 public:
  Channels(const Project& project, const Shapes& shapes, const Obstacles& obstacles) {
    Point least{1e9, 1e9}, most{-1e9, -1e9};
    const auto hold = [&](Point p) {
      least = {std::min(least.x, p.x), std::min(least.y, p.y)};
      most = {std::max(most.x, p.x), std::max(most.y, p.y)};
    };
    for (const BreadboardItem& bb : project.breadboards)
      if (const BreadboardKind* k = breadboardKind(bb.type))
        hold(bb.at), hold(bb.at + Point{k->width, k->height});
    for (const BoardItem& b : project.boards)
      if (const BoardShape* s = shapes.board(b.type))
        hold(b.at), hold(b.at + Point{s->width, s->height});
    for (const Box& box : obstacles.bodies) hold(box.min), hold(box.max);
    // Half a pitch off the holes of the first breadboard.
    Point hole{0, 0};
    if (!project.breadboards.empty())
      if (const BreadboardKind* k = breadboardKind(project.breadboards.front().type))
        hole = project.breadboards.front().at + k->at({0, -1, 1});
    origin_ = {hole.x + 0.5 - std::ceil(hole.x - least.x + margin),
               hole.y + 0.5 - std::ceil(hole.y - least.y + margin)};
    columns_ = static_cast<int>(most.x + margin - origin_.x) + 2;
    rows_ = static_cast<int>(most.y + margin - origin_.y) + 2;
    cost_.assign(static_cast<std::size_t>(columns_ * rows_), 1);
    for (int r = 0; r < rows_; ++r)
      for (int c = 0; c < columns_; ++c) {
        for (const Box& box : obstacles.bodies)
          if (box.holds(at(c, r))) cost_[index(c, r)] += bodyCost;
        for (const Box& box : obstacles.boards)
          if (box.holds(at(c, r))) cost_[index(c, r)] += boardCost;
      }
  }

  // A wire that lies there makes its channel dearer for the next.
  void occupy(const std::vector<Point>& line) {
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
      const Point a = line[i], b = line[i + 1];
      const int steps = std::max(1, static_cast<int>(std::hypot(b.x - a.x, b.y - a.y) * 2));
      std::size_t last = cost_.size();
      for (int k = 0; k <= steps; ++k) {
        const double s = static_cast<double>(k) / steps;
        const auto [c, r] = cell({a.x + (b.x - a.x) * s, a.y + (b.y - a.y) * s});
        if (const std::size_t i2 = index(c, r); i2 != last) cost_[i2] += besideCost, last = i2;
      }
    }
  }

  // The cheapest corners from one point to another.
  std::vector<Point> route(Point from, Point to) const {
    struct Open {
      double cost;
      std::size_t state;
      bool operator>(const Open& o) const {
        return cost != o.cost ? cost > o.cost : state > o.state;
      }
    };
    const auto [sc, sr] = cell(from);
    const auto [gc, gr] = cell(to);
    const std::size_t states = cost_.size() * 4;
    std::vector<double> best(states, 1e18);
    std::vector<int> before(states, -1);
    std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
    const auto guess = [&](int c, int r) { return std::abs(c - gc) + std::abs(r - gr); };
    for (std::size_t d = 0; d < 4; ++d) {
      const std::size_t s = index(sc, sr) * 4 + d;
      best[s] = d < 2 ? 0 : 0.5;  // leaving sideways looks calmer
      open.push({best[s] + guess(sc, sr), s});
    }
    static constexpr int dx[] = {1, -1, 0, 0}, dy[] = {0, 0, 1, -1};
    std::size_t goal = states;
    while (!open.empty()) {
      const Open now = open.top();
      open.pop();
      const auto place = static_cast<int>(now.state / 4);
      const int c = place % columns_, r = place / columns_;
      const std::size_t d = now.state % 4;
      if (now.cost > best[now.state] + guess(c, r) + 1e-9) continue;
      if (c == gc && r == gr) {
        goal = now.state;
        break;
      }
      for (std::size_t n = 0; n < 4; ++n) {
        const int nc = c + dx[n], nr = r + dy[n];
        if (nc < 0 || nr < 0 || nc >= columns_ || nr >= rows_) continue;
        const double step = cost_[index(nc, nr)] + (n == d ? 0 : cornerCost);
        const std::size_t s = index(nc, nr) * 4 + n;
        if (best[now.state] + step >= best[s] - 1e-12) continue;
        best[s] = best[now.state] + step;
        before[s] = static_cast<int>(now.state);
        open.push({best[s] + guess(nc, nr), s});
      }
    }
    std::vector<Point> line;
    if (goal == states) return line;
    for (int s = static_cast<int>(goal); s >= 0; s = before[static_cast<std::size_t>(s)])
      line.push_back(at((s / 4) % columns_, (s / 4) / columns_));
    std::reverse(line.begin(), line.end());
    return corners(line);
  }

 private:
  // Only the corners stay.
  static std::vector<Point> corners(const std::vector<Point>& line) {
    std::vector<Point> out;
    for (std::size_t i = 0; i < line.size(); ++i) {
      if (i > 0 && i + 1 < line.size()) {
        const Point a = line[i] - line[i - 1], b = line[i + 1] - line[i];
        if (std::abs(a.x * b.y - a.y * b.x) < 1e-9) continue;
      }
      out.push_back(line[i]);
    }
    return out;
  }
  Point at(int c, int r) const {
    return {origin_.x + static_cast<double>(c), origin_.y + static_cast<double>(r)};
  }
  std::pair<int, int> cell(Point p) const {
    return {std::clamp(static_cast<int>(std::lround(p.x - origin_.x)), 0, columns_ - 1),
            std::clamp(static_cast<int>(std::lround(p.y - origin_.y)), 0, rows_ - 1)};
  }
  std::size_t index(int c, int r) const { return static_cast<std::size_t>(r * columns_ + c); }

  Point origin_;
  int columns_ = 0, rows_ = 0;
  std::vector<double> cost_;
};

}  // namespace

Project tidied(const Project& project, const Shapes& shapes,
               const std::vector<std::string>& wires) {
  const std::set<std::string> chosen(wires.begin(), wires.end());
  Project out = project;
  const Obstacles obstacles = obstaclesOf(project, shapes);
  Channels channels(project, shapes, obstacles);
  std::vector<std::size_t> order;
  std::vector<std::vector<Point>> laid;
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const Wire& wire = *(*project.wires)[w];
    if (chosen.empty() || chosen.contains(wire.id))
      order.push_back(w);
    else
      laid.push_back(pointsOf(project, shapes, wire)), channels.occupy(laid.back());
  }
  const auto length = [&](std::size_t w) {
    const Wire& wire = *(*project.wires)[w];
    const auto a = socketAt(project, shapes, wire.from), b = socketAt(project, shapes, wire.to);
    return a && b ? std::hypot(a->x - b->x, a->y - b->y) : 0;
  };
  // Short ones first: long ones have more ways to go round them.
  std::stable_sort(order.begin(), order.end(),
                   [&](std::size_t a, std::size_t b) { return length(a) < length(b); });
  for (const std::size_t w : order) {
    Wire plain = *(*project.wires)[w];
    plain.bends.clear();
    std::vector<Point> line = pointsOf(project, shapes, plain);
    if (line.empty()) continue;
    if (covers(obstacles, line) || runsAlong(line, laid)) {
      std::vector<Point> route = channels.route(line.front(), line.back());
      // The channel's ends beside the two sockets are part of the way.
      if (route.size() >= 2) {
        plain.bends = route;
        line = pointsOf(project, shapes, plain);
      }
    }
    channels.occupy(line);
    laid.push_back(line);
    if (plain.bends != (*out.wires)[w]->bends) out.wires.edit()[w].edit().bends = plain.bends;
  }
  return out;
}

Project straightened(const Project& project, const std::vector<std::string>& wires) {
  Project out = project;
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const Wire& wire = *(*project.wires)[w];
    const bool chosen =
        wires.empty() || std::find(wires.begin(), wires.end(), wire.id) != wires.end();
    if (chosen && !wire.bends.empty()) out.wires.edit()[w].edit().bends.clear();
  }
  return out;
}

int coveredParts(const Project& project, const Shapes& shapes) {
  const Obstacles obstacles = obstaclesOf(project, shapes);
  int count = 0;
  for (const auto& wire : *project.wires) {
    const std::vector<Point> line = pointsOf(project, shapes, *wire);
    count += !line.empty() && covers(obstacles, line) ? 1 : 0;
  }
  return count;
}

}  // namespace ignavo
