#pragma once
#include <algorithm>
#include <cmath>
#include <map>
#include <string>
#include <utility>
#include <vector>

#include "project/project.h"
#include "run/trace.h"

namespace ignavo::test {

// A deliberately simple second interpreter: walks the tree of steps as it stands in the
// project, one step at a time, as docs/language.md tells it. It shares nothing with the
// compiled form but the numbers that the page gives.
class StepWalker {
 public:
  struct Edge {
    Nanoseconds at;
    bool high;
    bool operator==(const Edge&) const = default;
  };
  struct Event {
    Nanoseconds at;
    std::string pin;
    bool high;
  };

  // `events`: what comes to the input pins from outside, in order of time. `percent`: what
  // analog pins measure.
  StepWalker(const Program& program, std::vector<Event> events,
             std::map<std::string, double> percent = {}, std::uint32_t seed = 1)
      : events_(std::move(events)), percent_(std::move(percent)) {
    for (const auto& lane : program.lanes) {
      Walk w;
      w.lane = &*lane;
      w.over = lane->steps.empty();
      w.dice = 2166136261U ^ seed;
      for (const char c : lane->id) w.dice = (w.dice ^ static_cast<unsigned char>(c)) * 16777619U;
      if (w.dice == 0) w.dice = 1;
      walks_.push_back(std::move(w));
    }
    last_ = walks_.size() - 1;
  }

  // Goes there, once.
  void walk(Nanoseconds until) {
    until_ = until;
    while (!events_.empty() && events_.back().at > until) events_.pop_back();
    for (;;) {
      Nanoseconds first = forEver;
      for (const Walk& w : walks_)
        if (!w.over) first = std::min(first, w.ready);
      const Nanoseconds start = std::max(free_, first);
      if (next_ < events_.size() && events_[next_].at <= start) {
        happens(events_[next_++]);
        continue;
      }
      if (start >= until) return;
      for (std::size_t k = 1; k <= walks_.size(); ++k) {
        const std::size_t i = (last_ + k) % walks_.size();
        if (walks_[i].over || walks_[i].ready > start) continue;
        now_ = start;
        turn(walks_[i]);
        free_ = now_;
        last_ = i;
        break;
      }
    }
  }

  // Changes of each pin that a step set, and how often each lane missed its trigger.
  const std::vector<Edge>& edges(const std::string& pin) { return edges_[pin]; }
  int missed(std::size_t lane) const { return walks_[lane].missed; }
  // Each time that a step gave a pin its level, whether or not it had another before.
  struct Given {
    Nanoseconds at;
    std::string step, pin;
    bool high;
  };
  const std::vector<Given>& given() const { return given_; }

 private:
  static constexpr Nanoseconds forEver = INT64_MAX;
  static constexpr Nanoseconds us = 1000;

  // Where in the tree a lane stands: the bodies that it is inside, outermost first.
  struct Inside {
    const Steps* steps;
    const Step* head;  // whose body it is; none for the lane itself
    std::size_t next = 0;
    long turnsLeft = 0;
  };
  struct Walk {
    const Lane* lane = nullptr;
    std::vector<Inside> inside;
    Nanoseconds ready = 0;
    bool over = false;
    bool listening = false;
    int missed = 0;
    std::uint32_t dice = 1;
  };

  static bool listens(const Walk& w) {
    return w.lane->trigger.on == "rise" || w.lane->trigger.on == "fall";
  }
  void happens(const Event& e) { change(e.pin, e.high, e.at); }

  void change(const std::string& pin, bool high, Nanoseconds at) {
    if (at > until_ || levels_[pin] == high) return;
    levels_[pin] = high;
    edges_[pin].push_back({at, high});
    for (Walk& w : walks_) {
      if (!listens(w) || w.lane->trigger.pin != pin) continue;
      if ((w.lane->trigger.on == "rise") != high) continue;
      if (w.listening) {
        w.listening = false;
        w.ready = at;
      } else if (!w.inside.empty()) {
        ++w.missed;
      }
    }
  }

  void spend(Nanoseconds cost) {
    now_ += cost;
    while (next_ < events_.size() && events_[next_].at < now_) happens(events_[next_++]);
  }

  // What an expression gives: a truth, a whole number of 32 bits or a float.
  struct Value {
    enum Type { truth, whole, real } type = whole;
    std::int64_t number = 0;  // truths and wholes
    float fraction = 0;       // floats
    float asReal() const { return type == real ? fraction : static_cast<float>(number); }
    bool asTruth() const { return type == real ? fraction != 0 : number != 0; }
    long asWhole() const {
      if (type != real) return static_cast<long>(number);
      if (std::isnan(fraction)) return 0;
      return static_cast<long>(
          std::clamp(std::round(static_cast<double>(fraction)), -2147483648.0, 2147483647.0));
    }
  };
  static Value truthOf(bool yes) { return {Value::truth, yes}; }
  static Value wholeOf(std::int64_t exact) {  // wraps
    return {Value::whole, static_cast<std::int32_t>(static_cast<std::uint32_t>(exact))};
  }
  static Value realOf(float fraction) { return {Value::real, 0, fraction}; }

