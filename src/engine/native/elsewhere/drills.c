#include "drills.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include "settings.h"

#define MIB 1048576.0
#define GIB 1073741824.0

typedef struct {
  const char *name, *title, *directions, *usual_direction;
  int repeats;
  /* Name and usual value of each setting; "@" follows from the drive (usual_of). */
  Set settings[10];
} Kind;

static const Kind KINDS[] = {
    {"haul", "sequential, large blocks, deep queue", "read write", NULL, 3,
     {{"block", "512KiB"}, {"depth", "16"}, {"span", "@"}, {"seconds", "10"}, {"compressible", "0"},
      {"countFlush", "no"}}},
    {"scatter", "random, small blocks", "read write mixed", NULL, 3,
     {{"block", "4KiB"}, {"depth", "24"}, {"writeShare", "30%"}, {"span", "@"}, {"seconds", "10"},
      {"steady", "no"}, {"compressible", "0"}, {"countFlush", "no"}}},
    {"stride-ladder", "sequential, throughput by block size", "read write", "read", 1,
     {{"blocks", "@"}, {"depth", "1"}, {"span", "@"}, {"seconds", "2"}, {"compressible", "0"}}},
    {"depth-ladder", "random, throughput by queue depth", "read write", "read", 1,
     {{"depths", "1 2 4 8 16 32 64 128 256"}, {"block", "4KiB"}, {"span", "@"}, {"seconds", "2"},
      {"compressible", "0"}}},
    {"long-fill", "sequential, sustained writing", "write", "write", 1,
     {{"share", "90%"}, {"size", "@"}, {"seconds", "1800"}, {"block", "1MiB"}, {"depth", "8"},
      {"compressible", "0"}, {"countFlush", "yes"}}},
    {"traverse", "sequential, rate by position on the medium", "read write", "read", 1,
     {{"places", "64"}, {"span", "@"}, {"seconds", "0.5"}, {"block", "1MiB"}, {"depth", "4"},
      {"compressible", "0"}}},
    {"proof", "sequential, every block written and read back", "write", "write", 1,
     {{"span", "@"}, {"passes", "2"}, {"block", "1MiB"}, {"depth", "4"}}},
    {"rest-and-return", "sequential writing, with idle times between", "write", "write", 1,
     {{"fill", "@"}, {"rests", "30 120 600"}, {"block", "1MiB"}, {"depth", "8"},
      {"compressible", "0"}}},
};
#define KIND_COUNT (sizeof KINDS / sizeof KINDS[0])

/* A drill that is being put together. */
typedef struct {
  const Kind *kind;
  const char *direction;
  double values[SETTING_COUNT][MOST_VALUES];
  int counts[SETTING_COUNT];
  double room;
  int smallest_block;
} Drill;

int is_setting(const char *name) { return setting_place(name) >= 0; }

static double get(const Drill *drill, const char *name) { return drill->values[setting_place(name)][0]; }
static int is_of(const Drill *drill, const char *name) { return drill->counts[setting_place(name)] > 0; }

static double whole_mib(double bytes) { return fmax(MIB, floor(bytes / MIB) * MIB); }

/* A usual value that follows from the drive, as src/core/drills/ has it for a drive whose cache is not known. */
static void usual_of(Drill *drill, int place) {
  const char *name = SETTINGS[place].name;
  double *values = drill->values[place];
  drill->counts[place] = 1;
  if (strcmp(name, "blocks") == 0) {
    drill->counts[place] = 0;
    for (double block = drill->smallest_block ? drill->smallest_block : 4096; block <= 16 * MIB;
         block *= 2)
      values[drill->counts[place]++] = block;
  } else if (strcmp(name, "size") == 0) {
    values[0] = whole_mib(drill->room * get(drill, "share"));
  } else if (strcmp(name, "fill") == 0) {
    values[0] = drill->room < 32 * GIB ? whole_mib(drill->room) : 32 * GIB;
  } else if (strcmp(drill->kind->name, "traverse") == 0) {
    values[0] = whole_mib(fmin(drill->room, 16 * GIB));
  } else {
    values[0] = drill->room < GIB ? whole_mib(drill->room) : GIB;
  }
}

/* ---- the steps ---- */

typedef struct {
  double write_share, block, depth, first, span, seconds, bytes, lead_in, least;
  int random, laid_out, flush; /* flush: -1 none, 0 not counted, 1 counted */
  double generation;
} Flow;

