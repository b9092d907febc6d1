#include "steps.h"

#include <errno.h>
#include <math.h>
#include <pthread.h>
#include <stdlib.h>
#include <string.h>
#include "../histogram.h"
#include "../walk.h"
#include "copy.h"
#include "counted.h"
#include "out.h"
#include "rounds.h"

#define SAMPLE_MS 100.0
/* For so long at most a step goes on for want of requests (src/core/run/program.ts). */
#define WANT_MS 60000.0
#define FIRST_MS 20000.0
#define LAY_OUT_BLOCK 1048576u

/* How a walk over the scratch files follows from a step. NULL where there is not enough memory. */
static Counted *begin_walk(Session *session, const Step *step) {
  Counted *counted = calloc(1, sizeof *counted);
  Walk *walk = calloc(1, sizeof *walk);
  if (!counted || !walk) goto no_memory;
  int is_check = step->kind == CHECK;
  int once = is_check || step->bytes >= 0 || step->seconds <= 0;
  double length = step->bytes >= 0 ? step->bytes : (double)step->span;
  walk->files = session->scratch.count;
  walk->fds = malloc(walk->files * sizeof *walk->fds);
  if (!walk->fds) goto no_memory;
  memcpy(walk->fds, session->scratch.files, walk->files * sizeof *walk->fds);
  walk->file_bytes = session->scratch.file_bytes;
  walk->write_share = is_check ? 0 : step->write_share;
  walk->random = step->random;
  walk->once = once;
  walk->block = step->block;
  walk->first = step->first;
  walk->blocks = (uint64_t)fmax(1, floor((once ? length : (double)step->span) / (double)step->block));
  walk->depth = step->depth;
  walk->run = session->run;
  walk->generation = step->generation;
  walk->generated = is_check || step->generation > 0;
  walk->checked = is_check;
  walk->compressible = step->compressible;
  walk->seed = session->run ^ (step->depth * 2654435761u);
  walk->buckets = BUCKETS;
  double pool = fmax((double)walk->block + fmin((double)walk->block, 262144),
                     fmin(1048576, floor(67108864.0 / (double)walk->depth)));
  walk->pool = (size_t)(pool / 4096) * 4096;
  walk->lanes = system_lanes(walk->depth, walk->block, walk->fds[0], &walk->lane);
  if (counted_room(counted, walk) != 0) goto no_memory;
  if (walk_start(walk) != 0) {
    walk = NULL;
    goto no_memory;
  }
  counted->walk = walk;
  return counted;
no_memory:
  if (walk) walk_free(walk);
  counted_free(counted);
  text_add(&session->why, "There is not enough memory for %llu requests of %llu bytes in flight.",
           (unsigned long long)step->depth, (unsigned long long)step->block);
  return NULL;
}

static void tell(Counted *counted, int phase) { atomic_store(&counted->control[PHASE], phase); }

static int have_ended(const Counted *counted) {
  return (size_t)atomic_load(&counted->control[ENDED]) == counted->lanes;
}

/* Waits until nothing is in flight any more. -1 where the drive does not answer. */
static int all_quiet(Session *session, Counted *counted) {
  double begun = clock_ms();
  tell(counted, STOP);
  while (!have_ended(counted)) {
    if (clock_ms() - begun > PATIENCE_MS) return stuck_words(session, session->place), -1;
    system_sleep(1000);
  }
  walk_join(counted->walk);
  counted->walk = NULL;
  return 0;
}

/* Why a step cannot go on: a request failed, the folder went away, the run file is full. */
static int is_broken(Session *session, const Counted *counted, const char *doing) {
  int error = atomic_load(&counted->control[ERROR_NUMBER]);
  if (error) error_words(&session->why, error, session->place, doing);
  else if (atomic_load(&gone)) gone_words(&session->why, session);
  else if (out_failed())
    text_add(&session->why, "The run file could not be written on.");
  return session->why.length > 0;
}

/* Brings what was written to the medium. Milliseconds, or below 0 where that failed. */
static double flush_all(Session *session) {
  double begun = clock_ms();
  for (size_t i = 0; i < session->scratch.count; i++) {
    int error = system_flush(session->scratch.files[i]);
    if (!error) continue;
    error_words(&session->why, error, session->place, "bringing what was written to the drive");
    return -1;
  }
  return clock_ms() - begun;
}

