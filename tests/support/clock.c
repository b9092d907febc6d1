/*
 * A system clock that is set back by an hour while a program runs: loaded before the C library, it
 * changes what the clock of the day answers, and leaves the monotonic one alone.
 *
 * CLOCK_JUMPS_AFTER: seconds of a process's life after which the clock jumps.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <stdlib.h>
#include <sys/time.h>
#include <time.h>

static int (*real_clock)(clockid_t, struct timespec *);
static double begun, after;

static double monotonic(void) {
  struct timespec now;
  real_clock(CLOCK_MONOTONIC, &now);
  return now.tv_sec + now.tv_nsec / 1e9;
}

__attribute__((constructor)) static void begin(void) {
  real_clock = (int (*)(clockid_t, struct timespec *))dlsym(RTLD_NEXT, "clock_gettime");
  const char *text = getenv("CLOCK_JUMPS_AFTER");
  after = text ? atof(text) : 1e9;
  begun = monotonic();
}

static time_t back(void) { return monotonic() - begun > after ? 3600 : 0; }

int clock_gettime(clockid_t which, struct timespec *now) {
  if (!real_clock) begin();
  int status = real_clock(which, now);
  if (which == CLOCK_REALTIME || which == CLOCK_REALTIME_COARSE) now->tv_sec -= back();
  return status;
}

int gettimeofday(struct timeval *now, void *zone) {
  (void)zone;
  struct timespec exact;
  clock_gettime(CLOCK_REALTIME, &exact);
  now->tv_sec = exact.tv_sec;
  now->tv_usec = exact.tv_nsec / 1000;
  return 0;
}

time_t time(time_t *out) {
  struct timespec exact;
  clock_gettime(CLOCK_REALTIME, &exact);
  if (out) *out = exact.tv_sec;
  return exact.tv_sec;
}
