#include "copy.h"

#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "contents.h"
#include "out.h"
#include "sides.h"
#include "steps.h"

#define SAMPLE_MS 100.0

/* A copy under way. An end that is left out has no place. */
typedef struct {
  Session *session;
  const Step *step;
  size_t number;
  const Place *from, *to;
  OwnFolder made_up, destination;
  const char *source; /* the folder that is read; NULL: files are made up */
  Files files;
  Sides sides;
  BeltTotals totals;
  double start_ms, ms;
  double device_bytes[SIDES]; /* as each side's system counted; below 0: it does not tell */
  Text differing;
  char kept[PATH_BYTES + 64];
} Copying;

static int failed(Copying *copying, int error, const Place *place, const char *doing) {
  error_words(&copying->session->why, error, place ? place : copying->session->place, doing);
  return STEP_FAILED;
}

/* ---- before it is counted ---- */

static int find_files(Copying *copying) {
  Session *session = copying->session;
  const Copy *copy = &copying->step->copy;
  int error = copy->mix ? files_made_up(copy, &copying->files)
                        : files_found(copying->from->path, &copying->files);
  if (error) return failed(copying, error, copying->from, "looking through the folder");
  if (copying->files.count == 0) {
    text_add(&session->why, "There is no file in %s to copy.", copying->from->path);
    return STEP_FAILED;
  }
  return STEP_DONE;
}

static int look_for_room(Copying *copying) {
  char needed[32], there[32];
  const Place *to = copying->to ? copying->to : copying->step->copy.mix ? copying->from : NULL;
  if (!to) return STEP_DONE;
  double room = scratch_room(to, copying->session->reserve);
  if (copying->files.bytes <= room) return STEP_DONE;
  text_add(&copying->session->why,
           "The files to copy are %s, and %s has room for %s beside the reserve. Copy fewer, free some "
           "space, or set a smaller reserve.",
           size_words(needed, sizeof needed, copying->files.bytes), to->path,
           size_words(there, sizeof there, room));
  return STEP_FAILED;
}

/* Starts both sides. 0, or why not. */
static int start(Copying *copying, const char *source, const OwnFolder *destination, int reads_direct,
                 int writes_direct) {
  Sides *sides = &copying->sides;
  int error = belt_open(&sides->belt, copying->step->block);
  if (error) return error;
  sides->files = &copying->files;
  sides->source = source;
  sides->destination = destination;
  sides->reads_direct = reads_direct;
  sides->writes_direct = writes_direct;
  sides->seed = copying->step->copy.seed;
  sides->compressible = copying->step->compressible;
  error = sides_start(sides);
  if (error) belt_close(&sides->belt);
  return error;
}

/* Ends both sides. -1 where a drive does not answer; then they are left to the system. */
static int end(Copying *copying, const Place *place) {
  double begun = clock_ms();
  belt_stop(&copying->sides.belt);
  while (belt_look(&copying->sides.belt, &copying->totals) > 0) {
    if (clock_ms() - begun > PATIENCE_MS) return stuck_words(copying->session, place), -1;
    system_sleep(1000);
  }
  sides_join(&copying->sides);
  belt_close(&copying->sides.belt);
  return 0;
}

/* Why a copy cannot go on. */
static int is_broken(Copying *copying, const char *writing) {
  Session *session = copying->session;
  Belt *belt = &copying->sides.belt;
  if (belt->error && belt->failed_side == READER)
    failed(copying, belt->error, copying->from, "reading the files");
  else if (belt->error) failed(copying, belt->error, copying->to, writing);
  else if (atomic_load(&gone)) gone_words(&session->why, session);
  else if (out_failed()) text_add(&session->why, "The run file could not be written on.");
  return session->why.length > 0;
}

static double left_of(const Copying *copying, double rate) {
  return rate > 0 ? (copying->files.bytes - copying->totals.written) / 1e6 / rate : 0;
}

