/*
 * What the kernel tells of requests to a block device, put together to whole requests: two events of each,
 * as it reaches the device and as it is answered, from the raw pages of every processor's trace buffer.
 */
#ifndef NERRIT_REQUESTS_H
#define NERRIT_REQUESTS_H

#include <stddef.h>
#include <stdint.h>

enum { REQUEST_READ, REQUEST_WRITE, REQUEST_FLUSH, REQUEST_DISCARD };
/* What a write asks of the drive’s cache beside: that it is emptied before, and that the write itself is on the medium. */
enum { FLUSH_BEFORE = 1, FLUSH_AFTER = 2 };
enum { PROGRAM_NAME = 16 };

/* Where an event of a trace point has its fields, bytes from its beginning (its format file says so). */
typedef struct {
  uint16_t id;
  size_t sector, sectors, letters, letters_size;
  size_t program, program_size; /* of size 0 where it names none */
} EventLayout;

typedef struct {
  uint64_t began; /* nanoseconds on the clock of the events */
  uint64_t took;  /* nanoseconds; NO_ANSWER where none was seen */
  uint64_t sector;
  uint32_t sectors;
  uint32_t program; /* by its place in the list of names */
  int kind;
  int flush; /* FLUSH_BEFORE, FLUSH_AFTER, both or 0 */
} Request;

#define NO_ANSWER UINT64_MAX

typedef struct Recorder Recorder;

/* NULL without memory. @param pipes how many buffers there are, one for each processor */
Recorder *recorder_new(EventLayout start, EventLayout done, size_t pipes);
void recorder_free(Recorder *recorder);

/*
 * Takes in what a buffer holds: pages that `fd` gives, which does not wait. 0, or the error number.
 */
int recorder_read(Recorder *recorder, size_t pipe, int fd);

/*
 * Puts events from before a moment in their order. What came before it is all there once every buffer
 * was read after it; what came later waits. 0, or ENOMEM.
 */
int recorder_ripen(Recorder *recorder, uint64_t before);

/*
 * How many requests can be taken: those up to the first that has no answer yet. All of them with `all`, and
 * more where too many wait for one.
 */
size_t recorder_ready(const Recorder *recorder, int all);

/* Takes the oldest requests away, in the order in which they reached the device. */
void recorder_take(Recorder *recorder, Request *into, size_t count);

/* Names of programs in the order in which their numbers were given. */
size_t recorder_programs(const Recorder *recorder);
const char *recorder_program(const Recorder *recorder, size_t number, size_t *length);

#endif
