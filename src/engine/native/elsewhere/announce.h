/* Says what an order will do to a drive, on the terminal, before it is done. */
#ifndef NERRIT_ANNOUNCE_H
#define NERRIT_ANNOUNCE_H

#include "../system.h"
#include "order.h"

/* other: the second folder of a copy; NULL where there is none. */
void announce(const Order *order, const Place *place, const Place *other);

#endif
