/* A drill that is being put together of options, and the steps that it comes to. */
#ifndef NERRIT_DRILL_H
#define NERRIT_DRILL_H

#include "drills.h"
#include "settings.h"

typedef struct {
  const char *name, *title, *directions, *usual_direction;
  int repeats;
  /* Name and usual value of each setting; "@" follows from the drive (usual_of). */
  Set settings[10];
} Kind;

typedef struct {
  const Kind *kind;
  const char *direction;
  double values[SETTING_COUNT][MOST_VALUES];
  int counts[SETTING_COUNT];
  double room;
  int smallest_block;
  int has_other; /* of a copy: a second folder was named */
} Drill;

/* The value of a setting, and whether the drill has one. */
double drill_get(const Drill *drill, const char *name);
int drill_has(const Drill *drill, const char *name);
/* Adds the files of a ferry as JSON; null for those of a folder. */
void drill_mix(const Drill *drill, Text *into);
/* Adds the drill's steps as JSON, separated by commas. */
void drill_steps(const Drill *drill, Text *into);

#endif
