/* The version of Nerrit that this program belongs to; the build states it. */
#ifndef VERSION
#define VERSION "unknown"
#endif
