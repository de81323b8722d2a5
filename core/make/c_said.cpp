#include "make/c_said.h"

#include <fmt/format.h>

#include <algorithm>

#include "program/said.h"
#include "program/turn_work.h"
#include "text/plain.h"

// A line is put together in full, then moves into the buffer as there is room; from there the
// serial unit's interrupt takes letter after letter.
namespace ignavo {

std::string cString(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    // Three digits of eight, so that no digit behind it is taken along; no trigraphs.
    if (byte < 0x20 || byte > 0x7E || c == '"' || c == '\\' || c == '?')
      out += fmt::format("\\{:03o}", byte);
    else
      out += c;
  }
  return out + "\"";
}

namespace {

constexpr int letterMicroseconds = letterNanoseconds / 1000;

void writeTexts(CLines& out, const std::vector<std::string>& texts) {
  for (std::size_t i = 0; i < texts.size(); ++i)
    out.line(fmt::format("static const char text{}[] PROGMEM = {};", i,
                         cString(firstLetters(texts[i], lineLetters))));
  std::string all;
  for (std::size_t i = 0; i < texts.size(); ++i)
    all += (i > 0 ? ", " : "") + fmt::format("text{}", i);
  out.line("static const char *const texts[] PROGMEM = {" + all + "};");
  out.line("");
}

void lines(CLines& out, const std::vector<std::string>& all) {
  for (const std::string& text : all) out.line(text);
  out.line("");
}

void writeSaid(CLines& out, const std::set<std::string>& used, std::size_t longest) {
  out.line("/* The line that is put together; then it waits until all of it is in the buffer. */");
  out.line(fmt::format("static char said[{}];", longest));
  lines(out, {"static uint16_t said_length, said_sent;", "static uint8_t said_letters, said_items;",
              "static bool line_waits;", "static void put(char c) {",
              "    if (said_length < sizeof said - 1)", "        said[said_length++] = c;", "}",
              "APART static void put_text(const char *text) {", "    while (*text)",
              "        put(*text++);", "}"});
  lines(out,
        {"/* Letters that are more than one byte count once; behind the last one none is taken. */",
         "static void letter(char c) {", "    if ((c & 0xC0) != 0x80 && said_letters <= 60)",
         "        said_letters++;", "    if (said_letters <= 60)", "        put(c);", "}",
         "static void next_item(void) {", "    if (said_items++ > 0)", "        letter(' ');",
         "    else", "        put(' ');", "}"});
  lines(out, {"APART static void digits(char *text, uint32_t number) {", "    uint8_t length = 0;",
              "    do {", "        for (uint8_t i = ++length; i > 0; i--)",
              "            text[i] = text[i - 1];", "        text[0] = (char)('0' + number % 10);",
              "        number /= 10;", "    } while (number > 0);", "}"});
  lines(out,
        {"APART static void begin_line(char kind, uint32_t number) {", "    char text[11] = {0};",
         "    said_length = said_sent = 0;", "    said_letters = said_items = 0;", "    put(kind);",
         "    digits(text, number);", "    put_text(text);",
         fmt::format("    spent += {}UL * strlen(text);", microsecondsOfDigit), "}"});
  const bool note = used.contains("note_seconds"), real = note || used.contains("say_real");
  if (real)
    lines(out,
          {"/* A float with up to six digits: m * 2^e, the power of two worked off by doubling or",
           "   halving, with a tenth or ten times of it wherever there is room for neither. */",
           "APART static void real_text(char *text, float number) {",
           "    uint32_t bits;",
           "    memcpy(&bits, &number, sizeof bits);",
           "    int16_t exponent = (int16_t)(bits >> 23 & 0xFF);",
           "    uint64_t m = bits & 0x7FFFFF;",
           "    int16_t tens = 0;",
           "    if (number != number) {",
           "        strcpy(text, \"nan\");",
           "        return;",
           "    }",
           "    if (bits >> 31 && (exponent > 0 || m > 0))",
           "        *text++ = '-';",
           "    if (exponent == 255) {",
           "        strcpy(text, \"inf\");",
           "        return;",
           "    }",
           "    if (exponent > 0)",
           "        m |= 0x800000;",
           "    else",
           "        exponent = 1;",
           "    if (m == 0) {",
           "        strcpy(text, \"0\");",
           "        return;",
           "    }",
           "    exponent -= 150;",
           fmt::format(
               "    spent += (uint32_t)(exponent < 0 ? {} - {} * exponent : {} + {} * exponent);",
               microsecondsOfSmall, microsecondsOfHalf, microsecondsOfLarge, microsecondsOfDouble),
           "    for (; exponent > 0; exponent--) {",
           "        if (m >= (uint64_t)1 << 60) {",
           "            m /= 10;",
           "            tens++;",
           "        }",
           "        m *= 2;",
           "    }",
           "    for (; exponent < 0; exponent++) {",
           "        while (m < (uint64_t)1 << 57) {",
           "            m *= 10;",
           "            tens--;",
           "        }",
           "        m /= 2;",
           "    }",
           "    for (; m >= 10000000; m /= 10)",
           "        tens++;",
           "    for (; m < 1000000; m *= 10)",
           "        tens--;",
           "    uint32_t six = ((uint32_t)m + 5) / 10;",
           "    tens++;",
           "    if (six == 1000000) {",
           "        six = 100000;",
           "        tens++;",
           "    }",
           "    for (; six % 10 == 0; six /= 10)",
           "        tens++;",
           "    char all[11] = {0};",
           "    digits(all, six);",
           "    int16_t length = (int16_t)strlen(all), point = length + tens;",
           "    if (point > 6 || point < -3) {",
           "        *text++ = all[0];",
           "        if (length > 1)",
           "            *text++ = '.';",
           "        strcpy(text, all + 1);",
           "        text += length - 1;",
           "        int16_t power = point - 1;",
           "        *text++ = 'e';",
           "        *text++ = power < 0 ? '-' : '+';",
           "        if (power < 0)",
           "            power = -power;",
           "        *text++ = (char)('0' + power / 10);",
           "        *text++ = (char)('0' + power % 10);",
           "        *text = 0;",
           "        return;",
           "    }",
           "    if (point <= 0) {",
           "        *text++ = '0';",
           "        *text++ = '.';",
           "        for (; point < 0; point++)",
           "            *text++ = '0';",
           "    }",
           "    for (int16_t i = 0; i < length; i++) {",
           "        if (i > 0 && i == point)",
           "            *text++ = '.';",
           "        *text++ = all[i];",
           "    }",
           "    for (; tens > 0; tens--)",
           "        *text++ = '0';",
           "    *text = 0;",
           "}"});
  if (note)
    lines(out, {"static void note_seconds(float seconds) {", "    char text[16] = {0};",
                "    real_text(text, seconds);", "    put(' ');", "    put_text(text);", "}"});
  if (used.contains("say_real") || used.contains("say_whole") || used.contains("say_truth"))
    lines(out, {"APART static void item_text(const char *text) {", "    next_item();",
                "    while (*text)", "        letter(*text++);", "}"});
  if (used.contains("say_real"))
    lines(out, {"APART static void say_real(float number) {", "    char text[16] = {0};",
                "    real_text(text, number);", "    item_text(text);", "}"});
  if (used.contains("say_whole"))
    lines(out,
          {"APART static void say_whole(int32_t number) {", "    char text[12] = {0};",
           "    if (number < 0)", "        text[0] = '-';",
           "    digits(text + (number < 0), number < 0 ? -(uint32_t)number : (uint32_t)number);",
           fmt::format("    spent += {}UL * strlen(text);", microsecondsOfDigit),
           "    item_text(text);", "}"});
  if (used.contains("say_truth"))
    lines(out,
          {"static void say_truth(bool so) {", "    item_text(so ? \"true\" : \"false\");", "}"});
  if (used.contains("say_text"))
    lines(out,
          {"APART static void say_text(uint16_t number) {",
           "    const char *text = (const char *)pgm_read_ptr(&texts[number]);", "    next_item();",
           "    for (char c; (c = (char)pgm_read_byte(text)) != 0; text++)", "        letter(c);",
           "}"});
}

}  // namespace

