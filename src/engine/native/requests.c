#include "requests.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>
#include "request-events.h"
#include "ring-page.h"

enum {
  PAGE_BYTES = 4096,
  PAGES = 16,        /* read in one go, of kernels that give more than one */
  MOST_READS = 2048, /* of one buffer at a time: four times what it holds, however fast it fills */
  PLACES = 1 << 14,  /* lists of open requests, by their place */
  LATELY = 1 << 10,  /* requests that were answered lately are found again */
  MOST_OPEN = 100000,
  MOST_JOINED = 8192 /* sectors that others may have been joined in front; no drive takes more at once */
};

/* So long a flush behind a write is waited for; few drives take longer. */
#define FLUSH_NS 300000000ull

/* Events of one processor that wait for those of the others; within it they are in their order. */
typedef struct {
  Told *told;
  size_t from, to, room;
} Queue;

/* A request that has not been taken yet; `next` of its place is a number plus one. */
typedef struct {
  Request request;
  uint64_t next;
  int over; /* the flush behind it was seen, too */
} Held;

struct Recorder {
  EventLayout start, done;
  Queue *queues;
  size_t pipes;
  Held *held; /* request number n stands at n modulo room, a power of two */
  size_t room;
  uint64_t first, after; /* numbers of those that are held */
  uint64_t *open;        /* for each list its first request's number plus one, 0 for none */
  uint64_t *lately;      /* the same, by the place where the answer ended */
  uint64_t *flushed;     /* of writes that the cache is emptied for, by their place */
  Programs programs;
  uint64_t until; /* events from before this moment are in their order */
  uint8_t data[PAGE_BYTES * PAGES];
};

Recorder *recorder_new(EventLayout start, EventLayout done, size_t pipes) {
  Recorder *recorder = calloc(1, sizeof *recorder);
  if (!recorder) return NULL;
  recorder->start = start;
  recorder->done = done;
  recorder->pipes = pipes;
  recorder->room = 4096;
  recorder->queues = calloc(pipes + 1, sizeof *recorder->queues);
  recorder->held = calloc(recorder->room, sizeof *recorder->held);
  recorder->open = calloc(PLACES, sizeof *recorder->open);
  recorder->lately = calloc(LATELY, sizeof *recorder->lately);
  recorder->flushed = calloc(LATELY, sizeof *recorder->flushed);
  if (recorder->queues && recorder->held && recorder->open && recorder->lately &&
      recorder->flushed && programs_make(&recorder->programs) == 0)
    return recorder;
  recorder_free(recorder);
  return NULL;
}

void recorder_free(Recorder *recorder) {
  if (!recorder) return;
  for (size_t i = 0; recorder->queues && i < recorder->pipes; i++) free(recorder->queues[i].told);
  free(recorder->queues);
  free(recorder->held);
  free(recorder->open);
  free(recorder->lately);
  free(recorder->flushed);
  free(recorder->programs.names);
  free(recorder);
}

static Told *room_for_one(Queue *queue) {
  /* What was put in its order makes room again, once that is the larger part. */
  if (queue->from > queue->to / 2) {
    memmove(queue->told, queue->told + queue->from, (queue->to - queue->from) * sizeof *queue->told);
    queue->to -= queue->from;
    queue->from = 0;
  }
  if (queue->to == queue->room) {
    size_t room = queue->room ? queue->room * 2 : 1024;
    Told *told = realloc(queue->told, room * sizeof *told);
    if (!told) return NULL;
    queue->told = told;
    queue->room = room;
  }
  return &queue->told[queue->to];
}

int recorder_read(Recorder *recorder, size_t pipe, int fd) {
  Queue *queue = &recorder->queues[pipe];
  for (int reads = 0; reads < MOST_READS; reads++) {
    ssize_t bytes = read(fd, recorder->data, sizeof recorder->data);
    if (bytes < 0) return errno == EAGAIN || errno == EINTR ? 0 : errno;
    if (bytes == 0) return 0;
    for (size_t at = 0; at < (size_t)bytes; at += PAGE_BYTES) {
      size_t left = (size_t)bytes - at;
      RingPage page = ring_page(recorder->data + at, left < PAGE_BYTES ? left : PAGE_BYTES);
      for (RingEvent event; ring_next(&page, &event);) {
        Told *told = room_for_one(queue);
        if (!told) return ENOMEM;
        queue->to += (size_t)event_told(&recorder->start, &recorder->done, &event, &recorder->programs, told);
      }
    }
  }
  return 0;
}

/* ---- requests, from events ---- */

static size_t mixed(int kind, uint64_t sector) {
  return (size_t)(((sector << 2) + (uint64_t)kind) * 0x9e3779b97f4a7c15ull >> 40);
}

static Held *held_at(const Recorder *recorder, uint64_t number) {
  return &recorder->held[number & (recorder->room - 1)];
}

static int more_room(Recorder *recorder) {
  size_t room = recorder->room * 2;
  Held *held = calloc(room, sizeof *held);
  if (!held) return ENOMEM;
  for (uint64_t n = recorder->first; n < recorder->after; n++)
    held[n & (room - 1)] = *held_at(recorder, n);
  free(recorder->held);
  recorder->held = held;
  recorder->room = room;
  return 0;
}

/* The link that points at the first open request of a place, or at the end of its list. */
static uint64_t *find_open(Recorder *recorder, int kind, uint64_t sector) {
  uint64_t *link = &recorder->open[mixed(kind, sector) % PLACES];
  while (*link) {
    Held *held = held_at(recorder, *link - 1);
    if (held->request.sector == sector && held->request.kind == kind) break;
    link = &held->next;
  }
  return link;
}

