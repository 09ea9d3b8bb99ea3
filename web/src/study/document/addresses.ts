import type { StudyDocument } from "./types";

/**
 * An address in a study document: keys, ids of elements and places in lists, as in "steps/counter/line/max".
 * "steps/counter,cashier/line/max" is the same place in several elements at once.
 */
export type At = string;

type Holder = Record<string, unknown> | unknown[];

/** The address of something inside another; what a key has of slashes is written as in a JSON Pointer. */
export function within(at: At, ...keys: (string | number)[]): At {
  return [at, ...keys.map((key) => String(key).replaceAll("~", "~0").replaceAll("/", "~1"))].join("/");
}

export const keysOf = (at: At) => at.split("/").map((key) => key.replaceAll("~1", "/").replaceAll("~0", "~"));

/** The single addresses that an address of several elements stands for. */
export function singleAddresses(at: At): At[] {
  const [list = "", ids = "", ...rest] = at.split("/");
  if (!ids.includes(",")) return [at];
  return ids.split(",").map((id) => [list, id, ...rest].join("/"));
}

/** What stands at an address; of several elements, what stands in the first. */
export function valueAt(study: StudyDocument, at: At): unknown {
  return keysOf(singleAddresses(at)[0] ?? at).reduce<unknown>(inside, study) ?? undefined;
}

/** Whether several elements differ in what stands at an address. */
export function differ(study: StudyDocument, at: At): boolean {
  const singles = singleAddresses(at);
  if (singles.length < 2) return false;
  const texts = singles.map((single) => JSON.stringify(valueAt(study, single)));
  return texts.some((text) => text !== texts[0]);
}

/** Writes a value at an address; undefined takes it away, and what holds nothing any more with it. */
export function setAt(study: StudyDocument, at: At, value: unknown): void {
  for (const single of singleAddresses(at)) write(study as unknown as Holder, keysOf(single), value);
}

function write(holder: Holder, [key = "", ...rest]: string[], value: unknown): void {
  if (rest.length === 0) {
    if (value === undefined) remove(holder, key);
    else put(holder, key, structuredClone(value));
    return;
  }
  let next = inside(holder, key);
  if (!isHolder(next)) {
    if (value === undefined) return;
    next = {};
    put(holder, key, next);
  }
  write(next as Holder, rest, value);
  if (value === undefined && !Array.isArray(holder) && Object.keys(next as Holder).length === 0) delete holder[key];
}

function inside(holder: unknown, key: string): unknown {
  return Array.isArray(holder) ? holder[placeOf(holder, key)] : isHolder(holder) ? (holder as Record<string, unknown>)[key] : undefined;
}

function put(holder: Holder, key: string, value: unknown): void {
  if (Array.isArray(holder)) holder[placeOf(holder, key)] = value;
  else holder[key] = value;
}

function remove(holder: Holder, key: string): void {
  if (!Array.isArray(holder)) delete holder[key];
  else if (placeOf(holder, key) >= 0) holder.splice(placeOf(holder, key), 1);
}

function placeOf(list: unknown[], key: string): number {
  const named = list.findIndex((each) => isHolder(each) && (each as Record<string, unknown>).id === key);
  return named >= 0 || !/^\d+$/.test(key) ? named : Number(key);
}

const isHolder = (value: unknown): value is Holder => typeof value === "object" && value !== null;