void writeLine(CLines& out, const Chip& chip, const std::vector<std::string>& keys,
               const std::set<std::string>& used, const std::vector<std::string>& texts) {
  out.line("/* The line to the computer, 38,400 bits a second: see docs/serial.md. */");
  bool says = false;
  for (const std::string& name : used) says = says || name.starts_with("say_");
  if (used.contains("say_text")) writeTexts(out, texts);
  if (says) {
    out.line(
        "/* The compiler leaves them apart: then each takes as long wherever it is called. */");
    out.line("#define APART __attribute__((noinline, noclone))");
    // Letters outside of ASCII take up to four bytes.
    bool wide = false;
    for (const std::string& text : texts) wide = wide || letterCount(text) != text.size();
    constexpr std::size_t header = 32;
    writeSaid(out, used, header + lineLetters * (wide ? 4 : 1));
  }
  out.line(fmt::format("static volatile uint8_t buffer_first, buffer_count;"));
  out.line(fmt::format("static volatile char buffer[{}];", lineBuffer));
  out.open(fmt::format("ISR({})", chip.lineEmpty));
  out.line("if (buffer_count == 0) {");
  out.line("    UCSR0B &= (uint8_t)~_BV(UDRIE0);");
  out.line("    return;");
  out.line("}");
  out.line("UDR0 = (uint8_t)buffer[buffer_first];");
  out.line(fmt::format("buffer_first = (buffer_first + 1) % {};", lineBuffer));
  out.line("buffer_count--;");
  out.close();
  if (says)
    out.line("static uint32_t line_until;  /* when all of it is gone, in counted microseconds */");
  out.open("static void move_line(void)");
  if (says) {
    out.line(fmt::format("uint32_t now = turn * {};", turnMicroseconds));
    out.line("if ((int32_t)(line_until - now) < 0)");
    out.line("    line_until = now;");
    out.open("while (said_sent < said_length)");
    out.line("cli();");
    out.line(fmt::format("bool full = (int32_t)(line_until - now) > {}L || buffer_count == {};",
                         (lineBuffer - 1) * letterMicroseconds, lineBuffer));
    out.open("if (!full)");
    out.line(
        fmt::format("buffer[(buffer_first + buffer_count) % {}] = said[said_sent++];", lineBuffer));
    out.line("buffer_count++;");
    out.line("UCSR0B |= _BV(UDRIE0);");
    out.line(fmt::format("line_until += {};", letterMicroseconds));
    out.close();
    out.line("sei();");
    out.line("if (full)");
    out.line("    return;");
    out.close();
    out.line("line_waits = false;");
  }
  out.close();
  if (says)
    lines(out, {"static void end_line(void) {", "    put('\\n');",
                fmt::format("    spent += {} * (uint32_t)said_length;", microsecondsOfLetter),
                fmt::format("    uint32_t now = turn * {} + spent;", turnMicroseconds),
                "    if ((int32_t)(line_until - now) < 0)", "        line_until = now;",
                "    line_waits = true;", "    move_line();", "}"});
  if (!keys.empty()) {
    std::string names;
    for (const std::string& key : keys) names += (names.empty() ? "" : ", ") + cString(key);
    out.line("/* Keys: \"+space\" when it goes down, \"-space\" when it comes up. */");
    out.line(fmt::format("static const char *const key_names[{}] = {{{}}};", keys.size(), names));
    out.line(fmt::format("static volatile bool key_held[{0}], key_struck[{0}];", keys.size()));
    out.open(fmt::format("ISR({})", chip.lineHears));
    out.line("static char heard[9];");
    out.line("static uint8_t length;");
    out.line("char c = (char)UDR0;");
    out.open("if (c != '\\n')");
    out.line("if (length < 8)");
    out.line("    heard[length] = c;");
    out.line("if (length < 9)");
    out.line("    length++;");
    out.line("return;");
    out.close();
    out.line("heard[length < 8 ? length : 8] = 0;");
    out.open(fmt::format("for (uint8_t i = 0; i < {}; i++)", keys.size()));
    out.line("if (length < 2 || length > 8 || strcmp(heard + 1, key_names[i]) != 0)");
    out.line("    continue;");
    out.line("bool down = heard[0] == '+';");
    out.line("if (down && !key_held[i])");
    out.line("    key_struck[i] = true;");
    out.line("key_held[i] = down;");
    out.close();
    out.line("length = 0;");
    out.close();
    out.line("");
  }
  out.open("static void start_line(void)");
  out.line("UBRR0 = 25;");
  out.line(
      fmt::format("UCSR0B = _BV(TXEN0) | _BV(RXEN0){};", keys.empty() ? "" : " | _BV(RXCIE0)"));
  out.close();
  out.line("");
}

}  // namespace ignavo
