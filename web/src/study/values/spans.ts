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

/** So many minutes in words: "40 s", "12 min", "3.5 h", "2 d". */
export function spanWords(amount: number): string {
  if (amount < 1) return `${Math.round(amount * 60)} s`;
  const { unit, minutes } = spanUnit(amount);
  const many = amount / minutes;
  return `${many < 10 && unit !== "min" ? Number(many.toFixed(1)) : Math.round(many)} ${unit}`;
}
