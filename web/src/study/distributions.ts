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
};

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
    default:
      return minutes(distribution.mean);
  }
}

/** The durations that a distribution is made of, for the unit that they were typed in. */
function written(distribution: Distribution): string {
  if (typeof distribution === "string") return distribution;
  return "high" in distribution ? distribution.high : distribution.mean;
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
      return { dist: shape, low: of(0.5), mode: of(0.9), high: of(1.6) };
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
  if (distribution.dist === "triangular") {
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
  }
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
    const all = [...Object.values(work.by_type), work.otherwise];
    const unit = typedUnit(work.otherwise);
    const means = all.map(meanOf);
    const [low, high] = [Math.min(...means), Math.max(...means)].map((mean) => Number(mean.toPrecision(2))) as [number, number];
    return low === high ? `about ${inUnit(low, unit)}` : `about ${inUnit(low, unit).split(" ")[0]}–${inUnit(high, unit)}`;
  }
  if (typeof work === "string") return work;
  if ("high" in work) {
    return unitOf(work.low) === unitOf(work.high) ? `${work.low.split(" ")[0]}–${work.high}` : `${work.low}–${work.high}`;
  }
  return `about ${work.mean}`;
}