/* Makes files up in a folder of the run's own, before anything is timed. */
static int make_up(Copying *copying) {
  Session *session = copying->session;
  if (own_folder_make(copying->from, &copying->made_up, &session->why) != 0) return STEP_FAILED;
  copying->source = copying->made_up.path;
  int error = start(copying, NULL, &copying->made_up, 0, 0);
  if (error) return failed(copying, error, copying->from, "making the files");
  double begun = clock_ms();
  int broken = 0, at_work = 1;
  while (at_work && !broken && !atomic_load(&stopping)) {
    system_sleep(10000);
    at_work = belt_look(&copying->sides.belt, &copying->totals) > 0;
    double rate = copying->totals.written / 1e3 / fmax(1, clock_ms() - begun);
    progress(session, rate, left_of(copying, rate));
    broken = is_broken(copying, "making the files");
  }
  if (end(copying, copying->from) != 0 || broken) return STEP_FAILED;
  return atomic_load(&stopping) ? STEP_STOPPED : STEP_DONE;
}

/* What each side's system counted of it so far; below 0 where it does not tell. */
static void count_devices(const Copying *copying, double counted[SIDES]) {
  double read, written;
  counted[READER] = counted[WRITER] = -1;
  if (copying->from && system_counted(copying->from, &read, &written)) counted[READER] = read;
  if (copying->to && system_counted(copying->to, &read, &written)) counted[WRITER] = written;
}

/* ---- the copy itself ---- */

static int sample_all(Copying *copying) {
  Session *session = copying->session;
  double begun = clock_ms(), at = begun;
  BeltTotals last = {0};
  int at_work = 1;
  copying->start_ms = begun - session->begun;
  while (at_work) {
    double due = at + SAMPLE_MS;
    while (clock_ms() < due && belt_look(&copying->sides.belt, &copying->totals) > 0)
      system_sleep((unsigned)(fmax(0, fmin(10, due - clock_ms())) * 1e3) + 1);
    double from = at;
    at_work = belt_look(&copying->sides.belt, &copying->totals) > 0;
    at = clock_ms();
    double bytes = copying->totals.written - last.written;
    session_sample(session, copying->number, from - session->begun, at - session->begun, bytes,
                   copying->to ? bytes : 0, copying->totals.files - last.files);
    session_reading(session);
    last = copying->totals;
    copying->ms = at - begun;
    if (is_broken(copying, "writing the copy")) return STEP_FAILED;
    double rate = last.written / 1e3 / copying->ms;
    progress(session, rate, left_of(copying, rate));
    if (atomic_load(&stopping)) return STEP_STOPPED;
  }
  return STEP_DONE;
}

static int carry(Copying *copying) {
  Session *session = copying->session;
  double before[SIDES];
  int direct = !session->buffered, cold = copying->step->copy.source == COLD;
  count_devices(copying, before);
  session_start(session);
  if (copying->files.passed_over > 0) {
    char words[96];
    snprintf(words, sizeof words, "Not copied: %zu that are links or special files.",
             copying->files.passed_over);
    session_happened(session, "note", 0, words);
  }
  if (cold && copying->source && !system_forgets)
    session_happened(session, "note", 0, "This system cannot be asked to drop what its memory holds of "
                                         "a file: some of the source may have come from there.");
  int error = start(copying, copying->source, copying->to ? &copying->destination : NULL,
                    direct && cold, direct);
  if (error) return failed(copying, error, copying->to, "starting the copy");
  int ended = sample_all(copying);
  if (end(copying, copying->to ? copying->to : copying->from) != 0) return STEP_FAILED;
  count_devices(copying, copying->device_bytes);
  for (int side = 0; side < SIDES; side++) {
    int told = before[side] >= 0 && copying->device_bytes[side] >= 0;
    copying->device_bytes[side] = told ? fmax(0, copying->device_bytes[side] - before[side]) : -1;
  }
  return ended;
}

/* ---- after it ---- */

