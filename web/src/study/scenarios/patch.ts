import equal from "fast-deep-equal";
import type { Schemas } from "../../api/client";
import { keysOf, within } from "../document/addresses";

/**
 * Changes of a scenario as a JSON Patch (RFC 6902), whose pointers (RFC 6901) may name elements of lists by their ids. How they are
 * applied is a law for both languages: `tests/shared/scenarios.json` holds it.
 */
export type Change = Schemas["PatchStep"];

type Group = Record<string, unknown>;
type Holder = Group | unknown[];

const isGroup = (value: unknown): value is Group => typeof value === "object" && value !== null && !Array.isArray(value);
type Element = Group & { id: string };
const isElement = (value: unknown): value is Element => isGroup(value) && typeof value.id === "string";

/** What is one value, though it has parts: a distribution, a rule. */
const isValue = (value: Group) => "dist" in value || "fact" in value || "all" in value || "any" in value;

/** Whether two lists have elements that are told by their ids; one of them may be empty or left out. */
function areElements(before: unknown, after: unknown): boolean {
  const both = [before ?? [], after ?? []];
  return both.every((list) => Array.isArray(list) && list.every(isElement)) && both.flat().length > 0;
}

/** The changes that lead from one thing to another, at a pointer. */
export function changesBetween(before: unknown, after: unknown, at: string): Change[] {
  if (before === after || equal(before, after)) return [];
  const [had, has] = [before ?? undefined, after ?? undefined];
  if (had === undefined && has === undefined) return [];
  if (areElements(had, has)) return inElements((had ?? []) as Element[], (has ?? []) as Element[], at);
  if (had === undefined) return [{ op: "add", path: at, value: has }];
  if (has === undefined) return [{ op: "remove", path: at }];
  if (isGroup(had) && isGroup(has) && had.kind === has.kind && !isValue(had) && !isValue(has)) return inGroups(had, has, at);
  if (Array.isArray(had) && Array.isArray(has) && had.length > 0 && has.length > 0) {
    if ([...had, ...has].every(isGroup)) return inRows(had as Group[], has as Group[], at);
  }
  return [{ op: "replace", path: at, value: has }];
}

function inGroups(before: Group, after: Group, at: string): Change[] {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
  return [...keys].flatMap((key) => changesBetween(before[key], after[key], within(at, key)));
}

/** Elements are told by their ids: those gone, those changed, and those new, each put in before the one that it stands before. */
function inElements(before: Element[], after: Element[], at: string): Change[] {
  const stays = inOrder(before, after);
  const changes: Change[] = before.filter(({ id }) => !stays.has(id)).map(({ id }) => ({ op: "remove", path: within(at, id) }));
  for (const element of after) {
    const older = before.find(({ id }) => id === element.id);
    if (older && stays.has(element.id)) changes.push(...changesBetween(older, element, within(at, element.id)));
  }
  const fresh = after.map((element, n) => ({ element, next: after[n + 1]?.id ?? "-" })).filter(({ element }) => !stays.has(element.id));
  return [...changes, ...fresh.reverse().map(({ element, next }): Change => ({ op: "add", path: within(at, next), value: element }))];
}

/** The ids of the elements that stay in their order: of the others one must be taken out and put in elsewhere. */
function inOrder(before: Element[], after: Element[]): Set<string> {
  const places = new Map(after.map(({ id }, n) => [id, n]));
  const stays = new Set<string>();
  let last = -1;
  for (const { id } of before) {
    const place = places.get(id) ?? -1;
    if (place <= last) continue;
    stays.add(id);
    last = place;
  }
  return stays;
}

/** What tells one row of a list from another where rows have no ids: it must still be so where the change is made. */
const TELLING = ["to", "type", "team", "skill", "place", "name", "days", "from", "date", "at", "after", "every"];

/** Rows are told by their places; what is before and after all that differs stays. */
function inRows(before: Group[], after: Group[], at: string): Change[] {
  const many = Math.min(before.length, after.length);
  let head = 0;
  while (head < many && equal(before[head], after[head])) head++;
  let tail = 0;
  while (tail < many - head && equal(before.at(-1 - tail), after.at(-1 - tail))) tail++;
  const both = many - head - tail;
  const places = Array.from({ length: both }, (_, n) => head + n);
  const changed = places.flatMap((n) => {
    const changes = changesBetween(before[n], after[n], within(at, n));
    return changes.length > 0 ? [...tests(before[n], within(at, n)), ...changes] : [];
  });
  const gone = before.slice(head + both, before.length - tail).flatMap((row, n): Change[] => {
    const place = within(at, head + both + n);
    return [...tests(row, place), { op: "remove", path: place }];
  });
  return [...changed, ...lastFirst(gone), ...added(after, head + both, after.length - tail, tail > 0, at)];
}

