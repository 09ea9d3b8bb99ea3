import type { Schemas } from "../../api/client";
import type { Distribution as TimeDistribution, Work } from "../document/types";
import { isByType } from "../document/types";
import { inUnit, minutes, type Unit, unitOf } from "./durations";

type Distribution = TimeDistribution | Schemas["NumberDistribution"] | Schemas["OffsetDistribution"];
export type Shape = Exclude<Distribution, string | number>;
export type ShapeName = Shape["dist"] | "constant";

/** A time in minutes, or a number as it is. */
const amount = (value: string | number) => (typeof value === "number" ? value : minutes(value));

const amounts = ({ values }: { values: (string | number)[] }) => values.map(amount);

const isPlain = (distribution: Distribution) => typeof distribution === "string" || typeof distribution === "number";

export function shapeOf(distribution: Distribution): ShapeName {
  return isPlain(distribution) ? "constant" : (distribution as Shape).dist;
}

/**
 * What was typed of a distribution, in minutes or plain, to tell it by: its mean, what is most likely or what it is like; where
 * nothing like that was typed, from the least to the most. What follows from it, such as the mean of any shape, the server says.
 */
export function spanOf(distribution: Distribution): [low: number, high: number] {
  if (typeof distribution === "string" || typeof distribution === "number") return [amount(distribution), amount(distribution)];
  if ("values" in distribution) return [Math.min(...amounts(distribution)), Math.max(...amounts(distribution))];
  if ("mean" in distribution) return [amount(distribution.mean), amount(distribution.mean)];
  if ("mode" in distribution) return [amount(distribution.mode), amount(distribution.mode)];
  if ("low" in distribution) return [amount(distribution.low), amount(distribution.high)];
  return [amount(distribution.scale), amount(distribution.scale)];
}

/** A span in the unit that a distribution was typed in: "8 min", "3–9 min". */
export function spanInWords([low, high]: [number, number], unit: Unit | null): string {
  const [from, to] = [low, high].map((end) => String(inMeasure(Number(end.toPrecision(3)), unit)));
  return from === to ? `${to}` : `${from?.split(" ")[0]}–${to}`;
}

/** One of the values that a distribution is made of, for the unit that they were typed in. */
function written(distribution: Distribution): string | number {
  if (typeof distribution === "string" || typeof distribution === "number") return distribution;
  if ("values" in distribution) return distribution.values[0] ?? "0 min";
  if ("high" in distribution) return distribution.high;
  return "scale" in distribution ? distribution.scale : distribution.mean;
}

/** The unit that a distribution was typed in; numbers have none. */
export function typedUnit(distribution: Distribution): Unit | null {
  const sample = written(distribution);
  return typeof sample === "number" ? null : unitOf(sample);
}

/** An amount written in a unit, or as a number where there is none. */
export function inMeasure(value: number, unit: Unit | null): string | number {
  return unit ? inUnit(value, unit) : Number(value.toPrecision(4));
}

/** Whether the values of a distribution are in the order that its shape asks for. */
export function isInOrder(distribution: Distribution): boolean {
  if (typeof distribution !== "object" || !("high" in distribution)) return true;
  const middle = "mode" in distribution ? [distribution.mode] : "mean" in distribution ? [distribution.mean] : [];
  const values = [distribution.low, ...middle, distribution.high].map(amount);
  return values.every((value, n) => n === 0 || (values[n - 1] ?? 0) <= value);
}

/** A distribution in a few characters, for under a stop. */
export function inShort(work: Work, types: string[] = []): string {
  if (isByType(work)) {
    const known = types.length > 0 && !work.by_trait ? types.map((type) => work.by_type?.[type] ?? work.otherwise) : null;
    const spans = (known ?? [...Object.values(work.by_type ?? {}), work.otherwise]).map(spanOf);
    const whole: [number, number] = [Math.min(...spans.map(([low]) => low)), Math.max(...spans.map(([, high]) => high))];
    return `about ${spanInWords(whole, typedUnit(work.otherwise))}`;
  }
  if (typeof work === "string") return work;
  if ("high" in work) {
    return unitOf(work.low) === unitOf(work.high) ? `${work.low.split(" ")[0]}–${work.high}` : `${work.low}–${work.high}`;
  }
  return "mean" in work ? `about ${work.mean}` : aboutInWords(work);
}

/** A distribution in a line of plain words, for where there is no room for its curve. */
export function aboutInWords(distribution: Distribution): string {
  const span = spanInWords(spanOf(distribution), typedUnit(distribution));
  return isPlain(distribution) ? span : `about ${span}`;
}
