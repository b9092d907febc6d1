/* Goes on in rounds until five are steady; only those five count, as src/engine/steps/rounds.ts has it. */
#ifndef NERRIT_ROUNDS_H
#define NERRIT_ROUNDS_H

#include "counted.h"

#define MOST_ROUNDS 1000

typedef struct {
  double seconds; /* of a round; 0: there are none */
  int most, count, reached;
  double means[MOST_ROUNDS];
  /* Where each round ended: milliseconds of the counted time, and what had moved by then. */
  double at[MOST_ROUNDS];
  Moved moved[MOST_ROUNDS];
} Rounds;

/*
 * Whether the last five figures are steady (src/core/stats/steady.ts): they lie within 20 % of their mean,
 * and the line through them rises or falls by no more than 10 % of it.
 */
int is_steady(const double *figures, int count);
/* Takes in what had moved by a moment of the counted time. Whether it is time to end. */
int rounds_over(Rounds *rounds, double ms, Moved moved);
/* Leaves of what was counted the last five rounds. */
void rounds_cut(const Rounds *rounds, Counted *counted);

#endif
