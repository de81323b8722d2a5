#include "make/c_turns.h"

#include <fmt/format.h>

// A turn is 250 microseconds, 62.5 ticks of the clock: turn n begins at tick 62.5 n, rounded up.
// Which one is the next is counted where work may be more than a turn has room for, never measured:
// so the steps of a run count the same (program/turn_work.h).
// The chip sleeps until then; where every timer is needed for dimming it waits awake. A lane is a
// function that is called once a turn and goes on at the line where it stood.
namespace ignavo {

void writeClock(CLines& out, const Chip& chip, bool counted) {
  const char clock = chip.timers.front().number;
  out.line(fmt::format("/* The clock: timer {} ticks every {} microseconds. */", clock,
                       chip.tickMicroseconds));
  out.line("static volatile uint32_t overflows;");
  out.open(fmt::format("ISR(TIMER{}_OVF_vect)", clock));
  out.line("overflows++;");
  out.close();
  out.open("static uint32_t ticks(void)");
  out.line("uint8_t held = SREG;");
  out.line("cli();");
  out.line(fmt::format("uint8_t low = TCNT{};", clock));
  out.line("uint32_t high = overflows;");
  out.line(fmt::format("if ((TIFR{0} & _BV(TOV{0})) && low < 128)", clock));
  out.line("    high++;");
  out.line("SREG = held;");
  out.line("return high << 8 | low;");
  out.close();
  out.line("");
  out.line("/* Turns of 250 microseconds: in each of them every lane may make one step. */");
  out.line("static uint32_t turn_begins;  /* in ticks */");
  if (counted)
    out.line("static uint32_t spent;  /* microseconds of this turn, as they are counted */");
  out.line("");
}

void writeTurns(CLines& out, const Chip::Timer* waker, const CLanes& lanes, const TurnWork& work) {
  if (waker) out.line(fmt::format("EMPTY_INTERRUPT({})  /* wakes the chip */", waker->wakes));
  out.open("static void next_turn(void)");
  const bool sounds = work.counted && lanes.sounding > 0;
  if (work.counted) {
    out.line(fmt::format("spent += {};  /* what every turn takes */", work.turn));
    out.line(fmt::format("{}room = {};", sounds ? "int16_t " : "const uint8_t ", turnMicroseconds));
  }
  if (sounds) {
    out.open(fmt::format("for (uint8_t i = 0; i < {}; i++)", lanes.sounding));
    out.line("if (pulses[i].runs)");
    out.line("    room -= pulses[i].load;");
    out.close();
    out.line(fmt::format("if (room < {})", leastTurnRoom));
    out.line(fmt::format("    room = {};", leastTurnRoom));
  }
  if (work.counted) out.line("/* What takes longer takes whole turns more. */");
  out.open("do");
  out.line("turn++;");
  out.line("turn_begins += turn & 1 ? 63 : 62;");
  if (work.counted)
    out.line(
        fmt::format("spent -= spent < {0} ? spent : {0};", sounds ? "(uint32_t)room" : "room"));
  constexpr int tick = 4;
  out.close(fmt::format(" while ({}(int32_t)(ticks() - turn_begins) >= {});",
                        work.counted ? "spent > 0 || " : "", latestTurnMicroseconds / tick));
  if (waker) {
    const char* type = waker->wide ? "uint16_t" : "uint8_t";
    out.line(fmt::format("OCR{}A = ({})turn_begins;", waker->number, type));
    out.line("cli();");
    out.open("while ((int32_t)(ticks() - turn_begins) < 0)");
    out.line("sleep_enable();");
    out.line("sei();");
    out.line("sleep_cpu();");
    out.line("sleep_disable();");
    out.line("cli();");
    out.close();
    out.line("sei();");
  } else {
    out.line("while ((int32_t)(ticks() - turn_begins) < 0) {}");
  }
  out.close();
  out.line("");
  if (!lanes.any) return;
  out.line("/* A lane goes on where it left off: at the line that it stands in. */");
  out.open("struct lane");
  out.line("uint16_t line;");
  out.line("bool runs;");
  out.line("uint32_t since;  /* the turn from which its next wait counts */");
  out.line("uint32_t wake;");
  out.line("uint8_t queued;  /* how often it is to run again */");
  if (lanes.runOwn) out.line("uint8_t runner;  /* its number among those that run own steps */");
  if (lanes.throwDice) out.line("uint32_t dice;  /* of its random numbers */");
  out.close(";");
  out.line("static bool stepped;  /* had the lane its step in this turn */");
  out.open("static void finish(struct lane *l)");
  out.line("l->line = 0;");
  out.line("l->since = turn + 1;");
  out.line("if (l->queued > 0)");
  out.line("    l->queued--;");
  out.line("else");
  out.line("    l->runs = false;");
  out.close();
  const auto macro = [&](const char* text) { out.line(text); };
  macro(
      "#define BEGIN uint16_t *at = &l->line; if (!l->runs) return; stepped = false; switch (*at) "
      "{ case 0:;");
  if (work.counted) {
    macro("/* A step of so many microseconds. */");
    macro(
        "#define STEP(us) *at = __LINE__; case __LINE__: if (stepped) return; stepped = true; "
        "l->since = turn; spent += us;");
    macro("#define STEP_UNTIL(us, so) do { STEP(us) if (!(so)) return; } while (0)");
  } else {
    macro(
        "#define STEP *at = __LINE__; case __LINE__: if (stepped) return; stepped = true; "
        "l->since = turn;");
    macro("#define STEP_UNTIL(so) do { STEP if (!(so)) return; } while (0)");
  }
  macro(
      "#define WAIT(turns) do { l->wake = l->since + (turns); *at = __LINE__; case __LINE__: "
      "if ((int32_t)(turn - l->wake) < 0) return; l->since = l->wake; } while (0)");
  if (lanes.talk)
    macro(
        "#define SEND_LINE do { end_line(); *at = __LINE__; case __LINE__: if (line_waits) return; "
        "l->since = turn; } while (0)");
  if (lanes.runOwn) {
    macro(
        "#define RUN(own) do { own##_in[l->runner].line = 0; *at = __LINE__; case __LINE__: "
        "own(l); if (own##_in[l->runner].line != 0) return; } while (0)");
    macro("#define BEGIN_OWN uint16_t *at = &o->line; switch (*at) { case 0:;");
    macro("#define END_OWN } o->line = 0");
  }
  macro("#define STOP do { finish(l); return; } while (0)");
  macro("#define END } finish(l)");
  out.line("");
}

void writeStart(CLines& out, const TurnWork& work) {
  out.line("/* What comes while a lane runs is ignored, or it starts over, or it runs again. */");
  out.line("enum again { IGNORE, START_OVER, QUEUE };");
  out.open("static void start(struct lane *l, enum again again)");
  out.open("if (!l->runs || again == START_OVER)");
  out.line("l->runs = true;");
  out.line("l->line = 0;");
  out.line("l->since = turn;");
  if (work.counted) out.line(fmt::format("spent += {};", work.start));
  out.middle("else if (again == QUEUE && l->queued < 8)");
  out.line("l->queued++;");
  out.close();
  out.close();
  out.line("");
}

// The k-th time is k times a number of turns and nanoseconds: both are added up.
void writeEvery(CLines& out) {
  out.line("/* Turns and nanoseconds from time to time, and until the next. */");
  out.open("struct every");
  out.line("uint32_t turns, rest;");
  out.line("uint32_t next, next_rest;");
  out.close(";");
  out.open("static bool is_time(struct every *e)");
  out.line("bool is = false;");
  out.open("while ((int32_t)(turn - e->next) >= (e->next_rest > 0 ? 1 : 0))");
  out.line("is = true;");
  out.line("e->next += e->turns;");
  out.line("e->next_rest += e->rest;");
  out.open("if (e->next_rest >= 250000UL)");
  out.line("e->next_rest -= 250000UL;");
  out.line("e->next++;");
  out.close();
  out.close();
  out.line("return is;");
  out.close();
  out.line("");
}

}  // namespace ignavo
