#ifndef NERRIT_CALLS_ADDON_H
#define NERRIT_CALLS_ADDON_H

#include <node_api.h>

/* Adds what src/engine/record/calls calls to the functions of a module. */
void calls_exports(napi_env env, napi_value exports);

#endif
