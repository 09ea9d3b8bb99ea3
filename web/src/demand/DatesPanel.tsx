import { type DragEvent, useEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import type { Stream, StudyDocument } from "../study/document/types";
import { startOf } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { DatesImport } from "./DatesImport";
import { type DatesFile, decoded, readFile } from "./readDates";

type Dates = Extract<Stream, { kind: "dates" }>;

const SHOWN = 200;

/** The dates of a stream: what there is, and a file dropped in for new ones. Told of an import, as that takes all the room. */
export function DatesPanel({ stream, onImporting }: { stream: Dates; onImporting: (importing: boolean) => void }) {
  const study = useStudy((state) => state.document);
  const picker = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<DatesFile | null>(null);
  useEffect(() => {
    onImporting(file !== null);
    return () => onImporting(false);
  }, [file, onImporting]);
  const take = async (picked: File | undefined) => {
    if (!picked) return;
    const read = readFile(picked.name, decoded(await picked.arrayBuffer()));
    if (read.rows.length === 0) toast(`${picked.name} has no rows.`);
    else setFile(read);
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void take(event.dataTransfer.files[0]);
  };
  if (file) return <DatesImport study={study} stream={stream} file={file} onDone={() => setFile(null)} />;
  return (
    <div className="flex h-full min-h-48 flex-col" onDrop={drop} onDragOver={(event) => event.preventDefault()}>
      <div className="mb-3 flex flex-wrap items-center gap-4 rounded border border-dashed border-ink-3 px-4 py-3">
        <p>
          Drop a CSV file with one row for each arrival here, or{" "}
          <button type="button" className={QUIET_BUTTON} onClick={() => picker.current?.click()}>
            Choose a file
          </button>
        </p>
        <p className="text-sm text-ink-2">Dates and times in one column or two; case types and traits if there are any.</p>
        <input
          ref={picker}
          type="file"
          accept=".csv,.txt,.tsv,text/csv"
          className="hidden"
          aria-label="File of dates"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </div>
      <Overview study={study} stream={stream} />
    </div>
  );
}

function Overview({ study, stream }: { study: StudyDocument; stream: Dates }) {
  const { arrivals } = stream;
  const [first, last] = useMemo(() => {
    const times = arrivals.map((arrival) => arrival.at);
    return [
      times.reduce((least, at) => (at < least ? at : least), times[0] ?? ""),
      times.reduce((most, at) => (at > most ? at : most), times[0] ?? ""),
    ];
  }, [arrivals]);
  const start = startOf(study);
  const early = useMemo(() => arrivals.filter((arrival) => arrival.at < start).length, [arrivals, start]);
  const begin = () => edit(`Begin on ${first.slice(0, 10)}`, (draft) => void (draft.start = `${first.slice(0, 10)}T00:00`));
  return (
    <>
      <p className="mb-2">
        <b>{arrivals.length === 1 ? "1 arrival" : `${arrivals.length.toLocaleString("en")} arrivals`}</b>
        {first && ` from ${first.replace("T", " ")} to ${last.replace("T", " ")}`}
      </p>
      {early > 0 && (
        <p className="mb-2 border-l-2 border-ink pl-2">
          {early.toLocaleString("en")} of them are before the study begins on {start.replace("T", " ")} and never come.{" "}
          <button type="button" className={MAIN_BUTTON.replace("px-4 py-2", "px-2 py-0.5 text-sm")} onClick={begin}>
            Begin on {first.slice(0, 10)}
          </button>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto pb-2">
        <table className="text-sm">
          <thead>
            <tr className="border-b-2 border-ink text-left text-ink-2">
              <th className="pr-8 font-normal">When</th>
              <th className="pr-8 font-normal">Case type</th>
              <th className="font-normal">Traits</th>
            </tr>
          </thead>
          <tbody>
            {arrivals.slice(0, SHOWN).map((arrival, n) => (
              <tr key={`${arrival.at} ${n}`} className="border-b border-rule">
                <td className="pr-8">{arrival.at.replace("T", " ")}</td>
                <td className="pr-8">{study.case_types.find((type) => type.id === arrival.type)?.name ?? "by the mix"}</td>
                <td>
                  {Object.entries(arrival.traits ?? {})
                    .map(([id, value]) => `${id} ${value}`)
                    .join(", ")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {arrivals.length > SHOWN && <p className="py-1 text-sm text-ink-2">and {(arrivals.length - SHOWN).toLocaleString("en")} more</p>}
      </div>
    </>
  );
}
