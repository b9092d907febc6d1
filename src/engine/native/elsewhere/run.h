/* Measures an order on a folder, one measurement after another. */
#ifndef NERRIT_RUN_H
#define NERRIT_RUN_H

#include "order.h"
#include "../system.h"

enum { ALL_DONE, SOME_FAILED, WAS_STOPPED };

/* Says in words what a folder lacks to be measured in; 0 where it lacks nothing. */
int place_refused(int fitness, const char *asked, const Place *place, int buffered, Text *why);
/* Does it, and writes the run file that is open (out.h). other: of a copy, NULL where there is none. */
int run_order(const Order *order, const Place *place, const Place *other, const Machine *machine);

#endif
