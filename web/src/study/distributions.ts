import { inUnit, minutes, unitOf } from "./durations";
import type { Distribution, Shape, Work } from "./types";
import { isByType } from "./types";

export type ShapeName = Shape["dist"] | "constant";

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
};

/** The shapes that are made of a list of values, which only the study file edits so far. */
export const LISTED: ShapeName[] = ["discrete", "empirical"];

export function shapeOf(distribution: Distribution): ShapeName {
  return typeof distribution === "string" ? "constant" : distribution.dist;
}

export function meanOf(distribution: Distribution): number {
  if (typeof distribution === "string") return minutes(distribution);
  switch (distribution.dist) {
    case "uniform":
      return (minutes(distribution.low) + minutes(distribution.high)) / 2;
    case "triangular":
      return (minutes(distribution.low) + minutes(distribution.mode) + minutes(distribution.high)) / 3;
    case "pert":
      return (minutes(distribution.low) + 4 * minutes(distribution.mode) + minutes(distribution.high)) / 6;
    case "weibull":
      return minutes(distribution.scale) * Math.exp(logGamma(1 + 1 / distribution.shape));
    case "discrete": {
      const total = distribution.weights.reduce((sum, weight) => sum + weight, 0);
      return distribution.values.reduce((sum, value, n) => sum + minutes(value) * (distribution.weights[n] ?? 0), 0) / total;
    }
    case "empirical":
      return distribution.values.reduce((sum, value) => sum + minutes(value), 0) / distribution.values.length;
    default:
      return minutes(distribution.mean);
  }
}

/** The logarithm of the gamma function for x above zero (Stirling's series after a shift). */
function logGamma(x: number): number {
  if (x < 8) return logGamma(x + 1) - Math.log(x);
  return (x - 0.5) * Math.log(x) - x + 0.5 * Math.log(2 * Math.PI) + 1 / (12 * x) - 1 / (360 * x ** 3);
}

/** The durations that a distribution is made of, for the unit that they were typed in. */
function written(distribution: Distribution): string {
  if (typeof distribution === "string") return distribution;
  if ("values" in distribution) return distribution.values[0] ?? "0 min";
  if ("high" in distribution) return distribution.high;
  return "scale" in distribution ? distribution.scale : distribution.mean;
}

export function typedUnit(distribution: Distribution) {
  return unitOf(written(distribution));
}

/** Another shape with about the same mean, in the same unit. */
export function reshaped(distribution: Distribution, shape: ShapeName): Distribution {
  const mean = meanOf(distribution);
  const of = (factor: number) => inUnit(mean * factor, typedUnit(distribution));
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
      return { dist: shape, mean: of(1) };
    case "erlang":
      return { dist: shape, mean: of(1), k: 2 };
    default:
      return { dist: shape, mean: of(1), sd: of(shape === "normal" ? 0.25 : 0.5) };
  }
}

/** What is out of order in a distribution, in words. */
export function disorder(distribution: Distribution): string | null {
  if (typeof distribution === "string" || !("high" in distribution)) return null;
  if (distribution.dist === "triangular" || distribution.dist === "pert") {
    if (minutes(distribution.low) > minutes(distribution.mode)) return "The least is above the most likely.";
    if (minutes(distribution.mode) > minutes(distribution.high)) return "The most likely is above the most.";
    return null;
  }
  return minutes(distribution.low) > minutes(distribution.high) ? "The least is above the most." : null;
}

