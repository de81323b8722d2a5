#pragma once
#define ISR(vector)  \
  void vector(void); \
  void vector(void)
#define EMPTY_INTERRUPT(vector) \
  ISR(vector) {}
#define cli() ((void)0)
#define sei() host_serial()
