#include "settings.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#define MIB 1048576.0
#define PIB 1125899906842624.0
#define WEEK (7 * 86400.0)

const Setting SETTINGS[SETTING_COUNT] = {
    {"block", SIZE, 512, 64 * MIB},      {"blocks", SIZES, 512, 64 * MIB},
    {"depth", NUMBER, 1, 1024},          {"depths", NUMBERS, 1, 1024},
    {"span", SIZE, MIB, PIB}, {"size", SIZE, MIB, PIB},
    {"fill", SIZE, MIB, PIB}, {"seconds", SECONDS, 0.5, WEEK},
    {"share", SHARE, 0.000001, 1},       {"writeShare", SHARE, 0.000001, 0.999999},
    {"compressible", SHARE, 0, 1},       {"places", NUMBER, 2, 2000},
    {"passes", NUMBER, 1, 100},          {"rests", NUMBERS, 0, 86400},
    {"countFlush", FLAG, 0, 1},          {"steady", FLAG, 0, 1},
    {"mix", MIX, 0, 8796093022208.0},    {"seed", NUMBER, 0, 4294967295.0},
    {"source", CHOICE, 0, 2},            {"verify", FLAG, 0, 1},
    {"keep", FLAG, 0, 1},
};
const char *const SOURCES[3] = {"cold", "warmed", "as it is"};

int setting_place(const char *name) {
  for (size_t i = 0; i < SETTING_COUNT; i++) {
    if (strcmp(SETTINGS[i].name, name) == 0) return (int)i;
  }
  return -1;
}

/* One value: "16 MiB", "30 %", "yes", "10". 0 where it makes no sense. */
static int one_value(int kind, const char *words, double *value) {
  static const char *const units[] = {"B", "KB", "MB", "GB", "TB", "KiB", "MiB", "GiB", "TiB"};
  char *rest;
  if (kind == FLAG) {
    *value = strcmp(words, "yes") == 0;
    return *value || strcmp(words, "no") == 0;
  }
  for (int i = 0; kind == CHOICE && i < 3; i++) {
    *value = i;
    if (strcmp(words, SOURCES[i]) == 0) return 1;
  }
  if (kind == CHOICE) return 0;
  *value = strtod(words, &rest);
  if (rest == words || !isfinite(*value)) return 0;
  rest += strspn(rest, " ");
  if (kind == SHARE && strcmp(rest, "%") == 0) {
    *value /= 100;
    return 1;
  }
  if (kind == SECONDS && strcmp(rest, "s") == 0) return 1;
  if (*rest == 0) return 1;
  for (int i = 0; i < 9 && (kind == SIZE || kind == SIZES); i++) {
    if (strcmp(rest, units[i]) != 0) continue;
    *value *= i < 5 ? pow(1000, i) : pow(1024, i - 4);
    *value = floor(*value + 0.5);
    return 1;
  }
  return 0;
}

static int is_within(const Setting *setting, double value) {
  if (value < setting->least || value > setting->most) return 0;
  if (strncmp(setting->name, "block", 5) == 0) return fmod(value, 512) == 0;
  int whole = setting->kind == SIZE || setting->kind == SIZES ||
              (setting->kind != SECONDS && setting->kind != SHARE && strcmp(setting->name, "rests"));
  return !whole || value == floor(value);
}

/* The next value of a list: to where the next number begins, behind a comma or a space. */
static char *next_value(char **rest) {
  char *from = *rest + strspn(*rest, ", "), *end = from;
  if (*from == 0) return NULL;
  while (*end && !(strchr(", ", *end) && strchr("0123456789.+-", end[strspn(end, ", ")]))) end++;
  *rest = *end ? end + 1 : end;
  *end = 0;
  return from;
}

/* "1000 x 64KiB, 20 x 8MiB": files and bytes, one after the other. How many numbers. */
static int mix_values(char *words, double values[MOST_VALUES]) {
  int count = 0;
  for (char *rest = words, *entry; (entry = rest) && *entry;) {
    rest = strchr(entry, ',');
    if (rest) *rest++ = 0;
    char *times = strchr(entry, 'x'), *end;
    if (!times || count + 2 > MOST_VALUES) return 0;
    *times++ = 0;
    times += strspn(times, " ");
    double files = strtod(entry, &end), bytes;
    if (end == entry || end[strspn(end, " ")] || files < 1 || files > 1e6 || files != floor(files))
      return 0;
    if (!one_value(SIZE, times, &bytes) || bytes < 0 || bytes > 8796093022208.0) return 0;
    values[count++] = files;
    values[count++] = bytes;
  }
  return count;
}

int setting_values(const Setting *setting, const char *words, double values[MOST_VALUES]) {
  int many = setting->kind == SIZES || setting->kind == NUMBERS, count = 0;
  char copy[512], *rest = copy;
  if (strlen(words) >= sizeof copy) return 0;
  strcpy(copy, words);
  if (setting->kind == MIX) return mix_values(copy, values);
  for (char *word = many ? next_value(&rest) : copy; word; word = many ? next_value(&rest) : NULL) {
    double value;
    if (count == MOST_LISTED) return 0;
    if (!one_value(setting->kind, word, &value) || !is_within(setting, value)) return 0;
    values[count++] = value;
  }
  return count >= (many && strcmp(setting->name, "rests") ? 2 : 1) ? count : 0;
}

int whole_number(const char *words, double *number) {
  return one_value(NUMBER, words, number) && *number == floor(*number);
}

int is_among(const char *words, const char *word) {
  size_t length = strlen(word);
  for (const char *at = words; at; at = strchr(at, ' ')) {
    at += *at == ' ';
    if (strncmp(at, word, length) == 0 && (at[length] == ' ' || at[length] == 0)) return length > 0;
  }
  return 0;
}