/** The density at x minutes, up to a constant factor. */
export function density(distribution: Shape, x: number): number {
  switch (distribution.dist) {
    case "uniform":
      return x >= minutes(distribution.low) && x <= minutes(distribution.high) ? 1 : 0;
    case "triangular": {
      const [low, mode, high] = [minutes(distribution.low), minutes(distribution.mode), minutes(distribution.high)];
      if (x < low || x > high) return 0;
      return x < mode ? (x - low) / (mode - low) : high > mode ? (high - x) / (high - mode) : 1;
    }
    case "exponential":
      return Math.exp(-x / minutes(distribution.mean));
    case "erlang": {
      const stage = minutes(distribution.mean) / distribution.k;
      return x <= 0 ? Number(distribution.k === 1) : Math.exp((distribution.k - 1) * Math.log(x / stage) - x / stage - logFactorial(distribution.k - 1));
    }
    case "normal": {
      const z = (x - minutes(distribution.mean)) / minutes(distribution.sd);
      return Math.exp((-z * z) / 2);
    }
    case "lognormal": {
      if (x <= 0) return 0;
      const mean = minutes(distribution.mean);
      const variance = Math.log1p((minutes(distribution.sd) / mean) ** 2);
      const z = (Math.log(x) - Math.log(mean) + variance / 2) / Math.sqrt(variance);
      return Math.exp((-z * z) / 2) / x;
    }
    case "gamma": {
      const shape = (minutes(distribution.mean) / minutes(distribution.sd)) ** 2;
      return x <= 0 ? 0 : Math.exp((shape - 1) * Math.log(x) - (x * shape) / minutes(distribution.mean));
    }
    case "weibull": {
      const share = x / minutes(distribution.scale);
      return x <= 0 ? 0 : share ** (distribution.shape - 1) * Math.exp(-(share ** distribution.shape));
    }
    case "pert": {
      const [low, mode, high] = [minutes(distribution.low), minutes(distribution.mode), minutes(distribution.high)];
      return betaDensity((x - low) / (high - low), 1 + (4 * (mode - low)) / (high - low), 1 + (4 * (high - mode)) / (high - low));
    }
    case "beta": {
      const [low, high] = [minutes(distribution.low), minutes(distribution.high)];
      const centre = (minutes(distribution.mean) - low) / (high - low);
      const weight = (centre * (1 - centre)) / (minutes(distribution.sd) / (high - low)) ** 2 - 1;
      return betaDensity((x - low) / (high - low), centre * weight, (1 - centre) * weight);
    }
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
  mean: number;
  low: number;
  high: number;
}

const POINTS = 400;

/** The curve of a distribution from where it begins to where it has all but ended, with its middle 90 %. */
export function curveOf(distribution: Shape): Curve | null {
  const mean = meanOf(distribution);
  const end = "high" in distribution ? minutes(distribution.high) : mean + 5 * spread(distribution);
  if (!(end > 0) || disorder(distribution)) return null;
  const points = Array.from({ length: POINTS + 1 }, (_, n) => {
    const x = (end * n) / POINTS;
    return { x, y: density(distribution, x) };
  });
  const total = points.reduce((sum, point) => sum + point.y, 0);
  if (!(total > 0)) return null;
  let below = 0;
  let low = 0;
  let high = end;
  for (const { x, y } of points) {
    if (below < 0.05 * total) low = x;
    if (below < 0.95 * total) high = x;
    below += y;
  }
  return { points, mean, low, high };
}

function spread(distribution: Shape): number {
  if ("sd" in distribution) return minutes(distribution.sd);
  if (distribution.dist === "erlang") return minutes(distribution.mean) / Math.sqrt(distribution.k);
  return meanOf(distribution);
}

/** A distribution in a few characters, for under a stop. */
export function inShort(work: Work): string {
  if (isByType(work)) {
    const all = [...Object.values(work.by_type ?? {}), work.otherwise];
    const unit = typedUnit(work.otherwise);
    const means = all.map(meanOf);
    const [low, high] = [Math.min(...means), Math.max(...means)].map((mean) => Number(mean.toPrecision(2))) as [number, number];
    return low === high ? `about ${inUnit(low, unit)}` : `about ${inUnit(low, unit).split(" ")[0]}–${inUnit(high, unit)}`;
  }
  if (typeof work === "string") return work;
  if ("high" in work) {
    return unitOf(work.low) === unitOf(work.high) ? `${work.low.split(" ")[0]}–${work.high}` : `${work.low}–${work.high}`;
  }
  return "mean" in work ? `about ${work.mean}` : `about ${inUnit(Number(meanOf(work).toPrecision(2)), typedUnit(work))}`;
}
