/** The width of a letter as a share of its size, on average. */
export const LETTER = { bold: 0.57, plain: 0.52 };
/** The size of a name in pixels: on the screen at the least, and on the map where it is seen from near. */
export const NAME = { least: 12, near: 15 };
/** The same of what stands below a name. */
export const DETAIL = { least: 12, near: 12.5 };
/** How much room words have around them at least. */
export const CLEAR = 3;
/** How far a name beside a stop is from it. */
export const AWAY = 13;
/** The longest line of a name beside a stop. */
export const LONGEST_BESIDE = 12;

/** How large a text is on a map that is looked at from so near, so that it is legible on the screen. */
export const sizeAt = ({ least, near }: { least: number; near: number }, zoom: number) => Math.max(near, least / zoom);

/** Words in lines of so many letters where they can be parted; a longer word, or a number with its unit, has a line of its own. */
export function inLines(text: string, longest: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(/(?<!\d) /)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= longest) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

export const longestOf = (lines: string[]) => Math.max(0, ...lines.map((line) => line.length));

/** How much room names need beside the last stops of a map that is looked at from so near. */
export function roomBeside(names: string[], near: number): number {
  const letters = longestOf(names.flatMap((name) => inLines(name, LONGEST_BESIDE)));
  return letters && AWAY + letters * LETTER.bold * sizeAt(NAME, near) + CLEAR;
}
