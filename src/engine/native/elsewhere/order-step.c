#include "order-step.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "rounds.h"

#define MIB 1048576.0
#define MOST_SIZES 20
/* Files of one copy: each takes some memory. */
#define MOST_COPIED 4e6

/* Says once what makes no sense, and where. */
int order_refuse(OrderPlace *place, const char *name, const char *wrong) {
  if (place->why->length > 0) return 0;
  text_add(place->why, "measurement %zu, step %zu: %s %s", place->measurement + 1, place->step + 1,
           name, wrong);
  return 0;
}

/* A number within its bounds, or what it is where it is left out. */
int order_number(OrderPlace *place, const Json *object, const char *name, double usual, double least,
                     double most, int whole, double *into) {
  const Json *found = json_member(object, name);
  *into = usual;
  if (!found && !isnan(usual)) return 1;
  if (!found) return order_refuse(place, name, "is missing");
  if (found->kind != JSON_NUMBER) return order_refuse(place, name, "is no number");
  *into = found->number;
  if (*into < least || *into > most) return order_refuse(place, name, "is beyond its bounds");
  if (whole && *into != floor(*into)) return order_refuse(place, name, "is no whole number");
  return 1;
}

static int requests_of(OrderPlace *place, const Json *json, Step *step) {
  double block, depth, span;
  if (!order_number(place, json, "block", NAN, 512, 64 * MIB, 1, &block)) return 0;
  if (fmod(block, 512) != 0) return order_refuse(place, "block", "is no multiple of 512 bytes");
  if (!order_number(place, json, "depth", NAN, 1, 1024, 1, &depth)) return 0;
  if (!order_number(place, json, "span", NAN, block, pow(2, 50), 1, &span)) return 0;
  if (block * depth > 1024 * MIB) return order_refuse(place, "depth", "needs more than 1 GiB of memory");
  step->block = (uint64_t)block;
  step->depth = (uint64_t)depth;
  step->span = (uint64_t)span;
  return 1;
}

/* "steady": rounds of so many seconds until five are steady, so many of them at most. */
static int rounds_of(OrderPlace *place, const Json *json, Step *step) {
  const Json *steady = json_member(json, "steady");
  double most;
  if (!steady) return 1;
  if (steady->kind != JSON_OBJECT) return order_refuse(place, "steady", "says no rounds");
  if (!order_number(place, steady, "roundSeconds", NAN, 0.1, 86400, 0, &step->round_seconds)) return 0;
  if (!order_number(place, steady, "most", NAN, 1, MOST_ROUNDS, 1, &most)) return 0;
  step->most_rounds = (int)most;
  return 1;
}

static int flow_of(OrderPlace *place, const Json *json, Step *step) {
  double first, generation;
  if (!requests_of(place, json, step)) return 0;
  if (!rounds_of(place, json, step)) return 0;
  const Json *targets = json_member(json, "targets");
  if (targets && (!targets->first || targets->first->number != 0 || targets->first->next))
    return order_refuse(place, "targets", "are several: one folder is measured in at a time");
  step->random = json_is_text(json, "order", "random");
  if (!step->random && !json_is_text(json, "order", "sequential"))
    return order_refuse(place, "order", "is neither sequential nor random");
  if (!order_number(place, json, "writeShare", NAN, 0, 1, 0, &step->write_share) ||
      !order_number(place, json, "first", 0, 0, pow(2, 50), 1, &first) ||
      !order_number(place, json, "seconds", 0, 0.01, 7 * 86400, 0, &step->seconds) ||
      !order_number(place, json, "bytes", -1, 1, pow(2, 50), 1, &step->bytes) ||
      !order_number(place, json, "leastRequests", 0, 0, 1e6, 1, &step->least_requests) ||
      !order_number(place, json, "leadIn", 0, 0, 60, 0, &step->lead_in) ||
      !order_number(place, json, "compressible", 0, 0, 1, 0, &step->compressible) ||
      !order_number(place, json, "generation", 0, 1, 65535, 1, &generation))
    return 0;
  if (fmod(first, (double)step->block) != 0 && fmod(first, 4096) != 0)
    return order_refuse(place, "first", "is not where a block may begin");
  if (step->bytes > (double)step->span) return order_refuse(place, "bytes", "are more than the span");
  if (step->bytes > 0 && step->bytes < (double)step->block)
    return order_refuse(place, "bytes", "are less than one block");
  step->first = (uint64_t)first;
  step->generation = (uint32_t)generation;
  const Json *flush = json_member(json, "countFlush"), *laid = json_member(json, "laidOut");
  step->flushes = flush != NULL;
  step->counts_flush = flush && flush->kind == JSON_TRUE;
  step->laid_out = !laid || laid->kind != JSON_FALSE;
  return 1;
}

