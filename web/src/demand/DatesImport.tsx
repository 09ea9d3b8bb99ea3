import { useMemo, useState } from "react";
import type { Stream, StudyDocument } from "../study/document/types";
import { addCaseType } from "../study/edits/making";
import { edit } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON, MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { type DateOrder, type DatesFile, type Meaning, orderOf, readRows, recognised } from "./readDates";

interface DatesImportProps {
  study: StudyDocument;
  stream: Stream;
  file: DatesFile;
  onDone: () => void;
}

const SAMPLE = 4;
const MOST_BAD = 100;

/** A file of dates before it is taken over: what each column holds, which rows cannot be read, and why. */
export function DatesImport({ study, stream, file, onDone }: DatesImportProps) {
  const [meanings, setMeanings] = useState<Meaning[]>(() => recognised(file, study));
  const found = useMemo(() => orderOf(file, meanings), [file, meanings]);
  const [chosen, setChosen] = useState<DateOrder | "">("");
  const [withoutBad, setWithoutBad] = useState(false);
  const order = found ?? (chosen || null);
  const hasDate = meanings.some((meaning) => meaning === "moment" || meaning === "date");
  const read = useMemo(() => (hasDate && order ? readRows(file, meanings, order, study) : null), [file, meanings, order, study, hasDate]);
  const options: { value: Meaning; label: string }[] = [
    { value: "moment", label: "date and time" },
    { value: "date", label: "date" },
    { value: "time", label: "time of day" },
    ...(study.case_types.length > 0 ? [{ value: "type" as const, label: "case type" }] : []),
    ...(study.traits ?? []).map((trait) => ({ value: `trait:${trait.id}` as const, label: `trait ${trait.name}` })),
    { value: "nothing", label: "left out" },
  ];
  const mean = (place: number, meaning: Meaning) =>
    setMeanings(meanings.map((each, n) => (n === place ? meaning : each === meaning && meaning !== "nothing" ? "nothing" : each)));
  const take = () => {
    if (!read) return;
    edit(`${stream.name}: ${read.arrivals.length} dates`, (draft) => {
      const target = draft.streams.find((each) => each.id === stream.id);
      if (target?.kind === "dates") target.arrivals = read.arrivals;
    });
    onDone();
  };
  const makeTypes = () =>
    edit("Case types of the file", (draft) => {
      for (const name of read?.unknownTypes ?? []) addCaseType(draft, name);
    });
  const good = read?.arrivals.length ?? 0;
  const bad = read?.bad ?? [];
  return (
    <div className="flex h-full min-h-64 flex-col">
      <p className="mb-2">
        <b>{file.name}</b>: {file.rows.length.toLocaleString("en")} rows. What does each column hold?
      </p>
      <div className="shrink-0 overflow-x-auto">
        <table className="text-sm">
          <thead>
            <tr>
              {file.columns.map((name, n) => (
                <th key={`${name} ${n}`} className="border-b-2 border-ink pb-1 pr-6 text-left font-normal">
                  <span className="block text-ink-2">{name}</span>
                  <Choice
                    label={`What ${name} holds`}
                    value={meanings[n] ?? "nothing"}
                    options={options}
                    onChoose={(meaning) => mean(n, meaning as Meaning)}
                  />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {file.rows.slice(0, SAMPLE).map((row, n) => (
              <tr key={n} className="border-b border-rule">
                {file.columns.map((_, column) => (
                  <td key={column} className={`max-w-60 truncate pr-6 ${meanings[column] === "nothing" ? "text-ink-3" : ""}`}>
                    {row[column]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {hasDate && found === null && (
        <p className="mt-2">
          In dates such as 3/4/2027{" "}
          <Choice
            label="Order of day and month"
            value={chosen}
            options={[
              { value: "day-first", label: "the day stands first" },
              { value: "month-first", label: "the month stands first" },
            ]}
            onChoose={(value) => setChosen(value as DateOrder)}
          />
        </p>
      )}
      <div className="mt-2 min-h-0 flex-1 overflow-auto">
        {!hasDate && <p role="alert">No column holds dates yet. Say above which one does.</p>}
        {read && (
          <p role="status">
            <b>{good.toLocaleString("en")}</b> rows can be read
            {good > 0 && `, from ${read.arrivals[0]?.at.replace("T", " ")} to ${read.arrivals.at(-1)?.at.replace("T", " ")}`}.
            {bad.length > 0 && <b className="text-wrong"> {bad.length.toLocaleString("en")} cannot:</b>}
          </p>
        )}
        {read && read.unknownTypes.length > 0 && (
          <button type="button" className={`${LINK_BUTTON} my-1`} onClick={makeTypes}>
            Make case types of {read.unknownTypes.slice(0, 4).join(", ")}
            {read.unknownTypes.length > 4 ? " …" : ""}
          </button>
        )}
        {bad.length > 0 && (
          <table className="mt-1 text-sm" aria-label="Rows that cannot be read">
            <tbody>
              {bad.slice(0, MOST_BAD).map((row) => (
                <tr key={row.line} className="border-b border-rule">
                  <td className="pr-4 text-right text-ink-2">line {row.line}</td>
                  <td className="max-w-80 truncate pr-4">{row.text}</td>
                  <td className="text-wrong">{row.reason}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {bad.length > MOST_BAD && <p className="text-sm text-ink-2">and {(bad.length - MOST_BAD).toLocaleString("en")} more</p>}
      </div>
      <div className="flex flex-wrap items-center gap-4 border-t border-rule py-2">
        {bad.length > 0 && (
          <label className="inline-flex items-center gap-1.5 text-sm">
            <input type="checkbox" checked={withoutBad} onChange={(event) => setWithoutBad(event.target.checked)} />
            Leave out the {bad.length.toLocaleString("en")} rows that cannot be read
          </label>
        )}
        <button type="button" className={MAIN_BUTTON} disabled={good === 0 || (bad.length > 0 && !withoutBad)} onClick={take}>
          Take over {good.toLocaleString("en")} dates
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={onDone}>
          Give up
        </button>
        <span className="text-sm text-ink-2">They take the place of the dates that are there now.</span>
      </div>
    </div>
  );
}
