/* Between the runtime and requests.c: what src/engine/record/recorder.ts calls. */
#include "requests-addon.h"
#include <stdlib.h>
#include <string.h>
#include "napi-values.h"
#include "requests.h"

/* Numbers of a request's row: began, took (-1: no answer), kind with its flushes, sector, sectors, program. */
enum { ROW = 6 };

static EventLayout layout_of(napi_env env, napi_value given) {
  EventLayout layout;
  layout.id = (uint16_t)number_of(env, given, "id");
  layout.sector = (size_t)number_of(env, given, "sector");
  layout.sectors = (size_t)number_of(env, given, "sectors");
  layout.letters = (size_t)number_of(env, given, "letters");
  layout.letters_size = (size_t)number_of(env, given, "lettersSize");
  layout.program = (size_t)number_of(env, given, "program");
  layout.program_size = (size_t)number_of(env, given, "programSize");
  return layout;
}

static void finalize(napi_env env, void *recorder, void *hint) {
  (void)env;
  (void)hint;
  recorder_free(recorder);
}

static napi_value no_memory(napi_env env) {
  napi_throw_error(env, "ENOMEM", "not enough memory to record");
  return NULL;
}

/* newRecorder(start, done, pipes): a recorder, to hand to the others. */
static napi_value new_recorder(napi_env env, napi_callback_info info) {
  size_t argc = 3;
  napi_value given[3], handle;
  double pipes = 0;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_double(env, given[2], &pipes);
  Recorder *recorder =
      recorder_new(layout_of(env, given[0]), layout_of(env, given[1]), (size_t)pipes);
  if (!recorder) return no_memory(env);
  napi_create_external(env, recorder, finalize, NULL, &handle);
  return handle;
}

static Recorder *recorder_of(napi_env env, napi_value handle) {
  void *recorder = NULL;
  napi_get_value_external(env, handle, &recorder);
  return recorder;
}

/* Reads every pipe. 0, or the error number. */
static int read_all(napi_env env, napi_value pipes, Recorder *recorder) {
  size_t count = 0;
  void *fds = NULL;
  napi_get_typedarray_info(env, pipes, NULL, &count, &fds, NULL, NULL);
  for (size_t i = 0; i < count; i++) {
    int error = recorder_read(recorder, i, ((const int32_t *)fds)[i]);
    if (error != 0) return error;
  }
  return 0;
}

/* Nanoseconds in what a recording counts by (core/recording/request.ts). */
#define TICK_NS 100

static double ticks(uint64_t ns) {
  return (double)((ns + TICK_NS / 2) / TICK_NS);
}

/* Rows of the requests that are whole, their times from a moment on. */
static napi_value rows_of(napi_env env, Recorder *recorder, uint64_t since, int all) {
  size_t count = recorder_ready(recorder, all);
  napi_value memory, rows;
  void *data;
  Request *requests = malloc((count ? count : 1) * sizeof *requests);
  if (!requests) return no_memory(env);
  napi_create_arraybuffer(env, count * ROW * sizeof(double), &data, &memory);
  recorder_take(recorder, requests, count);
  for (size_t i = 0; i < count; i++) {
    double *row = (double *)data + i * ROW;
    row[0] = requests[i].began > since ? ticks(requests[i].began - since) : 0;
    row[1] = requests[i].took == NO_ANSWER ? -1 : ticks(requests[i].took);
    row[2] = requests[i].kind + 4 * requests[i].flush;
    row[3] = (double)requests[i].sector;
    row[4] = requests[i].sectors;
    row[5] = requests[i].program;
  }
  free(requests);
  napi_create_typedarray(env, napi_float64_array, count * ROW, memory, 0, &rows);
  return rows;
}

/*
 * takeRequests(recorder, pipes, before, all, since): rows of the requests that are whole, from what the pipes hold
 * of the time before a moment, their times counted from another; with `all` what has no answer too. Throws where a
 * pipe cannot be read.
 */
static napi_value take_requests(napi_env env, napi_callback_info info) {
  size_t argc = 5;
  napi_value given[5];
  double before = 0, since = 0;
  bool all = false;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_double(env, given[2], &before);
  napi_get_value_bool(env, given[3], &all);
  napi_get_value_double(env, given[4], &since);
  Recorder *recorder = recorder_of(env, given[0]);
  int error = read_all(env, given[1], recorder);
  if (error == 0) error = recorder_ripen(recorder, (uint64_t)before);
  if (error == 0) return rows_of(env, recorder, (uint64_t)since, all);
  napi_throw_error(env, NULL, strerror(error));
  return NULL;
}

/* programsOf(recorder, from): names of programs, from a number on. */
static napi_value programs_of(napi_env env, napi_callback_info info) {
  size_t argc = 2;
  napi_value given[2], names;
  uint32_t from = 0;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_uint32(env, given[1], &from);
  const Recorder *recorder = recorder_of(env, given[0]);
  napi_create_array(env, &names);
  for (size_t number = from; number < recorder_programs(recorder); number++) {
    size_t length;
    napi_value name;
    const char *text = recorder_program(recorder, number, &length);
    napi_create_string_latin1(env, text, length, &name);
    napi_set_element(env, names, (uint32_t)(number - from), name);
  }
  return names;
}

void requests_exports(napi_env env, napi_value exports) {
  static const struct {
    const char *name;
    napi_callback call;
  } functions[] = {
      {"newRecorder", new_recorder},
      {"takeRequests", take_requests},
      {"programsOf", programs_of},
  };
  for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
    napi_value function;
    napi_create_function(env, functions[i].name, NAPI_AUTO_LENGTH, functions[i].call, NULL, &function);
    napi_set_named_property(env, exports, functions[i].name, function);
  }
}
