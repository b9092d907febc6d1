/* Between the runtime, the kernel's trace and opened.c: what src/engine/record/calls calls. */
#include "calls-addon.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>
#include "opened.h"
#include "ring-page.h"

enum { PAGE_BYTES = 4096, MOST_PAGES = 4096, HEAD = 16 };

typedef struct {
  uint8_t *bytes;
  size_t count, room;
} Bytes;

/* An event as its time, its length, and its bytes up to a multiple of eight. 0, or the error number. */
static int add_event(Bytes *all, const RingEvent *event) {
  size_t padded = (event->length + 7) / 8 * 8, needed = all->count + HEAD + padded;
  if (needed > all->room) {
    size_t room = needed * 2;
    uint8_t *bytes = realloc(all->bytes, room);
    if (!bytes) return ENOMEM;
    all->bytes = bytes;
    all->room = room;
  }
  double ns = (double)event->ns;
  uint32_t length[2] = {(uint32_t)event->length, 0};
  memset(all->bytes + all->count, 0, HEAD + padded);
  memcpy(all->bytes + all->count, &ns, sizeof ns);
  memcpy(all->bytes + all->count + 8, length, sizeof length);
  memcpy(all->bytes + all->count + HEAD, event->bytes, event->length);
  all->count = needed;
  return 0;
}

static int add_pipe(Bytes *all, int fd) {
  uint8_t data[PAGE_BYTES];
  for (int pages = 0; pages < MOST_PAGES; pages++) {
    ssize_t bytes = read(fd, data, sizeof data);
    if (bytes < 0) return errno == EAGAIN || errno == EINTR ? 0 : errno;
    if (bytes == 0) return 0;
    RingPage page = ring_page(data, (size_t)bytes);
    for (RingEvent event; ring_next(&page, &event);) {
      int error = add_event(all, &event);
      if (error != 0) return error;
    }
  }
  return 0;
}

/* eventsIn(pipe): every event that a raw pipe holds, one after another. Throws where it cannot be read. */
static napi_value events_in(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value given, buffer;
  int32_t fd = -1;
  Bytes all = {0};
  napi_get_cb_info(env, info, &argc, &given, NULL, NULL);
  napi_get_value_int32(env, given, &fd);
  int error = add_pipe(&all, fd);
  void *data = NULL;
  if (error == 0) napi_create_buffer_copy(env, all.count, all.bytes ? all.bytes : (uint8_t *)"", &data, &buffer);
  free(all.bytes);
  if (error == 0) return buffer;
  napi_throw_error(env, NULL, strerror(error));
  return NULL;
}

static void finalize(napi_env env, void *held, void *hint) {
  (void)env;
  (void)hint;
  Opened **opened = held;
  if (*opened) opened_end(*opened);
  free(opened);
}

/* listenToOpens(place): what notes the files that are opened on a place's mount. Throws with the error's name. */
static napi_value listen_to_opens(napi_env env, napi_callback_info info) {
  size_t argc = 1, length = 0;
  napi_value given, handle;
  char place[4097];
  int error = 0;
  napi_get_cb_info(env, info, &argc, &given, NULL, NULL);
  napi_get_value_string_utf8(env, given, place, sizeof place, &length);
  Opened **held = malloc(sizeof *held);
  if (held && (*held = opened_listen(place, &error)) != NULL) {
    napi_create_external(env, held, finalize, NULL, &handle);
    return handle;
  }
  free(held);
  napi_throw_error(env, error == EPERM ? "EPERM" : NULL, strerror(error ? error : ENOMEM));
  return NULL;
}

static Opened **opened_of(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value given;
  void *held = NULL;
  napi_get_cb_info(env, info, &argc, &given, NULL, NULL);
  napi_get_value_external(env, given, &held);
  return held;
}

static void set_number(napi_env env, napi_value object, const char *name, double number) {
  napi_value value;
  napi_create_double(env, number, &value);
  napi_set_named_property(env, object, name, value);
}

/* takeOpens(handle): { opens: [{ ns, bytes, thread, path }], lost }. */
static napi_value take_opens(napi_env env, napi_callback_info info) {
  Opened **held = opened_of(env, info);
  Open *list = NULL;
  uint64_t lost = 0;
  size_t count = held && *held ? opened_take(*held, &list, &lost) : 0;
  napi_value taken, opens;
  napi_create_object(env, &taken);
  napi_create_array_with_length(env, count, &opens);
  for (size_t i = 0; i < count; i++) {
    napi_value one, path;
    napi_create_object(env, &one);
    set_number(env, one, "ns", (double)list[i].ns);
    set_number(env, one, "bytes", (double)list[i].bytes);
    set_number(env, one, "thread", list[i].thread);
    napi_create_string_utf8(env, list[i].path, NAPI_AUTO_LENGTH, &path);
    napi_set_named_property(env, one, "path", path);
    napi_set_element(env, opens, (uint32_t)i, one);
    free(list[i].path);
  }
  free(list);
  napi_set_named_property(env, taken, "opens", opens);
  set_number(env, taken, "lost", (double)lost);
  return taken;
}

/* endOpens(handle): nobody waits any more. */
static napi_value end_opens(napi_env env, napi_callback_info info) {
  Opened **held = opened_of(env, info);
  if (held && *held) {
    opened_end(*held);
    *held = NULL;
  }
  return NULL;
}

void calls_exports(napi_env env, napi_value exports) {
  static const struct {
    const char *name;
    napi_callback call;
  } functions[] = {
      {"eventsIn", events_in},
      {"listenToOpens", listen_to_opens},
      {"takeOpens", take_opens},
      {"endOpens", end_opens},
  };
  for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
    napi_value function;
    napi_create_function(env, functions[i].name, NAPI_AUTO_LENGTH, functions[i].call, NULL, &function);
    napi_set_named_property(env, exports, functions[i].name, function);
  }
}
