#include "program/signals.h"

#include "program/expressions.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ignavo {

namespace {

// The first cell of what looks at rises: nothing known yet, low, or high.
enum Was : std::uint32_t { fresh, low, high };

bool rises(Cell& was, bool now) {
  const bool out = was.bits == low && now;
  was.bits = now ? high : low;
  return out;
}

bool passed(const SenseState& s, std::int64_t turn) {
  return *s.until != untimed && turn >= *s.until;
}

Cell rise(const SenseState& s, const Cell* of, std::int64_t) {
  return Cell::of(rises(s.cells[0], of->truth()));
}

Cell fall(const SenseState& s, const Cell* of, std::int64_t) {
  const bool out = s.cells[0].bits == high && !of->truth();
  s.cells[0].bits = of->truth() ? high : low;
  return Cell::of(out);
}

Cell flip(const SenseState& s, const Cell* on, std::int64_t) {
  if (rises(s.cells[0], on->truth())) s.cells[1] = Cell::of(!s.cells[1].truth());
  return s.cells[1];
}

Cell limit(const SenseState& s, const Cell* in, std::int64_t turn) {
  const bool up = rises(s.cells[0], in[0].truth());
  if (passed(s, turn)) *s.until = untimed;
  if (!up || *s.until != untimed) return Cell::of(false);
  *s.until = turn + in[1].bits;
  return Cell::of(true);
}

Cell held(const SenseState& s, const Cell* in, std::int64_t turn) {
  enum : std::uint32_t { no, counting, longEnough };
  std::uint32_t& state = s.cells[0].bits;
  if (!in[0].truth()) {
    state = no;
    *s.until = untimed;
    return Cell::of(false);
  }
  if (state == no) {
    state = counting;
    *s.until = turn + in[1].bits;
  }
  if (passed(s, turn)) {
    state = longEnough;
    *s.until = untimed;
  }
  return Cell::of(state == longEnough);
}

Cell tap(const SenseState& s, const Cell* in, std::int64_t turn) {
  enum : std::uint32_t { unknown, up, down, tooLong };
  std::uint32_t& state = s.cells[0].bits;
  if (state == down && passed(s, turn)) state = tooLong;
  if (state == tooLong) *s.until = untimed;
  if (!in[0].truth()) {
    const bool out = state == down;
    state = up;
    *s.until = untimed;
    return Cell::of(out);
  }
  if (state == unknown) state = tooLong;  // nobody saw it begin
  if (state == up) {
    state = down;
    *s.until = turn + in[1].bits;
  }
  return Cell::of(false);
}

Cell steady(const SenseState& s, const Cell* in, std::int64_t turn) {
  const bool now = in[0].truth();
  if (s.cells[0].bits == fresh) {
    s.cells[0].bits = low;  // known
    s.cells[1] = Cell::of(now);
  }
  if (now == s.cells[1].truth()) {
    *s.until = untimed;
  } else {
    if (*s.until == untimed) *s.until = turn + in[1].bits;
    if (passed(s, turn)) {
      s.cells[1] = Cell::of(now);
      *s.until = untimed;
    }
  }
  return s.cells[1];
}

// From `from` to `to`, one further with each rise, then from the beginning. The reset wins.
Cell count(const SenseState& s, const Cell* in, std::int64_t) {
  const std::int32_t from = in[1].whole(), to = in[2].whole();
  std::int32_t value = s.cells[1].whole();
  const bool known = s.cells[0].bits != fresh;
  const bool up = rises(s.cells[0], in[0].truth());
  if (!known || in[3].truth()) {
    value = from;
  } else if (up) {
    const bool inside = from <= to ? value >= from && value < to : value <= from && value > to;
    value = inside ? value + (from <= to ? 1 : -1) : from;
  }
  return s.cells[1] = Cell::of(value);
}

// Of hertz that are worked out: a round is 2³².
Cell wave(const SenseState& s, const Cell* in, std::int64_t turn) {
  const float hertz = in[0].real(), duty = in[1].real();
  const float step = hertz * 1073741.824F;
  const auto by = step >= 1 ? static_cast<std::uint32_t>(std::min(step, 2147483648.0F)) : 0U;
  if (*s.until != untimed) s.cells[0].bits += by * static_cast<std::uint32_t>(turn - *s.until);
  *s.until = turn;
  return Cell::of(static_cast<float>(s.cells[0].bits) < duty * 42949672.96F);
}

Cell pulse(const SenseState& s, const Cell* in, std::int64_t turn) {
  if (passed(s, turn)) *s.until = untimed;
  const bool up = rises(s.cells[0], in[0].truth()), again = in[2].truth();
  if (up && (again || *s.until == untimed)) *s.until = turn + std::max(1U, in[1].bits);
  return Cell::of(*s.until != untimed);
}

SignalKind kind(const char* name, const char* phrase, std::vector<SignalKind::Operand> operands,
                int cells, SignalKind::Sense sense, const char* inC, const char* help) {
  SignalKind k;
  k.name = name;
  k.phrase = phrase;
  k.operands = std::move(operands);
  k.cells = cells;
  k.sense = sense;
  k.inC = inC;
  k.help = help;
  return k;
}

}  // namespace

