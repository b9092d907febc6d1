/*
 * nerrit-measure: measures a drive where it is plugged in, on any desktop system, without Nerrit there. The
 * run file that it writes is taken in by Nerrit (docs/elsewhere.md).
 */
#include <errno.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include "../system.h"
#include "announce.h"
#include "drills.h"
#include "order.h"
#include "out.h"
#include "run.h"
#include "scratch.h"
#include "session.h"
#include "version.h"

enum { EXIT_DONE, EXIT_FAILED, EXIT_USAGE };

#define MOST_SETS 24
#define MOST_ORDER (64u << 20)

typedef struct {
  const char *order, *target, *from, *to, *out, *rig, *reserve, *rest;
  int buffered, only_print;
  Asked asked;
  Set sets[MOST_SETS + 1];
  char names[MOST_SETS][32];
} Options;

static int complain(int exit_code, const char *words) {
  fprintf(stderr, "nerrit-measure: %s\n", words);
  return exit_code;
}

static void help(void) {
  Text drills = {NULL, 0, 0};
  drills_words(&drills);
  printf("nerrit-measure %s: measures a drive, and writes a run file for Nerrit.\n\n"
         "  nerrit-measure --order FILE --target FOLDER\n"
         "  nerrit-measure --drill NAME --target FOLDER [--direction read|write] [settings]\n\n"
         "  --target FOLDER   a folder on the drive; a scratch file is made there, and removed\n"
         "  --order FILE      what to measure, as a page of Nerrit wrote it\n"
         "  --drill NAME      or one drill of those below; a setting is --block 1MiB, --count-flush yes\n"
         "  --from FOLDER     of a ferry: the folder to copy to the target; that folder is only read\n"
         "  --to FOLDER       of a ferry: where to copy the files of the target\n"
         "  --direction WAY   read, write or mixed\n"
         "  --repeats N       how often\n"
         "  --rest SECONDS    idle time before each further repeat and measurement\n"
         "  --out FILE        the run file; a new file in the current folder where it is left out\n"
         "  --rig NAME        what the rig is called in the run file\n"
         "  --reserve SIZE    space to leave free (usually the larger of 2 %% and 1 GiB)\n"
         "  --buffered        through the system's memory; the run is flagged\n"
         "  --progress        progress in lines, where there is no terminal\n"
         "  --print-order     print what would be measured, and measure nothing\n"
         "  --version, --help\n\nDrills and their usual settings:\n%s", VERSION, drills.at);
  text_free(&drills);
}

/* "--count-flush" as "countFlush". */
static void setting_name(const char *option, char into[32]) {
  size_t length = 0;
  for (; *option && length < 31; option++) {
    int upper = *option == '-' && option[1] >= 'a' && option[1] <= 'z';
    into[length++] = upper ? (char)(*++option - 32) : *option;
  }
  into[length] = 0;
}

/* Reads the options. 0, or says what makes no sense. */
static int read_options(int argc, char **argv, Options *options, Text *why) {
  const struct {
    const char *name;
    const char **into;
  } known[] = {
      {"--order", &options->order},           {"--target", &options->target},
      {"--from", &options->from},             {"--to", &options->to},
      {"--out", &options->out},               {"--rig", &options->rig},
      {"--reserve", &options->reserve},       {"--rest", &options->rest},
      {"--drill", &options->asked.drill},     {"--direction", &options->asked.direction},
      {"--repeats", &options->asked.repeats},
  };
  size_t sets = 0;
  options->asked.sets = options->sets;
  for (int i = 1; i < argc; i++) {
    const char **into = NULL;
    if (strcmp(argv[i], "--buffered") == 0) {
      options->buffered = 1;
      continue;
    }
    if (strcmp(argv[i], "--progress") == 0) {
      progress_in_lines = 1;
      continue;
    }
    if (strcmp(argv[i], "--print-order") == 0) {
      options->only_print = 1;
      continue;
    }
    for (size_t j = 0; j < sizeof known / sizeof known[0]; j++) {
      if (strcmp(argv[i], known[j].name) == 0) into = known[j].into;
    }
    if (!into && strncmp(argv[i], "--", 2) == 0 && sets < MOST_SETS) {
      setting_name(argv[i] + 2, options->names[sets]);
      options->sets[sets].name = options->names[sets];
      if (is_setting(options->names[sets])) into = &options->sets[sets++].value;
      for (size_t j = 0; into && j + 1 < sets; j++) {
        if (strcmp(options->names[j], options->names[sets - 1]) == 0) into = &options->sets[j].value;
      }
    }
    if (!into) {
      text_add(why, "there is no option \"%s\"; --help lists them", argv[i]);
      return -1;
    }
    if (*into) text_add(why, "%s was given twice", argv[i]);
    else if (i + 1 == argc) text_add(why, "%s wants a value after it", argv[i]);
    if (why->length > 0) return -1;
    *into = argv[++i];
  }
  options->sets[sets].name = NULL;
  if (!options->order == !options->asked.drill)
    text_add(why, "name either --order FILE or --drill NAME; --help says more");
  else if (options->order && (sets > 0 || options->asked.direction || options->asked.repeats))
    text_add(why, "settings are of --drill; those of an order stand in its file");
  else if (options->from && options->to)
    text_add(why, "name one end of a copy with --target, and the other with --from or --to");
  else if (!options->target && !options->only_print)
    text_add(why, "name the folder to measure in: --target FOLDER");
  options->asked.from = options->from;
  options->asked.to = options->to;
  return why->length > 0 ? -1 : 0;
}

