const LONGEST_LINE = 15;
const LONGEST_BESIDE = 12;
/** The width of a letter as a share of its size. */
export const LETTER = 0.54;
/** The size of a name in pixels: on the screen at the least, and on the map where it is seen from near. */
export const NAME = { least: 13, near: 15 };
/** How wide a screen the whole map is fitted into, about. */
const USUAL_WIDTH = 780;

/** A name in at most two lines of so many letters; what does not fit is cut with an ellipsis. */
export function inLines(name: string, longest = LONGEST_LINE): string[] {
  if (name.length <= longest) return [name];
  const middle = name.lastIndexOf(" ", longest);
  const [first, rest] = middle > 0 ? [name.slice(0, middle), name.slice(middle + 1)] : ["", name];
  const last = rest.length > longest + 1 ? `${rest.slice(0, longest)}…` : rest;
  return first ? [first, last] : [last];
}

/** The lines of a name beside a stop. */
export const linesBeside = (name: string) => inLines(name, LONGEST_BESIDE);

/** How far a name beside a stop is from it. */
const AWAY = 13;

/** How much room names need beside the last stops of a map so wide, where all of it is shown. */
export function roomBeside(names: string[], width: number): number {
  const letters = Math.max(0, ...names.flatMap((name) => linesBeside(name).map((line) => line.length)));
  return letters && AWAY + letters * LETTER * Math.max(NAME.near, (NAME.least * width) / USUAL_WIDTH);
}
