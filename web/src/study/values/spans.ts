/** A unit in which minutes of some size are told, and how many minutes it is. */
export interface SpanUnit {
  unit: "min" | "h" | "d";
  minutes: number;
}

const HOUR = 60;
const DAY = 1440;

/** The unit that suits minutes of up to some size: hours from three hours on, days from three days on. */
export function spanUnit(most: number): SpanUnit {
  if (most >= 3 * DAY) return { unit: "d", minutes: DAY };
  return most >= 3 * HOUR ? { unit: "h", minutes: HOUR } : { unit: "min", minutes: 1 };
}
