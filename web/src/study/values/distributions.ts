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

/** The mean of what a distribution brings, in minutes or plain; `tests/shared/distributions.json` holds it for both languages. */
export function meanOf(distribution: Distribution): number {
  if (typeof distribution === "string" || typeof distribution === "number") return amount(distribution);
  switch (distribution.dist) {
    case "uniform":
      return (amount(distribution.low) + amount(distribution.high)) / 2;
    case "triangular":
      return (amount(distribution.low) + amount(distribution.mode) + amount(distribution.high)) / 3;
    case "pert":
      return (amount(distribution.low) + 4 * amount(distribution.mode) + amount(distribution.high)) / 6;
    case "weibull":
      return amount(distribution.scale) * Math.exp(logGamma(1 + 1 / distribution.shape));
    case "normal":
      return cutAtZero(amount(distribution.mean), amount(distribution.sd));
    case "discrete": {
      const total = distribution.weights.reduce((sum, weight) => sum + weight, 0);
      return amounts(distribution).reduce((sum, value, n) => sum + value * (distribution.weights[n] ?? 0), 0) / total;
    }
    case "empirical":
      return meanBetween(amounts(distribution).toSorted((one, other) => one - other));
    default:
      return amount(distribution.mean);
  }
}

/** The mean of a bell of which what lies below zero is cut off; offsets, whose mean may be below zero, are not cut. */
function cutAtZero(mean: number, sd: number): number {
  const cut = mean / sd;
  if (!(cut > 0 && cut < FAR)) return mean;
  return mean + (sd * Math.exp(-(cut ** 2) / 2)) / Math.sqrt(2 * Math.PI) / shareBelow(cut);
}

/** Beyond so many standard deviations nothing of a bell is left to be seen. */
const FAR = 8;
const PIECES = 400;

/** The share of a standard bell below a point, by Simpson's rule from its middle. */
function shareBelow(point: number): number {
  const height = (n: number) => Math.exp(-(((point * n) / PIECES) ** 2) / 2);
  let sum = height(0) + height(PIECES);
  for (let n = 1; n < PIECES; n++) sum += (n % 2 === 0 ? 2 : 4) * height(n);
  return 0.5 + (point / PIECES / 3) * (sum / Math.sqrt(2 * Math.PI));
}

/** The mean of observed values in order, where everything between two neighbours is equally likely. */
function meanBetween(values: number[]): number {
  const [first, last] = [values[0] ?? 0, values.at(-1) ?? 0];
  if (values.length < 2) return first;
  return (values.reduce((sum, value) => sum + value, 0) - (first + last) / 2) / (values.length - 1);
}

/** The logarithm of the gamma function for x above zero (Stirling's series after a shift). */
function logGamma(x: number): number {
  if (x < 8) return logGamma(x + 1) - Math.log(x);
  return (x - 0.5) * Math.log(x) - x + 0.5 * Math.log(2 * Math.PI) + 1 / (12 * x) - 1 / (360 * x ** 3);
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
    const all = known ?? [...Object.values(work.by_type ?? {}), work.otherwise];
    const unit = unitOf(String(written(work.otherwise)));
    const means = all.map(meanOf);
    const [low, high] = [Math.min(...means), Math.max(...means)].map((mean) => Number(mean.toPrecision(2))) as [number, number];
    return low === high ? `about ${inUnit(low, unit)}` : `about ${inUnit(low, unit).split(" ")[0]}–${inUnit(high, unit)}`;
  }
  if (typeof work === "string") return work;
  if ("high" in work) {
    return unitOf(work.low) === unitOf(work.high) ? `${work.low.split(" ")[0]}–${work.high}` : `${work.low}–${work.high}`;
  }
  return "mean" in work ? `about ${work.mean}` : `about ${inMeasure(Number(meanOf(work).toPrecision(2)), typedUnit(work))}`;
}