static int verify(Copying *copying) {
  if (!copying->step->copy.verify || !copying->source || !copying->to) return STEP_DONE;
  int error = contents_compare(copying->source, copying->destination.path, &copying->files,
                               &copying->differing);
  if (error) return failed(copying, error, copying->to, "holding the copy against its source");
  return atomic_load(&stopping) ? STEP_STOPPED : STEP_DONE;
}

static void write_result(Copying *copying) {
  Session *session = copying->session;
  Text *line = &session->line;
  const BeltTotals *totals = &copying->totals;
  text_add(line, "{\"event\":\"copied\",\"repeat\":%d,\"step\":%zu,\"label\":%s", session->repeat,
           copying->number, copying->step->label.at);
  text_add(line, ",\"startMs\":%.3f,\"ms\":%.3f,\"files\":%.0f", copying->start_ms, copying->ms,
           totals->files);
  text_add(line, ",\"read\":%.0f,\"written\":%.0f", totals->read, totals->written);
  text_add(line, ",\"reads\":%s,\"writes\":%s", copying->source ? "true" : "false",
           copying->to ? "true" : "false");
  text_add(line, ",\"waitedForFromMs\":%.3f,\"waitedForToMs\":%.3f", totals->waited_ms[READER],
           totals->waited_ms[WRITER]);
  text_add(line, ",\"fit\":[");
  for (int i = 0; i < 5; i++) text_add(line, "%s%.17g", i ? "," : "", totals->fit[i]);
  text_add(line, "],\"fromDeviceBytes\":");
  text_told(line, copying->device_bytes[READER]);
  text_add(line, ",\"toDeviceBytes\":");
  text_told(line, copying->device_bytes[WRITER]);
  int verified = copying->step->copy.verify && copying->source && copying->to;
  text_add(line, ",\"verified\":%zu,\"differing\":[%s],\"kept\":",
           verified ? copying->files.count : (size_t)0,
           copying->differing.length > 0 ? copying->differing.at : "");
  text_quote_told(line, copying->kept);
  text_add(line, "}");
  out_line(line);
}

static int all(Copying *copying) {
  Session *session = copying->session;
  const Copy *copy = &copying->step->copy;
  int done = find_files(copying);
  if (done == STEP_DONE) done = look_for_room(copying);
  if (done != STEP_DONE) return done;
  if (copying->from && !copy->mix) copying->source = copying->from->path;
  if (copying->from && copy->mix && (done = make_up(copying)) != STEP_DONE) return done;
  if (copying->to && own_folder_make(copying->to, &copying->destination, &session->why) != 0)
    return STEP_FAILED;
  if (copying->source) {
    int error = contents_ready(copy->source, copying->source, &copying->files);
    if (error) return failed(copying, error, copying->from, "reading the files");
    if (atomic_load(&stopping)) return STEP_STOPPED;
  }
  if ((done = carry(copying)) != STEP_DONE || (done = verify(copying)) != STEP_DONE) return done;
  if (copy->keep && copying->to) {
    int error = own_folder_keep(&copying->destination, copying->kept);
    if (error) return failed(copying, error, copying->to, "keeping the copy");
  }
  write_result(copying);
  return STEP_DONE;
}

int copy_step(Session *session, const Step *step, size_t number) {
  const Place *const places[] = {session->place, session->other};
  Copying *copying = calloc(1, sizeof *copying);
  if (!copying) {
    text_add(&session->why, "There is not enough memory for a copy.");
    return STEP_FAILED;
  }
  copying->session = session;
  copying->step = step;
  copying->number = number;
  copying->from = step->copy.from < 0 ? NULL : places[step->copy.from];
  copying->to = step->copy.to < 0 ? NULL : places[step->copy.to];
  int done = all(copying);
  /* A drive that does not answer keeps its files, and both sides may still use all this. */
  if (session->is_stuck) return done;
  own_folder_remove(&copying->destination);
  own_folder_remove(&copying->made_up);
  files_free(&copying->files);
  text_free(&copying->differing);
  free(copying);
  return done;
}
