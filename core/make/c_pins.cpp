#include "make/c_pins.h"

#include <fmt/format.h>

#include <algorithm>

#include "make/c_pulses.h"
#include "parts/catalogue.h"
#include "program/facts.h"

namespace ignavo {

namespace {
// Told apart from what the compiler may put elsewhere: a step costs what its row says.
constexpr const char* inlined = "static inline __attribute__((always_inline)) ";

// "2B": the register that holds its share, the one that connects it, and the bit for that.
struct CompareOutput {
  std::string share, control, connect;
};
CompareOutput compareOutputOf(const BoardPin& pin) {
  const char number = pin.timer[0], output = pin.timer[1];
  return {fmt::format("OCR{}{}", number, output), fmt::format("TCCR{}A", number),
          fmt::format("_BV(COM{}{}1)", number, output)};
}
}  // namespace

CPins::CPins(const Project& project, const BoardItem& board, const BoardKind& kind,
             const Chip& chip)
    : project_(project),
      board_(board.id),
      kind_(kind),
      chip_(chip),
      program_(project.program(board.id)),
      nets_(project, catalogue()) {
  if (!program_) return;
  for (const PinUse& use : pinUses(*program_))
    if (has(use.pin)) uses_.push_back(use);
  const auto ask = [&](const Fields& fields) {
    for (const auto& [key, value] : fields)
      forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
        asked_.insert(getter.inC + pin);
      });
  };
  for (const auto& lane : program_->lanes) {
    ask(lane->trigger.fields);
    forEachStep(lane->steps, [&](const Step& s) {
      if (const auto pin = flipsPin(s) ? pinWritten(s) : std::nullopt) flipped_.insert(*pin);
      if (waitOf(s)) timed_.insert(s.id);
      ask(s.fields);
    });
  }
}

const BoardPin& CPins::shape(const std::string& pin) const {
  return *std::find_if(kind_.pins.begin(), kind_.pins.end(),
                       [&](const BoardPin& p) { return p.name == pin; });
}

// "PD4" -> {'D', "4"}
std::pair<char, std::string> CPins::port(const std::string& pin) const {
  for (const BoardPin& p : kind_.pins)
    if (p.name == pin && p.chipName.size() >= 3) return {p.chipName[1], p.chipName.substr(2)};
  return {0, {}};
}

std::string CPins::remark(const std::string& pin) const {
  const std::string label = commentSafe(pinLabel(project_, nets_, board_, pin));
  return label.empty() ? std::string() : "  /* " + label + " */";
}

void CPins::functions(CLines& out) const {
  for (const PinUse& u : uses_) {
    const auto [letter, bit] = port(u.pin);
    const std::string label = commentSafe(pinLabel(project_, nets_, board_, u.pin));
    out.line(fmt::format("/* {}{}{}; the chip calls it P{}{} */", u.pin, label.empty() ? "" : ": ",
                         label, letter, bit));
    if (!u.writers.empty()) setFunctions(out, u);
    if (u.isRead()) {
      out.open(fmt::format("{}bool read_{}(void)", inlined, u.pin));
      if (!u.writers.empty()) out.line("_NOP();  /* what was set just now shows a cycle later */");
      out.line(fmt::format("return (PIN{} & _BV({})) != 0;", letter, bit));
      out.close();
    }
    for (const GetterKind& getter : getterKinds())
      if (getter.measures && asked_.contains(getter.inC + u.pin)) measureFunction(out, getter, u);
    out.line("");
  }
}

void CPins::prepare(CLines& out, const std::vector<std::string>& outputs) const {
  out.open("static void prepare_pins(void)");
  for (const std::string& pin : outputs)
    if (has(pin)) {
      const auto [letter, bit] = port(pin);
      out.line(fmt::format("DDR{} |= _BV({});  /* {} is an output */", letter, bit, pin));
    }
  for (const PinUse& u : uses_) {
    const auto [letter, bit] = port(u.pin);
    const bool output = std::find(outputs.begin(), outputs.end(), u.pin) != outputs.end();
    if (!output && program_->pulledUp(u.pin))
      out.line(fmt::format("PORT{} |= _BV({});  /* {} is pulled up */", letter, bit, u.pin));
  }
  out.close();
  out.line("");
}

