"use client";

import { useQuery } from "@tanstack/react-query";
import { AskedDocument, type KeptRecording } from "@/core/recording/kept";
import { askedWords } from "@/core/recording/recording-words";
import { counted } from "@/core/units/counted";
import { formatMoment } from "@/core/units/day";
import { formatNumber } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Trouble } from "../controls/form";
import { Fold } from "../controls/fold";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { orThrow, send } from "../controls/send";
import { MakeDemand, type StudyTitle } from "../demands/make-demand";

/** What recorded work asks of a drive: the sentence that matters most first, then the rest and the programs. */
export function RecordedWork({
  recording: { id, startedAt, bytes, trouble },
  studies,
  onRemove,
}: {
  recording: KeptRecording;
  /** Those whose rigs the work can be held against. */
  studies: readonly StudyTitle[];
  onRemove: () => void;
}) {
  const { data, error } = useQuery({
    queryKey: ["recording", id],
    // What was recorded before it failed can be read all the same.
    enabled: trouble === null || bytes > 0,
    // A recording that has ended does not change.
    staleTime: Infinity,
    queryFn: async ({ signal }) =>
      AskedDocument.parse(
        await orThrow(send("GET", `/api/recordings/${id}`, undefined, { signal })),
      ),
  });
  const whyNot = data ? null : (trouble ?? error?.message ?? null);
  const removal = (
    <button type="button" className="underline" onClick={onRemove}>
      {bytes > 0 ? "Delete" : "Dismiss"}
      <span className="sr-only"> the recording of {formatMoment(startedAt)}</span>
    </button>
  );
  if (whyNot !== null)
    return (
      <div className="space-y-1">
        <Trouble>{whyNot}</Trouble>
        {removal}
      </div>
    );
  if (!data) return <p role="status">Working out what the recorded work asks ...</p>;
  const [first, ...rest] = askedWords(data);
  return (
    <section aria-label={`Recorded ${formatMoment(startedAt)}`} className="space-y-1">
      <p className="text-[16px] font-semibold">{first}</p>
      {(trouble ?? data.reason) && <Trouble>{trouble ?? data.reason}</Trouble>}
      <ul className="list-disc pl-5">
        {rest.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ul>
      {data.programs.length > 0 && <Programs programs={data.programs} />}
      {data.read.bytes + data.write.bytes > 0 && (
        <MakeDemand url={`/api/recordings/${id}/demand`} studies={studies} />
      )}
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        <span className="text-secondary">
          Recorded {formatMoment(startedAt)}, {counted(data.requests, "request")}
        </span>
        <a className="underline" href={`/api/recordings/${id}/file`} download>
          Save the recording ({formatSize(bytes, 1000)})
        </a>
        <a className="underline" href={`/api/recordings/${id}/table`} download>
          Save as a table
        </a>
        {removal}
      </p>
    </section>
  );
}

/** Programs that are listed. */
const LISTED = 20;

function Programs({ programs }: { programs: AskedDocument["programs"] }) {
  return (
    <Fold
      summary={`${counted(programs.length, "program")} sent requests, ${programs[0]!.name} most`}
    >
      <table className="my-1">
        <thead>
          <tr>
            <th className={HEAD}>program</th>
            <th className={HEAD_RIGHT}>requests</th>
            <th className={HEAD_RIGHT}>moved</th>
          </tr>
        </thead>
        <tbody>
          {programs.slice(0, LISTED).map((one) => (
            <tr key={one.name}>
              <td className={CELL}>{one.name}</td>
              <td className={FIGURE}>{formatNumber(one.requests)}</td>
              <td className={FIGURE}>{formatSize(one.bytes, 1000)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {programs.length > LISTED && `and ${counted(programs.length - LISTED, "more")}`}
    </Fold>
  );
}
