#include "announce.h"

#include <stdio.h>
#include "text.h"

static void announce_copy(const Copy *copy, const Place *const places[2]) {
  char words[32];
  double files = 0, bytes = 0;
  const char *to = copy->to < 0 ? NULL : places[copy->to]->path;
  for (size_t i = 0; i < copy->mix_count; i++) {
    files += copy->mix[i].files;
    bytes += copy->mix[i].files * copy->mix[i].bytes;
  }
  if (copy->mix) {
    size_words(words, sizeof words, bytes);
    fprintf(stderr, "Makes up %.0f files of %s in all", files, words);
    if (copy->from >= 0) fprintf(stderr, " in %s", places[copy->from]->path);
    fprintf(stderr, to ? ", and copies them" : ", and reads them");
  } else {
    fprintf(stderr, to ? "Copies the files of %s" : "Reads the files of %s", places[copy->from]->path);
  }
  if (to) fprintf(stderr, " to a folder of its own in %s", to);
  fprintf(stderr, "%s.\n", to && copy->keep ? "; the copy stays"
                          : to              ? "; the copy is removed at the end"
                          : copy->mix       ? "; they are removed at the end"
                                            : "");
}

void announce(const Order *order, const Place *place, const Place *other) {
  const Place *const places[2] = {place, other};
  double seconds = order->rest_seconds * (double)(order->count - 1), written = 0;
  uint64_t most = 0;
  char words[32];
  for (size_t i = 0; i < order->count; i++) {
    const Measurement *each = &order->measurements[i];
    uint64_t span = measurement_span(each);
    double bytes = measurement_written(each);
    if (span > most) most = span;
    seconds += measurement_seconds(each) * each->repeats + order->rest_seconds * (each->repeats - 1);
    written = bytes < 0 || written < 0 ? -1 : written + bytes * each->repeats;
  }
  fprintf(stderr, "Measures in %s", place->path);
  if (place->drive[0]) fprintf(stderr, " (%s)", place->drive);
  fprintf(stderr, ".\n");
  if (most > 0) {
    fprintf(stderr, "Makes a scratch file of %s there", size_words(words, sizeof words, (double)most));
    if (written >= 0) fprintf(stderr, ", writes %s at most", size_words(words, sizeof words, written));
    else fprintf(stderr, ", writes for as long as its steps last");
    fprintf(stderr, ", and removes the file at the end.\n");
  }
  for (size_t i = 0; i < order->count; i++) {
    for (size_t j = 0; j < order->measurements[i].count; j++) {
      const Step *step = &order->measurements[i].steps[j];
      if (step->kind == COPY) announce_copy(&step->copy, places);
    }
  }
  if (seconds >= 120) fprintf(stderr, "Takes %.0f minutes at least. ", seconds / 60);
  else if (seconds >= 1) fprintf(stderr, "Takes %.0f seconds at least. ", seconds);
  fprintf(stderr, "Ctrl-C ends the measuring, and keeps what is measured by then.\n");
}
