#include "run.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include "../histogram.h"
#include "../walk.h"
#include "counted.h"
#include "out.h"
#include "session.h"
#include "steps.h"
#include "version.h"

int place_refused(int fitness, const char *asked, const Place *place, int buffered, Text *why) {
  switch (fitness) {
    case NO_SUCH:
      text_add(why, "There is no %s. Check the path, and that the drive is mounted.", asked);
      break;
    case NO_FOLDER:
      text_add(why, "%s is no folder. Name the folder to measure in; a device is never written to.",
               asked);
      break;
    case A_LINK:
      text_add(why, "%s is a link. Name the folder itself: %s", asked, place->path);
      break;
    case NO_PERMISSION:
      text_add(why, "This user may not write in %s, and measuring needs a scratch file there.", asked);
      break;
    case READ_ONLY:
      text_add(why, "%s is on a file system that is mounted read-only.", asked);
      break;
    default:
      if (place->is_memory && !buffered)
        text_add(why, "%s is on %s, which is memory: requests reach no drive there. Measure with "
                      "--buffered to go on anyway; the run will be flagged.", asked, place->file_system);
  }
  return why->length > 0;
}

/* A member of a JSON object: words or a number, null where they are not told. */
static void add_words(Text *line, const char *name, const char *words) {
  text_add(line, ",\"%s\":", name);
  text_quote_told(line, words);
}
static void add_number(Text *line, const char *name, double number) {
  text_add(line, ",\"%s\":", name);
  text_told(line, number);
}

static void write_conditions(Session *session, const Order *order, const Machine *machine) {
  const Place *place = session->place;
  Text *line = &session->line;
  char now[32];
  double read, written, celsius;
  void *(*lane)(void *) = NULL;
  uint64_t depth = 1, block = 512;
  for (size_t i = 0; i < session->measurement->count; i++) {
    const Step *step = &session->measurement->steps[i];
    if (step->depth > depth) depth = step->depth, block = step->block;
  }
  system_lanes(depth, block, session->scratch.count > 0 ? session->scratch.files[0] : NO_FILE, &lane);
  text_add(line, "{\"event\":\"conditions\",\"conditions\":{\"startedAt\":\"%s\",\"nerrit\":\"%s\"",
           time_now(now), VERSION);
  add_words(line, "host", machine->host[0] ? machine->host : "unknown");
  add_words(line, "kernel", machine->system);
  add_words(line, "processor", machine->processor[0] ? machine->processor : "unknown");
  text_add(line, ",\"cores\":%d,\"loadAtStart\":%.2f", machine->cores, fmax(0, machine->load));
  add_number(line, "memoryBytes", machine->memory_bytes);
  add_words(line, "target", place->path);
  add_words(line, "targetKind", "directory");
  add_words(line, "fileSystem", place->file_system);
  add_words(line, "mountOptions", place->mount_options);
  add_words(line, "device", place->device);
  add_words(line, "drive", place->drive);
  add_words(line, "link", place->link);
  add_number(line, "deviceBytes", place->device_bytes);
  add_number(line, "freeBytes", place->free_bytes);
  add_words(line, "scheduler", place->scheduler);
  text_add(line, ",\"rotational\":%s", place->rotational < 0 ? "null"
                                       : place->rotational ? "true" : "false");
  add_words(line, "writeCache", place->write_cache);
  add_number(line, "requestLimitBytes", place->request_limit_bytes);
  text_add(line, ",\"io\":\"%s\",\"lane\":\"%s\",\"notes\":[", order->buffered ? "buffered" : "direct",
           lane == thread_lane ? "native" : "ring");
  text_quote(line, "Measured by the program for any machine, " VERSION ".");
  if (session->scratch.grows) {
    text_add(line, ",");
    text_quote(line, "This file system gives a file its blocks only as they are written.");
  }
  Text untold = {NULL, 0, 0};
  if (!system_counted(place, &read, &written)) text_add(&untold, ", the drive’s own count of bytes");
  if (!system_celsius(place, &celsius)) text_add(&untold, ", its temperature");
  if (!place->link[0]) text_add(&untold, ", how the drive is attached");
  if (!place->drive[0]) text_add(&untold, ", the drive’s maker and model");
  if (untold.length > 0) {
    Text words = {NULL, 0, 0};
    text_add(&words, "Not told by this system: %s.", untold.at + 2);
    text_add(line, ",");
    text_quote(line, words.at);
    text_free(&words);
  }
  text_free(&untold);
  text_add(line, "],\"quiet\":[]}}");
  out_line(line);
}

/* Waits between two measurements or repeats. */
static void pause_for(double seconds) {
  double until = clock_ms() + seconds * 1e3;
  while (clock_ms() < until && !atomic_load(&stopping)) system_sleep(20000);
}

