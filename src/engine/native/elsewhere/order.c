#include "order.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "order-step.h"

#define MOST_STEPS 10000
#define MOST_MEASUREMENTS 200

static int has_copy(const Measurement *measurement) {
  for (size_t i = 0; i < measurement->count; i++) {
    if (measurement->steps[i].kind == COPY) return 1;
  }
  return 0;
}

static int measurement_of(OrderPlace *place, const char *text, const Json *json, Measurement *into) {
  const Json *drill = json_member(json, "drill"), *program = json_member(json, "program");
  double repeats;
  if (!drill || drill->kind != JSON_OBJECT) return order_refuse(place, "drill", "is missing");
  if (!order_number(place, drill, "repeats", NAN, 1, 50, 1, &repeats)) return 0;
  json_compact(text, drill, &into->drill);
  into->repeats = (int)repeats;
  size_t count = program && program->kind == JSON_LIST ? json_count(program) : 0;
  if (count == 0 || count > MOST_STEPS) return order_refuse(place, "program", "has no steps, or too many");
  into->steps = calloc(count, sizeof *into->steps);
  if (!into->steps) return order_refuse(place, "program", "needs more memory than there is");
  into->count = count;
  const Json *at = program->first;
  for (place->step = 0; at; at = at->next, place->step++) {
    if (!order_step(place, text, at, &into->steps[place->step])) return 0;
  }
  place->step = 0;
  if (measurement_span(into) == 0 && !has_copy(into)) return order_refuse(place, "program", "only rests");
  return 1;
}

static int whole_of(const char *text, const Json *json, Order *order, Text *why) {
  OrderPlace place = {why, 0, 0};
  if (!json_is_text(json, "format", "nerrit-order")) {
    text_add(why, "the file is no order of Nerrit: its \"format\" is not \"nerrit-order\"");
    return 0;
  }
  const Json *version = json_member(json, "version"), *rig = json_member(json, "rig");
  if (!version || version->number != 1) {
    text_add(why, "the file is of a version that this program does not know; get the program anew");
    return 0;
  }
  const Json *list = json_member(json, "measurements");
  size_t count = list && list->kind == JSON_LIST ? json_count(list) : 0;
  if (count == 0 || count > MOST_MEASUREMENTS) {
    text_add(why, "the file orders no measurement, or more than %d", MOST_MEASUREMENTS);
    return 0;
  }
  order->rig = strdup(rig && rig->kind == JSON_TEXT ? rig->text : "");
  order->buffered = json_is_text(json, "io", "buffered");
  order->measurements = calloc(count, sizeof *order->measurements);
  if (!order->rig || !order->measurements) return 0;
  order->count = count;
  if (!order_number(&place, json, "reserve", -1, 0, pow(2, 60), 1, &order->reserve) ||
      !order_number(&place, json, "restSeconds", 0, 0, 86400, 0, &order->rest_seconds))
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
    for (size_t j = 0; each->steps && j < each->count; j++) {
      text_free(&each->steps[j].label);
      free(each->steps[j].copy.mix);
    }
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
    if ((step->kind == FLOW || step->kind == CHECK) && step->first + step->span > most) most = step->first + step->span;
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

int measurement_other(const Measurement *measurement) {
  int way = NO_OTHER;
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    if (step->kind == COPY && step->copy.from == 1) way |= FROM_OTHER;
    if (step->kind == COPY && step->copy.to == 1) way |= TO_OTHER;
  }
  return way;
}

int order_other(const Order *order) {
  int way = NO_OTHER;
  for (size_t i = 0; i < order->count; i++) way |= measurement_other(&order->measurements[i]);
  return way;
}

double measurement_seconds(const Measurement *measurement) {
  double sum = 0;
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    double least = step->round_seconds > 0 ? fmin(step->seconds, 5 * step->round_seconds) : step->seconds;
    sum += step->lead_in + (step->bytes >= 0 ? 0 : least);
  }
  return sum;
}

double measurement_written(const Measurement *measurement) {
  double sum = (double)measurement_laid_out(measurement);
  for (size_t i = 0; i < measurement->count; i++) {
    const Step *step = &measurement->steps[i];
    for (size_t j = 0; j < step->copy.mix_count; j++)
      sum += step->copy.mix[j].files * step->copy.mix[j].bytes;
    if (step->kind != FLOW || step->write_share <= 0) continue;
    if (step->bytes < 0 && step->seconds > 0) return -1;
    sum += step->bytes < 0 ? (double)step->span : step->bytes;
  }
  return sum;
}
