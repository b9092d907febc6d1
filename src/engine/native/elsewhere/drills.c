#include "drills.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include "drill.h"

#define MIB 1048576.0
#define GIB 1073741824.0

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
    {"ferry", "copy of a folder of many sizes from A to B", "read write", "write", 1,
     {{"mix", "@"}, {"seed", "1"}, {"source", "cold"}, {"verify", "no"}, {"keep", "no"},
      {"block", "1MiB"}, {"compressible", "0"}}},
};
#define KIND_COUNT (sizeof KINDS / sizeof KINDS[0])

int is_setting(const char *name) { return setting_place(name) >= 0; }

double drill_get(const Drill *drill, const char *name) {
  return drill->values[setting_place(name)][0];
}
int drill_has(const Drill *drill, const char *name) { return drill->counts[setting_place(name)] > 0; }

static double whole_mib(double bytes) { return fmax(MIB, floor(bytes / MIB) * MIB); }

/* A usual value that follows from the drive, as src/core/drills/ has it for a drive whose cache is not known. */
static void usual_of(Drill *drill, int place) {
  const char *name = SETTINGS[place].name;
  double *values = drill->values[place];
  drill->counts[place] = 1;
  if (strcmp(name, "mix") == 0) {
    drill->counts[place] = 0; /* those of the folder that is named, else the usual ones */
  } else if (strcmp(name, "blocks") == 0) {
    drill->counts[place] = 0;
    for (double block = drill->smallest_block ? drill->smallest_block : 4096; block <= 16 * MIB;
         block *= 2)
      values[drill->counts[place]++] = block;
  } else if (strcmp(name, "size") == 0) {
    values[0] = whole_mib(drill->room * drill_get(drill, "share"));
  } else if (strcmp(name, "fill") == 0) {
    values[0] = drill->room < 32 * GIB ? whole_mib(drill->room) : 32 * GIB;
  } else if (strcmp(drill->kind->name, "traverse") == 0) {
    values[0] = whole_mib(fmin(drill->room, 16 * GIB));
  } else {
    values[0] = drill->room < GIB ? whole_mib(drill->room) : GIB;
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
  if (drill_has(drill, "block") && drill_has(drill, "span") && drill_get(drill, "span") < drill_get(drill, "block")) {
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
    if (kind == MIX) drill_mix(drill, into);
    else if (kind == CHOICE) text_add(into, "\"%s\"", SOURCES[(int)drill_get(drill, known->name)]);
    else if (kind == FLAG) text_add(into, "%s", drill_get(drill, known->name) ? "true" : "false");
    else if (kind != SIZES && kind != NUMBERS) text_add(into, "%.15g", drill_get(drill, known->name));
    else {
      for (int i = 0; i < drill->counts[place]; i++)
        text_add(into, "%s%.15g", i ? "," : "[", drill->values[place][i]);
      text_add(into, "]");
    }
  }
  text_add(into, "},\"program\":[");
  drill_steps(drill, into);
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
  drill.has_other = asked->from || asked->to;
  if (drill.has_other && strcmp(asked->drill, "ferry") != 0) {
    text_add(why, "--from and --to are of a ferry; name the drive with --target");
    return -1;
  }
  drill.direction = asked->direction ? asked->direction
                    : asked->to      ? "read"
                                     : drill.kind->usual_direction;
  if (drill.has_other && drill.direction[0] != (asked->to ? 'r' : 'w')) {
    text_add(why, "a copy from another folder writes to the target, and a copy to another folder reads it");
    return -1;
  }
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

static const char *by_itself(const char *name) {
  return strcmp(name, "mix") == 0 ? "the folder" : "by the drive";
}

void drills_words(Text *into) {
  for (size_t i = 0; i < KIND_COUNT; i++) {
    text_add(into, "  %s: %s\n     ", KINDS[i].name, KINDS[i].title);
    for (const Set *known = KINDS[i].settings; known->name; known++) {
      const char *value = strcmp(known->value, "@") == 0 ? by_itself(known->name) : known->value;
      text_add(into, " %s=%s%s", known->name, value, known[1].name ? "," : "\n");
    }
  }
}
