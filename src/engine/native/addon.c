/*
 * Between the runtime and the lanes: what src/engine/lanes/native.ts calls. portable-lane.ts does the same
 * by the runtime's own calls where this could not be compiled.
 */
#define _GNU_SOURCE
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>
#include "calls-addon.h"
#include "napi-values.h"
#include "replay-addon.h"
#include "requests-addon.h"
#include "ring-lane.h"
#include "walk.h"

/*
 * startLanes(task): an object to hand to joinLanes. The memory in the task must stay in place until
 * then. Throws where there is not enough memory, or no more threads.
 */
static napi_value start_lanes(napi_env env, napi_callback_info info) {
  size_t argc = 1, words = 0, files = 0;
  napi_value task, handle;
  napi_get_cb_info(env, info, &argc, &task, NULL, NULL);
  Walk *walk = calloc(1, sizeof *walk);
  if (!walk) goto no_memory;
  walk->control = memory_of(env, task, "control", &words);
  walk->totals = memory_of(env, task, "totals", &words);
  walk->histograms = memory_of(env, task, "histograms", &words);
  walk->faults = memory_of(env, task, "faults", &words);
  walk->most_faults = words / 3;
  int32_t *fds = memory_of(env, task, "fds", &files);
  walk->buckets = (size_t)number_of(env, task, "buckets");
  walk->file_bytes = (uint64_t)number_of(env, task, "fileBytes");
  walk->block = (size_t)number_of(env, task, "block");
  walk->first = (uint64_t)number_of(env, task, "first");
  walk->blocks = (uint64_t)number_of(env, task, "blocks");
  walk->random = number_of(env, task, "random") != 0;
  walk->once = number_of(env, task, "once") != 0;
  walk->lane = number_of(env, task, "ring") != 0 ? ring_lane : thread_lane;
  walk->write_share = number_of(env, task, "writeShare");
  walk->run = (uint32_t)number_of(env, task, "run");
  walk->generation = (uint32_t)number_of(env, task, "generation");
  walk->generated = number_of(env, task, "generated") != 0;
  walk->checked = number_of(env, task, "checked") != 0;
  walk->compressible = number_of(env, task, "compressible");
  walk->pool = (size_t)number_of(env, task, "pool");
  walk->depth = (size_t)number_of(env, task, "depth");
  walk->lanes = (size_t)number_of(env, task, "lanes"); /* of counters.ts */
  walk->seed = (uint64_t)number_of(env, task, "seed");
  if (!walk->control || !walk->totals || !walk->histograms || !walk->faults || !fds || !files ||
      walk->blocks == 0 || walk->lanes == 0 || walk->depth < walk->lanes) {
    walk_free(walk);
    napi_throw_type_error(env, NULL, "startLanes: the task is not complete");
    return NULL;
  }
  walk->files = files;
  walk->fds = malloc(files * sizeof *walk->fds);
  if (!walk->fds) goto no_memory;
  for (size_t i = 0; i < files; i++) walk->fds[i] = fds[i];
  if (walk_start(walk) != 0) {
    walk = NULL;
    goto no_memory;
  }
  napi_create_external(env, walk, NULL, NULL, &handle);
  return handle;
no_memory:
  if (walk) walk_free(walk);
  napi_throw_error(env, "ENOMEM", "not enough memory, or no more threads, for so many requests in flight");
  return NULL;
}

/* joinLanes(handle): frees what ended lanes held. Only once all have come to their end. */
static napi_value join_lanes(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value handle;
  Walk *walk;
  napi_get_cb_info(env, info, &argc, &handle, NULL, NULL);
  if (napi_get_value_external(env, handle, (void **)&walk) != napi_ok) return NULL;
  walk_join(walk);
  return NULL;
}

/* ringError(): ring_error. */
static napi_value js_ring_error(napi_env env, napi_callback_info info) {
  (void)info;
  napi_value result;
  napi_create_int32(env, ring_error(), &result);
  return result;
}

/* A descriptor, and bytes where a function takes them. */
static int32_t given_file(napi_env env, napi_callback_info info, double *bytes) {
  size_t argc = 2;
  napi_value given[2];
  int32_t fd = -1;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_int32(env, given[0], &fd);
  if (bytes) napi_get_value_double(env, given[1], bytes);
  return fd;
}

/* takesAtOnce(fd, bytes): takes_at_once. */
static napi_value js_takes_at_once(napi_env env, napi_callback_info info) {
  double bytes = 0;
  napi_value result;
  int32_t fd = given_file(env, info, &bytes);
  napi_get_boolean(env, takes_at_once(fd, (size_t)bytes), &result);
  return result;
}

/* allocate(fd, bytes): system_allocate. */
static napi_value js_allocate(napi_env env, napi_callback_info info) {
  double bytes = 0;
  napi_value result;
  int32_t fd = given_file(env, info, &bytes);
  napi_create_int32(env, system_allocate(fd, (uint64_t)bytes), &result);
  return result;
}

/* forget(fd): system_forget. */
static napi_value js_forget(napi_env env, napi_callback_info info) {
  napi_value result;
  napi_create_int32(env, system_forget(given_file(env, info, NULL)), &result);
  return result;
}

/* sync(fd): has everything of a file system brought to its medium. 0, or the error number. */
static napi_value js_sync(napi_env env, napi_callback_info info) {
  napi_value result;
  int error = syncfs(given_file(env, info, NULL)) == 0 ? 0 : errno;
  napi_create_int32(env, error, &result);
  return result;
}

NAPI_MODULE_INIT() {
  static const struct {
    const char *name;
    napi_callback call;
  } functions[] = {
      {"startLanes", start_lanes},
      {"joinLanes", join_lanes},
      {"ringError", js_ring_error},
      {"takesAtOnce", js_takes_at_once},
      {"allocate", js_allocate},
      {"forget", js_forget},
      {"sync", js_sync},
  };
  for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
    napi_value function;
    napi_create_function(env, functions[i].name, NAPI_AUTO_LENGTH, functions[i].call, NULL, &function);
    napi_set_named_property(env, exports, functions[i].name, function);
  }
  replay_exports(env, exports);
  requests_exports(env, exports);
  calls_exports(env, exports);
  return exports;
}
