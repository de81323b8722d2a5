#pragma once
#include <avr/io.h>

#define sleep_enable() ((void)0)
#define sleep_disable() ((void)0)

void TIMER0_OVF_vect(void);
__attribute__((weak)) void TIMER1_COMPB_vect(void);

/* Once in each turn, when its work is done: what changed is printed. Then a tick passes. */
static void sleep_cpu(void) {
  static uint32_t shown_turn = UINT32_MAX;
  static uint8_t before[26];
  uint32_t now = 2 * host_tick / 125;
  (void)OCR1A, (void)OCR2A;
  if (shown_turn != now) {
    shown_turn = now;
    for (int port = 0; port < 26; port++)
      for (int bit = 0; bit < 8; bit++)
        if ((before[port] ^ host_ports[port]) & host_directions[port] & _BV(bit))
          printf("%u P%c%d %d\n", (unsigned)now, 'A' + port, bit,
                 (host_ports[port] & _BV(bit)) != 0);
    for (int port = 0; port < 26; port++) before[port] = host_ports[port];
    if (now >= HOST_TURNS) exit(0);
  }
  if ((uint8_t)++host_tick == 0) TIMER0_OVF_vect();
  host_serial();
  host_keys(host_tick);
  if ((host_timsk1 & _BV(OCIE1B)) && (uint16_t)host_tick == OCR1B) TIMER1_COMPB_vect();
}
