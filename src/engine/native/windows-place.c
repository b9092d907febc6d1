/* Windows: where it is measured, and what the system tells of the drive there. */
#include "windows-shared.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <winioctl.h>

static const char *bus_words(STORAGE_BUS_TYPE bus) {
  switch ((int)bus) {
    case BusTypeUsb: return "USB";
    case BusTypeNvme: return "NVMe";
    case BusTypeSata: return "SATA";
    case BusTypeAta: return "ATA";
    case BusTypeScsi: return "SCSI";
    case BusTypeSas: return "SAS";
    case BusType1394: return "FireWire";
    case BusTypeSd: return "SD";
    case BusTypeMmc: return "MMC";
    case BusTypeRAID: return "RAID";
    case BusTypeiScsi: return "iSCSI";
    default: return "";
  }
}

/* A text of a storage descriptor, without spaces at its ends. */
static void descriptor_text(char *into, const char *from, DWORD offset, DWORD bytes) {
  if (offset == 0 || offset >= bytes) return;
  const char *at = from + offset;
  while (*at == ' ') at++;
  snprintf(into, 128, "%.*s", (int)(bytes - (DWORD)(at - from)), at);
  for (size_t end = strlen(into); end > 0 && into[end - 1] == ' '; end--) into[end - 1] = 0;
}

static void find_drive(Place *place, HANDLE volume) {
  char answer[1024], maker[128] = "", model[128] = "";
  DWORD bytes;
  STORAGE_PROPERTY_QUERY query = {StorageDeviceProperty, PropertyStandardQuery, {0}};
  if (DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &query, sizeof query, answer,
                      sizeof answer - 1, &bytes, NULL) &&
      bytes >= sizeof(STORAGE_DEVICE_DESCRIPTOR)) {
    STORAGE_DEVICE_DESCRIPTOR *found = (STORAGE_DEVICE_DESCRIPTOR *)answer;
    answer[bytes] = 0;
    descriptor_text(maker, answer, found->VendorIdOffset, bytes);
    descriptor_text(model, answer, found->ProductIdOffset, bytes);
    if (model[0])
      snprintf(place->drive, NAME_BYTES, "%s%s%s", maker, maker[0] ? " " : "", model);
    snprintf(place->link, NAME_BYTES, "%s", bus_words(found->BusType));
  }
  STORAGE_DEVICE_NUMBER number;
  if (DeviceIoControl(volume, IOCTL_STORAGE_GET_DEVICE_NUMBER, NULL, 0, &number, sizeof number, &bytes,
                      NULL)) {
    snprintf(place->device, NAME_BYTES, "PhysicalDrive%lu", number.DeviceNumber);
    snprintf(place->lock, NAME_BYTES, "drive-%lu", number.DeviceNumber);
  }
  DISK_GEOMETRY_EX geometry;
  if (DeviceIoControl(volume, IOCTL_DISK_GET_DRIVE_GEOMETRY_EX, NULL, 0, &geometry, sizeof geometry,
                      &bytes, NULL)) {
    place->device_bytes = (double)geometry.DiskSize.QuadPart;
    place->smallest_block = (int)geometry.Geometry.BytesPerSector;
  }
  STORAGE_PROPERTY_QUERY seek = {StorageDeviceSeekPenaltyProperty, PropertyStandardQuery, {0}};
  DEVICE_SEEK_PENALTY_DESCRIPTOR penalty;
  if (DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &seek, sizeof seek, &penalty,
                      sizeof penalty, &bytes, NULL))
    place->rotational = penalty.IncursSeekPenalty ? 1 : 0;
}

/* The volume of a path, opened to be asked only: no rights are needed for that. */
static HANDLE volume_of(const Place *place) {
  char name[NAME_BYTES + 8];
  wchar_t words[NAME_BYTES + 8];
  if (place->path[1] != ':') return INVALID_HANDLE_VALUE;
  snprintf(name, sizeof name, "\\\\.\\%c:", place->path[0]);
  MultiByteToWideChar(CP_UTF8, 0, name, -1, words, NAME_BYTES + 8);
  return CreateFileW(words, 0, FILE_SHARE_READ | FILE_SHARE_WRITE, NULL, OPEN_EXISTING, 0, NULL);
}

static int identity_of(const wchar_t *path, uint64_t identity[2]) {
  BY_HANDLE_FILE_INFORMATION found;
  HANDLE folder = CreateFileW(path, 0, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, NULL,
                              OPEN_EXISTING, FILE_FLAG_BACKUP_SEMANTICS, NULL);
  if (folder == INVALID_HANDLE_VALUE) return 0;
  int is_there = GetFileInformationByHandle(folder, &found);
  CloseHandle(folder);
  identity[0] = found.dwVolumeSerialNumber;
  identity[1] = (uint64_t)found.nFileIndexHigh << 32 | found.nFileIndexLow;
  return is_there;
}

/*
 * Where a folder really lies, in UTF-8. A volume that is mounted in a folder looks like a link, and lies
 * where it is; a link lies elsewhere.
 */
static int is_elsewhere(const wchar_t *path, Place *place) {
  wchar_t final[PATH_BYTES];
  char real[PATH_BYTES];
  HANDLE folder = CreateFileW(path, 0, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, NULL,
                              OPEN_EXISTING, FILE_FLAG_BACKUP_SEMANTICS, NULL);
  if (folder == INVALID_HANDLE_VALUE) return 1;
  DWORD length = GetFinalPathNameByHandleW(folder, final, PATH_BYTES, FILE_NAME_NORMALIZED);
  CloseHandle(folder);
  if (length == 0 || length >= PATH_BYTES) return 1;
  to_utf8(real, wcsncmp(final, L"\\\\?\\", 4) == 0 ? final + 4 : final, sizeof real);
  int differs = _stricmp(real, place->path) != 0;
  if (differs) strcpy(place->path, real);
  return differs;
}

