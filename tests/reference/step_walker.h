#pragma once
#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "parts/catalogue.h"
#include "project/project.h"
#include "run/model.h"
#include "run/trace.h"
#include "support/line_model.h"

namespace ignavo::test {

// A deliberately simple second interpreter: walks the tree of steps as it stands in the
// project, one step at a time, as docs/language.md tells it. It shares nothing with the
// compiled form but the numbers that the page gives, and the share of its turn that each step is
// counted with.
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
    const BoardKind& tern = *catalogue().boardKind("tern");
    work_ = compile(program, targetOf(tern, program, seed, {})).work;
    for (const Variable& v : program.variables) {
      names_[v.name] = {value(&v.start, true)};
      types_[v.name] = names_[v.name][0].type;
    }
    for (const NumberList& l : program.lists) {
      types_[l.name] = Value::whole;
      for (const double item : l.items) {
        const Expr e = Expr::of(item);
        names_[l.name].push_back(value(&e, true));
        if (names_[l.name].back().type == Value::real) types_[l.name] = Value::real;
      }
    }
    for (const auto& lane : program.lanes)
      if (lane->trigger.on == "own") {
        own_[lane->trigger.field("step")->text] = &*lane;
        for (const auto& [key, input] : lane->trigger.field("inputs")->args)
          types_[lane->trigger.field("step")->text + "\n" + input.text] = Value::truth;
      }
    for (const auto& lane : program.lanes)
      if (lane->trigger.on != "own") noteRun(lane->steps);
    settleTypes(program);
    for (auto& [name, held] : names_)
      for (Value& v : held) v = as(types_[name], v);
    scope_.clear();
    std::size_t withSteps = 0;
    for (const auto& lane : program.lanes) {
      if (lane->trigger.on == "own") continue;
      Walk w;
      w.lane = &*lane;
      w.over = lane->steps.empty();
      w.idle = comesAgain(w);
      if (lane->trigger.on == "every")
        w.every =
            static_cast<Nanoseconds>(std::llround(lane->trigger.field("seconds")->number * 1e9));
      keeps_ = keeps_ || keeps(w);
      w.dice = 2166136261U ^ seed;
      for (const char c : lane->id) w.dice = (w.dice ^ static_cast<unsigned char>(c)) * 16777619U;
      if (w.dice == 0) w.dice = 1;
      if (!w.over) ++withSteps;
      walks_.push_back(std::move(w));
    }
    for (const auto& lane : program.lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        const bool run = lane->trigger.on != "own" || run_.count(&*lane) != 0;
        if (run && (s.kind == "tone" || s.kind == "servo")) pulsed_.insert(s.field("pin")->text);
        const bool says = s.kind == "post" || s.kind == "log";
        says_ = says_ || (says && run);
        if (says) numbers_.emplace(&s, static_cast<int>(numbers_.size()) + 1);
      });
    scope_.clear();
    plain_ = withSteps <= 1 && !keeps_;
    for (const Walk& w : walks_) {
      plain_ = plain_ && !(w.idle && !w.over);
      if (!w.over)
        forEachStep(w.lane->steps, [&](const Step& s) {
          plain_ = plain_ && s.kind != "call" && s.kind != "post" && s.kind != "log";
          plain_ = plain_ && s.kind != "tone" && s.kind != "silence" && s.kind != "servo";
          for (const auto& [key, value] : s.fields) plain_ = plain_ && !needsTurns(value);
        });
    }
    // What nothing changes the compiler knows, and what follows from it.
    for (const auto& lane : program.lanes) {
      if (lane->trigger.on != "own" || run_.count(&*lane) != 0) noteChanges(lane->steps);
      if (lane->trigger.on == "follow-variable")
        changing_.insert(lane->trigger.field("name")->text);
      if (const Expr* inputs = lane->trigger.field("inputs"))
        for (const auto& [key, input] : inputs->args) changing_.insert(input.text);
    }
  }

  // Goes there, once.
  void walk(Nanoseconds until) {
    until_ = until;
    while (!events_.empty() && events_.back().at > until) events_.pop_back();
    if (plain_) {
      for (Walk& w : walks_)
        if (!w.over) go(w);
      hear(until);
      return;
    }
    Nanoseconds before = 0;
    for (turn_ = 0; turn_ * turnLength < until;) {
      began_ = std::max(turn_ * turnLength, late_);
      half_ = 2 * began_;
      // Letters of a line that had to wait, as far as they get into the buffer now.
      worked_ = 103 * line_.moved(before, turn_ * turnLength);
      leapt_ = turn_ * turnLength - before > 4 * turnLength;
      before = turn_ * turnLength;
      counted_ = 0;
      hear(now());
      deliver();
      worked_ += 226 + 62 / 4 + (says_ ? saysEachTurn : 0) + (work_.counted ? countsEachTurn : 0);
      spared_ = 0;
      std::set<std::string> watched;
      for (const Walk& w : walks_) {
        if (listens(w)) watched.insert(w.lane->trigger.pin);
        if (w.every > 0) worked_ += 119;
      }
      worked_ += 15 * static_cast<long>(watched.size());
      for (Walk& w : walks_) once(w);
      const auto ready = [&](const Walk& w) { return !w.over && !w.idle && w.wake <= turn_; };
      for (const Walk& w : walks_) worked_ += ready(w) ? 49 : w.over || w.idle ? 5 : 38;
      if (now() > half_ / 2) hear(now());
      for (Walk& w : walks_)
        if (ready(w)) go(w);
      late_ = began_ + lasts();
      int tones = 0;
      for (const auto& [pin, t] : trains_)
        if (!t.servo) tones += 16'000 * work_.edge / static_cast<int>(t.width);
      const long room = std::max(25, 250 - tones);
      for (counted_ += work_.turn, ++turn_; work_.counted && counted_ > room; ++turn_)
        counted_ -= room;
      while (late_ - turn_ * turnLength >= 2'000'000) ++turn_;
    }
    hear(until);
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
  struct Said {
    Nanoseconds at;
    bool note;
    std::string text;
    bool operator==(const Said&) const = default;
  };
  const std::vector<Said>& said() const { return said_; }

 private:
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
  static constexpr Nanoseconds turnLength = 250'000;

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
    bool over = false, idle = false;
    bool waits = false;
    Nanoseconds since = 0, wake = 0;   // turns
    Nanoseconds every = 0, times = 0;  // how often the clock started it
    int queued = 0;
    const Step* looking = nullptr;        // it waits in
    std::map<std::string, Value> inputs;  // of the own steps that it is in
    const Step* saying = nullptr;         // its line is not yet all in the buffer
    std::string ends;                     // a pin whose tone ends when it wakes
    char was = 0;                         // its test, at the turn before: 0 nothing yet, 'n', 'y'
    int missed = 0;
    std::uint32_t dice = 1;
  };

  static bool needsTurns(const Expr& e) {
    if (e.shape == Expr::Shape::sig && e.text != "choose") return true;
    if (e.shape == Expr::Shape::get && (e.text == "seconds" || e.text == "key")) return true;
    return std::any_of(e.args.begin(), e.args.end(),
                       [](const auto& arg) { return needsTurns(arg.second); });
  }
  static bool comesAgain(const Walk& w) {
    const std::string& on = w.lane->trigger.on;
    return on == "rise" || on == "fall" || on == "when" || on == "every" || on == "key";
  }
  static bool keeps(const Walk& w) { return w.lane->trigger.on.starts_with("follow"); }
  static bool listens(const Walk& w) {
    return w.lane->trigger.on == "rise" || w.lane->trigger.on == "fall";
  }
  // In turns: the turn, and what was measured in it; and the work, where it is more than a moment.
  Nanoseconds now() const {
    const Nanoseconds work = plain_ ? 0 : worked_ * 125 / 2;
    return half_ / 2 + (work > moment_ ? work : 0);
  }
  // Events up to that moment come.
  void hear(Nanoseconds until) {
    for (;;) {
      // The soonest edge of a tone or servo pulse.
      auto soonest = trains_.end();
      for (auto it = trains_.begin(); it != trains_.end(); ++it)
        if (soonest == trains_.end() || it->second.due < soonest->second.due) soonest = it;
      const bool event = next_ < events_.size() && events_[next_].at <= until;
      const bool edge = soonest != trains_.end() && soonest->second.due <= until;
      if (!event && !edge) return;
      if (edge && (!event || soonest->second.due <= events_[next_].at)) {
        Train& t = soonest->second;
        const Nanoseconds at = t.due;
        t.high = !t.high;
        if (t.high) t.rise += t.period, t.width = t.nextWidth;
        t.aim(at);
        change(soonest->first, t.high, at);
      } else {
        const Event& e = events_[next_++];
        if (e.pin.starts_with("key ")) {
          const std::string key = e.pin.substr(4);
          if (e.high && !held_[key]) struck_[key] = true;
          held_[key] = e.high;
        } else {
          change(e.pin, e.high, e.at);
        }
      }
    }
  }
  // Pulses, in 256ths of ticks of 4 µs since power-on.
  struct Train {
    bool servo = false, high = true;
    std::int64_t rise = 0, width = 0, nextWidth = 0, period = 0;
    Nanoseconds due = 0;
    void aim(Nanoseconds earliest) {
      const std::int64_t parts = rise + (high ? width : period);
      due = std::max(earliest, (parts * 125 + 7) / 8);
    }
  };
  std::map<std::string, Train> trains_;
  // The turn, with the edges of tones that fall into it.
  Nanoseconds lasts() const {
    const auto pins = static_cast<long>(pulsed_.size());
    const long each = pins == 1 ? 318 : 320 + 48 * pins;
    long met = 0;
    Nanoseconds took = 0;
    for (int again = 0; again < 8; ++again) {
      took = half_ / 2 - began_ + (worked_ - spared_ + met) * 125 / 2;
      long edges = 0;
      for (const auto& [pin, t] : trains_)
        for (const std::int64_t edge : {t.rise, t.rise + t.width}) {
          // One after the other, from before the turn on.
          const std::int64_t from = began_ * 8 / 125, to = (began_ + took) * 8 / 125;
          std::int64_t at = edge;
          while (at > from) at -= t.period;
          for (at += t.period; at <= to; at += t.period) edges += at > from ? 1 : 0;
        }
      const long more = each * edges + 70 * line_.letters(began_, began_ + took);
      if (more == met || again == 7) break;
      met = more;
    }
    return took;
  }
  // False: it is so already.
  bool train(const std::string& pin, bool servo, std::int64_t width, std::int64_t period) {
    const auto held = trains_.find(pin);
    if (held != trains_.end() && held->second.servo == servo) {
      Train& t = held->second;
      const bool same = servo ? t.nextWidth == width : t.width == width;
      t.nextWidth = width;
      if (servo || same) return !same;
      t.width = width;
      t.period = period;
      t.rise += std::max<std::int64_t>(
          0, turn_ * turnLength * 8 / 125 - t.rise - (t.high ? width : period));
      t.aim(now());
      hear(now());  // it may be due
      return true;
    }
    Train fresh;
    fresh.servo = servo;
    fresh.rise = turn_ * turnLength * 8 / 125;  // as if with the turn
    fresh.width = fresh.nextWidth = width;
    fresh.period = period;
    fresh.aim(now());
    trains_[pin] = fresh;
    change(pin, true, now());
    return true;
  }
  void change(const std::string& pin, bool high, Nanoseconds at) {
    if (at > until_ || levels_[pin] == high) return;
    levels_[pin] = high;
    // Up and down at one moment is nothing.
    if (!edges_[pin].empty() && edges_[pin].back().at == at)
      edges_[pin].pop_back();
    else
      edges_[pin].push_back({at, high});
  }
  // What pins did since the turn before starts lanes.
  void deliver() {
    for (Walk& w : walks_) {
      if (w.over) continue;
      if (w.lane->trigger.on == "key" && struck_[w.lane->trigger.field("key")->text]) came(w);
      if (w.every > 0) {
        bool is = false;
        const Nanoseconds was = w.times;
        while ((w.times + 1) * w.every <= turn_ * turnLength) ++w.times, is = true;
        if (is) worked_ += 102 + 92 * (w.times - was - 1);
        if (is) came(w);
      }
      if (!listens(w) || turn_ == 0) continue;
      const std::string& pin = w.lane->trigger.pin;
      const bool is = levels_[pin], was = before_[pin];
      if (is != was && is == (w.lane->trigger.on == "rise")) came(w);
    }
    before_ = levels_;
    struck_.clear();
  }
  void came(Walk& w) {
    const std::string& again = w.lane->trigger.again;
    if (w.idle || again == "restart") {
      begin(w, turn_);
      worked_ += 60;
      counted_ += work_.start;
    } else if (again == "queue" && w.queued < 8)
      ++w.queued;
    else
      ++w.missed;
  }
  static void begin(Walk& w, Nanoseconds turn) {
    w.idle = w.waits = false;
    w.since = w.wake = turn;
    w.looking = nullptr;
    w.ends.clear();
    w.saying = nullptr;
    w.inside.clear();
  }
  // What is worked out once a turn.
  void once(Walk& w) {
    walking_ = &w;
    scope_.clear();
    const Trigger& t = w.lane->trigger;
    if (t.on == "when" && !w.over) {
      sense(t.field("test"));
      const bool is = truth(t.field("test"), true);
      if (t.field("test")->isLiteral()) spend(4);
      spend(15);
      if (is && w.was == 'n') came(w);
      w.was = is ? 'y' : 'n';
    }
    if (!keeps(w)) return;
    const Expr* from = t.field("from");
    const bool written = isLiteral(from);
    sense(from);
    const Expr* kept = t.field("name");
    if (written) spend(4 / (kept ? bytesLess(kept->text) : 1));
    if (t.on == "follow") {
      const bool is = truth(from, true);
      spend(isConstant(from) ? 2 : 4);
      set(t.pin, is);
    } else if (t.on == "follow-level") {
      const float percent = real(from, true);
      spend(costOfLevel(t.pin, from));
      set(t.pin, percent >= 50);
    } else {
      const std::string name = t.field("name")->text;
      const Value v = valueAs(types_[name], from, true);
      spend(8 / bytesLess(name));
      names_[name][0] = v;
    }
  }

  // ---- signals: each operator remembers by its place in the program

  struct Memory {
    char was = 0;  // 0: nothing seen yet, 'l' low, 'h' high, others as told there
    bool on = false;
    std::int64_t until = -1;  // a turn; -1: none
    std::int64_t count = 0;
    std::uint32_t phase = 0;
  };
  std::map<const Expr*, Memory> remembered_;
  std::map<const Expr*, Value> sensedNow_;

  // The operators of an expression, inner ones before outer ones; then the rest is worked out.
  void sense(const Expr* e) {
    for (const auto& [key, inner] : e->args) sense(&inner);
    if (e->shape == Expr::Shape::sig && e->text != "choose") sensedNow_[e] = senseOne(*e);
  }
  static void forget(const Expr* e, std::map<const Expr*, Memory>& all) {
    all.erase(e);
    for (const auto& [key, inner] : e->args) forget(&inner, all);
  }
  static bool rises(Memory& m, bool is) {
    const bool out = m.was == 'l' && is;
    m.was = is ? 'h' : 'l';
    return out;
  }
  std::int64_t turnsOf(const Expr* seconds) {
    if (seconds->shape == Expr::Shape::number) {
      spend(4);
      return static_cast<std::int64_t>(std::ceil(std::round(seconds->number * 1e9) / 250'000));
    }
    const bool before = free_;
    free_ = free_ || isConstant(seconds);
    const float turns = std::ceil(real(seconds) * 4000.0F);
    spend(480);
    free_ = before;
    return turns > 0 ? static_cast<std::int64_t>(turns) : 0;
  }
  Value senseOne(const Expr& e) {
    Memory& m = remembered_[&e];
    const Value out = worked(e, m);
    spend(8);  // kept for what is worked out from it
    return out;
  }
  Value worked(const Expr& e, Memory& m) {
    const std::string& op = e.text;
    if (op == "wave") {
      const Expr *hertz = e.arg("hertz"), *duty = e.arg("duty");
      if (hertz->shape == Expr::Shape::number) {
        // So many hundred-thousandths of rounds since power-on, of 4000 turns a second.
        const auto parts = static_cast<std::int64_t>(std::llround(hertz->number * 1e5));
        const std::int64_t whole = 400'000'000, common = std::gcd(parts, whole);
        const std::int64_t phase = turn_ % (whole / common) * (parts / common) % (whole / common);
        const bool written = duty->shape == Expr::Shape::number;
        const float share = real(duty, true);
        spend((isConstant(duty) ? 70 : 317) + (leapt_ && !afresh_ ? 1245 : 0));
        if (written)
          return truthOf(static_cast<double>(phase) * 100 <
                         duty->number * static_cast<double>(whole / common));
        return truthOf(static_cast<float>(phase) <
                       share * (static_cast<float>(whole / common) / 100.0F));
      }
      const float f = real(hertz), share = real(duty);
      spend(15 + (isConstant(hertz) ? 310 : 552) + (isConstant(duty) ? 0 : 247));
      const float step = std::min(f * 1073741.824F, 2147483648.0F);  // 2000 hertz at most
      if (m.until >= 0 && step >= 1)
        m.phase += static_cast<std::uint32_t>(step) * static_cast<std::uint32_t>(turn_ - m.until);
      m.until = turn_;
      return truthOf(static_cast<float>(m.phase) < share * 42949672.96F);
    }
    const Expr* in = e.arg(e.arg("of") ? "of" : "on");
    const bool is = truth(in);
    if (op == "rise" || op == "fall" || op == "flip") {
      spend(15);
      if (op == "fall") {
        const bool out = m.was == 'h' && !is;
        m.was = is ? 'h' : 'l';
        return truthOf(out);
      }
      const bool up = rises(m, is);
      if (op == "rise") return truthOf(up);
      m.on = m.on != up;
      return truthOf(m.on);
    }
    if (op == "count") {
      const std::int64_t from = whole(e.arg("from")), to = whole(e.arg("to"));
      bool reset = false;
      if (e.arg("reset"))
        reset = truth(e.arg("reset"));
      else
        spend(4);
      spend(15);
      const bool known = m.was != 0, up = rises(m, is);
      if (!known || reset) return m.count = from, wholeOf(from);
      if (!up) return wholeOf(m.count);
      const bool ends =
          from <= to ? m.count < from || m.count >= to : m.count > from || m.count <= to;
      m.count = ends ? from : m.count + (from <= to ? 1 : -1);
      return wholeOf(m.count);
    }
    const std::int64_t turns = turnsOf(e.arg("seconds"));
    if (op == "pulse") spend(4);  // whether a rise makes it longer
    spend(15);
    const auto due = [&] { return m.until >= 0 && turn_ >= m.until; };
    if (op == "limit") {
      const bool up = rises(m, is);
      if (due()) m.until = -1;
      if (!up || m.until >= 0) return truthOf(false);
      m.until = turn_ + turns;
      return truthOf(true);
    }
    // How long is asked when it begins.
    if (op == "held") {
      if (!is) return m.until = -1, truthOf(false);
      if (m.until < 0) m.until = turn_ + turns;
      return truthOf(turn_ >= m.until);
    }
    if (op == "tap") {  // what was true from the beginning is none
      const bool first = m.was == 0;
      m.was = 'k';
      if (is) {
        if (m.until < 0) m.until = turn_ + turns;
        if (first) m.on = true;
        return truthOf(false);
      }
      const bool out = m.until >= 0 && !m.on && turn_ < m.until;
      m.until = -1;
      m.on = false;
      return truthOf(out);
    }
    if (op == "steady") {
      if (m.was == 0) m.was = 'k', m.on = is;
      if (is == m.on) return m.until = -1, truthOf(m.on);
      if (m.until < 0) m.until = turn_ + turns;
      if (turn_ >= m.until) m.on = is, m.until = -1;
      return truthOf(m.on);
    }
    if (op == "pulse") {
      if (due()) m.until = -1;
      if (rises(m, is) && (e.arg("restart")->truth || m.until < 0))
        m.until = turn_ + std::max<std::int64_t>(1, turns);
      return truthOf(m.until >= 0);
    }
    return {};
  }

  void spend(long cycles) {
    if (free_) return;
    if (plain_) {
      half_ += 125 * cycles;
      hear(now());
    } else {
      worked_ += cycles;
      if (now() > half_ / 2) hear(now());
    }
  }
  // Is its value known beforehand?
  bool isConstant(const Expr* e) const {
    if (e->shape == Expr::Shape::op) {
      // Of floats no compiler knows a remainder.
      if (e->text == "mod" && typeOf(e) == Value::real) return false;
      for (const auto& [key, operand] : e->args)
        if (key != "from" && key != "to" && !isConstant(&operand)) return false;
      for (const char* key : {"from", "to"})
        if (const Expr* range = e->arg(key))
          for (const auto& [none, end] : range->args)
            if (!isConstant(&end)) return false;
      return true;
    }
    if (e->shape == Expr::Shape::get && e->text == "item")
      return changing_.count(e->arg("list")->text) == 0 && isConstant(e->arg("index"));
    if (e->shape == Expr::Shape::get && e->text == "var")
      return changing_.count(e->arg("name")->text) == 0;
    return isLiteral(e);
  }
  // Sampled some way into the measuring, which takes longer the first time.
  void measure() {
    const Nanoseconds more = measured_ ? 0 : 96'000;
    measured_ = true;
    half_ += 2 * (104'000 + more);
    hear(now());
  }

  // Of a pin that cannot dim it is a level: whether it is half or more.
  long costOfLevel(const std::string& pin, const Expr* percent) const {
    static const std::set<std::string> dims = {"D3", "D5", "D6", "D9", "D10", "D11"};
    const bool known = isConstant(percent);
    return dims.count(pin) != 0 ? (known ? 8 : 448) : known ? 2 : 44;
  }

  static Value truthOf(bool yes) { return {Value::truth, yes}; }
  static Value wholeOf(std::int64_t exact) {  // wraps
    return {Value::whole, static_cast<std::int32_t>(static_cast<std::uint32_t>(exact))};
  }
  static Value realOf(float fraction) { return {Value::real, 0, fraction}; }

  // `alone`: it is all that the step asks for; then what is written out costs nothing.
  Value value(const Expr* e, bool alone = false) {
    if (!e) return {};
    if (isLiteral(e) && !alone) spend(4);
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
          std::int64_t from = whole(e->arg("from")), to = whole(e->arg("to"));
          if (to < from) std::swap(from, to);
          // The remainder by a power of two is nothing to the chip.
          const auto plain = [&](const char* key) {
            return e->arg(key)->shape == Expr::Shape::number;
          };
          const std::int64_t many = to - from + 1;
          spend(plain("from") && plain("to") && (many & (many - 1)) == 0 ? 264 : 885);
          std::uint32_t& x = walking_->dice;
          x ^= x << 13;
          x ^= x >> 17;
          x ^= x << 5;
          return wholeOf(from + x % (to - from + 1));
        }
        if (e->text == "seconds") return spend(518), realOf(static_cast<float>(turn_) / 4000.0F);
        if (e->text == "key") return spend(4), truthOf(held_[e->arg("key")->text]);
        if (e->text == "var") {
          const std::string& name = e->arg("name")->text;
          return spend(isConstant(e) ? 4 : 8 / bytesLess(name)), variable(name);
        }
        if (e->text == "item") {
          const Expr* index = e->arg("index");
          const bool known = isConstant(e), before = free_;
          free_ = free_ || known;
          const long position = index->isLiteral() ? value(index, true).asWhole() : whole(index);
          free_ = before;
          spend(known ? 4 : index->isLiteral() ? 8 : 20);
          return item(e->arg("list")->text, position);
        }
        if (e->text == "length")
          return wholeOf(static_cast<std::int64_t>(names_[e->arg("list")->text].size()));
        const std::string pin = e->arg("pin")->text;
        const double full = e->text == "level" ? 100 : e->text == "volts" ? 5 : 0;
        const bool level = levels_[pin];
        if (full == 0 || !pin.starts_with('A')) spend(1);
        if (full == 0) return truthOf(level);
        if (pin.starts_with('A')) measure(), spend(718);
        const double stage = std::round(percent_[pin] * 1023 / 100);
        return realOf(static_cast<float>(stage * full / 1023));
      }
      case Expr::Shape::op: {
        const bool before = free_;
        free_ = free_ || isConstant(e);
        const Value out = operation(*e);
        free_ = before;
        return out;
      }
      case Expr::Shape::sig: {
        if (e->text != "choose") return spend(8), sensedNow_[e];
        const Value::Type type = std::max(typeOf(e->arg("then")), typeOf(e->arg("else")));
        const bool yes = truth(e->arg("if"), true);
        spend(2);
        return valueAs(type, e->arg(yes ? "then" : "else"));
      }
      default:
        return {};
    }
  }
  // As a type that is asked for: what is no literal is converted at a cost.
  long whole(const Expr* e) {
    const Value v = value(e);
    if (v.type == Value::real && e && !isConstant(e)) spend(450);
    return v.asWhole();
  }
  bool truth(const Expr* e, bool alone = false) {
    const Value v = value(e, alone);
    if (v.type == Value::real && e && !isConstant(e)) spend(55);
    return v.asTruth();
  }
  // What is known beforehand is no branch to the chip.
  bool branches(const Expr* test) {
    const bool before = free_;
    free_ = free_ || !test || isConstant(test);
    const bool yes = truth(test, true);
    spend(2);
    free_ = before;
    return yes;
  }
  float real(const Expr* e, bool alone = false) {
    const Value v = value(e, alone);
    if (v.type != Value::real && e && !isConstant(e)) spend(costOfFloat(v.asWhole()));
    return v.asReal();
  }
  Value operation(const Expr& e) {
    // The second is looked at only where the first leaves it open.
    if (e.text == "and" || e.text == "or") {
      const bool a = truth(e.arg("a"), true);
      spend(2);
      if (a == (e.text == "or")) return spend(4), truthOf(e.text == "or");
      return truthOf(truth(e.arg("b")));
    }
    if (e.text == "not") {
      const bool a = truth(e.arg("a"));
      spend(1);
      return truthOf(!a);
    }
    // "D2 is high" is simply what the pin reads.
    if (e.text == "=" && e.arg("a")->shape == Expr::Shape::get && e.arg("a")->text == "pin" &&
        e.arg("b")->shape == Expr::Shape::truth) {
      const bool high = value(e.arg("a")).asTruth();
      if (!e.arg("b")->truth) spend(1);
      return truthOf(high == e.arg("b")->truth);
    }
    std::vector<const Expr*> operands{e.arg("a")};
    if (const Expr* b = e.arg("b")) operands.push_back(b);
    for (const char* key : {"from", "to"})
      if (const Expr* range = e.arg(key))
        for (const auto& [none, end] : range->args) operands.push_back(&end);
    std::vector<Value> values;
    std::vector<std::size_t> converted;
    bool real = e.text == "/" || e.text == "map";
    // What each costs to convert is known once all are.
    for (const Expr* operand : operands) real = real || typeOf(operand) == Value::real;
    // Of a remainder of floats all that is given may be known, never what comes out.
    const bool given =
        e.text == "mod" && real && isConstant(operands[0]) && isConstant(operands[1]);
    const bool before = free_;
    free_ = free_ || given;
    for (const Expr* operand : operands) {
      values.push_back(value(operand));
      if (real && values.back().type != Value::real && !isConstant(operand))
        spend(costOfFloat(values.back().asWhole()));
    }
    free_ = before;
    const Value a = values.front();
    if (given && values[1].asReal() != 0) spend(-140);
    const bool nowhere = e.text == "map" && operands[1]->shape == Expr::Shape::number &&
                         *operands[1] == *operands[2];
    if (nowhere) return spend(4), calculated(e.text, a, {values.begin() + 1, values.end()});
    spend(real && values.size() == 2 ? costOfReals(e.text, a.asReal(), values[1].asReal())
                                     : costOf(e.text, real));
    return calculated(e.text, a, {values.begin() + 1, values.end()});
  }
  static long costOf(const std::string& op, bool real) {
    static const std::map<std::string, std::pair<long, long>> costs = {
        {"=", {5, 45}},    {"≠", {5, 45}},      {"<", {5, 40}},      {"≤", {5, 40}},
        {">", {5, 40}},    {"≥", {5, 40}},      {"+", {4, 82}},      {"-", {4, 83}},
        {"*", {57, 117}},  {"/", {440, 513}},   {"mod", {620, 272}}, {"min", {12, 50}},
        {"max", {12, 50}}, {"round", {1, 498}}, {"abs", {6, 4}},     {"map", {700, 661}}};
    const auto& [whole, fraction] = costs.at(op);
    return real ? fraction : whole;
  }
  // How long a whole number is moved until it stands where a float has it.
  static long costOfFloat(long value) {
    if (value == 0) return 55 - 40;
    const long sign = value < 0 ? 6 : 0;
    long left = std::labs(value), highest = 0;
    while (left >>= 1) ++highest;
    if (highest >= 24) return 55 - 33 + 9 * (highest - 24) + sign;
    return 55 + 9 - 6 * (highest % 8) + sign;
  }
  static long costOfSum(float a, float b, long most) {
    const float sum = a + b;
    if (!std::isfinite(a) || !std::isfinite(b) || !std::isfinite(sum)) return most;
    const float larger = std::max(std::fabs(a), std::fabs(b)),
                smaller = std::min(std::fabs(a), std::fabs(b));
    const long places = std::fabs(a) < std::fabs(b) ? 11 : 0;
    if (smaller == 0) return most - 14 + places;
    if (sum == 0) return most - 24;
    int high = 0, low = 0, out = 0;
    std::frexp(larger, &high);
    std::frexp(smaller, &low);
    std::frexp(sum, &out);
    if (high - low > 31) return most - 19 + places;
    const long aligned = 8 * (high - low) - 50 * ((high - low) / 8);
    return most - 14 + places + aligned + (out > high ? 8 : 9 * (high - out));
  }
  // With floats the values matter for some of them.
  static long costOfReals(const std::string& op, float a, float b) {
    const long most = costOf(op, true);
    if (op == "+") return costOfSum(a, b, most);
    if (op == "-") return costOfSum(a, -b, most);
    if (op == "*") return a == 0 || b == 0 ? 45 : most;
    if (op == "/" || op == "mod") {
      if (b == 0) return 20;
      if (op == "/") return a == 0 ? 100 : most;
      if (a == 0) return 180;
      long all = most;
      int ofA = 0, ofB = 0;
      std::frexp(a, &ofA);
      std::frexp(b, &ofB);
      if (!std::isfinite(a) || !std::isfinite(b)) return all;
      if (std::fabs(a) >= std::fabs(b)) all += 48 + 17 * (ofA - ofB);
      const float rest = std::fmod(a, b);
      if (rest == 0) return all;
      int ofRest = 0;
      std::frexp(rest, &ofRest);
      if (std::fabs(a) >= std::fabs(b)) all += 9 * (ofB - ofRest);
      if ((a < 0) != (b < 0)) all += 120;
      return all;
    }
    return most;
  }
  // Of what type an expression is, without working it out.
  Value::Type typeOf(const Expr* e) const {
    if (!e) return Value::whole;
    if (e->shape == Expr::Shape::get && e->text == "length") return Value::whole;
    if (e->shape == Expr::Shape::get && e->text == "key") return Value::truth;
    for (const char* named : {"name", "list"})
      if (e->shape == Expr::Shape::get && e->arg(named))
        return types_.at(scoped(e->arg(named)->text));
    if (e->shape == Expr::Shape::number)
      return e->number == std::floor(e->number) && std::abs(e->number) < 2147483648.0 ? Value::whole
                                                                                      : Value::real;
    if (e->shape == Expr::Shape::get)
      return e->text == "random" ? Value::whole : e->text == "pin" ? Value::truth : Value::real;
    if (e->shape == Expr::Shape::sig && e->text == "choose")
      return std::max(typeOf(e->arg("then")), typeOf(e->arg("else")));
    if (e->shape == Expr::Shape::sig) return e->text == "count" ? Value::whole : Value::truth;
    if (e->shape != Expr::Shape::op) return Value::truth;
    if (e->text == "/" || e->text == "map") return Value::real;
    if (e->text == "round") return Value::whole;
    if (e->text == "abs") return typeOf(e->arg("a")) == Value::real ? Value::real : Value::whole;
    static const std::vector<std::string> numbers = {"+", "-", "*", "mod", "min", "max"};
    if (std::find(numbers.begin(), numbers.end(), e->text) == numbers.end()) return Value::truth;
    return typeOf(e->arg("a")) == Value::real || typeOf(e->arg("b")) == Value::real ? Value::real
                                                                                    : Value::whole;
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
    given_.push_back({now(), step.id, step.field("pin")->text, high});
    set(given_.back().pin, high);
  }

  // Nothing in there takes a turn.
  static bool takesNone(const Steps& steps) {
    return std::all_of(steps.begin(), steps.end(), [](const Step& s) {
      return s.kind == "wait" || s.kind == "remark" ||
             (s.kind == "loop" && takesNone(*s.body("steps")));
    });
  }

  // Goes on, freely to the end; in turns until a second step would begin, it sleeps or ends.
  void go(Walk& w) {
    walking_ = &w;
    if (w.waits) w.since = w.wake;
    w.waits = false;
    if (!w.ends.empty()) endTone(w);
    if (w.inside.empty()) w.inside.push_back({&w.lane->steps, nullptr});
    bool stepped = false;
    // May it have the turn? Freely it always may.
    const auto takes = [&](const Step* step) {
      if (plain_) return true;
      if (stepped) return false;
      stepped = true;
      w.since = turn_;
      counted_ += step ? work_.of(step->id) : work_.round;
      if (work_.counted) worked_ += 20;
      return true;
    };
    if (w.saying) {
      if (!line_.isFree(turn_ * turnLength)) return void(w.wake = turn_ + 1);
      w.saying = nullptr;
      w.since = turn_;
    }
    while (!plain_ || now() < until_) {
      setScope(w);
      Inside& in = w.inside.back();
      if (in.next == in.steps->size()) {
        const bool turns = !in.head || in.head->kind == "loop" || in.head->kind == "repeat";
        const bool endsHere = !in.head && w.lane->trigger.on != "always";
        if (turns && !endsHere && takesNone(*in.steps) &&
            !(in.head && in.head->kind == "repeat" && in.turnsLeft < 0) && !takes(in.head))
          return;
        if (cameToTheEnd(w)) return;
        continue;
      }
      const Step& step = (*in.steps)[in.next];
      if (step.kind == "remark") {
        ++in.next;
      } else if (step.kind == "loop") {
        ++in.next;
        w.inside.push_back({step.body("steps"), &step});
      } else if (step.kind == "wait") {
        ++in.next;
        const Expr& seconds = *step.field("seconds");
        if (seconds.shape != Expr::Shape::number) counted_ += work_.of(step.id);
        if (wait(w, seconds)) return;
      } else if (step.kind == "tone" || step.kind == "silence" || step.kind == "servo") {
        if (!takes(&step)) return;
        ++in.next;
        if (pulse(w, step)) return;
      } else if (step.kind == "post" || step.kind == "log") {
        if (!takes(&step)) return;
        if (!say(w, step)) return;
        ++w.inside.back().next;
        if (w.saying) return;
      } else {
        if (!takes(&step)) return;
        ++in.next;
        take(w, step);
        if (w.over || w.idle || w.inside.empty()) return;
      }
    }
  }
  // Does it sleep now?
  // Own steps that something runs: others reach nothing.
  void noteRun(const Steps& steps) {
    forEachStep(steps, [&](const Step& s) {
      if (s.kind != "call") return;
      const auto own = own_.find(s.field("step")->text);
      if (own != own_.end() && run_.insert(own->second).second) noteRun(own->second->steps);
    });
  }
  void noteChanges(const Steps& steps) {
    forEachStep(steps, [&](const Step& s) {
      if ((s.kind == "let" || s.kind == "add") && s.field("name"))
        changing_.insert(s.field("name")->text);
      if (s.kind == "put" && s.field("list")) changing_.insert(s.field("list")->text);
    });
  }

  bool wait(Walk& w, const Expr& seconds) {
    const bool written = seconds.shape == Expr::Shape::number;
    const float computed = written ? 0 : real(&seconds);
    if (!written) spend(480);
    if (!plain_) spend(72);
    if (plain_) {
      if (written)
        half_ +=
            125 * static_cast<Nanoseconds>(std::ceil(std::round(seconds.number * 1e9) * 0.016));
      else if (computed > 0)
        half_ += 500 * static_cast<Nanoseconds>(computed * 4e6F);
      hear(now());
      return false;
    }
    const double turns = written ? std::ceil(std::round(seconds.number * 1e9) / 250'000)
                                 : static_cast<double>(std::ceil(computed * 4000.0F));
    w.wake = w.since + std::max<Nanoseconds>(0, static_cast<Nanoseconds>(turns));
    w.waits = w.wake > turn_;
    if (!w.waits) w.since = w.wake;
    return w.waits;
  }
  // A name is of the type that all that is put there needs: a truth, else a whole number, else a
  // float. Whatever is put there may change what others are, so it is looked at until it settles.
  void settleTypes(const Program& program) {
    for (bool more = true; more;) {
      more = false;
      for (const auto& lane : program.lanes) {
        if (lane->trigger.on == "own" && run_.count(&*lane) == 0) continue;
        scope_ = lane->trigger.on == "own" ? lane->trigger.field("step")->text : std::string();
        forEachStep(lane->steps, [&](const Step& s) {
          if (s.kind != "call") return;
          const std::string name = s.field("step")->text;
          for (const auto& [key, input] : own_.at(name)->trigger.field("inputs")->args) {
            const Expr* given = s.field("inputs")->arg(input.text);
            Value::Type& held = types_[name + "\n" + input.text];
            const Value::Type type = given ? typeOf(given) : Value::whole;
            more = more || type > held;
            held = std::max(held, type);
          }
        });
        if (lane->trigger.on == "follow-variable") {
          Value::Type& held = types_[lane->trigger.field("name")->text];
          const Value::Type type = typeOf(lane->trigger.field("from"));
          more = more || type > held;
          held = std::max(held, type);
        }
        forEachStep(lane->steps, [&](const Step& s) {
          if (s.kind != "let" && s.kind != "add" && s.kind != "put") return;
          const std::string name = scoped(s.field(s.kind == "put" ? "list" : "name")->text);
          Value::Type type = typeOf(s.field(s.kind == "add" ? "by" : "value"));
          Value::Type& held = types_[name];
          if (s.kind != "let" && type == Value::truth) type = Value::whole;
          if (type <= held && !(s.kind == "add" && held == Value::truth)) return;
          if (held == Value::truth && type == Value::truth) return;
          held = std::max(held, type);
          more = true;
        });
      }
    }
  }
  // An input of the own step that is walked, or what stands outside.
  std::string scoped(const std::string& name) const {
    return !scope_.empty() && types_.contains(scope_ + "\n" + name) ? scope_ + "\n" + name : name;
  }
  Value& variable(const std::string& name) {
    const std::string key = scoped(name);
    return key == name ? names_[name][0] : walking_->inputs[key];
  }
  // Where the lane stands: in the steps of which own step.
  void setScope(const Walk& w) {
    scope_.clear();
    for (const Inside& in : w.inside)
      if (in.head && in.head->kind == "call") scope_ = in.head->field("step")->text;
  }
  static Value as(Value::Type type, const Value& v) {
    if (type == Value::truth) return truthOf(v.asTruth());
    return type == Value::whole ? wholeOf(v.asWhole()) : realOf(v.asReal());
  }
  // As that type; what is no literal is converted at a cost.
  Value valueAs(Value::Type type, const Expr* e, bool alone = false) {
    const Value v = value(e, alone);
    if ((v.type == Value::real) != (type == Value::real) && !isConstant(e))
      spend(type == Value::real ? costOfFloat(v.asWhole()) : type == Value::whole ? 450 : 55);
    return as(type, v);
  }
  static bool isLiteral(const Expr* e) {
    return e->isLiteral() || (e->shape == Expr::Shape::get && e->text == "length");
  }
  Value& item(const std::string& list, long position) {
    std::vector<Value>& held = names_[list];
    return held[static_cast<std::size_t>(std::clamp(position, 1L, static_cast<long>(held.size())) -
                                         1)];
  }

  static std::string written(const Value& v) {
    if (v.type == Value::truth) return v.number != 0 ? "true" : "false";
    if (v.type == Value::whole) return std::to_string(v.number);
    if (std::isnan(v.fraction)) return "nan";
    if (v.fraction == 0) return "0";
    char text[40];
    std::snprintf(text, sizeof text, "%.6g", static_cast<double>(v.fraction));
    return text;
  }
  // A truth is one byte of memory, a number four.
  long bytesLess(const std::string& name) const {
    return scoped(name) == name && types_.at(name) == Value::truth ? 4 : 1;
  }
  // Cycles to write a number: a float as the chip finds its six digits.
  static long toWriteDigits(long number) {
    const auto count = static_cast<long>(std::to_string(number).size());
    long cycles = 0;
    for (long i = 1; i <= count; ++i) cycles += 627 + 15 * i;
    return cycles;
  }
  static long toWrite(const Value& v) {
    if (v.type == Value::truth) return 0;
    if (v.type == Value::whole) return 208 + toWriteDigits(static_cast<long>(std::abs(v.number)));
    const float size = std::abs(v.fraction);
    if (size == 0 || !std::isfinite(size)) return 92;
    int exponent = 0;
    auto m = static_cast<unsigned long long>(std::ldexp(std::frexp(size, &exponent), 24));
    exponent -= 24;
    if (exponent < -149) m >>= -149 - exponent, exponent = -149;
    long cycles = 344;
    const auto tenth = [&] {
      int bytes = 0;
      for (unsigned long long rest = m; rest > 0; rest /= 256) ++bytes;
      m /= 10;
      cycles += 178 + 240 * bytes;
      for (unsigned long long rest = m; rest > 0; rest /= 2) cycles += rest % 2 == 1 ? 8 : 0;
    };
    for (; exponent > 0; --exponent, cycles += 92, m *= 2)
      if (m >= 1ULL << 60) tenth();
    for (; exponent < 0; ++exponent, cycles += 132, m /= 2)
      for (; m < 1ULL << 57; m *= 10) cycles += 247;
    while (m >= 10'000'000) tenth();
    for (; m < 1'000'000; m *= 10) cycles += 247;
    m = (m + 5) / 10;
    if (m == 1'000'000) m /= 10;
    for (; m % 10 == 0; m /= 10) cycles += 867;
    return cycles + 297 * static_cast<long>(std::to_string(m).size()) +
           toWriteDigits(static_cast<long>(m));
  }
  // What is counted for a value in a line, in microseconds.
  static long shareOf(const Value& v) {
    if (v.type == Value::whole) return 52 * static_cast<long>(written(v).size());
    if (v.type != Value::real) return 0;
    const float size = std::abs(v.asReal());
    if (size == 0 || !std::isfinite(size)) return 0;
    const int power = std::max(std::ilogb(size) - 23, -149);
    return power < 0 ? 2000 - 15 * power : 500 + 52 * power;
  }
  // Of waves whose hertz are written out.
  static long knownWaves(const Expr& e) {
    const bool known = e.shape == Expr::Shape::sig && e.text == "wave" &&
                       e.arg("hertz")->shape == Expr::Shape::number;
    long out = known ? 1 : 0;
    for (const auto& [key, inner] : e.args) out += knownWaves(inner);
    return out;
  }
  // False: another line is on its way, and it looks again in the next turn.
  bool say(Walk& w, const Step& step) {
    const bool note = step.kind == "post";
    std::string text, seconds = "0";
    std::vector<const Expr*> items;
    if (note) items.push_back(step.field("text"));
    if (!note)
      for (const auto& [key, item] : step.field("items")->args) items.push_back(&item);
    long cycles = 0, share = 0;
    for (const Expr* item : items) {
      if (item != items.front()) text += ' ';
      if (item->shape == Expr::Shape::text) {
        spend(4);
        text += item->text;
        continue;
      }
      const Value v = value(item);
      cycles += toWrite(v);
      share += shareOf(v);
      text += written(v);
    }
    if (note) {
      const Expr* held = step.field("seconds");
      if (!held) spend(4);
      const Value stays = realOf(held ? real(held) : 0);
      if (held) seconds = written(stays);
      cycles += toWrite(stays);
      share += shareOf(stays);
    }
    const Nanoseconds at = now();
    spend(590);
    if (!line_.isFree(turn_ * turnLength)) return false;
    std::size_t letters = 0, bytes = 0;
    for (; bytes < text.size(); ++bytes)
      if ((static_cast<unsigned char>(text[bytes]) & 0xC0) != 0x80 && ++letters > 60) break;
    text.resize(bytes);
    if (at <= until_) said_.push_back({at, note, text});
    // "L3 text", "N3 0.5 text", and its end.
    const std::size_t number = std::to_string(numbers_.at(&step)).size();
    const std::size_t onWire = text.size() + 3 + number + (note ? seconds.size() + 1 : 0);
    const auto all = static_cast<long>(onWire);
    cycles += toWriteDigits(numbers_.at(&step));
    const Nanoseconds ready = at + (590 + cycles + 57 * all) * 125 / 2;
    share += 52 * static_cast<long>(number) + 12 * all;
    counted_ += share;
    const auto moved = static_cast<long>(
        line_.say(onWire, turn_ * turnLength, turn_ * turnLength + counted_ * 1000, at, ready));
    spend(cycles + 57 * all + 103 * moved);
    if (!line_.isFree(turn_ * turnLength)) {
      w.saying = &step;
      w.wake = turn_ + 1;
    }
    return true;
  }
  // Does the lane sleep behind it?
  bool pulse(Walk& w, const Step& step) {
    const std::string& pin = step.field("pin")->text;
    if (step.kind == "silence") {
      spend(2);
      set(pin, false);
    } else if (step.kind == "servo") {
      const float degrees = real(step.field("degrees"), true);
      moment_ = pulseMoment;
      spend(isConstant(step.field("degrees")) ? 890 : 1270);
      const float within = degrees >= 0 ? std::min(degrees, 180.0F) : 0;
      if (!train(pin, true, static_cast<std::int64_t>(within * (64000.0F / 180) + 64000.5F),
                 1'280'000))
        spared_ += 700;
      moment_ = aMoment;
    } else {
      const float hertz = real(step.field("hertz"), true);
      const Expr* pitch = step.field("hertz");
      moment_ = pulseMoment;
      spend(isLiteral(pitch) ? 900 : !(hertz >= 1) ? 702 : isConstant(pitch) ? 900 : 1550);
      bool changes = trains_.contains(pin) || levels_[pin];
      if (hertz >= 1) {
        const auto width = static_cast<std::int64_t>(32e6F / std::min(hertz, 10'000.0F) + 0.5F);
        changes = train(pin, false, width, 2 * width);
      } else {
        set(pin, false);
      }
      if (!changes) spared_ += 700;
      moment_ = aMoment;
      if (const Expr* seconds = step.field("seconds")) {
        w.ends = pin;
        if (wait(w, *seconds)) return true;
        endTone(w);
      }
    }
    return false;
  }
  // A tone with a time ends with its lane's wait.
  void endTone(Walk& w) {
    spend(2);
    set(std::exchange(w.ends, {}), false);
  }
  void set(const std::string& pin, bool high) {
    trains_.erase(pin);
    change(pin, high, now());
  }
  // One step that takes a turn.
  void take(Walk& w, const Step& step) {
    const auto written = [&](const char* key) { return isLiteral(step.field(key)); };
    if (step.kind == "set") {
      const bool high = truth(step.field("to"), true);
      spend(written("to") ? 2 : 4);
      give(step, high);
    } else if (step.kind == "flip") {
      spend(2);
      const std::string& pin = step.field("pin")->text;
      give(step, !trains_.contains(pin) && !levels_[pin]);
    } else if (step.kind == "level") {  // of pins that cannot dim
      const float percent = real(step.field("percent"), true);
      spend(costOfLevel(step.field("pin")->text, step.field("percent")));
      give(step, percent >= 50);
    } else if (step.kind == "let") {
      const std::string name = step.field("name")->text;
      const Value v = valueAs(types_[scoped(name)], step.field("value"), true);
      spend((isLiteral(step.field("value")) ? 12 : 8) / bytesLess(name));
      variable(name) = v;
    } else if (step.kind == "add") {
      const std::string name = step.field("name")->text;
      const bool fraction = types_[scoped(name)] == Value::real;
      spend(8);
      const Value by = valueAs(types_[scoped(name)], step.field("by"));
      Value& held = variable(name);
      spend(!fraction ? 4 : costOfReals("+", held.asReal(), by.asReal()));
      spend(8);
      held = fraction ? realOf(held.asReal() + by.asReal()) : wholeOf(held.number + by.number);
    } else if (step.kind == "put") {
      const std::string list = step.field("list")->text;
      const Value v = valueAs(types_[list], step.field("value"));
      const long position = whole(step.field("index"));
      spend(step.field("index")->isLiteral() || isLiteral(step.field("index")) ? 8 : 20);
      item(list, position) = v;
    } else if (step.kind == "if") {
      const bool yes = branches(step.field("test"));
      if (const Steps* body = step.body(yes ? "then" : "else")) w.inside.push_back({body, &step});
    } else if (step.kind == "repeat") {
      const Expr* count = step.field("times");
      const long times =
          std::max(0L, written("times") ? value(count, true).asWhole() : whole(count));
      // A loop of none that is known beforehand is no loop to the chip.
      const bool before = free_;
      free_ = free_ || (plain_ && times == 0 && isConstant(count));
      spend(4);
      w.inside.push_back({step.body("steps"), &step, step.body("steps")->size(), times});
      cameToTheEnd(w);  // the first round is counted as every other
      free_ = before;
    } else if (step.kind == "while") {
      const bool yes = branches(step.field("test"));
      if (yes) w.inside.push_back({step.body("steps"), &step});
    } else if (step.kind == "wait-until") {
      const Expr* test = step.field("test");
      if (std::exchange(w.looking, &step) != &step) {  // it begins afresh
        forget(test, remembered_);
        spend(1245 * knownWaves(*test));
        afresh_ = true;
      }
      sense(test);
      afresh_ = false;
      const bool yes = truth(test, true);
      spend(2);
      if (!yes) --w.inside.back().next;  // looks again
      if (yes) w.looking = nullptr;
    } else if (step.kind == "call") {
      const std::string name = step.field("step")->text;
      const Lane& own = *own_.at(name);
      for (const auto& [key, input] : own.trigger.field("inputs")->args) {
        const Expr* given = step.field("inputs")->arg(input.text);
        const Value::Type type = types_[name + "\n" + input.text];
        w.inputs[name + "\n" + input.text] =
            given ? valueAs(type, given, true) : as(type, wholeOf(0));
        spend(!given || isLiteral(given) ? 12 : 8);
      }
      spend(30);
      w.inside.push_back({&own.steps, &step});
    } else if (step.kind == "leave") {
      // Not out of an own step.
      bool inLoop = false;
      for (auto in = w.inside.rbegin(); in != w.inside.rend() && in->head; ++in) {
        if (in->head->kind == "call") break;
        inLoop = inLoop || in->head->kind != "if";
      }
      if (!inLoop) return;  // there is nothing to leave
      while (w.inside.back().head->kind == "if") w.inside.pop_back();
      w.inside.pop_back();
    } else if (step.kind == "end") {
      comesToRest(w);
    }
  }
  // Until it is started again; at once, in the next turn, where that came already.
  bool comesToRest(Walk& w) {
    if (!comesAgain(w)) return w.over = true;
    if (w.queued == 0) return w.idle = true;
    --w.queued;
    begin(w, turn_ + 1);
    return true;
  }
  // Is the lane at its end?
  bool cameToTheEnd(Walk& w) {
    Inside& in = w.inside.back();
    if (!in.head) {
      if (w.lane->trigger.on == "power") return w.over = true;
      spend(2);
      if (comesAgain(w)) return comesToRest(w);
      in.next = 0;
      return false;
    }
    if (in.head->kind == "repeat") {
      spend(plain_ ? 7 : 35);
      if (in.turnsLeft-- > 0)
        in.next = 0;
      else
        w.inside.pop_back();
    } else if (in.head->kind == "while") {
      spend(2);
      w.inside.pop_back();
      --w.inside.back().next;  // its test comes again
    } else if (in.head->kind == "call") {
      spend(20);
      w.inside.pop_back();
    } else if (in.head->kind == "loop") {
      spend(2);
      in.next = 0;
    } else {
      w.inside.pop_back();  // of an if: goes on behind it
    }
    return false;
  }

  std::map<std::string, const Lane*> own_;
  std::set<std::string> pulsed_;        // pins with tones or pulses
  std::string scope_;                   // the own step that is walked
  bool says_ = false;                   // something that is run
  std::map<const Step*, int> numbers_;  // of those that say something
  std::vector<Said> said_;
  LineModel line_;
  std::map<std::string, bool> held_, struck_;  // keys
  std::vector<Walk> walks_;
  std::vector<Event> events_;
  std::map<std::string, double> percent_;
  std::size_t next_ = 0;
  std::map<std::string, bool> levels_;
  std::map<std::string, std::vector<Edge>> edges_;
  std::vector<Given> given_;
  std::map<std::string, std::vector<Value>> names_;  // variables hold one, lists several
  std::map<std::string, Value::Type> types_;
  std::map<std::string, bool> before_;  // levels at the turn before
  bool plain_ = false, measured_ = false, keeps_ = false;
  Nanoseconds half_ = 0;  // half nanoseconds: a cycle is 125 of them
  Nanoseconds turn_ = 0, until_ = 0;
  bool leapt_ = false;   // a wave cannot follow it from the turn before
  bool afresh_ = false;  // what is looked at begins afresh
  long worked_ = 0;      // cycles of this turn
  static constexpr Nanoseconds aMoment = 60'000, pulseMoment = 85'000;
  static constexpr long saysEachTurn = 114, countsEachTurn = 52;
  Nanoseconds moment_ = aMoment;    // so much work is told as none
  long spared_ = 0;                 // of them, for what stood so already
  TurnWork work_;                   // what is counted of them
  long counted_ = 0;                // in this turn, in microseconds
  Nanoseconds began_ = 0;           // it, really
  Nanoseconds late_ = 0;            // the end of the last one's work
  bool free_ = false;               // what is worked out is known beforehand
  std::set<std::string> changing_;  // variables that something changes
  std::set<const Lane*> run_;       // own steps that something runs
  Walk* walking_ = nullptr;
};

}  // namespace ignavo::test
