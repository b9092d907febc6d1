/* Numbers that the same seed gives again, as seeded (src/core/simulate/noise.ts) does. */
#ifndef NERRIT_CHANCE_H
#define NERRIT_CHANCE_H

#include <stdint.h>

/* The next number, from 0 to below 1. */
static inline double chance(uint32_t *state) {
  uint32_t mixed = *state += 0x6d2b79f5u;
  mixed = (mixed ^ mixed >> 15) * (mixed | 1);
  mixed ^= mixed + (mixed ^ mixed >> 7) * (mixed | 61);
  return (double)(mixed ^ mixed >> 14) / 4294967296.0;
}

#endif