  Value value(const Expr* e) {
    if (!e) return {};
    switch (e->shape) {
      case Expr::Shape::number: {
        const bool whole = e->number == std::floor(e->number) && std::abs(e->number) < 2147483648.0;
        return whole ? wholeOf(static_cast<std::int64_t>(e->number))
                     : realOf(static_cast<float>(e->number));
      }
      case Expr::Shape::truth:
        return truthOf(e->truth);
      case Expr::Shape::text:
        return truthOf(e->text == "high");
      case Expr::Shape::get: {
        if (e->text == "random") {
          std::int64_t from = value(e->arg("from")).asWhole(), to = value(e->arg("to")).asWhole();
          if (to < from) std::swap(from, to);
          spend(2 * us);
          std::uint32_t& x = walking_->dice;
          x ^= x << 13;
          x ^= x >> 17;
          x ^= x << 5;
          return wholeOf(from + x % (to - from + 1));
        }
        const std::string pin = e->arg("pin")->text;
        const double full = e->text == "level" ? 100 : e->text == "volts" ? 5 : 0;
        spend((full > 0 ? 112 : 4) * us);
        if (full == 0) return truthOf(levels_[pin]);
        const double stage = std::round(percent_[pin] * 1023 / 100);
        return realOf(static_cast<float>(stage * full / 1023));
      }
      case Expr::Shape::op:
        return operation(*e);
      default:
        return {};
    }
  }
  Value operation(const Expr& e) {
    const Value a = value(e.arg("a"));
    // The second is looked at only where the first leaves it open.
    if (e.text == "and" || e.text == "or") {
      spend(1 * us);
      if (a.asTruth() == (e.text == "or")) return truthOf(e.text == "or");
      return truthOf(value(e.arg("b")).asTruth());
    }
    std::vector<Value> more;
    if (const Expr* b = e.arg("b")) more.push_back(value(b));
    for (const char* key : {"from", "to"})
      if (const Expr* range = e.arg(key))
        for (const auto& [none, end] : range->args) more.push_back(value(&end));
    spend(2 * us);
    return calculated(e.text, a, more);
  }
  static Value calculated(const std::string& op, const Value& a, const std::vector<Value>& more) {
    if (op == "not") return truthOf(!a.asTruth());
    bool real = a.type == Value::real;
    for (const Value& v : more) real = real || v.type == Value::real;
    const float x = a.asReal(), y = more.empty() ? 0 : more[0].asReal();
    const std::int64_t m = a.number, n = more.empty() ? 0 : more[0].number;
    if (op == "=") return truthOf(real ? x == y : m == n);
    if (op == "≠") return truthOf(real ? x != y : m != n);
    if (op == "<") return truthOf(real ? x < y : m < n);
    if (op == "≤") return truthOf(real ? x <= y : m <= n);
    if (op == ">") return truthOf(real ? x > y : m > n);
    if (op == "≥") return truthOf(real ? x >= y : m >= n);
    if (op == "+") return real ? realOf(x + y) : wholeOf(m + n);
    if (op == "-") return real ? realOf(x - y) : wholeOf(m - n);
    if (op == "*") return real ? realOf(x * y) : wholeOf(m * n);
    if (op == "/") return realOf(y == 0 ? 0 : x / y);
    if (op == "mod") {
      if (real ? y == 0 : n == 0) return real ? realOf(0) : wholeOf(0);
      if (!real) return wholeOf(((m % n) + n) % n);
      const float rest = std::fmod(x, y);
      return realOf(rest != 0 && std::signbit(rest) != std::signbit(y) ? rest + y : rest);
    }
    if (op == "min") return real ? realOf(x < y ? x : y) : wholeOf(std::min(m, n));
    if (op == "max") return real ? realOf(x > y ? x : y) : wholeOf(std::max(m, n));
    if (op == "round") return wholeOf(a.asWhole());
    if (op == "abs") return real ? realOf(std::abs(x)) : wholeOf(std::abs(m));
    if (op == "map") {
      const float from = y, to = more[1].asReal(), lower = more[2].asReal(),
                  upper = more[3].asReal();
      const float share = (x - from) * (upper - lower), width = to - from;
      return realOf((width == 0 ? 0 : share / width) + lower);
    }
    return {};
  }

