/*
 * One positional read or write of a fixed size, without the checks of the general file calls.
 *
 * A lane calls this once per request. On small requests the runtime's own call costs as much as a
 * fast device does, so it would measure itself. Everything else of a lane is in lane.ts, which
 * falls back on the runtime's call where this could not be compiled.
 *
 * slot[0] in: offset in bytes; slot[1] out: bytes moved, or minus the error number;
 * slot[2] out: nanoseconds the request took.
 */
#define _GNU_SOURCE
#include <errno.h>
#include <node_api.h>
#include <stdint.h>
#include <stdlib.h>
#include <time.h>
#include <unistd.h>

typedef struct {
  int fd;
  int writing;
  void *data;
  size_t bytes;
  double *slot;
  struct timespec last;
} Lane;

static double nanoseconds(const struct timespec *a, const struct timespec *b) {
  return (double)(b->tv_sec - a->tv_sec) * 1e9 + (double)(b->tv_nsec - a->tv_nsec);
}

static napi_value transfer(napi_env env, napi_callback_info info) {
  Lane *lane;
  struct timespec end;
  napi_get_cb_info(env, info, NULL, NULL, NULL, (void **)&lane);
  off_t offset = (off_t)lane->slot[0];
  /* A write is timed without the stamping before it; a read from the end of the one before, which
   * spares a look at the clock and adds the lane's own tenth of a microsecond. */
  if (lane->writing || lane->last.tv_sec == 0) clock_gettime(CLOCK_MONOTONIC, &lane->last);
  ssize_t moved = lane->writing ? pwrite(lane->fd, lane->data, lane->bytes, offset)
                                : pread(lane->fd, lane->data, lane->bytes, offset);
  int error = errno;
  clock_gettime(CLOCK_MONOTONIC, &end);
  lane->slot[1] = moved < 0 ? -(double)error : (double)moved;
  lane->slot[2] = nanoseconds(&lane->last, &end);
  lane->last = end;
  return NULL;
}

static void release(napi_env env, void *lane, void *hint) {
  (void)env;
  (void)hint;
  free(lane);
}

/* openLane(fd, writing, data: Uint8Array, slot: Float64Array): () => void. The caller keeps both
 * arrays alive, and their memory in place, for as long as it calls the function. */
static napi_value open_lane(napi_env env, napi_callback_info info) {
  size_t count = 4;
  napi_value args[4], function;
  int32_t fd;
  bool writing;
  napi_typedarray_type type;
  size_t slots;
  Lane *lane = calloc(1, sizeof *lane);
  if (lane == NULL) {
    napi_throw_error(env, NULL, "out of memory");
    return NULL;
  }
  napi_get_cb_info(env, info, &count, args, NULL, NULL);
  if (count != 4 || napi_get_value_int32(env, args[0], &fd) != napi_ok ||
      napi_get_value_bool(env, args[1], &writing) != napi_ok ||
      napi_get_typedarray_info(env, args[2], &type, &lane->bytes, &lane->data, NULL, NULL) !=
          napi_ok ||
      type != napi_uint8_array ||
      napi_get_typedarray_info(env, args[3], &type, &slots, (void **)&lane->slot, NULL, NULL) !=
          napi_ok ||
      type != napi_float64_array || slots < 3) {
    free(lane);
    napi_throw_type_error(env, NULL, "openLane(fd, writing, Uint8Array, Float64Array of 3)");
    return NULL;
  }
  lane->fd = fd;
  lane->writing = writing;
  napi_create_function(env, "transfer", NAPI_AUTO_LENGTH, transfer, lane, &function);
  napi_add_finalizer(env, function, lane, release, NULL, NULL);
  return function;
}

NAPI_MODULE_INIT() {
  napi_value function;
  napi_create_function(env, "openLane", NAPI_AUTO_LENGTH, open_lane, NULL, &function);
  napi_set_named_property(env, exports, "openLane", function);
  return exports;
}
