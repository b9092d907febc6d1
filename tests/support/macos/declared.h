/*
 * What macOS declares beside POSIX, as its manual has it (fcntl(2)), for a compiler on another system.
 * Calls go through recorded.c, which writes down what was asked.
 */
#ifndef STAND_IN_DECLARED_H
#define STAND_IN_DECLARED_H

#define _GNU_SOURCE
#include <fcntl.h>
#include <sys/types.h>
#include <unistd.h>

#define F_PREALLOCATE 42
#define F_RDAHEAD 45
#define F_NOCACHE 48
#define F_FULLFSYNC 51
#define F_ALLOCATECONTIG 0x00000002
#define F_ALLOCATEALL 0x00000004
#define F_PEOFPOSMODE 3

typedef struct fstore {
  unsigned int fst_flags;
  int fst_posmode;
  off_t fst_offset, fst_length, fst_bytesalloc;
} fstore_t;

int recorded_fcntl(int fd, int command, ...);
ssize_t recorded_pread(int fd, void *to, size_t bytes, off_t at);
ssize_t recorded_pwrite(int fd, const void *from, size_t bytes, off_t at);
int recorded_fsync(int fd);
#define fcntl recorded_fcntl
#define pread recorded_pread
#define pwrite recorded_pwrite
#define fsync recorded_fsync

#endif