static void add_flow(const Drill *drill, Text *into, const char *label, const Flow *flow) {
  text_add(into, "{\"do\":\"flow\",\"label\":%s,\"writeShare\":%.15g,\"order\":\"%s\"", label,
           flow->write_share, flow->random ? "random" : "sequential");
  text_add(into, ",\"block\":%.0f,\"depth\":%.0f,\"first\":%.0f,\"span\":%.0f", flow->block,
           flow->depth, flow->first, flow->span);
  if (flow->seconds > 0) text_add(into, ",\"seconds\":%.15g", flow->seconds);
  if (flow->bytes > 0) text_add(into, ",\"bytes\":%.0f", flow->bytes);
  if (flow->least > 0) text_add(into, ",\"leastRequests\":%.0f", flow->least);
  if (flow->lead_in > 0) text_add(into, ",\"leadIn\":%.15g", flow->lead_in);
  if (is_of(drill, "compressible"))
    text_add(into, ",\"compressible\":%.15g", get(drill, "compressible"));
  if (flow->flush >= 0) text_add(into, ",\"countFlush\":%s", flow->flush ? "true" : "false");
  if (!flow->laid_out) text_add(into, ",\"laidOut\":false");
  if (flow->generation > 0) text_add(into, ",\"generation\":%.0f", flow->generation);
  text_add(into, "}");
}

/* Whole blocks, one at least. */
static double in_blocks(double bytes, double block) { return fmax(block, floor(bytes / block) * block); }
static double lead_in(double seconds) { return fmin(1, seconds / 4); }
static double written_share(const Drill *drill) {
  if (strcmp(drill->direction, "mixed") == 0) return get(drill, "writeShare");
  return strcmp(drill->direction, "write") == 0;
}
static int flush_of(const Drill *drill) {
  return strcmp(drill->direction, "read") == 0 ? -1 : (int)get(drill, "countFlush");
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
                 .block = by_block ? value : get(drill, "block"),
                 .depth = by_block ? get(drill, "depth") : value, .seconds = get(drill, "seconds"),
                 .lead_in = lead_in(get(drill, "seconds")), .least = ENOUGH_REQUESTS,
                 .laid_out = 1, .flush = -1};
    flow.span = by_block ? fmax(get(drill, "span"), value) : get(drill, "span");
    if (i > 0) text_add(into, ",");
    add_flow(drill, into, named.at, &flow);
    text_free(&named);
  }
}

static void add_traverse(const Drill *drill, Text *into) {
  double span = get(drill, "span"), block = get(drill, "block");
  double stretch = in_blocks(span / get(drill, "places"), block);
  double many = fmax(1, fmin(get(drill, "places"), floor(span / stretch)));
  for (int i = 0; i < (int)many; i++) {
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"position\":%.0f}", i * stretch);
    Flow flow = {.write_share = written_share(drill), .block = block, .depth = get(drill, "depth"),
                 .first = i * stretch, .span = stretch, .seconds = get(drill, "seconds"),
                 .lead_in = fmin(0.1, get(drill, "seconds") / 4), .laid_out = 1, .flush = -1};
    if (i > 0) text_add(into, ",");
    add_flow(drill, into, label.at, &flow);
    text_free(&label);
  }
}

static void add_proof(const Drill *drill, Text *into) {
  double block = get(drill, "block"), span = in_blocks(get(drill, "span"), block);
  for (int pass = 1; pass <= (int)get(drill, "passes"); pass++) {
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"name\":\"pass %d: writing\"}", pass);
    Flow flow = {.write_share = 1, .block = block, .depth = get(drill, "depth"), .span = span,
                 .flush = 1, .generation = pass};
    if (pass > 1) text_add(into, ",");
    add_flow(drill, into, label.at, &flow);
    text_add(into, ",{\"do\":\"check\",\"label\":{\"name\":\"pass %d: reading back\"}", pass);
    text_add(into, ",\"block\":%.0f,\"depth\":%.0f,\"span\":%.0f,\"generation\":%d}", block,
             get(drill, "depth"), span, pass);
    text_free(&label);
  }
}

static void add_rest_and_return(const Drill *drill, Text *into) {
  int place = setting_place("rests");
  double block = get(drill, "block"), span = in_blocks(get(drill, "fill"), block);
  for (int i = 0; i <= drill->counts[place]; i++) {
    double rest = i == 0 ? 0 : drill->values[place][i - 1];
    Text label = {NULL, 0, 0};
    text_add(&label, "{\"restSeconds\":%.15g}", rest);
    if (i > 0) text_add(into, ",{\"do\":\"rest\",\"label\":%s,\"seconds\":%.15g},", label.at, rest);
    Flow flow = {.write_share = 1, .block = block, .depth = get(drill, "depth"), .span = span,
                 .bytes = span, .flush = 0};
    add_flow(drill, into, label.at, &flow);
    text_free(&label);
  }
}

