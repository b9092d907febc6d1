#include "counted.h"

#include <errno.h>
#include <stdlib.h>
#include "../histogram.h"

/* Faults that are listed; further ones are counted. */
#define MOST_FAULTS 20000

int counted_room(Counted *counted, Walk *walk) {
  counted->lanes = walk->lanes;
  counted->block = walk->block;
  counted->most_faults = walk->checked ? MOST_FAULTS : 1;
  counted->totals = calloc(walk->lanes * TOTALS, sizeof *counted->totals);
  counted->histograms = calloc(walk->lanes * 2 * BUCKETS, sizeof *counted->histograms);
  counted->faults = calloc(counted->most_faults * 3, sizeof *counted->faults);
  if (!counted->totals || !counted->histograms || !counted->faults) return ENOMEM;
  walk->control = counted->control;
  walk->totals = counted->totals;
  walk->histograms = counted->histograms;
  walk->faults = counted->faults;
  walk->most_faults = counted->most_faults;
  return 0;
}

void counted_free(Counted *counted) {
  if (!counted) return;
  free(counted->totals);
  free(counted->histograms);
  free(counted->faults);
  free(counted);
}

Moved counted_moved(const Counted *counted) {
  Moved sum = {0, 0, 0};
  for (size_t i = 0; i < counted->lanes; i++) {
    sum.read += counted->totals[i * TOTALS + READ_BYTES];
    sum.written += counted->totals[i * TOTALS + WRITTEN_BYTES];
  }
  sum.requests = (sum.read + sum.written) / (double)counted->block;
  return sum;
}

Moved moved_less(Moved a, Moved b) {
  return (Moved){a.read - b.read, a.written - b.written, a.requests - b.requests};
}

/* Request times of one way over all lanes, as packHistogram (src/core/stats/histogram.ts) writes them. */
static void add_times(const Counted *counted, Text *line, int way) {
  double longest = 0;
  int last = -1, any = 0;
  for (size_t i = 0; i < counted->lanes; i++) {
    double most = counted->totals[i * TOTALS + MAX_READ_NS + (size_t)way];
    if (most > longest) longest = most;
  }
  text_add(line, ",\"%s\":", way ? "writeTimes" : "readTimes");
  for (int bucket = 0; bucket < BUCKETS; bucket++) {
    uint64_t sum = 0;
    for (size_t i = 0; i < counted->lanes; i++)
      sum += (uint64_t)counted->histograms[(2 * i + (size_t)way) * BUCKETS + (size_t)bucket];
    if (sum == 0) continue;
    text_add(line, "%s%x.%llx", any ? " " : "{\"histogram\":\"", bucket - last,
             (unsigned long long)sum);
    any = 1;
    last = bucket;
  }
  if (any) text_add(line, "\",\"maxNs\":%.0f}", longest);
  else text_add(line, "null");
}

void counted_line(const Counted *counted, Text *line, int repeat, size_t step,
                  const char *definition) {
  text_add(line, "{\"event\":\"counted\",\"repeat\":%d,\"step\":%zu,%s", repeat, step, definition);
  text_add(line, ",\"block\":%zu,\"requests\":%.0f", counted->block, counted->moved.requests);
  text_add(line, ",\"startMs\":%.3f,\"ms\":%.3f", counted->start_ms, counted->ms);
  text_add(line, ",\"read\":%.0f,\"written\":%.0f", counted->moved.read, counted->moved.written);
  text_add(line, ",\"processorUs\":%.0f,\"deviceBytes\":", counted->processor_us);
  text_told(line, counted->device_bytes);
  text_add(line, ",\"flushMs\":");
  text_told(line, counted->flush_ms);
  if (counted->rounds > 0)
    text_add(line, ",\"steady\":{\"rounds\":%d,\"reached\":%s}", counted->rounds,
             counted->steady ? "true" : "false");
  add_times(counted, line, 0);
  add_times(counted, line, 1);
  size_t found = (size_t)atomic_load(&counted->control[FAULTS]);
  size_t listed = found < counted->most_faults ? found : counted->most_faults;
  text_add(line, ",\"faults\":[");
  for (size_t i = 0; i < listed; i++)
    text_add(line, "%s[%.0f,%.0f,%.0f]", i ? "," : "", counted->faults[3 * i],
             counted->faults[3 * i + 1], counted->faults[3 * i + 2]);
  text_add(line, "],\"moreFaults\":%zu}", found - listed);
}
