import { inUnit, minutes, type Unit, unitOf } from "./durations";
import type { Schemas } from "../../api/client";
import type { Distribution as TimeDistribution, Work } from "../document/types";
import { isByType } from "../document/types";

type Distribution = TimeDistribution | Schemas["NumberDistribution"] | Schemas["OffsetDistribution"];
export type Shape = Exclude<Distribution, string | number>;
export type ShapeName = Shape["dist"] | "constant";

/** What is distributed: times, times early or late, or plain numbers. */
export type Measure = "time" | "offset" | "number";

/** A time in minutes, or a number as it is. */
const amount = (value: string | number) => (typeof value === "number" ? value : minutes(value));

/** How each shape is called where one is chosen. */
export const SHAPE_WORDS: Record<ShapeName, string> = {
  constant: "always the same",
  triangular: "least, likely, most",
  uniform: "anything between",
  lognormal: "mean, long tail",
  normal: "mean, both ways",
  exponential: "mean, very uneven",
  erlang: "mean, in stages",
  pert: "least, likely, most, rounded",
  gamma: "mean, skewed",
  weibull: "until it fails",
  beta: "between two bounds",
  discrete: "one of a few",
  empirical: "as observed",
  poisson: "mean, as chance has it",
};

const amounts = ({ values }: { values: (string | number)[] }) => values.map(amount);

const OF_OFFSETS: ShapeName[] = ["constant", "uniform", "triangular", "normal", "discrete", "empirical"];

/** The shapes that there are for times, offsets or numbers. */
export function shapesFor(measure: Measure): ShapeName[] {
  if (measure === "offset") return OF_OFFSETS;
  return (Object.keys(SHAPE_WORDS) as ShapeName[]).filter((shape) => measure === "number" || shape !== "poisson");
}

const isPlain = (distribution: Distribution) => typeof distribution === "string" || typeof distribution === "number";

export function shapeOf(distribution: Distribution): ShapeName {
  return isPlain(distribution) ? "constant" : (distribution as Shape).dist;
}

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
    case "discrete": {
      const total = distribution.weights.reduce((sum, weight) => sum + weight, 0);
      return amounts(distribution).reduce((sum, value, n) => sum + value * (distribution.weights[n] ?? 0), 0) / total;
    }
    case "empirical":
      return amounts(distribution).reduce((sum, value) => sum + value, 0) / distribution.values.length;
    default:
      return amount(distribution.mean);
  }
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

/** Another shape with about the same mean, in the same unit. */
export function reshaped(distribution: Distribution, shape: ShapeName): Distribution {
  const mean = meanOf(distribution);
  const unit = typedUnit(distribution);
  const of = (factor: number) => inMeasure(mean * factor, unit) as never;
  switch (shape) {
    case "constant":
      return of(1);
    case "uniform":
      return { dist: shape, low: of(0.5), high: of(1.5) };
    case "triangular":
    case "pert":
      return { dist: shape, low: of(0.5), mode: of(0.9), high: of(1.6) };
    case "weibull":
      return { dist: shape, scale: of(1.1), shape: 1.5 };
    case "beta":
      return { dist: shape, low: of(0.5), high: of(2), mean: of(1), sd: of(0.25) };
    case "discrete":
      return { dist: shape, values: [of(1)], weights: [1] };
    case "empirical":
      return { dist: shape, values: [of(1)] };
    case "exponential":
    case "poisson":
      return { dist: shape, mean: of(1) };
    case "erlang":
      return { dist: shape, mean: of(1), k: 2 };
    default:
      return { dist: shape, mean: of(1), sd: of(shape === "normal" ? 0.25 : 0.5) };
  }
}

/** What is out of order in a distribution, in words. */
export function disorder(distribution: Distribution): string | null {
  if (typeof distribution === "string" || typeof distribution === "number" || !("high" in distribution)) return null;
  if (distribution.dist === "triangular" || distribution.dist === "pert") {
    if (amount(distribution.low) > amount(distribution.mode)) return "The least is above the most likely.";
    if (amount(distribution.mode) > amount(distribution.high)) return "The most likely is above the most.";
    return null;
  }
  return amount(distribution.low) > amount(distribution.high) ? "The least is above the most." : null;
}

