/* What can be set of drills, and how people write that. */
#ifndef NERRIT_SETTINGS_H
#define NERRIT_SETTINGS_H

/* A mix is of twenty sizes at most, two numbers each; other lists are shorter. */
#define MOST_VALUES 40
#define MOST_LISTED 24
#define SETTING_COUNT 21

enum { SIZE, SIZES, NUMBER, NUMBERS, SECONDS, SHARE, FLAG, CHOICE, MIX };

typedef struct {
  const char *name;
  int kind;
  double least, most;
} Setting;

/* The words of the one choice there is, by their value. */
extern const char *const SOURCES[3];
extern const Setting SETTINGS[SETTING_COUNT];

/* Where a setting of that name stands ("countFlush"); below 0 where there is none. */
int setting_place(const char *name);
/* Reads a value ("16 MiB", "30 %", "yes", "10"), or a list of them. How many; 0 where they make no sense. */
int setting_values(const Setting *setting, const char *words, double values[MOST_VALUES]);
/* A whole number; 0 where it makes no sense. */
int whole_number(const char *words, double *number);
/* Whether a word is one of several with a space between them. */
int is_among(const char *words, const char *word);

#endif
