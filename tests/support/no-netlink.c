/*
 * Preloaded into a test's browser: the kernel tells it of no network that comes or goes. Other tests make and remove
 * links of their own meanwhile, and a browser breaks off whatever it is loading whenever one does.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <sys/socket.h>

int socket(int domain, int type, int protocol) {
  static int (*next)(int, int, int);
  if (!next) next = (int (*)(int, int, int))dlsym(RTLD_NEXT, "socket");
  if (domain != AF_NETLINK) return next(domain, type, protocol);
  errno = EAFNOSUPPORT;
  return -1;
}
