import type { Schemas } from "../../api/client";
import { inUnit, minutes, unitOf } from "../values/durations";

export type Lever = Schemas["Lever"];

const DIGITS = 12;
const NOT_SCALED = new Set(["dist", "k", "shape", "weights"]);
const WHOLE = new Set(["size", "people", "places", "count", "max", "balk_at", "limit", "lets_go", "reserve", "completed"]);
const TIME = /^\s*-?\d+(\.\d+)?\s*(s|min|h|d|wk)\s*$/;

const rounded = (number: number) => Number(number.toPrecision(DIGITS));

/**
 * What stands at a place, under a key, once a lever has a value: the value, or what stands there times the value. Undefined where
 * that cannot be scaled. `tests/shared/levers.json` holds this law for both languages.
 */
export function moved(lever: Lever, key: string, before: unknown, value: unknown): unknown {
  if (!lever.scales) return value;
  if (typeof value !== "number" || value <= 0) return undefined;
  if (isGroup(before) && "kind" in before) return withArrivals(before, value);
  if (!canBeScaled(before)) return undefined;
  const after = scaled(before, value);
  return WHOLE.has(key) && typeof after === "number" ? Math.floor(after + 0.5) : after;
}

/** A number, a duration, or all those inside a value, times a factor; the rest stays. */
export function scaled(value: unknown, factor: number): unknown {
  if (Array.isArray(value)) return value.map((each) => scaled(each, factor));
  if (isGroup(value)) return mapped(value, (each, key) => (NOT_SCALED.has(key) ? each : scaled(each, factor)));
  if (typeof value === "number") return rounded(value * factor);
  return isTime(value) ? inUnit(minutes(value) * factor, unitOf(value), DIGITS) : value;
}

function canBeScaled(value: unknown): boolean {
  if (Array.isArray(value)) return value.some(canBeScaled);
  if (isGroup(value)) return Object.entries(value).some(([key, each]) => !NOT_SCALED.has(key) && canBeScaled(each));
  return typeof value === "number" || isTime(value);
}

/** A stream that brings so many times as many cases. */
function withArrivals(stream: Group, factor: number): Group | undefined {
  if (stream.kind === "profile") return { ...stream, week: scaled(stream.week, factor) };
  if (stream.kind === "random" && stream.gap) return { ...stream, gap: scaled(stream.gap, 1 / factor) };
  if (stream.kind === "random" && isGroup(stream.chance)) {
    const probability = Math.min(1, rounded((stream.chance.probability as number) * factor));
    return { ...stream, chance: { ...stream.chance, probability } };
  }
  if (stream.kind !== "appointments") return undefined;
  const sessions = (stream.sessions as Group[]).map((each) => ({ ...each, every: scaled(each.every, 1 / factor) }));
  return { ...stream, sessions };
}

/** The values that a lever is meant to have: those listed, or those of its range, both ends among them. */
export function valuesOf(lever: Lever): unknown[] {
  const { values = [], low, high, step } = lever;
  if (values.length > 0 || low == null || high == null) return values;
  if (typeof low === "string") {
    const unit = unitOf(low);
    const [from, to] = [minutes(low), minutes(String(high))];
    return range(from, to, typeof step === "string" ? minutes(step) : to - from || 1).map((each) => inUnit(each, unit, DIGITS));
  }
  return range(low, Number(high), Number(step ?? 1)).map(rounded);
}

const MOST_VALUES = 500;

const range = (low: number, high: number, step: number) =>
  Array.from({ length: Math.min(Math.floor((high - low) / step + 1e-9) + 1, MOST_VALUES) }, (_, n) => low + n * step);

type Group = Record<string, unknown>;

const isGroup = (value: unknown): value is Group => typeof value === "object" && value !== null && !Array.isArray(value);
/** Whether a value is a duration. */
export const isTime = (value: unknown): value is string => typeof value === "string" && TIME.test(value);
const mapped = (group: Group, of: (value: unknown, key: string) => unknown): Group =>
  Object.fromEntries(Object.entries(group).map(([key, value]) => [key, of(value, key)]));