/** The density at x minutes, up to a constant factor. */
export function density(distribution: Shape, x: number): number {
  switch (distribution.dist) {
    case "uniform":
      return x >= amount(distribution.low) && x <= amount(distribution.high) ? 1 : 0;
    case "triangular": {
      const [low, mode, high] = [amount(distribution.low), amount(distribution.mode), amount(distribution.high)];
      if (x < low || x > high) return 0;
      return x < mode ? (x - low) / (mode - low) : high > mode ? (high - x) / (high - mode) : 1;
    }
    case "exponential":
      return Math.exp(-x / amount(distribution.mean));
    case "erlang": {
      const stage = amount(distribution.mean) / distribution.k;
      return x <= 0 ? Number(distribution.k === 1) : Math.exp((distribution.k - 1) * Math.log(x / stage) - x / stage - logFactorial(distribution.k - 1));
    }
    case "normal": {
      const z = (x - amount(distribution.mean)) / amount(distribution.sd);
      return Math.exp((-z * z) / 2);
    }
    case "lognormal": {
      if (x <= 0) return 0;
      const mean = amount(distribution.mean);
      const variance = Math.log1p((amount(distribution.sd) / mean) ** 2);
      const z = (Math.log(x) - Math.log(mean) + variance / 2) / Math.sqrt(variance);
      return Math.exp((-z * z) / 2) / x;
    }
    case "gamma": {
      const shape = (amount(distribution.mean) / amount(distribution.sd)) ** 2;
      return x <= 0 ? 0 : Math.exp((shape - 1) * Math.log(x) - (x * shape) / amount(distribution.mean));
    }
    case "weibull": {
      const share = x / amount(distribution.scale);
      return x <= 0 ? 0 : share ** (distribution.shape - 1) * Math.exp(-(share ** distribution.shape));
    }
    case "pert": {
      const [low, mode, high] = [amount(distribution.low), amount(distribution.mode), amount(distribution.high)];
      return betaDensity((x - low) / (high - low), 1 + (4 * (mode - low)) / (high - low), 1 + (4 * (high - mode)) / (high - low));
    }
    case "beta": {
      const [low, high] = [amount(distribution.low), amount(distribution.high)];
      const centre = (amount(distribution.mean) - low) / (high - low);
      const weight = (centre * (1 - centre)) / (amount(distribution.sd) / (high - low)) ** 2 - 1;
      return betaDensity((x - low) / (high - low), centre * weight, (1 - centre) * weight);
    }
    case "poisson":
    case "discrete":
    case "empirical":
      return 0;
  }
}

function betaDensity(share: number, a: number, b: number): number {
  return share <= 0 || share >= 1 ? 0 : share ** (a - 1) * (1 - share) ** (b - 1);
}

function logFactorial(n: number): number {
  let sum = 0;
  for (let k = 2; k <= n; k++) sum += Math.log(k);
  return sum;
}

export interface Curve {
  points: { x: number; y: number }[];
  /** Whether the points are separate values rather than a curve. */
  separate: boolean;
  mean: number;
  low: number;
  high: number;
}

const POINTS = 400;
const BINS = 16;

/** The curve of a distribution from where it begins to where it has all but ended, with its middle 90 %. */
export function curveOf(distribution: Shape): Curve | null {
  if (disorder(distribution)) return null;
  const separate = separateValues(distribution);
  const points = separate ?? curvePoints(distribution);
  const total = points.reduce((sum, point) => sum + point.y, 0);
  if (!(total > 0)) return null;
  let below = 0;
  let low: number | undefined;
  let high: number | undefined;
  for (const { x, y } of points) {
    below += y;
    if (below >= 0.05 * total) low ??= x;
    if (below >= 0.95 * total) high ??= x;
  }
  return { points, separate: separate !== null, mean: meanOf(distribution), low: low ?? 0, high: high ?? 0 };
}

function curvePoints(distribution: Shape): Curve["points"] {
  const [begin, end] = reach(distribution);
  return Array.from({ length: POINTS + 1 }, (_, n) => {
    const x = begin + ((end - begin) * n) / POINTS;
    return { x, y: density(distribution, x) };
  });
}

/** From where to where a curve is drawn: from zero, or from the earliest where it may be early. */
function reach(distribution: Shape): [number, number] {
  if ("high" in distribution) return [Math.min(0, amount(distribution.low)), amount(distribution.high)];
  const far = 5 * spread(distribution);
  const mean = meanOf(distribution);
  return [mean <= 0 ? mean - far : 0, mean + far];
}

/** The values and weights of a distribution that has only so many of them. */
function separateValues(distribution: Shape): Curve["points"] | null {
  if (distribution.dist === "discrete") {
    const weighed = amounts(distribution).map((x, n) => ({ x, y: distribution.weights[n] ?? 0 }));
    return weighed.sort((one, other) => one.x - other.x);
  }
  if (distribution.dist === "poisson") {
    const { mean } = distribution;
    const last = Math.ceil(mean + 4 * Math.sqrt(mean) + 1);
    return Array.from({ length: last + 1 }, (_, x) => ({ x, y: Math.exp(x * Math.log(mean) - mean - logFactorial(x)) }));
  }
  if (distribution.dist !== "empirical") return null;
  const values = amounts(distribution);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const width = (most - least) / BINS || 1;
  const counts = Array.from({ length: BINS }, (_, n) => ({ x: least + (n + 0.5) * width, y: 0 }));
  for (const value of values) {
    const bin = counts[Math.min(BINS - 1, Math.floor((value - least) / width))];
    if (bin) bin.y++;
  }
  return counts;
}

function spread(distribution: Shape): number {
  if ("sd" in distribution) return amount(distribution.sd);
  if (distribution.dist === "erlang") return amount(distribution.mean) / Math.sqrt(distribution.k);
  return meanOf(distribution);
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