int lay_out(Session *session, uint64_t bytes, double compressible) {
  uint64_t blocks = (bytes + LAY_OUT_BLOCK - 1) / LAY_OUT_BLOCK;
  Step step = {.kind = FLOW, .write_share = 1, .block = LAY_OUT_BLOCK, .depth = 2,
               .span = blocks * LAY_OUT_BLOCK, .bytes = -1, .compressible = compressible};
  Counted *counted = begin_walk(session, &step);
  if (!counted) return STEP_FAILED;
  double begun = clock_ms();
  tell(counted, LEAD_IN);
  int broken = 0;
  while (!have_ended(counted) && !atomic_load(&stopping)) {
    system_sleep(10000);
    double moved = counted_moved(counted).written, ms = clock_ms() - begun;
    double rate = ms > 0 ? moved / 1e3 / ms : 0;
    progress(session, rate, rate > 0 ? ((double)step.span - moved) / 1e6 / rate : 0);
    if ((broken = is_broken(session, counted, "preparing the scratch file"))) break;
  }
  if (all_quiet(session, counted) != 0) return STEP_FAILED;
  if (!broken) broken = is_broken(session, counted, "preparing the scratch file");
  counted_free(counted);
  if (broken) return STEP_FAILED;
  if (atomic_load(&stopping)) return STEP_STOPPED;
  return flush_all(session) < 0 ? STEP_FAILED : STEP_DONE;
}

/* When the next sample is due: on the grid of tenths, never less than half a tenth after the last. */
static double next_sample(double last, double start, double end) {
  double due = start + (round((last - start) / SAMPLE_MS) + 1) * SAMPLE_MS;
  return end - due < SAMPLE_MS / 2 ? end : due;
}

/* Tells when nothing came for more than a second, and for how long. */
static void silence(Session *session, double *since, double at, double bytes) {
  if (bytes == 0 && at >= 0) return;
  double end = at < 0 ? clock_ms() : at - SAMPLE_MS;
  if (end - *since > 1000) {
    char words[80];
    snprintf(words, sizeof words, "No request ended for %.1f s.", (end - *since) / 1e3);
    session_happened(session, "stalled", fmax(0, *since - session->begun), words);
  }
  *since = end;
}

/* Takes samples until the step is over. */
static int sample(Session *session, const Step *step, size_t number, Counted *counted) {
  const char *doing = step->kind == CHECK ? "reading back" : "measuring";
  double start = clock_ms(), at = start, quiet = start;
  Rounds rounds = {.seconds = step->round_seconds, .most = step->most_rounds};
  Moved base = counted_moved(counted), last = base;
  counted->start_ms = start - session->begun;
  tell(counted, COUNTING);
  for (int over = 0; !over;) {
    double end = step->seconds > 0 ? start + step->seconds * 1e3 : INFINITY;
    double due = next_sample(at, start, at < end ? end : INFINITY);
    for (double left; (left = due - clock_ms()) > 0 && !have_ended(counted);)
      system_sleep((unsigned)(fmin(left, 10) * 1e3) + 1);
    if (is_broken(session, counted, doing)) return STEP_FAILED;
    double from = at;
    at = clock_ms();
    over = have_ended(counted);
    Moved moved = counted_moved(counted), since = moved_less(moved, last);
    session_sample(session, number, from - session->begun, at - session->begun,
                   since.read + since.written, since.written, since.requests);
    session_reading(session);
    silence(session, &quiet, at, since.read + since.written);
    last = moved;
    counted->ms = at - start;
    counted->moved = moved_less(moved, base);
    double bytes = counted->moved.read + counted->moved.written;
    double rate = bytes / 1e3 / counted->ms, goal = step->bytes >= 0 ? step->bytes : (double)step->span;
    progress(session, rate, isfinite(end) && step->bytes < 0 ? fmax(0, end - at) / 1e3
                            : rate > 0 ? (goal - bytes) / 1e6 / rate : 0);
    if (atomic_load(&stopping)) return STEP_STOPPED;
    /* Of a drive that has not answered once, nothing could be said. */
    int is_enough = counted->moved.requests < 1 ? counted->ms >= FIRST_MS
                                                : counted->moved.requests >= step->least_requests ||
                                                      counted->ms >= WANT_MS;
    if (step->seconds > 0 && at >= end && is_enough) over = 1;
    if (rounds_over(&rounds, counted->ms, counted->moved)) over = 1;
  }
  rounds_cut(&rounds, counted);
  silence(session, &quiet, -1, 1);
  return STEP_DONE;
}