const SignalKind::Operand* SignalKind::operand(const std::string& key) const {
  for (const Operand& o : operands)
    if (o.key == key) return &o;
  return nullptr;
}

std::string SignalKind::flagKey() const {
  for (const Operand& o : operands)
    if (o.is == Operand::Is::flag) return o.key;
  return {};
}

bool SignalKind::mayLack(const std::string& key) const {
  for (const PhrasePiece& piece : piecesOf(phrase))
    if (piece.field && piece.text == key) return piece.optional;
  return true;
}

const std::vector<SignalKind>& signalKinds() {
  using Is = SignalKind::Operand::Is;
  static const std::vector<SignalKind> kinds = [] {
    std::vector<SignalKind> all = {
        kind("rise", "rise of {of}", {{"of"}}, 1, rise, "rose",
             "True for one turn, each time it becomes true."),
        kind("fall", "fall of {of}", {{"of"}}, 1, fall, "fell",
             "True for one turn, each time it is no longer true."),
        kind("flip", "flips on {on}", {{"on"}}, 2, flip, "flips",
             "Goes to the other level with each rise of it; low at first."),
        kind("limit", "{of} at most every {seconds}", {{"of"}, {"seconds", Is::seconds, "s"}}, 1,
             limit, "limited", "Lets a rise through, and then none for that long."),
        kind("held", "{of} held for {seconds}", {{"of"}, {"seconds", Is::seconds, "s"}}, 1, held,
             "held", "True while it has been true for that long."),
        kind("tap", "{of} tapped within {seconds}", {{"of"}, {"seconds", Is::seconds, "s"}}, 1, tap,
             "tapped", "True for one turn, when it was true for less than that and ends."),
        kind("steady", "{of} steady for {seconds}", {{"of"}, {"seconds", Is::seconds, "s"}}, 2,
             steady, "steady", "Follows it once it has not changed for that long: no bouncing."),
        kind("count", "count {on} from {from} to {to}[ reset by {reset}]",
             {{"on"}, {"from", Is::whole}, {"to", Is::whole}, {"reset"}}, 2, count, "counts",
             "One further with each rise, from the first number to the last and round again."),
        kind("wave", "wave of {hertz} with {duty}",
             {{"hertz", Is::real, "Hz"}, {"duty", Is::real, "%"}}, 1, wave, "wave",
             "Goes high and low by itself, so often a second, high for that share of the time."),
        kind("pulse", "pulse of {seconds} on {on}",
             {{"on"}, {"seconds", Is::seconds, "s"}, {"restart", Is::flag}}, 1, pulse, "pulse",
             "True for that long with each rise; with “restarted” a further rise makes it longer."),
        kind("choose", "choose {then} if {if} else {else}",
             {{"if"}, {"then", Is::real}, {"else", Is::real}}, 0, nullptr, "",
             "One value or another."),
    };
    for (SignalKind& k : all) {
      k.waves = k.sense == wave;
      k.chooses = !k.sense;
      if (k.sense == count) k.gives = ValueType::whole;
      k.addsUp = k.sense == count || k.sense == flip;
      k.debounces = k.sense == steady || k.sense == held;
      if (k.sense == pulse) k.flag = "restarted";
    }
    return all;
  }();
  return kinds;
}

int signalIndex(const std::string& name) {
  const auto& kinds = signalKinds();
  for (std::size_t i = 0; i < kinds.size(); ++i)
    if (kinds[i].name == name) return static_cast<int>(i);
  return -1;
}
const SignalKind* signalKind(const std::string& name) {
  const int i = signalIndex(name);
  return i < 0 ? nullptr : &signalKinds()[static_cast<std::size_t>(i)];
}