/** Removals from the last to the first, each after its tests, so that none moves the place of another. */
function lastFirst(changes: Change[]): Change[] {
  const ends = changes.flatMap(({ op }, n) => (op === "remove" ? [n] : []));
  return ends
    .map((end, n) => changes.slice((ends[n - 1] ?? -1) + 1, end + 1))
    .reverse()
    .flat();
}

function added(after: Group[], from: number, to: number, hasMoreBehind: boolean, at: string): Change[] {
  return after.slice(from, to).map((value, n) => ({ op: "add", path: within(at, hasMoreBehind ? from + n : "-"), value }));
}

function tests(row: Group | undefined, at: string): Change[] {
  return TELLING.filter((key) => row?.[key] != null && !isGroup(row[key])).map((key) => ({
    op: "test",
    path: within(at, key),
    value: row?.[key],
  }));
}

/**
 * Makes changes to a document, which must be one's own or a draft. Returns the places in the list of those that do not fit, which
 * are not made: where a row is not the one that was meant, nothing is changed in its list.
 */
export function make(document: Group, changes: Change[]): number[] {
  const shut: string[] = [];
  return changes.flatMap((change, n) => {
    const isShut = shut.some((list) => change.path.startsWith(list));
    if (!isShut && makeOne(document, change)) return [];
    if (change.op === "test") shut.push(`${change.path.split("/").slice(0, -2).join("/")}/`);
    return [n];
  });
}

function makeOne(document: Group, { op, path, from, value }: Change): boolean {
  const at = lead(document, path);
  if (!at) return false;
  switch (op) {
    case "test":
      return equal(plain(read(at)), value);
    case "add":
    case "replace":
      return put(at, structuredClone(value), op === "add");
    case "remove":
      return take(at);
    default: {
      const source = from == null ? null : lead(document, from);
      if (!source || read(source) === undefined) return false;
      const moved = structuredClone(plain(read(source)));
      return (op === "copy" || take(source)) && put(at, moved, true);
    }
  }
}

interface Place {
  holder: Holder;
  key: string;
}

/** Follows a pointer to what holds its end; what is left out on the way is made. Null where it leads nowhere. */
function lead(document: Group, path: string): Place | null {
  const keys = keysOf(path).slice(1);
  let holder: Holder = document;
  for (const [depth, key] of keys.entries()) {
    const name = Array.isArray(holder) ? placeIn(holder, key) : key;
    if (name === null) return null;
    if (depth === keys.length - 1) return { holder, key: name };
    const next: unknown = Array.isArray(holder) ? holder[Number(name)] : (holder[name] ?? made(holder, name, keys[depth + 1]));
    if (typeof next !== "object" || next === null) return null;
    holder = next as Holder;
  }
  return null;
}

function made(holder: Group, key: string, next: string | undefined): Holder {
  holder[key] = /^(\d+|-)$/.test(next ?? "") ? [] : {};
  return holder[key] as Holder;
}

function placeIn(list: unknown[], key: string): string | null {
  if (/^(\d+|-)$/.test(key)) return key;
  const place = list.findIndex((each) => isGroup(each) && each.id === key);
  return place < 0 ? null : String(place);
}

const read = ({ holder, key }: Place) => (Array.isArray(holder) ? holder[Number(key)] : holder[key]);

/** A value that may be part of a draft, as one of its own. */
const plain = (value: unknown): unknown => (value === undefined ? undefined : JSON.parse(JSON.stringify(value)));

function put({ holder, key }: Place, value: unknown, isNew: boolean): boolean {
  if (!Array.isArray(holder)) {
    holder[key] = value;
    return true;
  }
  const place = key === "-" ? holder.length : Number(key);
  if (isNew ? place > holder.length : place >= holder.length) return false;
  holder.splice(place, isNew ? 0 : 1, value);
  return true;
}

function take({ holder, key }: Place): boolean {
  if (!Array.isArray(holder)) {
    delete holder[key];
    return true;
  }
  if (!(Number(key) < holder.length)) return false;
  holder.splice(Number(key), 1);
  return true;
}
