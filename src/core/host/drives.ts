import type { DrivePlace, SeenDrive } from "../system/drive";
import { placeText } from "../units/place";

/** Drives of a host, with places that say so. */
export const drivesOnHost = (host: string, drives: readonly SeenDrive[]): SeenDrive[] =>
  drives.map((drive) => ({
    ...drive,
    host,
    id: placeText({ host, path: drive.id }),
    places: drive.places.map((place) => ({
      ...place,
      point: place.point && placeText({ host, path: place.point }),
      device: deviceOn(host, place),
    })),
  }));

/** What a share comes from names a machine of its own. */
const deviceOn = (host: string, { device }: DrivePlace) =>
  device.startsWith("/") ? placeText({ host, path: device }) : device;
