import { type At, keysOf, singleAddresses, valueAt } from "../document/addresses";
import { nameOf, PARTS, type PartKind, partAt, partsOf } from "../document/parts";
import type { Distribution, StudyDocument } from "../document/types";
import { freshId } from "../edits/links";
import { type Parsed, parseDuration } from "../values/durations";
import { readShortForm, shortForm } from "../values/shortForm";
import { isTime, type Lever, valuesOf } from "./levers";
import { addressIn, pointerTo } from "./scenarios";

/** What stands at a place today that a lever drives; of several places, at the first. */
export function todayOf(study: StudyDocument, lever: Lever): unknown {
  const [first] = lever.sets ?? [];
  if (lever.scales) return 1;
  return first === undefined ? undefined : valueAt(study, addressIn(first));
}

/** A place of the study in words: "Agents: shift 07:45–15:45, people". */
export function placeWords(study: StudyDocument, at: At): string {
  const part = partAt(at);
  const keys = keysOf(at);
  const subject = part ? nameOf(study, part.kind, part.id) : "Study";
  const inner = keys.slice(part ? PARTS[part.kind].list.split("/").length + 1 : 0);
  const words = inner.flatMap((key, n) => {
    if (/^\d+$/.test(key)) return rowWords(valueAt(study, keys.slice(0, keys.length - inner.length + n + 1).join("/")));
    const isList = /^\d+$/.test(inner[n + 1] ?? "");
    return isList ? [] : [called(study, key).replaceAll("_", " ")];
  });
  return words.length > 0 ? `${subject}: ${words.join(", ")}` : `${subject}: all that comes`;
}

function rowWords(row: unknown): string[] {
  if (typeof row !== "object" || row === null) return [];
  const { from, to, length } = row as Record<string, string | undefined>;
  if (from && to) return [`shift ${from}–${to}`];
  return length ? ["break"] : [];
}

function called(study: StudyDocument, key: string): string {
  const parts = (Object.keys(PARTS) as PartKind[]).flatMap((kind) => partsOf(study, kind));
  return parts.find(({ id }) => id === key)?.name ?? key;
}

/** The levers that drive something at an address. */
export function leversAt(study: StudyDocument, at: At): Lever[] {
  const pointers = singleAddresses(at).map(pointerTo);
  return (study.levers ?? []).filter((lever) => lever.sets?.some((path) => pointers.includes(path)));
}

/** Makes a lever of what stands at an address, and returns its id. */
export function makeLever(study: StudyDocument, at: At): string {
  const name = placeWords(study, singleAddresses(at)[0] ?? at).slice(0, 120);
  study.levers ??= [];
  const id = freshId(name, study.levers);
  study.levers.push({ id, name, sets: singleAddresses(at).map(pointerTo) });
  return id;
}

/** Makes a lever that multiplies what every stream brings, and returns its id. */
export function makeArrivalsLever(study: StudyDocument): string {
  study.levers ??= [];
  const id = freshId("All arrivals", study.levers);
  const sets = study.streams.filter(({ kind }) => kind !== "dates").map(({ id: stream }) => `/streams/${stream}`);
  study.levers.push({ id, name: "All arrivals", sets, scales: true, values: [0.8, 0.9, 1.1, 1.2] });
  return id;
}

/** Lets a lever drive what stands at an address too. */
export function driveToo(lever: Lever, at: At): void {
  const paths = singleAddresses(at).map(pointerTo);
  lever.sets = [...(lever.sets ?? []), ...paths.filter((path) => !lever.sets?.includes(path))];
}

/** Lets a lever no longer drive what stands at an address. */
export function driveNoMore(lever: Lever, at: At): void {
  const paths = singleAddresses(at).map(pointerTo);
  lever.sets = lever.sets?.filter((path) => !paths.includes(path));
}

/** Takes a lever away; where scenarios moved it, what it did to them is theirs no more. */
export function removeLever(study: StudyDocument, id: string): void {
  study.levers = study.levers?.filter((each) => each.id !== id);
  for (const scenario of study.scenarios ?? []) delete scenario.levers?.[id];
}

/** A value of a lever as it is typed and read. */
export function written(value: unknown): string {
  if (value === undefined || value === null) return "";
  return typeof value === "object" ? shortForm(value as Distribution) : String(value);
}

/** Reads a value as one like that which stands there today. */
export function readLike(today: unknown, text: string): Parsed<unknown> {
  const typed = text.trim();
  if (typeof today === "number") {
    const number = Number(typed.replace(",", "."));
    return Number.isNaN(number) ? { problem: `“${typed}” is not a number.` } : { value: number };
  }
  if (typeof today === "object" && today !== null) return readShortForm(typed);
  if (isTime(today)) return parseDuration(typed);
  if (typeof today === "boolean") return /^(true|false)$/.test(typed) ? { value: typed === "true" } : { problem: "Write true or false." };
  return { value: typed };
}

/** Reads the values that a lever may have: one after the other, or "2 to 8 by 1". */
export function readValues(today: unknown, text: string): Parsed<Pick<Lever, "values" | "low" | "high" | "step">> {
  const range = /^(.+?)\s+to\s+(.+?)(?:\s+by\s+(.+))?$/.exec(text.trim());
  const read = (each: string) => readLike(today, each);
  if (range) {
    const ends = [range[1], range[2], range[3] ?? (typeof today === "number" ? "1" : range[1])].map((each) => read(each ?? ""));
    const wrong = ends.find((each) => "problem" in each);
    if (wrong) return wrong as { problem: string };
    const [low, high, step] = ends.map((each) => (each as { value: number | string }).value);
    return { value: { values: [], low, high, step } };
  }
  const values = text.trim() === "" ? [] : text.split(/\s*[;,]\s+|\s*;\s*/).map(read);
  const wrong = values.find((each) => "problem" in each);
  if (wrong) return wrong as { problem: string };
  return { value: { values: values.map((each) => (each as { value: unknown }).value), low: null, high: null, step: null } };
}

/** The values that a lever may have, as they are typed. */
export function writtenValues({ values = [], low, high, step }: Lever): string {
  if (values.length > 0 || low == null || high == null) return values.map(written).join(", ");
  return `${low} to ${high}${step == null ? "" : ` by ${step}`}`;
}

/** Every combination of the values of some levers, the first of which changes slowest. */
export function combinations(levers: Lever[]): Record<string, unknown>[] {
  return levers.reduce<Record<string, unknown>[]>(
    (all, lever) => all.flatMap((one) => valuesOf(lever).map((value) => ({ ...one, [lever.id]: value }))),
    [{}],
  );
}

/** Makes a scenario of each combination that none of the scenarios is yet, and returns how many. */
export function makeFamily(study: StudyDocument, levers: Lever[]): number {
  study.scenarios ??= [];
  const known = new Set(study.scenarios.filter(({ changes = [] }) => changes.length === 0).map(({ levers: set = {} }) => keyOf(set)));
  const isToday = (set: Record<string, unknown>) => levers.every((lever) => written(set[lever.id]) === written(todayOf(study, lever)));
  const fresh = combinations(levers).filter((set) => !known.has(keyOf(set)) && !isToday(set));
  for (const set of fresh) {
    const name = levers
      .map((lever) => `${lever.name} ${lever.scales ? "× " : ""}${written(set[lever.id])}`)
      .join(", ")
      .slice(0, 120);
    study.scenarios.push({ id: freshId(name, study.scenarios), name, levers: set });
  }
  return fresh.length;
}

const keyOf = (set: Record<string, unknown>) => JSON.stringify(Object.entries(set).toSorted(([one], [other]) => (one < other ? -1 : 1)));
