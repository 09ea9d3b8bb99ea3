import type { Run } from "../api/queries";

/** A scenario of a run, as the server names it: "12:one-more", or "12:" for the study as it is. */
export type ColumnKey = string;

const keyOf = (run: Run, scenario: string): ColumnKey => `${run.id}:${scenario}`;

/** What can be compared: the parts of runs of which something is done, the latest run first. */
export function offered(runs: Run[]): { key: ColumnKey; label: string }[] {
  return runs.flatMap((run) =>
    run.parts
      .filter((part) => part.done > 0)
      .map((part) => ({
        key: keyOf(run, part.scenario),
        label: `${part.name} (${run.name || `run ${run.number}`}, version ${run.version})`,
      })),
  );
}

const keysOf = (run: Run) => run.parts.filter((part) => part.done > 0).map((part) => keyOf(run, part.scenario));

/** What is compared at first: the scenarios of the latest run that has several, else the last two runs. */
export function usual(runs: Run[]): ColumnKey[] {
  const several = runs.find((run) => run.parts.filter((part) => part.done > 0).length > 1);
  const [latest] = runs;
  if (several && several === latest) return keysOf(several);
  const firsts = runs.flatMap((run) => {
    const part = run.parts.find((each) => each.done > 0);
    return part ? [keyOf(run, part.scenario)] : [];
  });
  return firsts.slice(0, 2).reverse();
}

/** Columns as they are asked for: "12:*" are all of a run that are neither named themselves nor left out by `without`. */
export interface AskedColumns {
  column: ColumnKey[];
  without?: ColumnKey[];
}

/** Asks for columns in few words, however many of a run there are. */
export function shortened(columns: ColumnKey[], runs: Run[]): AskedColumns {
  const [first, ...rest] = columns;
  const run = runs.find((each) => rest.length > 1 && keysOf(each).includes(rest[0] as ColumnKey));
  if (!run || first === undefined) return { column: columns };
  const keys = keysOf(run).filter((key) => key !== first);
  const without = keys.filter((key) => !rest.includes(key));
  const isInOrder = keys.filter((key) => rest.includes(key)).join() === rest.join();
  return isInOrder && without.length < rest.length ? { column: [first, `${run.id}:*`], without } : { column: columns };
}

/** The runs that columns are of. */
export const runsOf = (columns: ColumnKey[], runs: Run[]): Run[] =>
  runs.filter((run) => run.parts.some((part) => columns.includes(keyOf(run, part.scenario))));
