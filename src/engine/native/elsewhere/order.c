#include "order.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "json.h"

#define MIB 1048576.0
#define MOST_STEPS 10000
#define MOST_MEASUREMENTS 200

typedef struct {
  Text *why;
  size_t measurement, step;
} Place;

/* Says once what makes no sense, and where. */
static int refuse(Place *place, const char *name, const char *wrong) {
  if (place->why->length > 0) return 0;
  text_add(place->why, "measurement %zu, step %zu: %s %s", place->measurement + 1, place->step + 1,
           name, wrong);
  return 0;
}

/* A number within its bounds, or what it is where it is left out. */
static int number_of(Place *place, const Json *object, const char *name, double usual, double least,
                     double most, int whole, double *into) {
  const Json *found = json_member(object, name);
  *into = usual;
  if (!found && !isnan(usual)) return 1;
  if (!found) return refuse(place, name, "is missing");
  if (found->kind != JSON_NUMBER) return refuse(place, name, "is no number");
  *into = found->number;
  if (*into < least || *into > most) return refuse(place, name, "is beyond its bounds");
  if (whole && *into != floor(*into)) return refuse(place, name, "is no whole number");
  return 1;
}

static int is_text(const Json *object, const char *name, const char *words) {
  const Json *found = json_member(object, name);
  return found && found->kind == JSON_TEXT && strcmp(found->text, words) == 0;
}

static int requests_of(Place *place, const Json *json, Step *step) {
  double block, depth, span;
  if (!number_of(place, json, "block", NAN, 512, 64 * MIB, 1, &block)) return 0;
  if (fmod(block, 512) != 0) return refuse(place, "block", "is no multiple of 512 bytes");
  if (!number_of(place, json, "depth", NAN, 1, 1024, 1, &depth)) return 0;
  if (!number_of(place, json, "span", NAN, block, pow(2, 50), 1, &span)) return 0;
  if (block * depth > 1024 * MIB) return refuse(place, "depth", "needs more than 1 GiB of memory");
  step->block = (uint64_t)block;
  step->depth = (uint64_t)depth;
  step->span = (uint64_t)span;
  return 1;
}

static int flow_of(Place *place, const Json *json, Step *step) {
  double first, generation;
  if (!requests_of(place, json, step)) return 0;
  if (json_member(json, "steady")) return refuse(place, "steady", "is measured by Nerrit itself only");
  const Json *targets = json_member(json, "targets");
  if (targets && (!targets->first || targets->first->number != 0 || targets->first->next))
    return refuse(place, "targets", "are several: one folder is measured in at a time");
  step->random = is_text(json, "order", "random");
  if (!step->random && !is_text(json, "order", "sequential"))
    return refuse(place, "order", "is neither sequential nor random");
  if (!number_of(place, json, "writeShare", NAN, 0, 1, 0, &step->write_share) ||
      !number_of(place, json, "first", 0, 0, pow(2, 50), 1, &first) ||
      !number_of(place, json, "seconds", 0, 0.01, 7 * 86400, 0, &step->seconds) ||
      !number_of(place, json, "bytes", -1, 1, pow(2, 50), 1, &step->bytes) ||
      !number_of(place, json, "leastRequests", 0, 0, 1e6, 1, &step->least_requests) ||
      !number_of(place, json, "leadIn", 0, 0, 60, 0, &step->lead_in) ||
      !number_of(place, json, "compressible", 0, 0, 1, 0, &step->compressible) ||
      !number_of(place, json, "generation", 0, 1, 65535, 1, &generation))
    return 0;
  if (fmod(first, (double)step->block) != 0 && fmod(first, 4096) != 0)
    return refuse(place, "first", "is not where a block may begin");
  if (step->bytes > (double)step->span) return refuse(place, "bytes", "are more than the span");
  if (step->bytes > 0 && step->bytes < (double)step->block)
    return refuse(place, "bytes", "are less than one block");
  step->first = (uint64_t)first;
  step->generation = (uint32_t)generation;
  const Json *flush = json_member(json, "countFlush"), *laid = json_member(json, "laidOut");
  step->flushes = flush != NULL;
  step->counts_flush = flush && flush->kind == JSON_TRUE;
  step->laid_out = !laid || laid->kind != JSON_FALSE;
  return 1;
}

static int step_of(Place *place, const char *text, const Json *json, Step *step) {
  double generation;
  const Json *label = json_member(json, "label");
  if (label && label->kind == JSON_OBJECT)
    json_compact(text, label, &step->label);
  else
    text_add(&step->label, "{}");
  step->bytes = -1;
  if (is_text(json, "do", "flow")) return flow_of(place, json, step);
  if (is_text(json, "do", "rest")) {
    step->kind = REST;
    return number_of(place, json, "seconds", NAN, 0, 7 * 86400, 0, &step->seconds);
  }
  if (!is_text(json, "do", "check")) return refuse(place, "do", "is no step of this program");
  step->kind = CHECK;
  if (!requests_of(place, json, step)) return 0;
  if (!number_of(place, json, "generation", NAN, 1, 65535, 1, &generation)) return 0;
  step->generation = (uint32_t)generation;
  return 1;
}

