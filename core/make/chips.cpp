#include "make/chips.h"

namespace ignavo {

const Chip* chip(const std::string& name) {
  // ATmega328P data sheet: 15 (timer 0), 16 (timer 1), 18 (timer 2), 17 (prescalers),
  // 20 (serial unit).
  static const std::vector<Chip> chips = {
      {"atmega328p",
       16'000'000,
       {{'0', false, "_BV(CS01) | _BV(CS00)", "_BV(WGM01) | _BV(WGM00)", "", "TIMER0_COMPA_vect",
         "TIMER0_COMPB_vect"},
        {'1', true, "_BV(CS11) | _BV(CS10)", "_BV(WGM10)", "_BV(WGM12)", "TIMER1_COMPA_vect",
         "TIMER1_COMPB_vect"},
        {'2', false, "_BV(CS22)", "_BV(WGM21) | _BV(WGM20)", "", "TIMER2_COMPA_vect",
         "TIMER2_COMPB_vect"}},
       "GTCCR = _BV(TSM) | _BV(PSRASY) | _BV(PSRSYNC)",
       4,
       true,
       "USART_UDRE_vect",
       "USART_RX_vect"}};
  for (const Chip& c : chips)
    if (c.name == name) return &c;
  return nullptr;
}

}  // namespace ignavo
