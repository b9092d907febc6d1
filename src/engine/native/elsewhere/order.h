/*
 * What is to be measured: the order file that Nerrit's page writes, or the same made of options (drills.h).
 * Steps are those of src/core/run/program.ts, with its bounds.
 */
#ifndef NERRIT_ORDER_H
#define NERRIT_ORDER_H

#include <stddef.h>
#include <stdint.h>
#include "text.h"

enum { FLOW, REST, CHECK, COPY };
/* What is done with the source of a copy before it is counted. */
enum { COLD, WARMED, AS_IT_IS };

/* So many files of one size. */
typedef struct {
  double files, bytes;
} MixEntry;

typedef struct {
  int from, to; /* 0 the folder to measure in, 1 the copy's other end; below 0: that side is left out */
  MixEntry *mix; /* files to make up; NULL: those of the folder */
  size_t mix_count;
  uint32_t seed;
  int source, verify, keep;
} Copy;

typedef struct {
  int kind;
  Text label; /* as JSON */
  double write_share;
  int random;
  uint64_t block, depth, first, span;
  double seconds;  /* 0: it does not end by time */
  double bytes;    /* below 0: it does not end by bytes */
  double least_requests, lead_in, compressible;
  double round_seconds; /* goes on in rounds of so many until five are steady; 0: it does not */
  int most_rounds;
  int flushes, counts_flush, laid_out;
  Copy copy;
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
/* Whether some step copies from a second folder, to one, or both. */
enum { NO_OTHER, FROM_OTHER, TO_OTHER, BOTH_WAYS };
int measurement_other(const Measurement *measurement);
int order_other(const Order *order);
/* The seconds that it takes at least. */
double measurement_seconds(const Measurement *measurement);
/* Bytes that it writes at most; below 0 where some of it ends by time alone. */
double measurement_written(const Measurement *measurement);

#endif
