#ifndef NERRIT_REQUESTS_ADDON_H
#define NERRIT_REQUESTS_ADDON_H

#include <node_api.h>

/* Adds what src/engine/record/recorder.ts calls to the functions of a module. */
void requests_exports(napi_env env, napi_value exports);

#endif
