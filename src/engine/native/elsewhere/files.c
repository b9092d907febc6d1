#include "files.h"

#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include "../system.h"
#include "chance.h"
#include "own-folder.h"

/* Files in one folder of a made-up tree; more in one directory measure the directory. */
#define IN_A_FOLDER 200

static int add_file(Files *files, const char *name, double bytes) {
  if (files->count == files->room) {
    size_t room = files->room ? 2 * files->room : 256;
    CopyFile *all = realloc(files->all, room * sizeof *all);
    if (!all) return ENOMEM;
    files->all = all;
    files->room = room;
  }
  char *copy = strdup(name);
  if (!copy) return ENOMEM;
  files->all[files->count++] = (CopyFile){copy, bytes};
  files->bytes += bytes;
  return 0;
}

void files_free(Files *files) {
  for (size_t i = 0; i < files->count; i++) free(files->all[i].name);
  free(files->all);
  memset(files, 0, sizeof *files);
}

/* ---- found ---- */

/* The entries of one folder, to be put in order. */
typedef struct {
  Entry *all;
  size_t count, room;
  int error;
} Entries;

static void keep_entry(const Entry *entry, void *with) {
  Entries *entries = with;
  if (entries->count == entries->room) {
    size_t room = entries->room ? 2 * entries->room : 64;
    Entry *all = realloc(entries->all, room * sizeof *all);
    if (!all) {
      entries->error = ENOMEM;
      return;
    }
    entries->all = all;
    entries->room = room;
  }
  char *name = strdup(entry->name);
  if (!name) entries->error = ENOMEM;
  else entries->all[entries->count++] = (Entry){name, entry->kind, entry->bytes};
}

static int by_name(const void *a, const void *b) {
  return strcmp(((const Entry *)a)->name, ((const Entry *)b)->name);
}

/* Goes through a folder, and the folders in it. below is its way, empty for the first. */
static int find_below(const char *folder, const char *below, Files *files) {
  Entries entries = {NULL, 0, 0, 0};
  char path[2 * PATH_BYTES], way[PATH_BYTES];
  snprintf(path, sizeof path, "%s%s%s", folder, below[0] ? "/" : "", below);
  int error = system_list(path, keep_entry, &entries);
  if (!error) error = entries.error;
  if (!error && entries.count > 0) qsort(entries.all, entries.count, sizeof *entries.all, by_name);
  for (size_t i = 0; !error && i < entries.count; i++) {
    Entry *entry = &entries.all[i];
    int length = snprintf(way, sizeof way, "%s%s%s", below, below[0] ? "/" : "", entry->name);
    if (is_made_by_us(entry->name)) continue;
    if (length >= (int)sizeof way) error = ENAMETOOLONG;
    else if (entry->kind == A_FOLDER) error = find_below(folder, way, files);
    else if (entry->kind == A_FILE) error = add_file(files, way, entry->bytes);
    else files->passed_over++;
  }
  for (size_t i = 0; i < entries.count; i++) free((char *)entries.all[i].name);
  free(entries.all);
  return error;
}

int files_found(const char *folder, Files *files) {
  memset(files, 0, sizeof *files);
  int error = find_below(folder, "", files);
  if (error) files_free(files);
  return error;
}

/* ---- made up ---- */

int files_made_up(const Copy *copy, Files *files) {
  memset(files, 0, sizeof *files);
  int error = 0;
  char name[64];
  for (size_t i = 0; i < copy->mix_count; i++) {
    for (double j = 0; !error && j < copy->mix[i].files; j++)
      error = add_file(files, "", copy->mix[i].bytes);
  }
  uint32_t state = copy->seed;
  for (size_t i = files->count; !error && i-- > 1;) {
    size_t j = (size_t)(chance(&state) * (double)(i + 1));
    double bytes = files->all[i].bytes;
    files->all[i].bytes = files->all[j].bytes;
    files->all[j].bytes = bytes;
  }
  for (size_t i = 0; !error && i < files->count; i++) {
    snprintf(name, sizeof name, "folder-%03zu/file-%06zu.bin", i / IN_A_FOLDER, i);
    free(files->all[i].name);
    if (!(files->all[i].name = strdup(name))) error = ENOMEM;
  }
  if (error) files_free(files);
  return error;
}