static void add_steps(const Drill *drill, Text *into) {
  const char *name = drill->kind->name;
  if (strcmp(name, "stride-ladder") == 0) add_ladder(drill, into, "blocks", "block");
  else if (strcmp(name, "depth-ladder") == 0) add_ladder(drill, into, "depths", "depth");
  else if (strcmp(name, "traverse") == 0) add_traverse(drill, into);
  else if (strcmp(name, "proof") == 0) add_proof(drill, into);
  else if (strcmp(name, "rest-and-return") == 0) add_rest_and_return(drill, into);
  else if (strcmp(name, "long-fill") == 0) {
    double block = get(drill, "block"), span = in_blocks(get(drill, "size"), block);
    Flow flow = {.write_share = 1, .block = block, .depth = get(drill, "depth"), .span = span,
                 .seconds = get(drill, "seconds"), .bytes = span,
                 .flush = (int)get(drill, "countFlush")};
    add_flow(drill, into, "{}", &flow);
  } else {
    double seconds = get(drill, "seconds");
    Flow flow = {.write_share = written_share(drill), .random = strcmp(name, "scatter") == 0,
                 .block = get(drill, "block"), .depth = get(drill, "depth"),
                 .span = get(drill, "span"), .seconds = seconds, .lead_in = lead_in(seconds),
                 .laid_out = 1, .flush = flush_of(drill)};
    add_flow(drill, into, "{}", &flow);
  }
}

/* ---- a drill as it was asked for ---- */

static int settle(Drill *drill, const Set *sets, Text *why) {
  for (const Set *set = sets; set->name; set++) {
    const Set *known = drill->kind->settings;
    while (known->name && strcmp(known->name, set->name) != 0) known++;
    if (!known->name) {
      text_add(why, "%s is nothing that can be set of %s", set->name, drill->kind->name);
      return -1;
    }
  }
  for (const Set *known = drill->kind->settings; known->name; known++) {
    int place = setting_place(known->name);
    const char *words = known->value;
    for (const Set *set = sets; set->name; set++) {
      if (strcmp(set->name, known->name) == 0) words = set->value;
    }
    if (strcmp(words, "@") == 0) usual_of(drill, place);
    else if (!(drill->counts[place] = setting_values(&SETTINGS[place], words, drill->values[place]))) {
      text_add(why, "%s makes no sense, or is beyond its bounds: \"%s\"", known->name, words);
      return -1;
    }
  }
  if (is_of(drill, "block") && is_of(drill, "span") && get(drill, "span") < get(drill, "block")) {
    text_add(why, "span must be at least one block");
    return -1;
  }
  return 0;
}

static void add_drill(const Drill *drill, int repeats, Text *into) {
  text_add(into, "{\"drill\":{\"name\":\"%s\",\"direction\":\"%s\",\"repeats\":%d",
           drill->kind->name, drill->direction, repeats);
  for (const Set *known = drill->kind->settings; known->name; known++) {
    int place = setting_place(known->name), kind = SETTINGS[place].kind;
    text_add(into, ",\"%s\":", known->name);
    if (kind == FLAG) text_add(into, "%s", get(drill, known->name) ? "true" : "false");
    else if (kind != SIZES && kind != NUMBERS) text_add(into, "%.15g", get(drill, known->name));
    else {
      for (int i = 0; i < drill->counts[place]; i++)
        text_add(into, "%s%.15g", i ? "," : "[", drill->values[place][i]);
      text_add(into, "]");
    }
  }
  text_add(into, "},\"program\":[");
  add_steps(drill, into);
  text_add(into, "]}");
}

int drill_order(const Asked *asked, double room, int smallest_block, Text *into, Text *why) {
  static Drill drill;
  memset(&drill, 0, sizeof drill);
  drill.room = room;
  drill.smallest_block = smallest_block;
  for (size_t i = 0; i < KIND_COUNT; i++) {
    if (strcmp(KINDS[i].name, asked->drill) == 0) drill.kind = &KINDS[i];
  }
  if (!drill.kind) {
    text_add(why, "there is no drill \"%s\" in this program; --help lists them", asked->drill);
    return -1;
  }
  drill.direction = asked->direction ? asked->direction : drill.kind->usual_direction;
  if (!drill.direction) {
    text_add(why, "say which way %s goes: --direction read, or --direction write", asked->drill);
    return -1;
  }
  if (!is_among(drill.kind->directions, drill.direction)) {
    text_add(why, "%s goes one of these ways: %s", asked->drill, drill.kind->directions);
    return -1;
  }
  double repeats = drill.kind->repeats;
  if (asked->repeats && (!whole_number(asked->repeats, &repeats) || repeats < 1 || repeats > 50)) {
    text_add(why, "--repeats takes a whole number from 1 to 50, not \"%s\"", asked->repeats);
    return -1;
  }
  if (settle(&drill, asked->sets, why) != 0) return -1;
  add_drill(&drill, (int)repeats, into);
  return 0;
}

void drills_words(Text *into) {
  for (size_t i = 0; i < KIND_COUNT; i++) {
    text_add(into, "  %s: %s\n     ", KINDS[i].name, KINDS[i].title);
    for (const Set *known = KINDS[i].settings; known->name; known++) {
      const char *value = strcmp(known->value, "@") == 0 ? "by the drive" : known->value;
      text_add(into, " %s=%s%s", known->name, value, known[1].name ? "," : "\n");
    }
  }
}
