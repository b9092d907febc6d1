/* What the lanes of a step count, and what of it goes into the run file. */
#ifndef NERRIT_COUNTED_H
#define NERRIT_COUNTED_H

#include "../walk.h"
#include "text.h"

typedef struct {
  double read, written, requests;
} Moved;

typedef struct {
  Walk *walk; /* NULL once it has been joined */
  size_t lanes, block;
  _Atomic int32_t control[CONTROL_WORDS];
  double *totals;
  int32_t *histograms;
  double *faults;
  size_t most_faults;
  Moved moved;        /* in the counted time */
  double start_ms, ms; /* where it begins in its repeat, and how long it is */
  double flush_ms, device_bytes; /* below 0: there was none, or it is not told */
  double processor_us;
  double left_out; /* share of the requests before the rounds that count */
  int rounds, steady; /* how many there were until it was steady, and whether it became so; 0: none */
} Counted;

/* Gets the memory that a walk counts in, and names it in the walk. 0, or ENOMEM. */
int counted_room(Counted *counted, Walk *walk);
void counted_free(Counted *counted);
/* What all lanes have moved so far. */
Moved counted_moved(const Counted *counted);
Moved moved_less(Moved a, Moved b);
/* Adds what was counted as a line of the run file. definition: what the step was, as members of JSON. */
void counted_line(const Counted *counted, Text *line, int repeat, size_t step,
                  const char *definition);

#endif