static int begin(Recorder *recorder, const Told *told) {
  if (recorder->after - recorder->first == recorder->room && more_room(recorder) != 0) return ENOMEM;
  uint64_t number = recorder->after++;
  Request request = {told->ns, NO_ANSWER, told->sector, told->sectors, told->program, told->kind, told->flush};
  *held_at(recorder, number) = (Held){request, 0, 0};
  /* At the end of its list: of requests at one place the first is answered first. */
  uint64_t *link = &recorder->open[mixed(told->kind, told->sector) % PLACES];
  while (*link) link = &held_at(recorder, *link - 1)->next;
  *link = number + 1;
  return 0;
}

/* The open request at a place, no longer open; else one that another was joined to in front. */
static Held *close_at(Recorder *recorder, const Told *told) {
  uint32_t places = told->sectors < MOST_JOINED ? told->sectors : MOST_JOINED;
  for (uint32_t i = 0; i < (places ? places : 1); i++) {
    uint64_t *link = find_open(recorder, told->kind, told->sector + i);
    if (!*link) continue;
    Held *held = held_at(recorder, *link - 1);
    *link = held->next;
    return held;
  }
  return NULL;
}

static uint64_t number_of(const Recorder *recorder, const Held *held) {
  uint64_t place = (uint64_t)(held - recorder->held);
  return recorder->first + ((place - recorder->first) & (recorder->room - 1));
}

static void take_time(Request *request, uint64_t ns) {
  request->took = ns > request->began ? ns - request->began : 0;
}

/* The flush behind a write is over, and with it the write. */
static void end_flushed(Recorder *recorder, const Told *told) {
  uint64_t found = recorder->flushed[mixed(REQUEST_WRITE, told->sector) % LATELY];
  if (found == 0 || found - 1 < recorder->first) return;
  Held *held = held_at(recorder, found - 1);
  if (!held->request.flush || held->request.sector != told->sector) return;
  take_time(&held->request, told->ns);
  held->over = 1;
}

static void answer(Recorder *recorder, const Told *told) {
  if (told->kind == REQUEST_WRITE && told->sectors == 0) return end_flushed(recorder, told);
  Held *held = close_at(recorder, told);
  if (told->kind == REQUEST_FLUSH) {
    /* Those that the kernel makes itself around a write answer nobody. */
    if (held) take_time(&held->request, told->ns);
    return;
  }
  if (held) {
    held->request.sector = told->sector;
    held->request.sectors = told->sectors;
  } else {
    /* The second part of one that is answered in parts goes on where the first part ended. */
    uint64_t before = recorder->lately[mixed(told->kind, told->sector) % LATELY];
    if (before == 0 || before - 1 < recorder->first) return;
    held = held_at(recorder, before - 1);
    const Request *request = &held->request;
    if (request->kind != told->kind || request->sector + request->sectors != told->sector) return;
    held->request.sectors += told->sectors;
  }
  Request *request = &held->request;
  take_time(request, told->ns);
  uint64_t number = number_of(recorder, held);
  recorder->lately[mixed(request->kind, request->sector + request->sectors) % LATELY] = number + 1;
  if (request->flush) recorder->flushed[mixed(request->kind, request->sector) % LATELY] = number + 1;
}

int recorder_ripen(Recorder *recorder, uint64_t before) {
  recorder->until = before;
  for (;;) {
    Queue *next = NULL;
    for (size_t i = 0; i < recorder->pipes; i++) {
      Queue *queue = &recorder->queues[i];
      if (queue->from == queue->to) continue;
      if (!next || queue->told[queue->from].ns < next->told[next->from].ns) next = queue;
    }
    if (!next || next->told[next->from].ns >= before) return 0;
    const Told *told = &next->told[next->from];
    if (told->done) answer(recorder, told);
    else if (begin(recorder, told) != 0) return ENOMEM;
    next->from++;
  }
}

/* Whether all of a request was seen. A drive that flushes by itself tells of no flush behind a write. */
static int is_whole(const Recorder *recorder, const Held *held) {
  const Request *request = &held->request;
  if (request->took == NO_ANSWER) return 0;
  return !request->flush || held->over || request->began + request->took + FLUSH_NS < recorder->until;
}

size_t recorder_ready(const Recorder *recorder, int all) {
  size_t waiting = (size_t)(recorder->after - recorder->first), whole = 0;
  if (all) return waiting;
  while (whole < waiting && is_whole(recorder, held_at(recorder, recorder->first + whole))) whole++;
  return waiting - whole > MOST_OPEN ? waiting - MOST_OPEN : whole;
}

/* A request that is taken without its answer is no longer looked for. */
static void forget(Recorder *recorder, uint64_t number) {
  const Request *request = &held_at(recorder, number)->request;
  uint64_t *link = &recorder->open[mixed(request->kind, request->sector) % PLACES];
  while (*link && *link != number + 1) link = &held_at(recorder, *link - 1)->next;
  if (*link) *link = held_at(recorder, number)->next;
}

void recorder_take(Recorder *recorder, Request *into, size_t count) {
  for (size_t i = 0; i < count; i++) {
    const Held *held = held_at(recorder, recorder->first);
    if (held->request.took == NO_ANSWER) forget(recorder, recorder->first);
    into[i] = held->request;
    recorder->first++;
  }
}

size_t recorder_programs(const Recorder *recorder) { return recorder->programs.count; }

const char *recorder_program(const Recorder *recorder, size_t number, size_t *length) {
  *length = strnlen(recorder->programs.names[number], PROGRAM_NAME);
  return recorder->programs.names[number];
}
