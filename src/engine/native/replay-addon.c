/* Between the runtime and replay.c: what src/engine/lanes/replay.ts calls. */
#include "replay-addon.h"
#include <stdlib.h>
#include "napi-values.h"
#include "replay.h"

/* Whether every request keeps to its bounds: what is checked here need not be where time matters. */
static int is_sound(const Requests *requests, size_t files) {
  double heard = 0;
  for (size_t i = 0; i < requests->count; i++) {
    double bytes = requests->lengths[i], wait = requests->waits_ns[i], answers = requests->answers[i];
    int flush = (requests->kinds[i] & REPLAY_KIND) == REPLAY_FLUSH;
    if ((requests->kinds[i] & REPLAY_KIND) > REPLAY_FLUSH) return 0;
    if (!(flush ? bytes == 0 : bytes > 0 && bytes <= REPLAY_LONGEST)) return 0;
    if (!(requests->offsets[i] >= 0) || !(wait >= 0 && wait < 1e18)) return 0;
    if (requests->files[i] < 0 || (size_t)requests->files[i] >= files) return 0;
    /* More answers than can be there would be waited for without end. */
    if (!(answers >= 0 && answers <= heard)) return 0;
    if (!(requests->kinds[i] & REPLAY_UNHEARD)) heard++;
  }
  return 1;
}

/* startReplay(task): an object to hand to joinReplay. The memory in the task must stay in place until then. */
static napi_value start_replay(napi_env env, napi_callback_info info) {
  size_t argc = 1, files = 0, count = 0;
  size_t counts[8] = {0};
  napi_value task, handle;
  napi_get_cb_info(env, info, &argc, &task, NULL, NULL);
  Replay *replay = calloc(1, sizeof *replay);
  int32_t *fds = memory_of(env, task, "fds", &files);
  if (replay) replay->fds = malloc((files + 1) * sizeof *replay->fds);
  if (!replay || !replay->fds) {
    free(replay);
    napi_throw_error(env, "ENOMEM", "not enough memory for so many requests");
    return NULL;
  }
  for (size_t i = 0; i < files; i++) replay->fds[i] = fds[i];
  Requests *requests = &replay->requests;
  replay->control = memory_of(env, task, "control", NULL);
  replay->totals = memory_of(env, task, "totals", NULL);
  requests->kinds = memory_of(env, task, "kinds", &count);
  requests->files = memory_of(env, task, "files", &counts[0]);
  requests->offsets = memory_of(env, task, "offsets", &counts[1]);
  requests->lengths = memory_of(env, task, "lengths", &counts[2]);
  requests->answers = memory_of(env, task, "answers", &counts[3]);
  requests->waits_ns = memory_of(env, task, "waitsNs", &counts[4]);
  requests->begun_ns = memory_of(env, task, "begunNs", &counts[5]);
  requests->ended_ns = memory_of(env, task, "endedNs", &counts[6]);
  requests->count = count;
  int complete = replay->control && replay->totals && files > 0;
  for (size_t i = 0; i < 7; i++) complete = complete && counts[i] == count;
  if (!complete || !is_sound(requests, files)) {
    replay_free(replay);
    napi_throw_type_error(env, NULL, "startReplay: the task is not complete, or a request is beyond its bounds");
    return NULL;
  }
  if (replay_start(replay) != 0) {
    napi_throw_error(env, "ENOMEM", "not enough memory for so many requests, or no more threads");
    return NULL;
  }
  napi_create_external(env, replay, NULL, NULL, &handle);
  return handle;
}

/* joinReplay(handle, task): frees what it held. Only once it has come to its end. */
static napi_value join_replay(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value handle;
  void *replay = NULL;
  napi_get_cb_info(env, info, &argc, &handle, NULL, NULL);
  if (napi_get_value_external(env, handle, &replay) == napi_ok) replay_join(replay);
  return NULL;
}

void replay_exports(napi_env env, napi_value exports) {
  static const struct {
    const char *name;
    napi_callback call;
  } functions[] = {{"startReplay", start_replay}, {"joinReplay", join_replay}};
  for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
    napi_value function;
    napi_create_function(env, functions[i].name, NAPI_AUTO_LENGTH, functions[i].call, NULL, &function);
    napi_set_named_property(env, exports, functions[i].name, function);
  }
}
