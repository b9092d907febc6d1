/** Wider or higher than this a picture is made smaller before it is kept, pixels. */
const MOST = 1600;
const QUALITY = 0.85;

/**
 * A picture that is no larger than a report needs. What cannot be read here is left as it is: the server
 * says what is wrong with it.
 */
export async function smaller(file: File): Promise<Blob> {
  const read = await createImageBitmap(file).catch(() => null);
  if (!read) return file;
  const scale = Math.min(1, MOST / Math.max(read.width, read.height));
  if (scale === 1) return file;
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(read.width * scale);
  canvas.height = Math.round(read.height * scale);
  canvas.getContext("2d")?.drawImage(read, 0, 0, canvas.width, canvas.height);
  read.close();
  return new Promise((resolve) =>
    canvas.toBlob((made) => resolve(made ?? file), file.type, QUALITY),
  );
}
