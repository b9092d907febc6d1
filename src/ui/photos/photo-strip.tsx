import type { PhotoRef } from "@/core/chain/photo-ref";

/** The pictures of a part, a rig or a run, small; each opens in full. */
export function PhotoStrip({ photos }: { photos: readonly PhotoRef[] }) {
  if (photos.length === 0) return null;
  return (
    <ul className="my-2 flex flex-wrap gap-2" data-photos={photos.length}>
      {photos.map(({ id, caption }, i) => (
        <li key={`${id} ${i}`}>
          <a href={`/api/photos/${id}`} target="_blank" rel="noreferrer" title={caption}>
            {/* eslint-disable-next-line @next/next/no-img-element -- it is as large as it is kept */}
            <img
              src={`/api/photos/${id}`}
              alt={caption}
              className="size-16 border border-line object-cover"
            />
          </a>
        </li>
      ))}
    </ul>
  );
}
