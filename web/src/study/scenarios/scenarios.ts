import equal from "fast-deep-equal";
import { current, isDraft, produce } from "immer";
import type { Schemas } from "../../api/client";
import { type At, keysOf, valueAt } from "../document/addresses";
import type { StudyDocument } from "../document/types";
import { type Lever, moved } from "./levers";
import { type Change, changesBetween, make } from "./patch";

export type Scenario = Schemas["Scenario"];

/** What a scenario shares with the study: who and what it is, how it is run, what is wanted of it, and the scenarios themselves. */
const SHARED = [
  "format",
  "name",
  "about",
  "currency",
  "start",
  "run",
  "measures",
  "targets",
  "observed",
  "board",
  "sizing",
  "levers",
  "scenarios",
] as const;
const isShared = (key: string) => (SHARED as readonly string[]).includes(key);

/** How the study as it is is called among its scenarios. */
export const BASELINE_NAME = "As it is today";

/** A scenario as it is seen, and what of it does not fit the study any more: changes by their places, levers by their ids. */
export interface Applied {
  document: StudyDocument;
  changes: number[];
  levers: string[];
}

export const scenarioOf = (study: StudyDocument, id: string | null) => study.scenarios?.find((each) => each.id === id);

/** The study as a scenario has it: levers are moved first, in the study's order, then the changes are made. */
export function applied(study: StudyDocument, scenario: Scenario): Applied {
  let misfits: Pick<Applied, "changes" | "levers"> = { changes: [], levers: [] };
  const document = produce(study, (draft) => {
    const levers = moveLevers(draft, scenario);
    misfits = { levers, changes: make(draft as unknown as Record<string, unknown>, scenario.changes ?? []) };
  });
  return { document, ...misfits };
}

/** What is seen of a study in a scenario; the study as it is where there is no such one. */
export function seenIn(study: StudyDocument, wanted: string | null): { scenario: string | null; document: StudyDocument } {
  const scenario = scenarioOf(study, wanted);
  if (!scenario) return { scenario: null, document: study };
  return { scenario: scenario.id, document: applied(study, scenario).document };
}

/** Moves a scenario's levers; returns those that are gone, or that lead somewhere where they cannot be. */
function moveLevers(study: StudyDocument, scenario: Scenario): string[] {
  const values = scenario.levers ?? {};
  const gone = Object.keys(values).filter((id) => !study.levers?.some((lever) => lever.id === id));
  const stuck = (study.levers ?? []).filter((lever) => lever.id in values && !moveLever(study, lever, values[lever.id]));
  return [...gone, ...stuck.map(({ id }) => id)];
}

function moveLever(study: StudyDocument, lever: Lever, value: unknown): boolean {
  const fits = (lever.sets ?? []).map((path) => {
    const before = valueAt(study, addressIn(path));
    const after = moved(lever, keysOf(path).at(-1) ?? "", isDraft(before) ? current(before) : before, value);
    if (after === undefined) return false;
    return make(study as unknown as Record<string, unknown>, [{ op: "replace", path, value: after }]).length === 0;
  });
  return fits.every(Boolean);
}

/** A pointer into the document as an address of it. */
export const addressIn = (pointer: string): At => pointer.slice(1);
/** An address in the document as a pointer into it. */
export const pointerTo = (at: At): string => `/${at}`;

/**
 * The study after a scenario of it was edited to be `shown`: what scenarios share is the study's, the rest is the scenario's alone,
 * as the difference from the study. What did not fit before stays with it. Where the difference itself was edited, that holds.
 */
export function withScenarioAs(study: StudyDocument, id: string, shown: StudyDocument): StudyDocument {
  const next = withShared(study, shown);
  const scenario = scenarioOf(next, id);
  const before = scenarioOf(study, id);
  if (!scenario || !before || scenario.levers !== before.levers || scenario.changes !== before.changes) return next;
  const misfits = applied(study, before);
  const levers = leversOf(next, scenario, shown);
  const moved = { ...scenario, levers, changes: [] };
  const changes = differences(applied(next, moved).document, shown);
  const unfit = misfits.changes.flatMap((place) => before.changes?.[place] ?? []);
  const whole: Scenario = { ...scenario, levers, changes: [...changes, ...unfit] };
  return { ...next, scenarios: next.scenarios?.map((each) => (each.id === id ? whole : each)) };
}

/** A study with what scenarios share as it is seen in one of them; the doors are the scenario's own. */
function withShared(study: StudyDocument, shown: StudyDocument): StudyDocument {
  const taken = Object.fromEntries(SHARED.filter((key) => shown[key] !== undefined).map((key) => [key, shown[key]]));
  const { doors: _, ...run } = shown.run;
  const ours = study.run.doors === undefined ? run : { ...run, doors: study.run.doors };
  const left = Object.fromEntries(Object.entries(study).filter(([key]) => !isShared(key) || key in taken)) as unknown as StudyDocument;
  return { ...left, ...taken, run: equal(ours, study.run) ? study.run : ours };
}

function differences(study: StudyDocument, shown: StudyDocument): Change[] {
  const [before, after] = [study, shown] as unknown as Record<string, unknown>[];
  const keys = new Set([...Object.keys(study), ...Object.keys(shown)].filter((key) => !isShared(key)));
  const doors = changesBetween(study.run.doors, shown.run.doors, pointerTo("run/doors"));
  return [...[...keys].flatMap((key) => changesBetween(before?.[key], after?.[key], pointerTo(key))), ...doors];
}

/** Where a scenario's levers stand: where all that one drives has been given one value, it stands there. */
function leversOf(study: StudyDocument, scenario: Scenario, shown: StudyDocument): Record<string, unknown> {
  const levers = { ...scenario.levers };
  for (const lever of study.levers ?? []) {
    const addresses = (lever.sets ?? []).map(addressIn);
    if (lever.scales || addresses.length === 0) continue;
    const values = addresses.map((at) => valueAt(shown, at));
    if (values.some((value) => value == null)) continue;
    const [value, ...others] = values;
    const isOne = others.every((each) => equal(each, value));
    const isAsToday = addresses.every((at) => equal(valueAt(shown, at), valueAt(study, at)));
    if (isAsToday) delete levers[lever.id];
    else if (isOne) levers[lever.id] = value;
  }
  return levers;
}