/* A size or seconds in plain numbers: "1GiB", "30". NAN where it makes no sense. */
static double plain(const char *words) {
  static const struct {
    const char *name;
    double bytes;
  } units[] = {{"", 1}, {"s", 1}, {"B", 1}, {"KB", 1e3}, {"MB", 1e6}, {"GB", 1e9}, {"TB", 1e12},
               {"KiB", 1024}, {"MiB", 1048576}, {"GiB", 1073741824}, {"TiB", 1099511627776}};
  char *rest;
  double number = strtod(words, &rest);
  if (rest == words || number < 0) return NAN;
  rest += strspn(rest, " ");
  for (size_t i = 0; i < sizeof units / sizeof units[0]; i++) {
    if (strcmp(rest, units[i].name) == 0) return floor(number * units[i].bytes + 0.5);
  }
  return NAN;
}

/* The order that options come to, as JSON. */
static int order_of_options(const Options *options, const Place *place, Text *into, Text *why) {
  double reserve = options->reserve ? plain(options->reserve) : -1;
  double rest = options->rest ? plain(options->rest) : 0;
  if (isnan(reserve)) text_add(why, "--reserve takes a size, for example 1GiB");
  else if (isnan(rest) || rest > 86400) text_add(why, "--rest takes seconds, a day at most");
  if (why->length > 0) return -1;
  text_add(into, "{\"format\":\"nerrit-order\",\"version\":1,\"rig\":");
  text_quote(into, options->rig ? options->rig : "");
  text_add(into, ",\"io\":\"%s\",\"reserve\":", options->buffered ? "buffered" : "direct");
  text_told(into, reserve);
  text_add(into, ",\"restSeconds\":%.15g,\"measurements\":[", rest);
  double room = options->target ? scratch_room(place, reserve) : 1099511627776.0;
  if (drill_order(&options->asked, room, place->smallest_block, into, why) != 0) return -1;
  text_add(into, "]}\n");
  return 0;
}

static int order_of_file(const char *path, Text *into, Text *why) {
  FILE *file = system_open(path);
  if (!file) {
    text_add(why, "%s cannot be read: %s", path, strerror(errno));
    return -1;
  }
  char piece[4096];
  for (size_t there; (there = fread(piece, 1, sizeof piece - 1, file)) > 0 && into->length < MOST_ORDER;) {
    if (memchr(piece, 0, there)) break;
    piece[there] = 0;
    text_add(into, "%s", piece);
  }
  int is_whole = feof(file) && !ferror(file);
  fclose(file);
  if (is_whole && into->length > 0) return 0;
  text_add(why, "%s is no order of Nerrit", path);
  return -1;
}

static void stop(void) { atomic_store(&stopping, 1); }

/* Whether another run is on the drive of either folder. */
static int is_busy(const Place *place, const Place *other) {
  if (system_lock(place) != 0) return 1;
  return other && other->lock[0] && strcmp(place->lock, other->lock) != 0 && system_lock(other) != 0;
}

