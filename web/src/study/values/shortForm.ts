import type { Distribution } from "../document/types";
import { isInOrder, type ShapeName, shapeOf, spanInWords, spanOf, typedUnit } from "./distributions";
import { type Parsed, parseDuration } from "./durations";

/** The shapes that are written with a spread, by the name behind them; without one it is log-normal. */
const SPREAD: ShapeName[] = ["lognormal", "normal", "gamma"];

/** A distribution in one cell of a table: "5 min", "3–9 min", "3–5–9 min", "about 8 min", "8 ± 4 min". */
export function shortForm(distribution: Distribution): string {
  if (typeof distribution === "string") return distribution;
  const shape = shapeOf(distribution);
  if (shape === "uniform" || shape === "triangular" || shape === "pert") {
    const parts =
      "mode" in distribution
        ? [distribution.low, distribution.mode, distribution.high]
        : "high" in distribution
          ? [distribution.low, distribution.high]
          : [];
    return joined(parts, "–") + named(shape, ["uniform", "triangular"]);
  }
  if (SPREAD.includes(shape) && "sd" in distribution)
    return joined([distribution.mean, distribution.sd], " ± ") + named(shape, ["lognormal"]);
  const mean = "mean" in distribution ? distribution.mean : spanInWords(spanOf(distribution), typedUnit(distribution));
  return `about ${mean}${named(shape, ["exponential"])}`;
}

const named = (shape: ShapeName, plain: ShapeName[]) => (plain.includes(shape) ? "" : ` (${shape})`);

/** Durations with the unit behind the last only, where all have the same. */
function joined(parts: string[], by: string): string {
  const units = new Set(parts.map((part) => part.split(" ")[1]));
  if (units.size > 1) return parts.join(by);
  return `${parts.map((part) => part.split(" ")[0]).join(by)} ${[...units][0]}`;
}

/** Reads what a person types into a cell for a time; the forms are those that are shown. */
export function readShortForm(text: string): Parsed<Distribution> {
  const typed = text.trim().replace(/\s*\(.*\)$/, "");
  const shape = /\((.*)\)$/.exec(text.trim())?.[1]?.toLowerCase() ?? null;
  if (shape !== null && !["pert", "normal", "gamma"].includes(shape))
    return { problem: `“${text.trim()}” is a shape that is set in the sheet of the step.` };
  const about = /^(?:about|~|ca\.?)\s*(.+)$/i.exec(typed);
  if (about) return made([about[1] ?? ""], ([mean = ""]) => ({ dist: "exponential", mean }));
  if (/±|\+\/?-/.test(typed))
    return made(typed.split(/±|\+\/?-/), ([mean = "", sd = ""]) => ({
      dist: shape === "normal" || shape === "gamma" ? shape : "lognormal",
      mean,
      sd,
    }));
  const parts = typed.split(/\s*(?:–|—|-|\bto\b|\/)\s*/);
  if (parts.length === 1) return parseDuration(typed);
  if (parts.length === 2) return made(parts, ([low = "", high = ""]) => ({ dist: "uniform", low, high }));
  if (parts.length === 3)
    return made(parts, ([low = "", mode = "", high = ""]) => ({ dist: shape === "pert" ? "pert" : "triangular", low, mode, high }));
  return { problem: `“${text.trim()}” is not a time. Write 5 min, 3–9 min, 3–5–9 min, about 8 min or 8 ± 4 min.` };
}

/** Reads the parts of a cell; one without a unit takes that of the last. */
function made(parts: string[], make: (durations: string[]) => Distribution): Parsed<Distribution> {
  const unit = /[a-z]+\s*$/i.exec(parts.at(-1) ?? "")?.[0] ?? "";
  const read = parts.map((part) => parseDuration(/[a-z]/i.test(part) ? part : `${part.trim()} ${unit}`));
  const wrong = read.find((each) => "problem" in each);
  if (wrong && "problem" in wrong) return wrong;
  const distribution = make(read.map((each) => ("value" in each ? each.value : "")));
  return isInOrder(distribution)
    ? { value: distribution }
    : { problem: `Put them in order, the least first: ${parts.map((part) => part.trim()).join(" ≤ ")} is not so.` };
}