static int all_steps(Session *session) {
  const Measurement *measurement = session->measurement;
  for (size_t i = 0; i < measurement->count; i++) {
    session->left = 0;
    for (size_t j = i + 1; j < measurement->count; j++)
      session->left += measurement->steps[j].seconds + measurement->steps[j].lead_in;
    int end = step_do(session, i);
    if (end != STEP_DONE) return end;
  }
  return STEP_DONE;
}

static int measure(Session *session, const Order *order, const Machine *machine) {
  const Measurement *measurement = session->measurement;
  uint64_t span = measurement_span(measurement), laid_out = measurement_laid_out(measurement);
  double room = scratch_room(session->place, order->reserve);
  char needed[32], there[32];
  if ((double)span > room) {
    text_add(&session->why, "%s has room for %s beside the reserve, and %s are needed. Use a smaller "
                            "span, or a smaller reserve.", session->place->path,
             size_words(there, sizeof there, room), size_words(needed, sizeof needed, (double)span));
    return STEP_FAILED;
  }
  if (scratch_open(session->place, order->buffered, span, &session->scratch, &session->why) != 0)
    return STEP_FAILED;
  write_conditions(session, order, machine);
  double compressible = 0;
  for (size_t i = 0; i < measurement->count; i++)
    compressible = fmax(compressible, measurement->steps[i].compressible);
  int end = laid_out > 0 ? lay_out(session, laid_out, compressible) : STEP_DONE;
  for (; end == STEP_DONE && session->repeat < measurement->repeats; session->repeat++) {
    if (session->repeat > 0) pause_for(order->rest_seconds);
    session->begun = -1;
    end = all_steps(session);
    if (end != STEP_DONE) break;
    text_add(&session->line, "{\"event\":\"finished\",\"repeat\":%d}", session->repeat);
    out_line(&session->line);
  }
  return end;
}

static int one(const Order *order, size_t number, const Place *place, const Place *other,
               const Machine *machine) {
  static const char *const ends[] = {"done", "stopped", "failed"};
  static Session session;
  char id[37], seed[37], now[32], doing[96];
  memset(&session, 0, sizeof session);
  session.place = place;
  session.measurement = &order->measurements[number];
  session.other = measurement_other(session.measurement) ? other : NULL;
  session.reserve = order->reserve;
  session.buffered = order->buffered;
  session.begun = -1;
  session.doing = doing;
  unique_name(id);
  unique_name(seed);
  session.run = (uint32_t)strtoul(seed, NULL, 16);
  snprintf(doing, sizeof doing, "%zu of %zu", number + 1, order->count);
  text_add(&session.line, "{\"event\":\"measuring\",\"id\":\"%s\",\"createdAt\":\"%s\",\"drill\":%s"
                          ",\"target\":", id, time_now(now), session.measurement->drill.at);
  text_quote(&session.line, place->path);
  text_add(&session.line, ",\"other\":");
  text_quote_told(&session.line, session.other ? session.other->path : "");
  text_add(&session.line, "}");
  out_line(&session.line);
  watch_begin(&session);
  int end = measure(&session, order, machine);
  watch_end(&session);
  /* The system closes what is still in use, as it ends the process. */
  if (!session.is_stuck) scratch_close(&session.scratch);
  progress_clear();
  text_add(&session.line, "{\"event\":\"ended\",\"status\":\"%s\",\"reason\":", ends[end]);
  text_quote_told(&session.line, end == STEP_FAILED ? session.why.at : "");
  text_add(&session.line, "}");
  out_line(&session.line);
  fprintf(stderr, "%zu of %zu: %s\n", number + 1, order->count,
          end == STEP_FAILED ? session.why.at : end == STEP_STOPPED ? "stopped" : "done");
  text_free(&session.line);
  text_free(&session.why);
  if (session.is_stuck) atomic_store(&stopping, 1);
  return end;
}

int run_order(const Order *order, const Place *place, const Place *other, const Machine *machine) {
  Text line = {NULL, 0, 0};
  int end = ALL_DONE;
  text_add(&line, "{\"format\":\"nerrit-lines\",\"version\":1,\"program\":\"%s\",\"rig\":", VERSION);
  text_quote(&line, order->rig[0] ? order->rig : machine->host);
  text_add(&line, "}");
  out_line(&line);
  text_free(&line);
  for (size_t i = 0; i < order->count && !atomic_load(&stopping); i++) {
    if (i > 0) pause_for(order->rest_seconds);
    if (atomic_load(&stopping)) break;
    if (one(order, i, place, other, machine) == STEP_FAILED) end = SOME_FAILED;
  }
  return end == ALL_DONE && atomic_load(&stopping) ? WAS_STOPPED : end;
}
