import type { Distribution } from "../study/document/types";
import { shortForm } from "../study/values/shortForm";
import type { Fitted } from "./useProposals";
import { type Pick, readable } from "./values";

interface ShapesProps {
  fitted: Fitted;
  pick: Pick;
  onPick: (pick: Pick) => void;
}

const MOST = 6;

/** The shapes that come near, the nearest first, and what was seen as it is: one of them is taken. */
export function Shapes({ fitted, pick, onPick }: ShapesProps) {
  return (
    <fieldset className="mt-3 text-sm">
      <legend className="mb-1 font-bold">Which shape is taken</legend>
      {fitted.fits.slice(0, MOST).map((fit, n) => (
        <label key={fit.dist} className="flex items-baseline gap-2 py-0.5">
          <input type="radio" name="shape" className="self-center" checked={pick === n} onChange={() => onPick(n)} />
          <span className="font-semibold">{fit.dist}</span>
          <span>{readable(shortForm(fit.value as Distribution)).replace(/\s*\(.*\)$/, "")}</span>
          <span className="ml-auto whitespace-nowrap text-ink-2" title={chanceWords(fit.by_chance)}>
            off by {(100 * fit.off).toFixed(1)} %
          </span>
        </label>
      ))}
      <label className="flex items-baseline gap-2 py-0.5">
        <input type="radio" name="shape" className="self-center" checked={pick === "observed"} onChange={() => onPick("observed")} />
        <span className="font-semibold">as observed</span>
        <span className="ml-auto text-ink-2">{typeof fitted.as_observed === "string" ? fitted.as_observed : "the times themselves"}</span>
      </label>
      <p className="mt-1 text-ink-2">Off by: the largest difference in the share of cases that take no longer than a time.</p>
    </fieldset>
  );
}

const chanceWords = (chance: number | null) =>
  chance === null
    ? undefined
    : `Chance alone brings such a difference ${chance < 0.001 ? "hardly ever" : `${(100 * chance).toFixed(1)} % of times`}.`;
