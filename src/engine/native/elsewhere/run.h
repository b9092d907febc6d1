/* Measures an order on a folder, one measurement after another. */
#ifndef NERRIT_RUN_H
#define NERRIT_RUN_H

#include "order.h"
#include "../system.h"

enum { ALL_DONE, SOME_FAILED, WAS_STOPPED };

/* Says in words what a folder lacks to be measured in; 0 where it lacks nothing. */
int place_refused(int fitness, const char *asked, const Place *place, int buffered, Text *why);
/* Says what will be done to the drive, on the terminal. */
void run_announce(const Order *order, const Place *place);
/* Does it, and writes the run file that is open (out.h). */
int run_order(const Order *order, const Place *place, const Machine *machine);

#endif
