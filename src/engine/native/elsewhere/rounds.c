#include "rounds.h"

#include <math.h>

#define WINDOW 5
#define RANGE 0.2
#define SLOPE 0.1

int is_steady(const double *figures, int count) {
  if (count < WINDOW) return 0;
  const double *last = figures + count - WINDOW, middle = (WINDOW - 1) / 2.0;
  double mean = 0, least = INFINITY, most = -INFINITY, rise = 0, spread = 0;
  for (int i = 0; i < WINDOW; i++) {
    mean += last[i] / WINDOW;
    least = fmin(least, last[i]);
    most = fmax(most, last[i]);
    rise += (i - middle) * last[i];
    spread += (i - middle) * (i - middle);
  }
  return mean > 0 && most - least <= RANGE * mean &&
         fabs(rise / spread) * (WINDOW - 1) <= SLOPE * mean;
}

int rounds_over(Rounds *rounds, double ms, Moved moved) {
  if (rounds->seconds <= 0) return 0;
  int count = rounds->count;
  double from = count > 0 ? rounds->at[count - 1] : 0;
  if (ms - from < rounds->seconds * 1e3) return 0;
  Moved since = moved_less(moved, count > 0 ? rounds->moved[count - 1] : (Moved){0, 0, 0});
  rounds->means[count] = (since.read + since.written) / (ms - from);
  rounds->at[count] = ms;
  rounds->moved[count] = moved;
  rounds->count = count + 1;
  rounds->reached = is_steady(rounds->means, rounds->count);
  return rounds->reached || rounds->count >= rounds->most;
}

void rounds_cut(const Rounds *rounds, Counted *counted) {
  counted->rounds = rounds->count;
  counted->steady = rounds->reached;
  if (rounds->count <= WINDOW) return;
  double from = rounds->at[rounds->count - 1 - WINDOW], all = counted->moved.requests;
  counted->start_ms += from;
  counted->ms -= from;
  counted->moved = moved_less(counted->moved, rounds->moved[rounds->count - 1 - WINDOW]);
  counted->left_out = all > 0 ? 1 - counted->moved.requests / all : 0;
}