Expr steadyOf(Expr e, double seconds) {
  Expr out;
  out.shape = Expr::Shape::sig;
  for (const SignalKind& kind : signalKinds())
    if (kind.sense == steady) out.text = kind.name;
  out.args = {{"of", std::move(e)}, {"seconds", Expr::of(seconds)}};
  return out;
}

bool senses(const Expr& e) {
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  return (kind && !kind->chooses) || std::any_of(e.args.begin(), e.args.end(), [](const auto& arg) {
           return senses(arg.second);
         });
}

ThreadEnd comesInto(const Expr& e) {
  using Is = SignalKind::Operand::Is;
  if (e.shape == Expr::Shape::sig) {
    if (const SignalKind* kind = signalKind(e.text))
      for (const SignalKind::Operand& operand : kind->operands)
        if (operand.is == Is::truth && e.arg(operand.key)) return {operand.key, e.arg(operand.key)};
    return {};
  }
  if (e.shape != Expr::Shape::op) return {};
  for (const auto& [key, operand] : e.args) {
    if (operand.shape == Expr::Shape::list) {
      for (std::size_t i = 0; i < operand.args.size(); ++i)
        if (!operand.args[i].second.isLiteral())
          return {key + "/" + std::to_string(i), &operand.args[i].second};
    } else if (!operand.isLiteral()) {
      return {key, &operand};
    }
  }
  return {};
}

namespace {
using VisitOperator = std::function<void(const std::string& path, const Expr&)>;
void visitOperators(const Expr& e, const std::string& path, const VisitOperator& visit) {
  for (std::size_t i = 0; i < e.args.size(); ++i) {
    const std::string& key = e.args[i].first;
    const std::string step = key.empty() ? std::to_string(i) : key;
    visitOperators(e.args[i].second, path.empty() ? step : path + "/" + step, visit);
  }
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  if (kind && !kind->chooses) visit(path, e);
}
}  // namespace

void forEachOperator(const Expr& e, const VisitOperator& visit) { visitOperators(e, {}, visit); }

std::string operatorPhrase(const Expr& e) {
  Expr alone = e;
  const ThreadEnd in = comesInto(e);
  std::erase_if(alone.args, [&](const auto& arg) { return in.value && arg.first == in.path; });
  std::string words = phraseOf(alone) + " ", out;
  // Nor is there the word that would lead to it.
  for (const char* leads : {" on  ", " of  "})
    if (const std::size_t at = words.find(leads); in.value && at != std::string::npos)
      words.erase(at, 3);
  for (const char c : words)
    if (c != ' ' || (!out.empty() && out.back() != ' ')) out += c;
  if (out.ends_with(' ')) out.pop_back();
  return out;
}

WaveSteps waveSteps(double hertz) {
  constexpr double most = 2000;  // every second turn
  const auto parts =
      static_cast<std::uint64_t>(std::llround(std::clamp(hertz, 0.0, most) * 100'000));
  constexpr std::uint64_t round = 4000ULL * 100'000;  // turns a second
  const std::uint64_t common = std::gcd(parts, round);
  return {static_cast<std::uint32_t>(parts / common), static_cast<std::uint32_t>(round / common)};
}

std::uint32_t phaseOf(const WaveSteps& wave, std::int64_t turn) {
  const auto rest = static_cast<std::uint64_t>(turn) % wave.round;
  return static_cast<std::uint32_t>(rest * wave.step % wave.round);
}

std::int64_t turnsAlike(const WaveSteps& wave, std::uint32_t high, std::int64_t turn) {
  constexpr std::int64_t forEver = std::int64_t{1} << 40;
  if (wave.step == 0 || high == 0 || high >= wave.round) return forEver;
  // Steps so wide that one may pass over a whole part: nothing is said of the next turn.
  if (wave.step > high || wave.step > wave.round - high) return 1;
  const std::uint32_t phase = phaseOf(wave, turn), end = phase < high ? high : wave.round;
  return (end - phase + wave.step - 1) / wave.step;
}

std::uint32_t highPart(const WaveSteps& wave, double duty) {
  return static_cast<std::uint32_t>(std::ceil(std::clamp(duty, 0.0, 100.0) * wave.round / 100));
}

const Expr* hertzOf(const Expr& wave) { return wave.arg("hertz"); }
const Expr* dutyOf(const Expr& wave) { return wave.arg("duty"); }

}  // namespace ignavo
