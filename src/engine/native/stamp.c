#include "stamp.h"

#include <string.h>

static uint32_t mixed(uint32_t low, uint32_t high, uint32_t run) {
  uint32_t word = 0x9e3779b9u, parts[3] = {low, high, run};
  for (int i = 0; i < 3; i++) {
    word ^= parts[i];
    word = (word ^ (word >> 16)) * 0x85ebca6bu;
    word = (word ^ (word >> 13)) * 0xc2b2ae35u;
  }
  return word ^ (word >> 16);
}

void stamp(uint8_t *page, uint64_t offset, uint32_t run, uint32_t generation) {
  uint64_t sector = offset / SECTOR;
  uint32_t words[4] = {(uint32_t)sector,
                       ((uint32_t)(sector >> 32) & 0xffffu) | (generation << 16), run, 0};
  words[3] = mixed(words[0], words[1], run);
  memcpy(page, words, sizeof words);
}

void stamp_rest(uint8_t *page, size_t bytes) {
  uint32_t *words = (uint32_t *)page, seed = words[3];
  for (size_t i = 4; i < bytes / 4; i++) {
    uint32_t w = seed + (uint32_t)i * 0x9e3779b9u;
    w = (w ^ (w >> 16)) * 0x85ebca6bu;
    w = (w ^ (w >> 13)) * 0xc2b2ae35u;
    words[i] = w ^ (w >> 16);
  }
}

int stamp_judge(const uint8_t *page, size_t bytes, uint64_t offset, uint32_t run,
                uint32_t generation) {
  uint32_t is[4], wanted[PAGE / 4];
  memcpy(is, page, sizeof is);
  if (is[3] == mixed(is[0], is[1], is[2])) {
    uint64_t sector = is[0] | ((uint64_t)(is[1] & 0xffffu) << 32);
    if (is[2] != run || is[1] >> 16 != generation) return STALE;
    if (sector != offset / SECTOR) return MISDIRECTED;
  }
  stamp((uint8_t *)wanted, offset, run, generation);
  stamp_rest((uint8_t *)wanted, bytes);
  if (memcmp(page, wanted, bytes) == 0) return INTACT;
  /* A damaged page is still mostly itself; of anything else a byte in 256 fits by chance. */
  size_t same = 0;
  for (size_t i = 0; i < bytes; i++) same += page[i] == ((uint8_t *)wanted)[i];
  return same > bytes / 2 ? DAMAGED : LOST;
}

int is_stamped(const uint8_t *page) {
  uint32_t is[4];
  memcpy(is, page, sizeof is);
  return is[3] == mixed(is[0], is[1], is[2]);
}