static int go(const Options *options, Order *order, const Place *place, const Place *other) {
  Machine machine = {.load = -1, .memory_bytes = -1};
  Text why = {NULL, 0, 0};
  char name[64];
  if (is_busy(place, other))
    return complain(EXIT_FAILED, "Another run is measuring this drive. Two runs on one drive would "
                                 "disturb each other: wait for it to end, or stop it.");
  scratch_sweep(place);
  /* A folder that is copied from is only read. */
  if (order_other(order) == TO_OTHER) scratch_sweep(other);
  time_t now = time(NULL);
  strftime(name, sizeof name, "nerrit-run-%Y%m%d-%H%M%S.jsonl", localtime(&now));
  const char *out = options->out ? options->out : name;
  if (out_open(out, &why) != 0) return complain(EXIT_FAILED, why.at);
  system_machine(&machine);
  system_on_stop(stop);
  announce(order, place, other);
  int end = run_order(order, place, other, &machine);
  if (out_close(&why) != 0) return complain(EXIT_FAILED, why.at);
  fprintf(stderr, "Drop this file on any page of Nerrit: %s\n", out);
  if (end == WAS_STOPPED) return complain(EXIT_FAILED, "stopped before the end; nothing is left behind");
  return end == SOME_FAILED ? EXIT_FAILED : EXIT_DONE;
}

#define NOT_TOLD {.device_bytes = -1, .free_bytes = -1, .total_bytes = -1, \
                  .request_limit_bytes = -1, .file_bytes = -1, .rotational = -1}

/* Looks over the other end of a copy. 0, or what is wrong with it, or with the order. */
static int look_at_other(const Options *options, const Order *order, Place *other, Text *why) {
  int way = order_other(order);
  const char *asked = options->from ? options->from : options->to;
  if (way == NO_OTHER && asked) text_add(why, "nothing is copied %s", options->from ? "from there" : "to there");
  else if (way == BOTH_WAYS)
    text_add(why, "the order copies both from a second folder and to one; order them one at a time");
  else if (way == FROM_OTHER && !options->from)
    text_add(why, "the order copies a folder to the target: name that folder with --from FOLDER");
  else if (way == TO_OTHER && !options->to)
    text_add(why, "the order copies the target's files elsewhere: name where with --to FOLDER");
  if (why->length > 0) return EXIT_USAGE;
  if (!asked) return 0;
  int fitness = system_place(asked, other);
  /* What is only read may be where nothing can be written. */
  if (options->from && other->path[0] && (fitness == NO_PERMISSION || fitness == READ_ONLY))
    fitness = FIT;
  return place_refused(fitness, asked, other, options->buffered || options->from, why) ? EXIT_FAILED : 0;
}

/* The order, from its file or from options. An exit status; EXIT_DONE: it is there. */
static int get_order(const Options *options, const Place *place, Text *text, Order *order) {
  Text why = {NULL, 0, 0};
  int read = options->order ? order_of_file(options->order, text, &why)
                            : order_of_options(options, place, text, &why);
  if (read != 0) return complain(EXIT_USAGE, why.at);
  if (options->only_print || order_read(text->at, text->length, order, &why) == 0) return EXIT_DONE;
  fprintf(stderr, "nerrit-measure: %s: %s\n", options->order ? options->order : "the order", why.at);
  return EXIT_USAGE;
}

int main(int argc, char **argv) {
  static Options options;
  static Place place = NOT_TOLD, other = NOT_TOLD;
  Text why = {NULL, 0, 0}, text = {NULL, 0, 0};
  Order order = {0};
  system_begin(&argc, &argv);
  for (int i = 1; i < argc; i++) {
    if (strcmp(argv[i], "--help") == 0) return help(), EXIT_DONE;
    if (strcmp(argv[i], "--version") == 0) return printf("%s\n", VERSION), EXIT_DONE;
  }
  if (argc == 1) return help(), EXIT_USAGE;
  if (read_options(argc, argv, &options, &why) != 0) return complain(EXIT_USAGE, why.at);
  int fitness = options.target ? system_place(options.target, &place) : FIT;
  /* What a drill's usual settings are follows from the place; of an order, whether memory will do. */
  int wrong = options.order ? get_order(&options, &place, &text, &order) : EXIT_DONE;
  if (wrong) return wrong;
  options.buffered |= order.buffered;
  if (options.target && place_refused(fitness, options.target, &place, options.buffered, &why))
    return complain(EXIT_FAILED, why.at);
  wrong = options.order ? EXIT_DONE : get_order(&options, &place, &text, &order);
  if (wrong) return wrong;
  order.buffered |= options.buffered;
  if (options.only_print) return fputs(text.at, stdout), EXIT_DONE;
  wrong = look_at_other(&options, &order, &other, &why);
  if (wrong) return complain(wrong, why.at);
  int end = go(&options, &order, &place, options.from || options.to ? &other : NULL);
  order_free(&order);
  return end;
}
