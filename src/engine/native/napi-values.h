/* What a call of the runtime hands over, read by name. */
#ifndef NERRIT_NAPI_VALUES_H
#define NERRIT_NAPI_VALUES_H

#include <node_api.h>
#include <stddef.h>

static inline double number_of(napi_env env, napi_value object, const char *name) {
  napi_value value;
  double number = 0;
  napi_get_named_property(env, object, name, &value);
  napi_get_value_double(env, value, &number);
  return number;
}

/* The memory of a typed array, and how many elements it has; NULL where there is none of that name. */
static inline void *memory_of(napi_env env, napi_value object, const char *name, size_t *length) {
  napi_value value;
  void *data = NULL;
  size_t count = 0;
  napi_get_named_property(env, object, name, &value);
  if (napi_get_typedarray_info(env, value, NULL, &count, &data, NULL, NULL) != napi_ok) return NULL;
  if (length) *length = count;
  return data;
}

#endif