/* The space and the file system of a folder. Whether it may be written shows when a file is made. */
static void space_of(const wchar_t *path, Place *place) {
  wchar_t root[MAX_PATH + 1], type[NAME_BYTES];
  ULARGE_INTEGER free, total;
  DWORD sector, sectors, unused;
  if (GetDiskFreeSpaceExW(path, &free, &total, NULL)) {
    place->free_bytes = (double)free.QuadPart;
    place->total_bytes = (double)total.QuadPart;
  }
  if (!GetVolumePathNameW(path, root, MAX_PATH)) return;
  if (GetDiskFreeSpaceW(root, &sectors, &sector, &unused, &unused))
    place->smallest_block = (int)sector;
  if (!GetVolumeInformationW(root, NULL, 0, NULL, NULL, NULL, type, NAME_BYTES)) return;
  to_utf8(place->file_system, type, NAME_BYTES);
  if (strncmp(place->file_system, "FAT", 3) == 0) place->file_bytes = 4032.0 * 1048576;
}

int system_place(const char *folder, Place *place) {
  wchar_t *path = wide(folder), whole[PATH_BYTES];
  DWORD kind = path ? GetFileAttributesW(path) : INVALID_FILE_ATTRIBUTES;
  int fitness = FIT;
  if (kind == INVALID_FILE_ATTRIBUTES)
    fitness = GetLastError() == ERROR_ACCESS_DENIED ? NO_PERMISSION : NO_SUCH;
  else if (!(kind & FILE_ATTRIBUTE_DIRECTORY)) fitness = NO_FOLDER;
  else if (!GetFullPathNameW(path, PATH_BYTES, whole, NULL)) fitness = NO_SUCH;
  else {
    to_utf8(place->path, wcsncmp(whole, L"\\\\?\\", 4) == 0 ? whole + 4 : whole, PATH_BYTES);
    if ((kind & FILE_ATTRIBUTE_REPARSE_POINT) && is_elsewhere(path, place)) fitness = A_LINK;
    else if (!identity_of(path, place->identity)) fitness = NO_SUCH;
    else space_of(path, place);
  }
  snprintf(place->lock, NAME_BYTES, "volume-%llx", (unsigned long long)place->identity[0]);
  free(path);
  if (fitness != FIT) return fitness;
  HANDLE volume = volume_of(place);
  if (volume != INVALID_HANDLE_VALUE) {
    find_drive(place, volume);
    CloseHandle(volume);
  }
  return FIT;
}

int system_lock(const Place *place) {
  char name[NAME_BYTES + 32];
  wchar_t words[NAME_BYTES + 32];
  snprintf(name, sizeof name, "Global\\nerrit-device-%s", place->lock);
  MultiByteToWideChar(CP_UTF8, 0, name, -1, words, NAME_BYTES + 32);
  /* Never closed: it goes with the process. */
  HANDLE held = CreateMutexW(NULL, TRUE, words);
  return held && GetLastError() == ERROR_ALREADY_EXISTS ? EBUSY : 0;
}

int system_is_there(const Place *place) {
  uint64_t now[2];
  wchar_t *path = wide(place->path);
  int is_there = path && identity_of(path, now) && now[0] == place->identity[0] &&
                 now[1] == place->identity[1];
  free(path);
  return is_there;
}

int system_counted(const Place *place, double *read, double *written) {
  DISK_PERFORMANCE counted;
  DWORD bytes;
  HANDLE volume = volume_of(place);
  if (volume == INVALID_HANDLE_VALUE) return 0;
  int told = DeviceIoControl(volume, IOCTL_DISK_PERFORMANCE, NULL, 0, &counted, sizeof counted, &bytes,
                             NULL);
  CloseHandle(volume);
  if (!told) return 0;
  *read = (double)counted.BytesRead.QuadPart;
  *written = (double)counted.BytesWritten.QuadPart;
  return 1;
}

/* As the documentation declares it; the headers of some compilers lack it. */
typedef struct {
  WORD Index;
  SHORT Temperature, OverThreshold, UnderThreshold;
  BOOLEAN OverThresholdChangable, UnderThresholdChangable, EventGenerated;
  BYTE Reserved0;
  DWORD Reserved1;
} TemperatureInfo;
typedef struct {
  DWORD Version, Size;
  SHORT CriticalTemperature, WarningTemperature;
  WORD InfoCount;
  BYTE Reserved0[2];
  DWORD Reserved1[2];
  TemperatureInfo First;
} TemperatureData;
#define NOT_REPORTED ((SHORT)0x8000)

int system_celsius(const Place *place, double *celsius) {
  char answer[512];
  DWORD bytes;
  STORAGE_PROPERTY_QUERY query = {StorageDeviceTemperatureProperty, PropertyStandardQuery, {0}};
  HANDLE volume = volume_of(place);
  if (volume == INVALID_HANDLE_VALUE) return 0;
  int told = DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &query, sizeof query, answer,
                             sizeof answer, &bytes, NULL);
  CloseHandle(volume);
  TemperatureData *found = (TemperatureData *)answer;
  if (!told || bytes < sizeof *found || found->InfoCount == 0) return 0;
  if (found->First.Temperature == NOT_REPORTED) return 0;
  *celsius = found->First.Temperature;
  return 1;
}
