#ifndef NERRIT_REPLAY_ADDON_H
#define NERRIT_REPLAY_ADDON_H

#include <node_api.h>

/* Adds what src/engine/lanes/replay.ts calls to the functions of a module. */
void replay_exports(napi_env env, napi_value exports);

#endif
