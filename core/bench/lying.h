#pragma once
#include <optional>
#include <vector>

#include "bench/shapes.h"

namespace ignavo {

// How a part lies on the bench, in pitches.
struct Lying {
  std::vector<Point> legs;  // where each leg ends, in the footprint's order
  Point centre;             // of the body
  double width = 0;         // of the body before it is turned
  double height = 0;
  double degrees = 0;  // clockwise, against the first way of the footprint
  // The upright box around the turned body.
  Point least() const;
  Point most() const;
};

// From the ends of the legs. `at` and `turnDegrees` place a body with leads.
Lying lyingOn(const Footprint& print, std::vector<Point> legs, Point at = {}, int turnDegrees = 0);
// A part of a project: legs that are in no hole lie where the part lies.
// Nothing when the kind is unknown.
std::optional<Lying> lyingOf(const Project& project, const Shapes& shapes, const Part& part);
// Of two upright boxes.
bool overlaps(Point leastA, Point mostA, Point leastB, Point mostB);
// A point turned around the origin by a multiple of 90°, clockwise.
Point turned(Point p, int degrees);

}  // namespace ignavo
