import { colourOf, shareOf, showsShares, stepById } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { linksOf } from "../study/document/types";
import { sizeAt } from "./names";
import type { Way } from "./types";

const SHARE = { least: 12, near: 13 };
const NEXT = 1.25;

/** A share on a way, centred; the colour is its case type's where types part differently. */
export interface ShareText {
  words: string;
  colour: string;
  x: number;
  y: number;
  size: number;
}

/** The share of a way where its step has more than one, for the types that are split. */
export function sharesOn(study: StudyDocument, way: Way, zoom: number): ShareText[] {
  const step = stepById(study, way.from);
  const link = step && linksOf(step).find((each) => each.to === way.to);
  if (!step || !link || !showsShares(step)) return [];
  const split = way.types.map((type) => ({ type, share: shareOf(step, link, type) })).filter(({ share }) => share < 1);
  const isOne = split.length > 1 && new Set(split.map(({ share }) => share)).size === 1;
  const shown = isOne ? split.slice(0, 1) : split;
  const size = sizeAt(SHARE, zoom);
  return shown.map(({ type, share }, n) => ({
    words: `${Number((share * 100).toFixed(1))} %`,
    colour: isOne ? "var(--ink)" : colourOf(study, type),
    x: way.label.x,
    y: way.label.y + size / 3 + (n - (shown.length - 1) / 2) * NEXT * size,
    size,
  }));
}

/** Where a way leads that is not drawn all the way, below its end. */
export function stubText(way: Way, zoom: number): ShareText | null {
  if (!way.stub) return null;
  const size = sizeAt(SHARE, zoom);
  return { words: way.stub, colour: "var(--ink-2)", x: way.label.x, y: way.label.y + 2 * size, size };
}
