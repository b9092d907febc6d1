/* Request times in buckets no wider than 1/64 of the time: those of src/core/stats/histogram.ts. */
#ifndef NERRIT_HISTOGRAM_H
#define NERRIT_HISTOGRAM_H

#include <stdint.h>

#define BUCKETS 4096

static inline int32_t bucket_bits(uint32_t value) {
  if (value < 64) return (int32_t)value;
  int top = 31 - __builtin_clz(value);
  return (top - 5) * 64 + (int32_t)((value >> (top - 6)) & 63);
}

/* The bucket of a time in nanoseconds; above 2^31 they are counted in 1024 ns. */
static inline int32_t bucket_of(uint64_t ns) {
  if (ns < 2147483648ull) return bucket_bits((uint32_t)ns);
  uint64_t coarse = ns / 1024;
  return 32 * 64 + bucket_bits(coarse < 2147483647ull ? (uint32_t)coarse : 2147483647u);
}

#endif