  void give(const Step& step, bool high) {
    given_.push_back({now_, step.id, step.field("pin")->text, high});
    change(given_.back().pin, high, now_);
  }

  // One turn: what the lane does until the next one takes over.
  void turn(Walk& w) {
    walking_ = &w;
    if (w.inside.empty()) {
      if (listens(w)) {
        spend(4 * us);
        w.inside.push_back({&w.lane->steps, nullptr});
        w.listening = true;
        w.ready = forEver;
        return;
      }
      w.inside.push_back({&w.lane->steps, nullptr});
    }
    while (w.inside.back().next == w.inside.back().steps->size())
      if (cameToTheEnd(w)) return;
    const Nanoseconds began = now_;
    const Step& step = (*w.inside.back().steps)[w.inside.back().next++];
    if (step.kind == "set") {
      const bool high = value(step.field("to")).asTruth();
      spend(4 * us);
      give(step, high);
    } else if (step.kind == "flip") {
      spend(4 * us);
      give(step, !levels_[step.field("pin")->text]);
    } else if (step.kind == "level") {  // of pins that cannot dim
      const float percent = value(step.field("percent")).asReal();
      spend(6 * us);
      give(step, percent >= 50);
    } else if (step.kind == "wait") {
      const Expr& wait = *step.field("seconds");
      const double seconds = wait.shape == Expr::Shape::number
                                 ? wait.number
                                 : static_cast<double>(value(&wait).asReal());
      spend(1 * us);
      w.ready = std::max(now_, began + static_cast<Nanoseconds>(std::llround(seconds * 1e9)));
    } else if (step.kind == "if") {
      const bool yes = value(step.field("test")).asTruth();
      spend(1 * us);
      if (const Steps* body = step.body(yes ? "then" : "else")) w.inside.push_back({body, &step});
    } else if (step.kind == "repeat") {
      const long times = std::max(0L, value(step.field("times")).asWhole());
      spend(1 * us);
      w.inside.push_back({step.body("steps"), &step, step.body("steps")->size(), times});
      cameToTheEnd(w);  // the first turn is counted as every other
    } else if (step.kind == "remark") {
      turn(w);  // no turn is lost
    } else if (step.kind == "while") {
      look(w, step);
    } else if (step.kind == "wait-until") {
      const bool yes = value(step.field("test")).asTruth();
      spend(1 * us);
      if (!yes) --w.inside.back().next;  // looks again
    } else if (step.kind == "leave") {
      const bool inLoop = std::any_of(w.inside.begin(), w.inside.end(), [](const Inside& in) {
        return in.head && in.head->kind != "if";
      });
      if (!inLoop) return turn(w);  // there is nothing to leave
      while (w.inside.back().head->kind == "if") w.inside.pop_back();
      w.inside.pop_back();
    } else if (step.kind == "end") {
      if (listens(w))
        w.inside.clear();
      else
        w.over = true;
    } else if (step.kind == "loop") {
      w.inside.push_back({step.body("steps"), &step});
      turn(w);  // goes in at once
    }
  }
  // Goes in where the test holds, else on behind.
  void look(Walk& w, const Step& step) {
    const bool yes = value(step.field("test")).asTruth();
    spend(1 * us);
    if (yes) w.inside.push_back({step.body("steps"), &step});
  }
  // Did that use up the turn?
  bool cameToTheEnd(Walk& w) {
    Inside& in = w.inside.back();
    if (!in.head) {
      if (w.lane->trigger.on == "power") {
        w.over = true;
        return true;
      }
      spend(1 * us);
      w.inside.clear();
      return true;
    }
    if (in.head->kind == "repeat") {
      spend(1 * us);
      if (in.turnsLeft-- > 0)
        in.next = 0;
      else
        w.inside.pop_back();
      return true;
    }
    if (in.head->kind == "while") {
      spend(1 * us);
      w.inside.pop_back();
      --w.inside.back().next;  // its test comes again
      return true;
    }
    if (in.head->kind == "loop") {
      spend(1 * us);
      in.next = 0;
      return true;
    }
    w.inside.pop_back();  // of an if: goes on behind it
    return false;
  }

  std::vector<Walk> walks_;
  std::vector<Event> events_;
  std::map<std::string, double> percent_;
  std::size_t next_ = 0;
  std::map<std::string, bool> levels_;
  std::map<std::string, std::vector<Edge>> edges_;
  std::vector<Given> given_;
  Nanoseconds now_ = 0, free_ = 0, until_ = 0;
  std::size_t last_ = 0;
  Walk* walking_ = nullptr;
};

}  // namespace ignavo::test
