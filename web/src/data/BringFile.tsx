import { type DragEvent, useRef, useState } from "react";
import { ApiError, type Problem } from "../api/client";
import { Bar } from "../ui/Bar";
import { sizeInWords } from "../ui/files";
import { LINK_BUTTON, MAIN_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { bringLog, type Log } from "./logs";

interface BringFileProps {
  studyId: number;
  onBrought: (log: Log) => void;
  /** Whether it is a button beside logs that are there already. */
  small?: boolean;
}

const ACCEPTED = ".csv,.txt,.tsv,.xlsx,.xes,.gz,.xml";

/** Where a log file is dropped, or chosen. */
export function BringFile({ studyId, onBrought, small = false }: BringFileProps) {
  const picker = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState<{ file: File; share: number } | null>(null);
  const [problems, setProblems] = useState<Problem[]>([]);
  const [isOver, setOver] = useState(false);
  const send = async (file: File | undefined) => {
    if (!file) return;
    setProblems([]);
    setSending({ file, share: 0 });
    try {
      onBrought(await bringLog(studyId, file, (share) => setSending({ file, share })));
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      setProblems(error.problems);
    } finally {
      setSending(null);
    }
  };
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void send(event.dataTransfer.files[0]);
  };
  const input = (
    <input
      ref={picker}
      type="file"
      accept={ACCEPTED}
      className="hidden"
      aria-label="A log file"
      onChange={(event) => {
        void send(event.target.files?.[0]);
        event.target.value = "";
      }}
    />
  );
  const going = sending && (
    <div className="w-72" role="status">
      <p className="text-sm">
        Sending {sending.file.name}, {sizeInWords(sending.file.size)}
      </p>
      <Bar label="What has been sent" done={sending.share} of={1} />
    </div>
  );
  if (small)
    return (
      <>
        {going ?? (
          <button type="button" className={`${LINK_BUTTON} border-transparent! text-ink-2`} onClick={() => picker.current?.click()}>
            Bring another log
          </button>
        )}
        <ProblemNotes problems={problems} />
        {input}
      </>
    );
  return (
    <div className="max-w-3xl py-6">
      <h2 className="text-xl font-bold">Begin with what you have</h2>
      <p className="mt-1 mb-5 text-ink-2">
        A log of the ticket kiosk, of the phone switch, or a spreadsheet with a row for each thing that was done. From it come the
        durations, the shares, the arrivals and the shifts of this study, or all of its flow.
      </p>
      <section
        aria-label="Where a file is dropped"
        className={`grid place-items-center gap-3 rounded-md border-2 border-dashed py-14
          ${isOver ? "border-ink bg-marker-light" : "border-ink-3"}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={onDrop}
      >
        {going ?? (
          <>
            <p className="font-semibold">Drop a file here</p>
            <button type="button" className={MAIN_BUTTON} onClick={() => picker.current?.click()}>
              Choose a file
            </button>
            <p className="text-sm text-ink-2">CSV, XLSX or XES, also gzipped; up to 5 million rows</p>
          </>
        )}
      </section>
      <ProblemNotes problems={problems} />
      {input}
    </div>
  );
}
