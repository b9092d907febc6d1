/*
 * What one event of the kernel's trace tells of a request. It is read from its bytes, by where the trace point's
 * format file says that its fields stand.
 */
#ifndef NERRIT_REQUEST_EVENTS_H
#define NERRIT_REQUEST_EVENTS_H

#include "requests.h"
#include "ring-page.h"

/* An event, as far as it is needed. */
typedef struct {
  uint64_t ns, sector;
  uint32_t sectors, program;
  int kind, flush, done;
} Told;

/* Names of programs, in the order in which they came up. */
typedef struct {
  char (*names)[PROGRAM_NAME];
  size_t count, last;
} Programs;

/* 0, or ENOMEM. */
int programs_make(Programs *programs);

/* Reads an event; 0 where it is of another trace point than these two, or too short to be one. */
int event_told(const EventLayout *start, const EventLayout *done, const RingEvent *event,
               Programs *programs, Told *told);

#endif
