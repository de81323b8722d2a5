#pragma once
/* The chip's registers on the machine that runs the tests, as far as generated programs use them.
   Time passes only where the chip sleeps, a tick of the clock each time; what the ports give at the
   end of each turn is printed where it changes. */
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>

#define _BV(bit) (1u << (bit))

static uint32_t host_tick;
static uint8_t host_ports[26], host_directions[26], host_scratch;
uint8_t host_input(uint32_t tick, char port);
void host_keys(uint32_t tick);

static uint8_t host_pins(char port) {
  uint8_t outputs = host_directions[port - 'A'];
  return (uint8_t)((host_ports[port - 'A'] & outputs) | (host_input(host_tick, port) & ~outputs));
}
#define PORTB host_ports[1]
#define PORTC host_ports[2]
#define PORTD host_ports[3]
#define DDRB host_directions[1]
#define DDRC host_directions[2]
#define DDRD host_directions[3]
#define PINB host_pins('B')
#define PINC host_pins('C')
#define PIND host_pins('D')

/* Measuring is done at once; every pin gives the same. */
static uint8_t host_adcsra;
static uint8_t* host_measure(void) {
  host_adcsra &= (uint8_t)~_BV(6);
  return &host_adcsra;
}
#define ADCSRA (*host_measure())
#define ADMUX host_scratch
#define ADC HOST_ADC
#define ADEN 7
#define ADSC 6
#define ADPS2 2
#define ADPS1 1
#define ADPS0 0
#define REFS0 6

/* The serial unit: what is sent is printed, line after line; what comes is told by the test. */
static uint8_t UCSR0B, UDR0;
static uint16_t UBRR0;
#define UDRIE0 5
#define TXEN0 3
#define RXEN0 4
#define RXCIE0 7
__attribute__((weak)) void USART_UDRE_vect(void);
__attribute__((weak)) void USART_RX_vect(void);
static struct {
  int full, busy;
  uint8_t held, sent;
  uint32_t until;
} host_line;
static void host_serial(void) {
  static char text[400];
  static int length;
  (void)UBRR0;
  for (;;) {
    if (host_line.busy && (int32_t)(host_tick - host_line.until) >= 0) {
      host_line.busy = 0;
      if (host_line.sent == '\n') {
        printf("said %.*s\n", length, text);
        length = 0;
      } else if (length < (int)sizeof text) {
        text[length++] = (char)host_line.sent;
      }
    }
    if (!host_line.busy && host_line.full) {
      host_line.busy = 1;
      host_line.full = 0;
      host_line.sent = host_line.held;
      /* Letter follows letter without a gap. */
      host_line.until = ((int32_t)(host_tick - host_line.until) <= 0 ? host_line.until : host_tick) + 65;
    }
    if (host_line.full || !(UCSR0B & _BV(UDRIE0))) return;
    USART_UDRE_vect();
    if (!(UCSR0B & _BV(UDRIE0))) return;
    host_line.full = 1;
    host_line.held = UDR0;
  }
}
static void host_hears(char c) {
  UDR0 = (uint8_t)c;
  if (UCSR0B & _BV(RXCIE0)) USART_RX_vect();
}

/* Timers: the first one is the clock, the others count along. */
#define TCNT0 ((uint8_t)host_tick)
#define TCNT1 ((uint16_t)host_tick)
#define TCNT2 ((uint8_t)host_tick)
#define SREG host_scratch
#define GTCCR host_scratch
#define TSM 7
#define PSRASY 1
#define PSRSYNC 0
#define TCCR0B host_scratch
#define TCCR1B host_scratch
#define TCCR2B host_scratch
#define TIMSK0 host_scratch
static uint8_t host_timsk1;
#define TIMSK1 host_timsk1
#define OCIE1B 2
#define TIMSK2 host_scratch
static uint8_t host_tifr0; /* the clock is never late here */
#define TIFR0 host_tifr0
#define TOV0 0
#define TOIE0 0
#define OCIE1A 1
#define OCIE2A 1
#define CS00 0
#define CS01 1
#define CS10 0
#define CS11 1
#define CS22 2
static uint16_t OCR1A, OCR1B, OCR2A;
