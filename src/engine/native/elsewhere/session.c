#include "session.h"

#include <pthread.h>
#include <stdio.h>
#include <string.h>
#include "out.h"

_Atomic int stopping;
_Atomic int gone;

double clock_ms(void) { return (double)system_now() / 1e6; }

double session_ms(const Session *session) {
  return session->begun < 0 ? 0 : clock_ms() - session->begun;
}

void session_start(Session *session) {
  char now[32];
  if (session->begun >= 0) return;
  session->begun = clock_ms();
  text_add(&session->line, "{\"event\":\"started\",\"repeat\":%d,\"at\":\"%s\"}", session->repeat,
           time_now(now));
  out_line(&session->line);
}

void session_happened(Session *session, const char *kind, double ms, const char *words) {
  text_add(&session->line, "{\"event\":\"happened\",\"repeat\":%d,\"what\":{\"ms\":%.3f,\"kind\":\"%s\""
                           ",\"from\":null,\"text\":", session->repeat, ms, kind);
  text_quote(&session->line, words);
  text_add(&session->line, "}}");
  out_line(&session->line);
}

void stuck_words(Session *session, const Place *place) {
  session->is_stuck = 1;
  text_add(&session->why, "%s%s did not answer requests for %.0f s after the run's end. What was "
                          "measured until then is kept.", session->why.length > 0 ? " " : "",
           place->path, PATIENCE_MS / 1e3);
}

void session_sample(Session *session, size_t step, double from, double ms, double bytes,
                    double written, double requests) {
  text_add(&session->line, "{\"event\":\"sample\",\"repeat\":%d,\"row\":[%.3f,%.3f,%.0f,%.0f,%.0f,%zu]}",
           session->repeat, from, ms, bytes, written, requests, step);
  out_line(&session->line);
}

/* ---- beside the measuring ---- */

static pthread_t watcher;
static _Atomic int watching;
static pthread_mutex_t held = PTHREAD_MUTEX_INITIALIZER;
static double warmth;
static int warmth_is_new;

static void *watch(void *given) {
  const Session *session = given;
  const Place *place = session->place, *other = session->other;
  while (atomic_load(&watching)) {
    double celsius;
    if (!system_is_there(place)) atomic_store(&gone, 1);
    else if (other && !system_is_there(other)) atomic_store(&gone, 2);
    if (system_celsius(place, &celsius)) {
      pthread_mutex_lock(&held);
      warmth = celsius;
      warmth_is_new = 1;
      pthread_mutex_unlock(&held);
    }
    for (int i = 0; i < 20 && atomic_load(&watching); i++) system_sleep(50000);
  }
  return NULL;
}

void watch_begin(const Session *session) {
  atomic_store(&gone, 0);
  atomic_store(&watching, 1);
  if (pthread_create(&watcher, NULL, watch, (void *)session) != 0) atomic_store(&watching, 0);
}

void watch_end(const Session *session) {
  if (!atomic_exchange(&watching, 0)) return;
  /* A drive that does not answer holds the watcher up, and the watcher is not waited for then. */
  if (session->is_stuck || atomic_load(&gone)) pthread_detach(watcher);
  else pthread_join(watcher, NULL);
}

void gone_words(Text *into, const Session *session) {
  const Place *place = atomic_load(&gone) == 2 ? session->other : session->place;
  text_add(into, "%s went away during the run: it was removed or replaced, or its drive was "
                 "unplugged or unmounted.", place->path);
}

void session_reading(Session *session) {
  pthread_mutex_lock(&held);
  int is_new = warmth_is_new;
  double celsius = warmth;
  warmth_is_new = 0;
  pthread_mutex_unlock(&held);
  if (!is_new || session->begun < 0) return;
  text_add(&session->line, "{\"event\":\"reading\",\"repeat\":%d,\"ms\":%.3f,\"celsius\":%.2f}",
           session->repeat, session_ms(session), celsius);
  out_line(&session->line);
}

/* ---- on the terminal ---- */

int progress_in_lines;
static int shown;

void progress(const Session *session, double mbps, double seconds_left) {
  static double last;
  int is_terminal = system_is_terminal(stderr);
  if ((!is_terminal && !progress_in_lines) || clock_ms() - last < 200) return;
  last = clock_ms();
  double left = seconds_left + session->left;
  fprintf(stderr, "%s%s: %.0f MB/s", is_terminal ? "\r" : "", session->doing, mbps);
  if (left >= 60) fprintf(stderr, ", %.0f min left at least", left / 60);
  else if (left > 0) fprintf(stderr, ", %.0f s left at least", left);
  fputs(is_terminal ? "                    " : "\n", stderr);
  shown = is_terminal;
}

void progress_clear(void) {
  if (shown) fprintf(stderr, "\r%79s\r", "");
  shown = 0;
}