/* Which folder an end of a copy is; below 0 for one that is left out. */
static int end_of(OrderPlace *place, const Json *json, const char *name, int *into) {
  double number;
  if (!order_number(place, json, name, -1, -1, 1, 1, &number)) return 0;
  *into = (int)number;
  return 1;
}

static int mix_of(OrderPlace *place, const Json *json, Copy *copy) {
  const Json *mix = json_member(json, "mix");
  double files = 0;
  if (!mix) return 1;
  size_t count = mix->kind == JSON_LIST ? json_count(mix) : 0;
  if (count == 0 || count > MOST_SIZES) return order_refuse(place, "mix", "names no sizes, or too many");
  copy->mix = calloc(count, sizeof *copy->mix);
  if (!copy->mix) return order_refuse(place, "mix", "needs more memory than there is");
  for (const Json *at = mix->first; at; at = at->next) {
    MixEntry *entry = &copy->mix[copy->mix_count++];
    if (!order_number(place, at, "files", NAN, 1, 1e6, 1, &entry->files) ||
        !order_number(place, at, "bytes", NAN, 0, pow(2, 43), 1, &entry->bytes))
      return 0;
    files += entry->files;
  }
  return files <= MOST_COPIED ? 1 : order_refuse(place, "mix", "is of too many files");
}

static int copy_of(OrderPlace *place, const Json *json, Step *step) {
  double seed, block;
  Copy *copy = &step->copy;
  const Json *verify = json_member(json, "verify"), *keep = json_member(json, "keep");
  step->kind = COPY;
  if (!end_of(place, json, "from", &copy->from) || !end_of(place, json, "to", &copy->to) ||
      !mix_of(place, json, copy))
    return 0;
  if (copy->from == copy->to || (copy->from < 0 && !copy->mix))
    return order_refuse(place, "from", "and \"to\" leave nothing to copy");
  if (copy->from != 0 && copy->to != 0)
    return order_refuse(place, "from", "and \"to\" leave the measured folder out");
  if (!order_number(place, json, "seed", 0, 0, 4294967295.0, 1, &seed) ||
      !order_number(place, json, "block", NAN, 4096, 64 * MIB, 1, &block) ||
      !order_number(place, json, "compressible", 0, 0, 1, 0, &step->compressible))
    return 0;
  if (fmod(block, 4096) != 0) return order_refuse(place, "block", "is no multiple of 4 KiB");
  copy->source = json_is_text(json, "source", "warmed") ? WARMED
                 : json_is_text(json, "source", "cold") ? COLD
                                                   : AS_IT_IS;
  if (copy->source == AS_IT_IS && !json_is_text(json, "source", "as it is"))
    return order_refuse(place, "source", "is neither cold, warmed nor as it is");
  copy->seed = (uint32_t)seed;
  copy->verify = verify && verify->kind == JSON_TRUE;
  copy->keep = keep && keep->kind == JSON_TRUE;
  step->block = (uint64_t)block;
  return 1;
}

int order_step(OrderPlace *place, const char *text, const Json *json, Step *step) {
  double generation;
  const Json *label = json_member(json, "label");
  if (label && label->kind == JSON_OBJECT)
    json_compact(text, label, &step->label);
  else
    text_add(&step->label, "{}");
  step->bytes = -1;
  if (json_is_text(json, "do", "flow")) return flow_of(place, json, step);
  if (json_is_text(json, "do", "rest")) {
    step->kind = REST;
    return order_number(place, json, "seconds", NAN, 0, 7 * 86400, 0, &step->seconds);
  }
  if (json_is_text(json, "do", "copy")) return copy_of(place, json, step);
  if (!json_is_text(json, "do", "check")) return order_refuse(place, "do", "is no step of this program");
  step->kind = CHECK;
  if (!requests_of(place, json, step)) return 0;
  if (!order_number(place, json, "generation", NAN, 1, 65535, 1, &generation)) return 0;
  step->generation = (uint32_t)generation;
  return 1;
}
