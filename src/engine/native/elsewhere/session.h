/* A measurement under way: what its steps work on, its clock, and whether it has to end. */
#ifndef NERRIT_SESSION_H
#define NERRIT_SESSION_H

#include <stdatomic.h>
#include <stdint.h>
#include "order.h"
#include "scratch.h"

typedef struct {
  const Place *place;
  const Place *other; /* the other end of a copy; NULL where there is none */
  double reserve;     /* as the order has it */
  int buffered;
  const Measurement *measurement;
  Scratch scratch;
  uint32_t run;   /* tells this measurement's data from others' */
  int repeat;
  double begun;   /* the repeat's first counted moment, milliseconds; below 0: it has not come yet */
  Text line, why; /* a line on its way out; why the measurement failed */
  double left;    /* seconds that steps after this one will take at least */
  const char *doing;
  int is_stuck;   /* the drive does not answer: requests are still in flight, so nothing may be closed */
} Session;

/* The user or the system asked this program to end. */
extern _Atomic int stopping;
/* The folder is no longer there, or is another: 1; of a copy's other end: 2. */
extern _Atomic int gone;
/* Adds that such a folder went away. */
void gone_words(Text *into, const Session *session);

/* Milliseconds on a clock that never goes back. */
double clock_ms(void);
/* Milliseconds since the repeat's first counted moment; 0 before it. */
double session_ms(const Session *session);
/* The first counted moment of a repeat. Later calls change nothing. */
void session_start(Session *session);
/* Something happened (src/core/run/result.ts, RunEvent). */
void session_happened(Session *session, const char *kind, double ms, const char *words);
/* Requests still in flight at the end are waited for so long; then the drive is said not to answer. */
#define PATIENCE_MS 20000.0
/* Notes that a folder's drive does not answer, and adds it to why. */
void stuck_words(Session *session, const Place *place);
/* Writes a sample, in the order of rowOf (src/core/exchange/runs-file.ts) without the target. */
void session_sample(Session *session, size_t step, double from, double ms, double bytes,
                    double written, double requests);
/* Looks once a second, beside the measuring, whether the folders are there and how warm the drive is. */
void watch_begin(const Session *session);
void watch_end(const Session *session);
/* Writes the drive's temperature as a reading, where there is a new one. */
void session_reading(Session *session);
/* Progress as lines also where there is no terminal. */
extern int progress_in_lines;
/* Shows how it goes on one line of a terminal. */
void progress(const Session *session, double mbps, double seconds_left);
void progress_clear(void);

#endif
