/*
 * What the measuring body asks of an operating system. One file for each answers: linux.c, windows.c,
 * macos.c. Paths are UTF-8. Calls that can fail return 0, or an error number of errno.h.
 */
#ifndef NERRIT_SYSTEM_H
#define NERRIT_SYSTEM_H

#include <stddef.h>
#include <stdint.h>
#include <stdio.h>

/* An open file: a descriptor, or a handle. */
typedef intptr_t File;
#define NO_FILE ((File)-1)

#define NAME_BYTES 256
#define PATH_BYTES 4096

/* ---- what the lanes need ---- */

/* Moves bytes at a place. Returns how many were moved, or minus an error number. */
long long system_read(File file, void *to, size_t bytes, uint64_t at);
long long system_write(File file, const void *from, size_t bytes, uint64_t at);
/* Nanoseconds on a clock that never goes back. */
uint64_t system_now(void);
void system_sleep(unsigned microseconds);
/* Memory that begins at a page; NULL where there is not enough. */
void *system_pages(size_t bytes);
void system_free_pages(void *pages);
/* Gives a file its blocks without writing them. */
int system_allocate(File file, uint64_t bytes);
/*
 * How requests are best kept in flight: sets what a lane does (walk.h), and returns how many lanes. file is
 * what the requests go to.
 */
size_t system_lanes(size_t depth, size_t block, File file, void *(**lane)(void *));
/* Drops what the system's memory holds of a file, where the system can be asked to. */
int system_forget(File file);
/* Whether it can: reading past memory finds nothing there afterwards. */
extern const int system_forgets;

/* ---- what the program that measures by itself needs ---- */

/* A folder to measure in, as the system sees it. Bytes below 0 and empty texts: not told. */
typedef struct {
  char path[PATH_BYTES]; /* as it really is, without links */
  char file_system[NAME_BYTES];
  char mount_options[NAME_BYTES];
  char device[NAME_BYTES];   /* the system's name of it */
  char drive[NAME_BYTES];    /* maker and model */
  char link[NAME_BYTES];     /* how the drive is attached */
  char scheduler[NAME_BYTES];
  char write_cache[NAME_BYTES];
  char lock[NAME_BYTES];     /* one run at a time holds it */
  double device_bytes, free_bytes, total_bytes, request_limit_bytes;
  double file_bytes;         /* the longest file that the file system takes; below 0: any */
  int smallest_block;        /* 0: not told */
  int rotational;            /* -1: not told */
  int is_memory;
  uint64_t identity[2];      /* tells this folder from one put in its place */
} Place;

typedef struct {
  char host[NAME_BYTES], system[NAME_BYTES], processor[NAME_BYTES];
  int cores;
  double memory_bytes, load; /* below 0: not told */
} Machine;

/* Why a folder cannot be measured in. */
enum { FIT, NO_SUCH, NO_FOLDER, A_LINK, NO_PERMISSION, READ_ONLY };

/* The command line in UTF-8; before anything else is called. */
void system_begin(int *argc, char ***argv);
void system_machine(Machine *machine);
/* Looks a folder over; real is where it really lies where it is a link. FIT, or why not. */
int system_place(const char *folder, Place *place);
/* One run at a time on a drive. 0, or EBUSY. */
int system_lock(const Place *place);
/* A new file of a run's own, past the system's cache unless buffered. named: it has a name until it is closed. */
int system_scratch(const char *folder, const char *name, int buffered, File *file, int *named);
void system_close_scratch(File file, const char *folder, const char *name, int named);
/* Has everything written brought to the medium. */
int system_flush(File file);
/* What lies in a folder. A link is something else, wherever it leads. */
enum { A_FILE, A_FOLDER, SOMETHING_ELSE };
typedef struct {
  const char *name;
  int kind;
  double bytes; /* of a file */
} Entry;
/* Calls visit for each entry of a folder, in no order. 0, or why it cannot be read. */
int system_list(const char *folder, void (*visit)(const Entry *entry, void *with), void *with);
/* The first bytes of a file; how many there were, below 0 where it cannot be read. */
long system_peek(const char *folder, const char *name, void *to, size_t bytes);
void system_remove(const char *folder, const char *name);
/* Removes an empty folder. 0, or why not. */
int system_remove_folder(const char *folder, const char *name);
/* Whether the folder is still there, and still the same. */
int system_is_there(const Place *place);
/* What the drive has moved since it appeared, bytes; 0 where the system does not tell. */
int system_counted(const Place *place, double *read, double *written);
/* Degrees Celsius by the drive; 0 where the system does not tell. */
int system_celsius(const Place *place, double *celsius);
/* Bytes that nobody can foretell. */
void system_chance(void *to, size_t bytes);
/* Processor time that this process has used, microseconds. */
double system_processor_us(void);
/* A new file to write into, never one that is there; NULL sets errno. */
FILE *system_create(const char *path);
FILE *system_open(const char *path);
int system_flush_file(FILE *file);
/* Calls back when the user or the system asks this process to end. */
void system_on_stop(void (*stop)(void));
int system_is_terminal(FILE *file);

/* ---- what a copy needs ---- */

/*
 * Files below a folder; name is the way there, with "/" between its steps, and no link in it is followed.
 * direct: past the system's memory; becomes 0 where the file system has no such files.
 */
int system_open_file(const char *folder, const char *name, int *direct, File *file);
/* A new file, never one that is there. */
int system_make_file(const char *folder, const char *name, int *direct, File *file);
/* Cuts a file at its length. */
int system_cut(File file, uint64_t bytes);
void system_close_file(File file);
/* Closes a file that was written, and brings it to the drive where system_bring does not. */
int system_finish_file(File file, int direct);
/* A new folder, for this user alone. 0, or why not, EEXIST among it. */
int system_make_folder(const char *folder, const char *name);
int system_rename_folder(const char *folder, const char *from, const char *to);
/* Brings everything below a folder to the drive. */
int system_bring(const char *folder);

#endif
