#pragma once
#define PROGMEM
#define pgm_read_byte(at) (*(const unsigned char *)(at))
#define pgm_read_ptr(at) (*(const void *const *)(at))