void CPins::setFunctions(CLines& out, const PinUse& u) const {
  const auto [letter, bit] = port(u.pin);
  const BoardPin& pin = shape(u.pin);
  const bool timer = !u.dimmers.empty() && pin.pwm;
  const int pulses = pulsed(u.pin);
  const std::string ended = fmt::format("pulses[{}].runs = false;", pulses);
  out.open(fmt::format("{}void set_{}(bool level)", inlined, u.pin));
  if (pulses >= 0) out.line(ended);
  if (timer)
    out.line(fmt::format("{} &= (uint8_t)~{};", compareOutputOf(pin).control,
                         compareOutputOf(pin).connect));
  out.line("if (level)");
  out.line(fmt::format("    PORT{} |= _BV({});", letter, bit));
  out.line("else");
  out.line(fmt::format("    PORT{} &= (uint8_t)~_BV({});", letter, bit));
  out.close();
  if (flipped_.contains(u.pin)) {
    out.open(fmt::format("{}void flip_{}(void)", inlined, u.pin));
    if (timer || pulses >= 0) {
      std::string wavers;
      if (timer)
        wavers = fmt::format("{} & {}", compareOutputOf(pin).control, compareOutputOf(pin).connect);
      if (timer && pulses >= 0) wavers = "(" + wavers + ") || ";
      if (pulses >= 0) wavers += fmt::format("pulses[{}].runs", pulses);
      out.line("if (" + wavers + ")");
      out.line(fmt::format("    set_{}(LOW);", u.pin));
      out.line("else");
      out.line(fmt::format("    PIN{} |= _BV({});  /* a 1 there flips the pin */", letter, bit));
    } else {
      out.line(fmt::format("PIN{} |= _BV({});  /* a 1 there flips the pin */", letter, bit));
    }
    out.close();
  }
  pulseFunctions(out, u);
  if (u.dimmers.empty()) return;
  if (!timer) {
    out.line("/* This pin cannot be dimmed: it is switched. */");
    out.open(fmt::format("{}void dim_{}(float percent)", inlined, u.pin));
    out.line(fmt::format("set_{}(percent >= 50);", u.pin));
    return out.close();
  }
  out.open(fmt::format("static void share_{}(int16_t ticks)", u.pin));
  out.line("if (ticks <= 0 || ticks >= 256) {");
  out.line(fmt::format("    set_{}(ticks > 0);", u.pin));
  out.line("} else {");
  if (pulses >= 0) out.line("    " + ended);
  out.line(fmt::format("    {} = (uint8_t)(ticks - 1);", compareOutputOf(pin).share));
  out.line(
      fmt::format("    {} |= {};", compareOutputOf(pin).control, compareOutputOf(pin).connect));
  out.line("}");
  out.close();
  out.open(fmt::format("{}void dim_{}(float percent)", inlined, u.pin));
  out.line("float ticks = percent * 2.56f + 0.5f;");
  out.line(fmt::format("share_{}(ticks >= 256 ? 256 : ticks >= 1 ? (int16_t)ticks : 0);", u.pin));
  out.close();
}

void CPins::pulses(CLines& out, const TurnWork& work) const {
  std::vector<CPulsedPin> pins;
  bool sounds = false, turns = false;
  for (const PinUse& use : uses_) {
    if (pulsed(use.pin) < 0) continue;
    const auto [letter, bit] = port(use.pin);
    pins.push_back({fmt::format("PORT{}", letter), bit});
    sounds = sounds || !use.sounders.empty();
    turns = turns || !use.turners.empty();
  }
  if (!pins.empty()) writePulses(out, chip_.timers.front(), *waker(), pins, sounds, turns, work);
}

int CPins::pulsing() const {
  return static_cast<int>(std::count_if(uses_.begin(), uses_.end(),
                                        [&](const PinUse& use) { return pulsed(use.pin) >= 0; }));
}

int CPins::pulsed(const std::string& pin) const {
  if (!waker()) return -1;
  int place = 0;
  for (const PinUse& use : uses_) {
    if (!use.isPulsed()) continue;
    if (use.pin == pin) return place;
    ++place;
  }
  return -1;
}

