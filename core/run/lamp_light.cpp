#include "run/lamp_light.h"

#include <algorithm>
#include <cmath>

#include "parts/kinds.h"

// The current through a lamp is a step function, so that its mean over the window goes in straight
// lines between the moments at which an edge comes into the window or leaves it: between those the
// light is summed up in closed form. Of a stretch that repeats one period stands for all.
namespace ignavo {

double ampsPerUnit(const Trace& trace, int signal) {
  constexpr double brightestAmps = 0.020;
  const Signal& s = trace.signals()[static_cast<std::size_t>(signal)];
  return s.what == Signal::What::pinLevel ? brightestAmps : 1;
}

double lightAt(const Trace& trace, int signal, Nanoseconds t) {
  const double charge = ampsPerUnit(trace, signal) * trace.integral(signal, t - lightWindow, t);
  return lightOf(charge / inSeconds(lightWindow));
}

namespace {

// Adds up light over a step function whose windowed mean is linear between breakpoints.
class LightSum {
 public:
  LightSum(const Trace& trace, int signal) : trace_(trace), signal_(signal) {}

  // Goes through the breakpoints of from … to and returns what came together.
  void run(Nanoseconds from, Nanoseconds to) {
    std::vector<Nanoseconds> points{from, to};
    // What flows from the first moment on has no edge, but fills the window as well.
    if (const Nanoseconds filled = trace_.begin() + lightWindow; filled > from && filled < to)
      points.push_back(filled);
    trace_.forEachEdge(signal_, from - lightWindow, to, [&](const Edge& e) {
      if (e.at > from && e.at < to) points.push_back(e.at);
      if (e.at + lightWindow > from && e.at + lightWindow < to)
        points.push_back(e.at + lightWindow);
      return true;
    });
    std::sort(points.begin(), points.end());
    double before = mean(from);
    for (std::size_t i = 1; i < points.size(); ++i) {
      const double after = mean(points[i]);
      piece(before, after, inSeconds(points[i] - points[i - 1]));
      before = after;
    }
  }
  double light = 0, lit = 0;
  std::int64_t flashes = 0;
  bool isLit = false;

 private:
  double mean(Nanoseconds t) const {
    return std::max(0.0, trace_.integral(signal_, t - lightWindow, t) / inSeconds(lightWindow));
  }
  // The mean goes in a straight line from a to b over `length` seconds.
  void piece(double a, double b, double length) {
    static const double litAmps = std::pow(litLight, 2.2) * 0.020;
    constexpr double fullAmps = 0.020;
    constexpr double power = 1 / 2.2;
    if (length <= 0) return;
    const double x = std::min(a, b) / fullAmps, y = std::max(a, b) / fullAmps;
    double integral = 0;
    if (y - x < 1e-9) {
      integral = std::pow(std::min(x, 1.0), power) * length;
    } else {
      const double rising =
          (std::pow(std::min(y, 1.0), power + 1) - std::pow(std::min(x, 1.0), power + 1)) /
          (power + 1);
      const double flat = std::max(0.0, y - std::max(x, 1.0));
      integral = (rising + flat) * length / (y - x);
    }
    light += integral;
    const double above = std::max(a, b) <= litAmps   ? 0
                         : std::min(a, b) >= litAmps ? 1
                                                     : (std::max(a, b) - litAmps) / std::abs(b - a);
    lit += above * length;
    // Its lit share comes first or last in the piece; each change upward is a flash.
    if (!isLit && (a > litAmps || b > litAmps)) ++flashes;
    isLit = b > litAmps;
  }
  const Trace& trace_;
  int signal_;
};

}  // namespace

LampStatistics lampStatistics(const Trace& trace, int signal) {
  LightSum sum(trace, signal);
  for (const auto& s : trace.segments()) {
    const std::int64_t turns = s->period > 0 ? s->length() / s->period : 0;
    const std::int64_t settle = s->period > 0 ? lightWindow / s->period + 2 : 0;
    if (turns <= settle + 1) {
      sum.run(s->begin, s->end);
      continue;
    }
    // After the window has filled, every period is like the next.
    const Nanoseconds steady = s->begin + settle * s->period;
    sum.run(s->begin, steady);
    const double light = sum.light, lit = sum.lit;
    const std::int64_t flashes = sum.flashes;
    sum.run(steady, steady + s->period);
    const std::int64_t more = turns - settle - 1;
    sum.light += (sum.light - light) * static_cast<double>(more);
    sum.lit += (sum.lit - lit) * static_cast<double>(more);
    sum.flashes += (sum.flashes - flashes) * more;
    sum.run(steady + (more + 1) * s->period, s->end);
  }
  LampStatistics out;
  const double length = inSeconds(trace.end() - trace.begin());
  out.lightMean = length > 0 ? sum.light / length : 0;
  out.lightAtEnd = lightAt(trace, signal, trace.end());
  out.litSeconds = sum.lit;
  out.flashes = sum.flashes;
  out.peakAmps = trace.highest(signal);
  return out;
}

}  // namespace ignavo
