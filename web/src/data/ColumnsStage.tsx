import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, ask } from "../api/client";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { MAIN_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { FORMS, type Form, HAPPENINGS, type Happening, type Log, type Reading, ROLES, type Role, TIMED, useKeepLog } from "./logs";
import { UnreadLines } from "./UnreadLines";

const ENCODINGS = ["utf-8", "cp1252", "iso-8859-1", "iso-8859-15", "utf-16"];
const SEPARATORS = [
  { value: ",", label: "commas" },
  { value: ";", label: "semicolons" },
  { value: "\t", label: "tabs" },
  { value: "|", label: "bars" },
];
const WALL = "as written";
const MEANT = { value: "ended", label: "when work ended" } as const;

/** What the columns of a log stand for, with its first rows: recognised, and confirmed or changed by the analyst. */
export function ColumnsStage({ log, onRead }: { log: Log; onRead: () => void }) {
  const study = useStudy((state) => state.id);
  const [preview, setPreview] = useState(log.preview);
  const [reading, setReading] = useState<Reading>(log.reading ?? log.preview.reading);
  const keep = useKeepLog(study);
  const path = { log_id: log.id };
  const recognise = useMutation({
    mutationFn: (wanted: Reading) => ask(api.POST("/api/logs/{log_id}/recognised", { params: { path }, body: wanted })),
    onSuccess: (found) => {
      setPreview(found);
      setReading(found.reading);
    },
  });
  const read = useMutation({
    mutationFn: () => ask(api.PUT("/api/logs/{log_id}/reading", { params: { path }, body: reading })),
    onSuccess: async (next) => {
      await keep(next);
      onRead();
    },
  });
  const problems = [recognise.error, read.error].flatMap((error) => (error instanceof ApiError ? error.problems : []));
  const setColumn = (place: number, change: Partial<Reading["columns"][number]>) =>
    setReading({ ...reading, columns: reading.columns.map((each, n) => (n === place ? { ...each, ...change } : each)) });
  return (
    <div className="flex h-full flex-col overflow-y-auto pt-3">
      <FileSentence reading={reading} sheets={preview.sheets} onChange={setReading} onRecognise={recognise.mutate} />
      {preview.doubts.length > 0 && (
        <ul aria-label="What to be careful of" className="mt-2 list-disc pl-5 text-sm">
          {preview.doubts.map((doubt) => (
            <li key={doubt}>{doubt}</li>
          ))}
        </ul>
      )}
      <ColumnsTable reading={reading} rows={preview.rows} onColumn={setColumn} />
      <Words reading={reading} onChange={setReading} />
      <div className="sticky bottom-0 mt-4 flex flex-wrap items-center gap-4 border-t border-rule bg-paper py-3">
        <button type="button" className={MAIN_BUTTON} disabled={read.isPending} onClick={() => read.mutate()}>
          {log.report ? "Read it again" : "Read the log"}
        </button>
        <span className="text-sm text-ink-2">
          {log.report ? "All is found anew then; what was taken stays in the study." : "Nothing of the study is changed by it."}
        </span>
      </div>
      <ProblemNotes problems={problems} />
      {log.report && <UnreadLines report={log.report} />}
    </div>
  );
}

interface FileSentenceProps {
  reading: Reading;
  sheets: string[];
  onChange: (reading: Reading) => void;
  onRecognise: (wanted: Reading) => void;
}

/** How the file as a whole is read. */
function FileSentence({ reading, sheets, onChange, onRecognise }: FileSentenceProps) {
  const encodings = [...new Set([reading.encoding ?? "utf-8", ...ENCODINGS])];
  const zones = [WALL, ...Intl.supportedValuesOf("timeZone")];
  return (
    <p className="leading-8">
      {reading.kind === "csv" && (
        <>
          Text in{" "}
          <Choice
            label="Encoding"
            value={reading.encoding ?? "utf-8"}
            options={encodings.map((each) => ({ value: each, label: each }))}
            onChoose={(encoding) => onRecognise({ ...reading, encoding })}
          />
          , its columns parted by{" "}
          <Choice
            label="Separator"
            value={reading.separator ?? ","}
            options={SEPARATORS}
            onChoose={(separator) => onRecognise({ ...reading, separator: separator as Reading["separator"] })}
          />
          ,{" "}
        </>
      )}
      {reading.kind === "xlsx" && (
        <>
          Sheet{" "}
          <Choice
            label="Sheet"
            value={reading.sheet ?? ""}
            options={sheets.map((each) => ({ value: each, label: each }))}
            onChoose={(sheet) => onRecognise({ ...reading, sheet })}
          />
          ,{" "}
        </>
      )}
      {reading.kind !== "xes" && (
        <>
          numbers with a decimal{" "}
          <Choice
            label="Decimal mark"
            value={reading.decimal ?? "."}
            options={[
              { value: ".", label: "point" },
              { value: ",", label: "comma" },
            ]}
            onChoose={(decimal) => onChange({ ...reading, decimal: decimal as Reading["decimal"] })}
          />
          ; the first row{" "}
          <Choice
            label="The first row"
            value={reading.has_header === false ? "data" : "heading"}
            options={[
              { value: "heading", label: "is a heading" },
              { value: "data", label: "is a row like the others" },
            ]}
            onChoose={(first) => onChange({ ...reading, has_header: first === "heading" })}
          />
          .{" "}
        </>
      )}
      Times that say how far they are from UTC are{" "}
      <Choice
        label="Zone"
        value={reading.zone || WALL}
        options={zones.map((each) => ({ value: each, label: each === WALL ? "taken as written" : `moved to ${each}` }))}
        onChoose={(zone) => onChange({ ...reading, zone: zone === WALL ? "" : zone })}
      />
      .
    </p>
  );
}

interface ColumnsTableProps {
  reading: Reading;
  rows: string[][];
  onColumn: (place: number, change: Partial<Reading["columns"][number]>) => void;
}

function ColumnsTable({ reading, rows, onColumn }: ColumnsTableProps) {
  return (
    <div className="mt-3 shrink-0 overflow-x-auto">
      <table className="text-sm">
        <thead>
          <tr className="align-top">
            {reading.columns.map(({ name, role = "nothing", form }, n) => (
              <th key={`${name} ${n}`} scope="col" className="border-b-2 border-ink pr-6 pb-1 text-left font-normal">
                <span className="block text-ink-2">{name || `column ${n + 1}`}</span>
                <Choice
                  label={`What ${name} stands for`}
                  value={role}
                  options={ROLES}
                  onChoose={(next) => onColumn(n, { role: next as Role })}
                />
                {TIMED.includes(role) && (
                  <span className="block pt-1">
                    <Choice
                      quiet
                      label={`How ${name} is written`}
                      value={form ?? ""}
                      options={FORMS}
                      onChoose={(next) => onColumn(n, { form: next as Form })}
                    />
                  </span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, line) => (
            <tr key={line} className="border-b border-rule">
              {reading.columns.map(({ role }, n) => (
                <td key={n} className={`max-w-52 truncate pr-6 tabular-nums ${role === "nothing" ? "text-ink-3" : ""}`}>
                  {row[n]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What the words of a log mean; where it has none, what its lone times are. */
function Words({ reading, onChange }: { reading: Reading; onChange: (reading: Reading) => void }) {
  const words = Object.entries(reading.happenings ?? {});
  const has = (role: Role) => reading.columns.some((each) => each.role === role);
  if (has("happened"))
    return (
      <section aria-label="What its words mean" className="mt-4">
        <h2 className="mb-1 text-sm font-bold">What its words mean</h2>
        {words.length === 0 && <p className="text-sm text-ink-2">No word stands in the first rows.</p>}
        <ul className="flex flex-wrap gap-x-8 gap-y-1">
          {words.map(([word, meant]) => (
            <li key={word}>
              “{word}”{" "}
              <Choice
                label={`What “${word}” means`}
                value={meant}
                options={HAPPENINGS}
                onChoose={(next) => onChange({ ...reading, happenings: { ...reading.happenings, [word]: next as Happening } })}
              />
            </li>
          ))}
        </ul>
      </section>
    );
  if (!has("at") || has("began") || has("ended")) return null;
  return (
    <p className="mt-4">
      A row’s time is{" "}
      <Choice
        label="What a row’s time is"
        value={reading.alone ?? MEANT.value}
        options={[{ value: "began", label: "when work began" }, MEANT]}
        onChoose={(alone) => onChange({ ...reading, alone: alone as "began" | "ended" })}
      />
      .
    </p>
  );
}
