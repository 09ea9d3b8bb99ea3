import { useMemo, useState } from "react";
import { colourOf, passing, shareSum, stepById } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { attempt, select, useStudy, useToday } from "../study/session/store";
import { Grid, type GridColumn } from "../ui/Grid";
import type { Put } from "../ui/gridText";
import { TypeMark } from "../ui/TypeMark";
import { putShare, SETTINGS, type StepColumn, shareText, timesByType, wayRows } from "./tableColumns";

const VIEWS = { settings: "Settings", times: "Times by case type", ways: "Ways by case type" } as const;
type View = keyof typeof VIEWS;

/** All steps as a table that is filled in like a spreadsheet: their settings, or their times or ways for each case type. */
export function StepsTable() {
  const study = useStudy((state) => state.document);
  const [view, setView] = useState<View>("settings");
  return (
    <div className="flex h-full flex-col px-5 pt-3">
      <div className="mb-2 flex items-baseline gap-5 text-sm">
        <div role="group" aria-label="What the table shows" className="flex gap-5">
          {(Object.keys(VIEWS) as View[]).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={view === each}
              className="border-b-2 border-transparent pb-0.5 text-ink-2 aria-pressed:border-ink aria-pressed:text-ink"
              onClick={() => setView(each)}
            >
              {VIEWS[each]}
            </button>
          ))}
        </div>
        <p className="ml-auto text-ink-2 max-[1100px]:hidden">Type over, Ctrl D fills down, copy and paste with a spreadsheet.</p>
      </div>
      <div className="min-h-0 flex-1">
        {view === "ways" ? (
          <WaysGrid study={study} />
        ) : (
          <StepsGrid key={view} study={study} columns={view === "times" ? timesByType(study) : SETTINGS} marked={view === "times"} />
        )}
      </div>
    </div>
  );
}

interface StepsGridProps {
  study: StudyDocument;
  columns: StepColumn[];
  /** Whether the columns are case types, with their colours. */
  marked: boolean;
}

function StepsGrid({ study, columns, marked }: StepsGridProps) {
  const steps = study.steps;
  const whole = useToday();
  const stepsToday = new Map(whole?.steps.map((step) => [step.id, step]));
  const heads = useHeads(study, columns, marked);
  const textOf = (row: number, column: number) => (steps[row] ? (columns[column]?.text(study, steps[row]) ?? null) : null);
  const today = (row: number, column: number) => {
    const before = stepsToday.get(steps[row]?.id ?? "");
    const text = whole && before ? (columns[column]?.text(whole, before) ?? null) : null;
    return text === textOf(row, column) ? null : text;
  };
  const put = (puts: Put[]) =>
    attempt(
      puts.length === 1 ? `${steps[puts[0]?.row ?? 0]?.name}: ${columns[puts[0]?.column ?? 0]?.label}` : "Fill the table",
      (draft) => {
        for (const each of puts) {
          const step = draft.steps.find((one) => one.id === steps[each.row]?.id);
          const problem = step && columns[each.column]?.put(draft, step, each.text);
          if (problem) return problem;
        }
        return null;
      },
    );
  return (
    <Grid
      label="Steps"
      corner={marked ? "Step" : ""}
      labelWidth={marked ? 170 : 30}
      firstStays={!marked}
      rows={steps.map((step, n) => ({ id: step.id, label: marked ? step.name : n + 1, name: step.name }))}
      columns={heads}
      text={textOf}
      today={today}
      onPut={put}
      onArea={(area) => {
        const [first, ...also] = steps.slice(area.top, area.bottom + 1).map((step) => step.id);
        if (first) select({ kind: "step", id: first, also });
      }}
    />
  );
}

/** The columns' heads, which stay the same object while nothing about them changes. */
function useHeads(study: StudyDocument, columns: StepColumn[], marked: boolean): GridColumn[] {
  const key = columns.map((column) => `${column.id} ${column.label} ${marked && colourOf(study, column.id)}`).join("|");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all that matters of the columns.
  return useMemo(
    () =>
      columns.map(({ id, label, width, numbers }) => ({
        id,
        name: label,
        width,
        numbers,
        label: marked ? <TypeHead name={label} colour={colourOf(study, id)} /> : label,
      })),
    [key],
  );
}

function TypeHead({ name, colour }: { name: string; colour: string }) {
  return (
    <>
      <TypeMark colour={colour} />
      <b className="text-ink">{name}</b>
    </>
  );
}

function WaysGrid({ study }: { study: StudyDocument }) {
  const rows = wayRows(study);
  const whole = useToday();
  const calls = passing(study).steps;
  const columns: StepColumn[] = study.case_types.map((type) => ({
    id: type.id,
    label: type.name,
    width: 130,
    numbers: true,
    text: () => "",
    put: () => null,
  }));
  const heads = useHeads(study, columns, true);
  const put = (puts: Put[]) =>
    attempt("Shares of ways", (draft) => {
      for (const each of puts) {
        const row = rows[each.row];
        const problem = row && putShare(draft, row, study.case_types[each.column]?.id ?? "", each.text);
        if (problem) return problem;
      }
      return null;
    });
  if (rows.length === 0) return <p className="text-ink-2">Nowhere do the ways part by shares yet.</p>;
  const off = rows.filter((row) => {
    const step = stepById(study, row.step);
    return row.place === 0 && step && (calls.get(row.step) ?? []).some((type) => Math.abs(shareSum(step, type) - 1) > 1e-9);
  });
  return (
    <div className="flex h-full flex-col">
      {off.length > 0 && (
        <p className="mb-2 text-sm text-wrong">
          The shares of {off.map((row) => stepById(study, row.step)?.name).join(", ")} do not make 100 %.
        </p>
      )}
      <div className="min-h-0 flex-1">
        <Grid
          label="Ways by case type"
          corner="Way"
          labelWidth={260}
          rows={rows.map((row) => ({ id: `${row.step} ${row.place}`, label: row.label, name: row.label }))}
          columns={heads}
          text={(row, column) => {
            const [way, type] = [rows[row], study.case_types[column]?.id ?? ""];
            return way && calls.get(way.step)?.includes(type) ? shareText(study, way, type) : null;
          }}
          today={(row, column) => {
            const [way, type] = [rows[row], study.case_types[column]?.id ?? ""];
            const before = whole && way ? shareText(whole, way, type) : "";
            return way && before && before !== shareText(study, way, type) ? before : null;
          }}
          onPut={put}
          onArea={(area) => rows[area.top] && select({ kind: "step", id: rows[area.top]?.step ?? "" })}
        />
      </div>
    </div>
  );
}
