/*
 * What is to be measured: the order file that Nerrit's page writes, or the same made of options (drills.h).
 * Steps are those of src/core/run/program.ts, with its bounds.
 */
#ifndef NERRIT_ORDER_H
#define NERRIT_ORDER_H

#include <stddef.h>
#include <stdint.h>
#include "text.h"

enum { FLOW, REST, CHECK };

typedef struct {
  int kind;
  Text label; /* as JSON */
  double write_share;
  int random;
  uint64_t block, depth, first, span;
  double seconds;  /* 0: it does not end by time */
  double bytes;    /* below 0: it does not end by bytes */
  double least_requests, lead_in, compressible;
  int flushes, counts_flush, laid_out;
  uint32_t generation; /* 0: what is written need not be told apart */
} Step;

typedef struct {
  Text drill; /* as JSON */
  int repeats;
  Step *steps;
  size_t count;
} Measurement;

typedef struct {
  char *rig;
  int buffered;
  double reserve; /* bytes to leave free; below 0: the larger of 2 % and 1 GiB */
  double rest_seconds; /* before each further repeat and measurement */
  Measurement *measurements;
  size_t count;
} Order;

/* Reads an order. 0, or why it makes no sense. */
int order_read(const char *text, size_t length, Order *order, Text *why);
void order_free(Order *order);

/* The shortest file that holds everything a measurement walks over, and how much of it is written first. */
uint64_t measurement_span(const Measurement *measurement);
uint64_t measurement_laid_out(const Measurement *measurement);
/* The seconds that it takes at least. */
double measurement_seconds(const Measurement *measurement);
/* Bytes that it writes at most; below 0 where some of it ends by time alone. */
double measurement_written(const Measurement *measurement);

#endif
