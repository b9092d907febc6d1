/* Reads one step of an order, within its bounds. */
#ifndef NERRIT_ORDER_STEP_H
#define NERRIT_ORDER_STEP_H

#include "json.h"
#include "order.h"

/* Where in an order it is read, and what makes no sense there. */
typedef struct {
  Text *why;
  size_t measurement, step;
} OrderPlace;

/* Says once what makes no sense, and where. Returns 0. */
int order_refuse(OrderPlace *place, const char *name, const char *wrong);
/* A number within its bounds, or the usual one where it is left out. 0 where it makes no sense. */
int order_number(OrderPlace *place, const Json *object, const char *name, double usual, double least,
                 double most, int whole, double *into);
/* Reads a step out of its JSON, which stands in text. 0 where it makes no sense. */
int order_step(OrderPlace *place, const char *text, const Json *json, Step *step);

#endif
