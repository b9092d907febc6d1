#include "drill.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MIB 1048576.0
#define STEADY_ROUNDS 25

typedef struct {
  double write_share, block, depth, first, span, seconds, bytes, lead_in, least;
  double round_seconds; /* 0: not until it is steady */
  int random, laid_out, flush; /* flush: -1 none, 0 not counted, 1 counted */
  double generation;
} Flow;

static void add_flow(const Drill *drill, Text *into, const char *label, const Flow *flow) {
  text_add(into, "{\"do\":\"flow\",\"label\":%s,\"writeShare\":%.15g,\"order\":\"%s\"", label,
           flow->write_share, flow->random ? "random" : "sequential");
  text_add(into, ",\"block\":%.0f,\"depth\":%.0f,\"first\":%.0f,\"span\":%.0f", flow->block,
           flow->depth, flow->first, flow->span);
  if (flow->seconds > 0) text_add(into, ",\"seconds\":%.17g", flow->seconds);
  if (flow->bytes > 0) text_add(into, ",\"bytes\":%.0f", flow->bytes);
  if (flow->least > 0) text_add(into, ",\"leastRequests\":%.0f", flow->least);
  if (flow->lead_in > 0) text_add(into, ",\"leadIn\":%.15g", flow->lead_in);
  if (drill_has(drill, "compressible"))
    text_add(into, ",\"compressible\":%.15g", drill_get(drill, "compressible"));
  if (flow->flush >= 0) text_add(into, ",\"countFlush\":%s", flow->flush ? "true" : "false");
  if (!flow->laid_out) text_add(into, ",\"laidOut\":false");
  if (flow->generation > 0) text_add(into, ",\"generation\":%.0f", flow->generation);
  if (flow->round_seconds > 0)
    text_add(into, ",\"steady\":{\"roundSeconds\":%.15g,\"most\":%d}", flow->round_seconds,
             STEADY_ROUNDS);
  text_add(into, "}");
}

/* Whole blocks, one at least. */
static double in_blocks(double bytes, double block) { return fmax(block, floor(bytes / block) * block); }
static double lead_in(double seconds) { return fmin(1, seconds / 4); }
static double written_share(const Drill *drill) {
  if (strcmp(drill->direction, "mixed") == 0) return drill_get(drill, "writeShare");
  return strcmp(drill->direction, "write") == 0;
}
static int flush_of(const Drill *drill) {
  return strcmp(drill->direction, "read") == 0 ? -1 : (int)drill_get(drill, "countFlush");
}

/* Requests after which a rate is known to 3 % (src/core/run/program.ts). */
#define ENOUGH_REQUESTS 33

static void add_ladder(const Drill *drill, Text *into, const char *steps, const char *label) {
  int place = setting_place(steps), by_block = strcmp(label, "block") == 0;
  for (int i = 0; i < drill->counts[place]; i++) {
    double value = drill->values[place][i];
    Text named = {NULL, 0, 0};
    text_add(&named, "{\"%s\":%.0f}", label, value);
    Flow flow = {.write_share = written_share(drill), .random = !by_block,
                 .block = by_block ? value : drill_get(drill, "block"),
                 .depth = by_block ? drill_get(drill, "depth") : value, .seconds = drill_get(drill, "seconds"),
                 .lead_in = lead_in(drill_get(drill, "seconds")), .least = ENOUGH_REQUESTS,
                 .laid_out = 1, .flush = -1};
    flow.span = by_block ? fmax(drill_get(drill, "span"), value) : drill_get(drill, "span");
    if (i > 0) text_add(into, ",");
    add_flow(drill, into, named.at, &flow);
    text_free(&named);
  }
}

static void add_traverse(const Drill *drill, Text *into) {
  double span = drill_get(drill, "span"), block = drill_get(drill, "block");
  double stretch = in_blocks(span / drill_get(drill, "places"), block);
  double many = fmax(1, fmin(drill_get(drill, "places"), floor(span / stretch)));
  for (int i = 0; i < (int)many; i++) {
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"position\":%.0f}", i * stretch);
    Flow flow = {.write_share = written_share(drill), .block = block, .depth = drill_get(drill, "depth"),
                 .first = i * stretch, .span = stretch, .seconds = drill_get(drill, "seconds"),
                 .lead_in = fmin(0.1, drill_get(drill, "seconds") / 4), .laid_out = 1, .flush = -1};
    if (i > 0) text_add(into, ",");
    add_flow(drill, into, label.at, &flow);
    text_free(&label);
  }
}

static void add_proof(const Drill *drill, Text *into) {
  double block = drill_get(drill, "block"), span = in_blocks(drill_get(drill, "span"), block);
  for (int pass = 1; pass <= (int)drill_get(drill, "passes"); pass++) {
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"name\":\"pass %d: writing\"}", pass);
    Flow flow = {.write_share = 1, .block = block, .depth = drill_get(drill, "depth"), .span = span,
                 .flush = 1, .generation = pass};
    if (pass > 1) text_add(into, ",");
    add_flow(drill, into, label.at, &flow);
    text_add(into, ",{\"do\":\"check\",\"label\":{\"name\":\"pass %d: reading back\"}", pass);
    text_add(into, ",\"block\":%.0f,\"depth\":%.0f,\"span\":%.0f,\"generation\":%d}", block,
             drill_get(drill, "depth"), span, pass);
    text_free(&label);
  }
}

