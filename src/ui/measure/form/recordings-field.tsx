"use client";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { worksOf } from "@/core/drills/kinds/encore";
import { KeptWork } from "@/core/recording/kept";
import { MOST_WORKS, type RecordedWork } from "@/core/run/recorded-work";
import { counted } from "@/core/units/counted";
import { formatMoment } from "@/core/units/day";
import { formatDuration } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Checkbox } from "../../controls/checkbox";
import { FilePicker } from "../../controls/file-picker";
import { Trouble } from "../../controls/form";
import { Link } from "../../controls/link";
import { orThrow, send, sendBytes } from "../../controls/send";

/** Which recordings are done again, in the order in which they were chosen; one of a file may be added. */
export function RecordingsField({
  text,
  error,
  onChange,
}: {
  /** Those that are chosen, as text (core/drills/parameter.ts). */
  text: string;
  error: string | undefined;
  onChange: (text: string) => void;
}) {
  const client = useQueryClient();
  const queryKey = ["works"];
  const { data, error: unread } = useQuery({
    queryKey,
    queryFn: async ({ signal }) =>
      KeptWork.array().parse(await orThrow(send("GET", "/api/works", undefined, { signal }))),
  });
  const chosen = chosenIn(text);
  const choose = (works: readonly RecordedWork[]) =>
    onChange(works.length > 0 ? JSON.stringify(works) : "");
  const add = useMutation({
    mutationFn: async (file: File) => {
      const query = new URLSearchParams({ name: file.name });
      const sent = await sendBytes(`/api/works?${query}`, file);
      if (!sent.ok) throw new Error(`${file.name}: ${sent.error.message}`);
      return KeptWork.parse(sent.data);
    },
    onSuccess: ({ work }) => choose([...chosen, work]),
    onSettled: () => client.invalidateQueries({ queryKey }),
  });
  const all = data ?? [];
  // A drill of one's own may name a recording that is not here any more.
  const missing = chosen.filter(({ sha256 }) => !all.some(({ work }) => work.sha256 === sha256));
  const trouble = add.error?.message ?? unread?.message;
  return (
    <fieldset className="space-y-1" data-works>
      <legend className="text-[13px] text-secondary">The work that is done again</legend>
      {data && all.length === 0 && (
        <p>
          Nothing is recorded yet.{" "}
          <Link href="/watch" className="underline">
            Record your work on Watch
          </Link>
          , or add the file of a recording.
        </p>
      )}
      {[
        ...all,
        ...(data
          ? missing.map((work) => ({ id: work.sha256, startedAt: null, isSample: false, work }))
          : []),
      ].map(({ id, startedAt, isSample, work }) => (
        <Checkbox
          key={id}
          checked={chosen.some(({ sha256 }) => sha256 === work.sha256)}
          onChange={(on) =>
            choose(
              on
                ? [...chosen, work].slice(0, MOST_WORKS)
                : chosen.filter(({ sha256 }) => sha256 !== work.sha256),
            )
          }
        >
          <span className="[overflow-wrap:anywhere]">{work.name}</span>
          <span className="text-secondary">
            {`: ${formatDuration(work.ms)}, ${counted(work.requests, "request")}, ${formatSize(work.bytesRead, 1000)} read, ${formatSize(work.bytesWritten, 1000)} written; ${whence(startedAt, isSample)}`}
          </span>
        </Checkbox>
      ))}
      <FilePicker
        label="The file of a recording"
        words={add.isPending ? "Reading the recording ..." : "Add a recording"}
        accept=".jsonl,.csv,.txt"
        disabled={add.isPending}
        onPick={(file) => add.mutate(file)}
      />
      {error && chosen.length === 0 && (
        <p role="alert" className="text-sm font-semibold">
          ✕ {error}
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </fieldset>
  );
}

/** Where a recording comes from: when it was made, or that it came with the sample studies. */
const whence = (startedAt: string | null, isSample: boolean): string =>
  isSample ? "a sample" : startedAt === null ? "not here any more" : formatMoment(startedAt);

/** The recordings that a text names; none while it makes no sense. */
function chosenIn(text: string): RecordedWork[] {
  try {
    return worksOf({ recordings: JSON.parse(text) });
  } catch {
    return [];
  }
}
