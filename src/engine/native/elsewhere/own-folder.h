/* A folder of a run's own on the drive, with a marker that it may go (src/engine/target/scratch.ts). */
#ifndef NERRIT_OWN_FOLDER_H
#define NERRIT_OWN_FOLDER_H

#include "../system.h"
#include "text.h"

typedef struct {
  const Place *place; /* NULL: there is none */
  char name[64], path[PATH_BYTES + 64];
} OwnFolder;

/* Makes one. 0, or adds to why it cannot be made. */
int own_folder_make(const Place *place, OwnFolder *folder, Text *why);
/* Makes the folders of a file's way in it. 0, or why not. */
int own_folder_way(const OwnFolder *folder, const char *name);
/* Removes the folder with all that is in it; a link in it is removed, and never followed. */
void own_folder_remove(OwnFolder *folder);
/* Gives it a name that stays, and says its path. 0, or why not. */
int own_folder_keep(OwnFolder *folder, char kept[PATH_BYTES + 64]);
/* Removes what an interrupted run left in a folder's place: one that is empty, or has the marker. */
void own_folder_sweep(const char *parent, const char *name);
/* Whether a name is one that a run gives, or the marker. */
int is_made_by_us(const char *name);

#endif