static void add_rest_and_return(const Drill *drill, Text *into) {
  int place = setting_place("rests");
  double block = drill_get(drill, "block"), span = in_blocks(drill_get(drill, "fill"), block);
  for (int i = 0; i <= drill->counts[place]; i++) {
    double rest = i == 0 ? 0 : drill->values[place][i - 1];
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"restSeconds\":%.15g}", rest);
    if (i > 0) text_add(into, ",{\"do\":\"rest\",\"label\":%s,\"seconds\":%.15g},", label.at, rest);
    Flow flow = {.write_share = 1, .block = block, .depth = drill_get(drill, "depth"), .span = span,
                 .bytes = span, .flush = 0};
    add_flow(drill, into, label.at, &flow);
    text_free(&label);
  }
}

/* ---- a copy ---- */

/* Camera files, documents and a few long recordings (src/core/drills/kinds/ferry.ts). */
static const double USUAL_MIX[] = {1000, 65536, 200, 2 * MIB, 16, 24 * MIB, 2, 128 * MIB};
#define USUAL_COUNT ((int)(sizeof USUAL_MIX / sizeof USUAL_MIX[0]))

static void add_mix(const double *values, int count, Text *into) {
  if (count == 0) text_add(into, "null");
  for (int i = 0; i < count; i += 2)
    text_add(into, "%s{\"files\":%.0f,\"bytes\":%.0f}%s", i ? "," : "[", values[i], values[i + 1],
             i + 2 == count ? "]" : "");
}

void drill_mix(const Drill *drill, Text *into) {
  int place = setting_place("mix");
  add_mix(drill->values[place], drill->counts[place], into);
}

static void add_copy(const Drill *drill, Text *into) {
  int writes = strcmp(drill->direction, "write") == 0, place = setting_place("mix");
  const char *other = drill->has_other ? "1" : "null";
  int is_own = drill->counts[place] > 0 || (writes && !drill->has_other);
  text_add(into, "{\"do\":\"copy\",\"label\":{},\"from\":%s,\"to\":%s,\"mix\":", writes ? other : "0",
           writes ? "0" : other);
  if (drill->counts[place] == 0 && is_own) add_mix(USUAL_MIX, USUAL_COUNT, into);
  else drill_mix(drill, into);
  text_add(into, ",\"seed\":%.0f,\"source\":\"%s\",\"verify\":%s,\"keep\":%s", drill_get(drill, "seed"),
           SOURCES[(int)drill_get(drill, "source")],
           drill_get(drill, "verify") && drill->has_other ? "true" : "false",
           drill_get(drill, "keep") ? "true" : "false");
  text_add(into, ",\"block\":%.0f,\"compressible\":%.15g}", drill_get(drill, "block"),
           drill_get(drill, "compressible"));
}

void drill_steps(const Drill *drill, Text *into) {
  const char *name = drill->kind->name;
  if (strcmp(name, "stride-ladder") == 0) add_ladder(drill, into, "blocks", "block");
  else if (strcmp(name, "depth-ladder") == 0) add_ladder(drill, into, "depths", "depth");
  else if (strcmp(name, "traverse") == 0) add_traverse(drill, into);
  else if (strcmp(name, "proof") == 0) add_proof(drill, into);
  else if (strcmp(name, "ferry") == 0) add_copy(drill, into);
  else if (strcmp(name, "rest-and-return") == 0) add_rest_and_return(drill, into);
  else if (strcmp(name, "long-fill") == 0) {
    double block = drill_get(drill, "block"), span = in_blocks(drill_get(drill, "size"), block);
    Flow flow = {.write_share = 1, .block = block, .depth = drill_get(drill, "depth"), .span = span,
                 .seconds = drill_get(drill, "seconds"), .bytes = span,
                 .flush = (int)drill_get(drill, "countFlush")};
    add_flow(drill, into, "{}", &flow);
  } else {
    double seconds = drill_get(drill, "seconds");
    int steady = drill_has(drill, "steady") && drill_get(drill, "steady");
    Flow flow = {.write_share = written_share(drill), .random = strcmp(name, "scatter") == 0,
                 .block = drill_get(drill, "block"), .depth = drill_get(drill, "depth"),
                 .span = drill_get(drill, "span"), .seconds = steady ? seconds * STEADY_ROUNDS : seconds,
                 .lead_in = lead_in(seconds), .round_seconds = steady ? seconds : 0,
                 .laid_out = 1, .flush = flush_of(drill)};
    add_flow(drill, into, "{}", &flow);
  }
}