static size_t count_of(const Json *list) {
  size_t count = 0;
  for (const Json *at = list ? list->first : NULL; at; at = at->next) count++;
  return count;
}

static int measurement_of(Place *place, const char *text, const Json *json, Measurement *into) {
  const Json *drill = json_member(json, "drill"), *program = json_member(json, "program");
  double repeats;
  if (!drill || drill->kind != JSON_OBJECT) return refuse(place, "drill", "is missing");
  if (!number_of(place, drill, "repeats", NAN, 1, 50, 1, &repeats)) return 0;
  json_compact(text, drill, &into->drill);
  into->repeats = (int)repeats;
  size_t count = program && program->kind == JSON_LIST ? count_of(program) : 0;
  if (count == 0 || count > MOST_STEPS) return refuse(place, "program", "has no steps, or too many");
  into->steps = calloc(count, sizeof *into->steps);
  if (!into->steps) return refuse(place, "program", "needs more memory than there is");
  into->count = count;
  const Json *at = program->first;
  for (place->step = 0; at; at = at->next, place->step++) {
    if (!step_of(place, text, at, &into->steps[place->step])) return 0;
  }
  place->step = 0;
  if (measurement_span(into) == 0) return refuse(place, "program", "only rests");
  return 1;
}

static int whole_of(const char *text, const Json *json, Order *order, Text *why) {
  Place place = {why, 0, 0};
  if (!is_text(json, "format", "nerrit-order")) {
    text_add(why, "the file is no order of Nerrit: its \"format\" is not \"nerrit-order\"");
    return 0;
  }
  const Json *version = json_member(json, "version"), *rig = json_member(json, "rig");
  if (!version || version->number != 1) {
    text_add(why, "the file is of a version that this program does not know; get the program anew");
    return 0;
  }
  const Json *list = json_member(json, "measurements");
  size_t count = list && list->kind == JSON_LIST ? count_of(list) : 0;
  if (count == 0 || count > MOST_MEASUREMENTS) {
    text_add(why, "the file orders no measurement, or more than %d", MOST_MEASUREMENTS);
    return 0;
  }
  order->rig = strdup(rig && rig->kind == JSON_TEXT ? rig->text : "");
  order->buffered = is_text(json, "io", "buffered");
  order->measurements = calloc(count, sizeof *order->measurements);
  if (!order->rig || !order->measurements) return 0;
  order->count = count;
  if (!number_of(&place, json, "reserve", -1, 0, pow(2, 60), 1, &order->reserve) ||
      !number_of(&place, json, "restSeconds", 0, 0, 86400, 0, &order->rest_seconds))
    return 0;
  const Json *at = list->first;
  for (; at; at = at->next, place.measurement++) {
    if (!measurement_of(&place, text, at, &order->measurements[place.measurement])) return 0;
  }
  return 1;
}

int order_read(const char *text, size_t length, Order *order, Text *why) {
  size_t wrong = 0;
  memset(order, 0, sizeof *order);
  Json *json = json_read(text, length, &wrong);
  if (!json) {
    text_add(why, "the file is no JSON: byte %zu makes no sense", wrong + 1);
    return -1;
  }
  int is_good = whole_of(text, json, order, why);
  json_free(json);
  if (is_good) return 0;
  order_free(order);
  return -1;
}

void order_free(Order *order) {
  for (size_t i = 0; order->measurements && i < order->count; i++) {
    Measurement *each = &order->measurements[i];
    for (size_t j = 0; each->steps && j < each->count; j++) text_free(&each->steps[j].label);
    free(each->steps);
    text_free(&each->drill);
  }
  free(order->measurements);
  free(order->rig);
  memset(order, 0, sizeof *order);
}

uint64_t measurement_span(const Measurement *measurement) {
  uint64_t most = 0;
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    if (step->kind != REST && step->first + step->span > most) most = step->first + step->span;
  }
  return most;
}

uint64_t measurement_laid_out(const Measurement *measurement) {
  uint64_t most = 0;
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    if (step->kind == FLOW && step->laid_out && step->first + step->span > most)
      most = step->first + step->span;
  }
  return most;
}

double measurement_seconds(const Measurement *measurement) {
  double sum = 0;
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    sum += step->lead_in + (step->bytes >= 0 ? 0 : step->seconds);
  }
  return sum;
}

double measurement_written(const Measurement *measurement) {
  double sum = (double)measurement_laid_out(measurement);
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    if (step->kind != FLOW || step->write_share <= 0) continue;
    if (step->bytes < 0 && step->seconds > 0) return -1;
    sum += step->bytes < 0 ? (double)step->span : step->bytes;
  }
  return sum;
}