void CPins::pulseFunctions(CLines& out, const PinUse& u) const {
  const int place = pulsed(u.pin);
  const bool dimmed = !u.dimmers.empty() && shape(u.pin).pwm;
  const auto function = [&](const char* name, const char* value, const char* does) {
    out.open(fmt::format("{}void {}_{}(float {})", inlined, name, u.pin, value));
    if (place < 0) {
      out.line(fmt::format("(void){};  /* no timer is left for this: all of them dim */", value));
    } else {
      if (dimmed)
        out.line(fmt::format("{} &= (uint8_t)~{};", compareOutputOf(shape(u.pin)).control,
                             compareOutputOf(shape(u.pin)).connect));
      out.line(fmt::format("{}(&pulses[{}], {});", does, place, value));
    }
    out.close();
  };
  if (!u.sounders.empty()) function("sound", "hertz", "sound");
  if (!u.turners.empty()) function("turn", "degrees", "turn_servo");
  const bool ends = std::any_of(u.sounders.begin(), u.sounders.end(),
                                [&](const std::string& step) { return timed_.contains(step); });
  if (u.silencers.empty() && !ends) return;
  out.open(fmt::format("{}void silence_{}(void)", inlined, u.pin));
  out.line(fmt::format("set_{}(LOW);", u.pin));
  out.close();
}

// The share of the supply at an analog pin: level in percent, volts of 5.
void CPins::measureFunction(CLines& out, const GetterKind& getter, const PinUse& u) const {
  out.open(fmt::format("static float {}{}(void)", getter.inC, u.pin));
  if (shape(u.pin).analog) {
    out.line(fmt::format("ADMUX = _BV(REFS0) | {};", port(u.pin).second));
    out.line("ADCSRA = _BV(ADEN) | _BV(ADSC) | _BV(ADPS2) | _BV(ADPS1) | _BV(ADPS0);");
    out.line("while (ADCSRA & _BV(ADSC)) {}");
    out.line(fmt::format("return ADC * {}.0f / 1023;", getter.full));
  } else {
    out.line(
        fmt::format("return read_{}() ? {} : 0;  /* it cannot measure */", u.pin, getter.full));
  }
  out.close();
}

bool CPins::dims(const Chip::Timer& timer) const {
  return std::any_of(uses_.begin(), uses_.end(), [&](const PinUse& use) {
    return !use.dimmers.empty() && shape(use.pin).timer.starts_with(timer.number);
  });
}

const Chip::Timer* CPins::waker() const {
  for (std::size_t t = 1; t < chip_.timers.size(); ++t)
    if (!dims(chip_.timers[t])) return &chip_.timers[t];
  return nullptr;
}

void CPins::startTimers(CLines& out, bool inTurns) const {
  const Chip::Timer* wakes = inTurns ? waker() : nullptr;
  std::vector<const Chip::Timer*> used;
  for (const Chip::Timer& timer : chip_.timers)
    if (dims(timer) || &timer == wakes || (inTurns && &timer == &chip_.timers.front()))
      used.push_back(&timer);
  if (used.empty()) return;
  out.open("static void start_timers(void)");
  if (used.size() > 1) out.line(chip_.holdTimers + ";  /* all wait for each other */");
  for (const Chip::Timer* timer : used) {
    if (dims(*timer)) out.line(fmt::format("TCCR{}A |= {};", timer->number, timer->dims));
    const std::string mode = dims(*timer) && !timer->dimsB.empty() ? timer->dimsB + " | " : "";
    out.line(fmt::format("TCCR{0}B = {1}{2};  /* a tick every {3} microseconds */", timer->number,
                         mode, timer->prescaler, chip_.tickMicroseconds));
    if (inTurns && timer == &chip_.timers.front())
      out.line(fmt::format("TIMSK{0} |= _BV(TOIE{0});", timer->number));
    if (timer == wakes) out.line(fmt::format("TIMSK{0} |= _BV(OCIE{0}A);", timer->number));
  }
  if (used.size() > 1) out.line("GTCCR = 0;");
  out.close();
  out.line("");
}

}  // namespace ignavo
