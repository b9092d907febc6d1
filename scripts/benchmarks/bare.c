/*
 * The bare program that the engine is held against: threads, pread or pwrite, O_DIRECT, and nothing
 * else. Prints MB/s, processor microseconds per request, and the most memory it held in KiB.
 *
 * Usage: bare FILE BYTES_OF_BLOCK BYTES_OF_SPAN THREADS SECONDS read|write
 */
#define _GNU_SOURCE
#include <fcntl.h>
#include <pthread.h>
#include <stdatomic.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/resource.h>
#include <time.h>
#include <unistd.h>

static int fd, writing;
static size_t block;
static uint64_t blocks;
static _Atomic uint64_t cursor, done;
static _Atomic int stop;

static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return t.tv_sec + t.tv_nsec / 1e9;
}

static void *work(void *given) {
  uint64_t state = (uint64_t)(uintptr_t)given * 0x9e3779b97f4a7c15ull + 1, count = 0;
  uint8_t *data;
  /* As much as the engine has ready for each request: what is written is another stretch of it each time. */
  size_t pool = block + (block < 262144 ? block : 262144), turn = 0;
  if (pool < 1048576) pool = 1048576;
  if (posix_memalign((void **)&data, 4096, pool)) exit(1);
  for (size_t i = 0; i < pool / 8; i++) {
    state ^= state >> 12, state ^= state << 25, state ^= state >> 27;
    ((uint64_t *)data)[i] = state * 0x2545f4914f6cdd1dull;
  }
  while (!stop) {
    off_t at = (off_t)(atomic_fetch_add(&cursor, 1) % blocks * block);
    turn = writing ? (turn + block + 4096) % (pool - block + 4096) / 4096 * 4096 : 0;
    ssize_t moved = writing ? pwrite(fd, data + turn, block, at) : pread(fd, data, block, at);
    if (moved != (ssize_t)block) exit(1);
    count++;
  }
  done += count;
  return NULL;
}

int main(int argc, char **argv) {
  if (argc < 7) return 1;
  block = strtoul(argv[2], 0, 10);
  blocks = strtoull(argv[3], 0, 10) / block;
  int threads = atoi(argv[4]);
  writing = strcmp(argv[6], "write") == 0;
  fd = open(argv[1], (writing ? O_RDWR : O_RDONLY) | O_DIRECT);
  if (fd < 0 || blocks == 0) return 1;
  pthread_t *each = calloc((size_t)threads, sizeof *each);
  double start = now();
  for (int i = 0; i < threads; i++) pthread_create(&each[i], NULL, work, (void *)(uintptr_t)(i + 1));
  usleep((useconds_t)(atof(argv[5]) * 1e6));
  stop = 1;
  for (int i = 0; i < threads; i++) pthread_join(each[i], NULL);
  double seconds = now() - start;
  struct rusage used;
  getrusage(RUSAGE_SELF, &used);
  double processor = used.ru_utime.tv_sec + used.ru_stime.tv_sec +
                     (used.ru_utime.tv_usec + used.ru_stime.tv_usec) / 1e6;
  printf("%f %f %ld\n", (double)done * (double)block / 1e6 / seconds, processor * 1e6 / (double)done,
         used.ru_maxrss);
  return 0;
}
