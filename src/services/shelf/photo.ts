import { createHash } from "node:crypto";
import { cleanPhoto, type Photo } from "@/core/study/photo";
import type { Store } from "@/store/database";
import { getPhotos, putPhoto, type StoredPhoto } from "@/store/reports";
import { Problem } from "../problem";

/**
 * Keeps a picture of the bench, with nothing in it but what is seen.
 *
 * @throws Problem 422 that says why it is no such picture
 */
export function keepPhoto(
  store: Store,
  given: Uint8Array,
): Pick<StoredPhoto, "id" | "width" | "height"> {
  const { bytes, type, width, height } = cleaned(given);
  const id = createHash("sha256").update(bytes).digest("hex");
  putPhoto(store, { id, type, width, height, bytes: Buffer.from(bytes) });
  return { id, width, height };
}

function cleaned(given: Uint8Array): Photo {
  try {
    return cleanPhoto(given);
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, `This picture ${error.message}.`);
    throw error;
  }
}

/** A picture that was kept. @throws Problem 404 */
export function openPhoto(store: Store, id: string): StoredPhoto {
  const [photo] = getPhotos(store, [id]);
  if (!photo) throw new Problem(404, "There is no such picture.");
  return photo;
}
