#include "make/c_pulses.h"

#include <fmt/format.h>

// A timer's second compare interrupt makes the edges of all such pins. Each knows when its next one
// is due, in 256ths of a tick; the interrupt makes those that are due and asks to be called for the
// soonest of the others. The timer counts in step with the clock, so its count is the lower part of
// the clock's.
namespace ignavo {

void writePulses(CLines& out, const Chip::Timer& clock, const Chip::Timer& timer,
                 const std::vector<CPulsedPin>& pins, bool sounds, bool turns,
                 const TurnWork& work) {
  const char n = timer.number;
  out.line(
      fmt::format("/* Tones and servo pulses: timer {} makes their edges beside the lanes. */", n));
  out.open("struct pulses");
  out.line("volatile uint8_t *port;");
  out.line("uint8_t bit;");
  out.line("volatile bool runs;");
  out.line("bool servo, high;");
  out.line("uint32_t rise, edge;  /* of the last pulse, and the next; in 256ths of a tick */");
  out.line("uint32_t width, period, next_width;");
  if (work.counted) out.line("uint16_t load;  /* microseconds of each turn that its edges take */");
  out.close(";");
  out.open("static struct pulses pulses[] =");
  for (const CPulsedPin& pin : pins)
    out.line(fmt::format("{{.port = &{}, .bit = _BV({})}},", pin.port, pin.bit));
  out.close(";");
  const char* const count = timer.wide ? "uint16_t" : "uint8_t";
  out.line("/* Called where nothing interrupts it. */");
  out.open("static void make_edges(void)");
  out.line(fmt::format("{} due;", count));
  out.line("bool any;");
  out.open("do");
  out.line("/* With many edges the clock's own interrupt would have to wait too long. */");
  out.open(fmt::format("if (TIFR{0} & _BV(TOV{0}))", clock.number));
  out.line(fmt::format("TIFR{0} = _BV(TOV{0});", clock.number));
  out.line("overflows++;");
  out.close();
  out.line("uint32_t now = ticks() << 8;");
  out.line(fmt::format("uint32_t soonest = {}UL << 8;", timer.wide ? "30000" : "100"));
  out.line("any = false;");
  out.open(fmt::format("for (uint8_t i = 0; i < {}; i++)", pins.size()));
  out.line("struct pulses *p = &pulses[i];");
  out.line("if (!p->runs)");
  out.line("    continue;");
  out.line("any = true;");
  out.line("int32_t left = (int32_t)(p->edge - now);");
  out.open("if (left <= 0)");
  out.open("if (p->high)");
  out.line("*p->port &= (uint8_t)~p->bit;");
  out.line("p->edge = p->rise + p->period;");
  out.middle("else");
  out.line("*p->port |= p->bit;");
  out.line("p->rise = p->edge;");
  out.line("p->width = p->next_width;");
  out.line("p->edge = p->rise + p->width;");
  out.close();
  out.line("p->high = !p->high;");
  out.line("left = (int32_t)(p->edge - now);");
  out.line("if (left < 0)");
  out.line("    left = 0;");
  out.close();
  out.line("if ((uint32_t)left < soonest)");
  out.line("    soonest = (uint32_t)left;");
  out.close();
  out.line(fmt::format("due = ({})((now + soonest + 255) >> 8);", count));
  out.line(fmt::format("OCR{}B = due;", n));
  out.close(fmt::format(" while (any && ({})(TCNT{} - due) >= 0);",
                        timer.wide ? "int16_t" : "int8_t", n));
  out.line("if (!any)");
  out.line(fmt::format("    TIMSK{0} &= (uint8_t)~_BV(OCIE{0}B);", n));
  out.close();
  out.open(fmt::format("ISR({})", timer.edges));
  out.line("make_edges();");
  out.close();
  out.open("static void begin_pulses(struct pulses *p, uint32_t width, uint32_t period)");
  out.line("*p->port |= p->bit;");
  out.line("p->rise = turn * 16000;  /* of these in a turn */");
  out.line("p->width = p->next_width = width;");
  out.line("p->period = period;");
  out.line("p->edge = p->rise + width;");
  out.line("p->high = p->runs = true;");
  out.line(fmt::format("TIMSK{0} |= _BV(OCIE{0}B);", n));
  out.close();
  if (sounds) {
    out.open("static void sound(struct pulses *p, float hertz)");
    out.open("if (!(hertz >= 1))");
    out.line("p->runs = false;");
    out.line("*p->port &= (uint8_t)~p->bit;");
    out.line("return;");
    out.close();
    out.line("uint32_t width = (uint32_t)(32000000.0f / (hertz > 10000 ? 10000 : hertz) + 0.5f);");
    if (work.counted) {
      // As loadOf() has it.
      const auto edge = static_cast<std::uint32_t>(work.edge);
      out.line(fmt::format("p->load = width < {}UL ? {} / (uint16_t)(width / {}) : 0;",
                           partsOfTurn * edge, partsOfTurn / loadScale * edge, loadScale));
    }
    out.line("cli();");
    out.open("if (!p->runs || p->servo)");
    out.line("p->servo = false;");
    out.line("begin_pulses(p, width, 2 * width);");
    out.middle("else if (p->width != width)");
    out.line("p->width = p->next_width = width;");
    out.line("p->period = 2 * width;");
    out.line("p->edge = p->rise + (p->high ? width : 2 * width);");
    out.line("int32_t late = (int32_t)(turn * 16000 - p->edge);");
    out.open("if (late > 0)");
    out.line("p->rise += (uint32_t)late;");
    out.line("p->edge += (uint32_t)late;");
    out.close();
    out.close();
    out.line("make_edges();");
    out.line("sei();");
    out.close();
  }
  if (turns) {
    out.open("static void turn_servo(struct pulses *p, float degrees)");
    out.line("if (!(degrees >= 0))");
    out.line("    degrees = 0;");
    out.line("if (degrees > 180)");
    out.line("    degrees = 180;");
    out.line("uint32_t width = (uint32_t)(degrees * (64000.0f / 180) + 64000.5f);");
    out.line("cli();");
    out.open("if (p->runs && p->servo)");
    out.line("p->next_width = width;");
    out.middle("else");
    out.line("p->servo = true;");
    if (work.counted && sounds) out.line("p->load = 0;");
    out.line("begin_pulses(p, width, 1280000UL);");
    out.close();
    out.line("make_edges();");
    out.line("sei();");
    out.close();
  }
  out.line("");
}

}  // namespace ignavo