/* What a reader has to know of a step to work out its figures. */
static void define(const Step *step, Text *into) {
  text_add(into, "\"doing\":\"%s\",\"label\":%s", step->kind == CHECK ? "check" : "flow",
           step->label.at);
  text_add(into, ",\"seconds\":");
  text_told(into, step->seconds > 0 ? step->seconds : -1);
  text_add(into, ",\"bytes\":");
  text_told(into, step->bytes);
  text_add(into, ",\"countFlush\":%s", !step->flushes ? "null" : step->counts_flush ? "true" : "false");
}

static int walk_step(Session *session, const Step *step, size_t number) {
  double before[2], after[2], begun_us;
  if (step->kind == CHECK)
    for (size_t i = 0; i < session->scratch.count; i++) system_forget(session->scratch.files[i]);
  int counts = system_counted(session->place, &before[0], &before[1]);
  Counted *counted = begin_walk(session, step);
  if (!counted) return STEP_FAILED;
  while ((size_t)atomic_load(&counted->control[READY]) < counted->lanes) system_sleep(200);
  /* Without a lead-in the first request counts, too. */
  if (step->lead_in > 0) tell(counted, LEAD_IN);
  for (double until = clock_ms() + step->lead_in * 1e3; clock_ms() < until && !atomic_load(&stopping);)
    system_sleep((unsigned)(fmax(0, fmin(10, until - clock_ms())) * 1e3) + 1);
  begun_us = system_processor_us();
  session_start(session);
  int end = sample(session, step, number, counted);
  counted->processor_us = (system_processor_us() - begun_us) * (1 - counted->left_out);
  if (all_quiet(session, counted) != 0) return STEP_FAILED;
  if (end == STEP_DONE && counted->moved.requests == 0) {
    text_add(&session->why, "Not one request was answered within %.0f s: the drive is too slow for "
                            "blocks of this size, or does not answer.", counted->ms / 1e3);
    end = STEP_FAILED;
  }
  counted->flush_ms = -1;
  if (end == STEP_DONE && step->flushes && (counted->flush_ms = flush_all(session)) < 0)
    end = STEP_FAILED;
  if (end == STEP_DONE) {
    if (step->counts_flush) {
      double now = session_ms(session);
      session_sample(session, number, now - counted->flush_ms, now, 0, 0, 0);
    }
    counts = counts && system_counted(session->place, &after[0], &after[1]);
    Moved all = counted_moved(counted);
    double device = 0, outside = all.read + all.written - counted->moved.read - counted->moved.written;
    if (counts && step->write_share < 1) device += after[0] - before[0];
    if (counts && step->write_share > 0) device += after[1] - before[1];
    counted->device_bytes = counts ? fmax(0, device - outside) : -1;
    Text words = {NULL, 0, 0};
    define(step, &words);
    counted_line(counted, &session->line, session->repeat, number, words.at);
    out_line(&session->line);
    text_free(&words);
  }
  counted_free(counted);
  return end;
}

static int rest(Session *session, const Step *step, size_t number) {
  session_start(session);
  double begun = clock_ms(), until = begun + step->seconds * 1e3;
  while (clock_ms() < until) {
    if (atomic_load(&stopping)) return STEP_STOPPED;
    session_reading(session);
    progress(session, 0, (until - clock_ms()) / 1e3);
    system_sleep((unsigned)(fmin(50, fmax(1, until - clock_ms())) * 1e3));
  }
  text_add(&session->line, "{\"event\":\"rested\",\"repeat\":%d,\"step\":%zu,\"ms\":%.0f,\"label\":%s}",
           session->repeat, number, step->seconds * 1e3, step->label.at);
  out_line(&session->line);
  return STEP_DONE;
}

int step_do(Session *session, size_t number) {
  const Step *step = &session->measurement->steps[number];
  if (step->kind == COPY) return copy_step(session, step, number);
  return step->kind == REST ? rest(session, step, number) : walk_step(session, step, number);
}
