export const MINUTES = { s: 1 / 60, min: 1, h: 60, d: 1440, wk: 10080 } as const;
export type Unit = keyof typeof MINUTES;

const WORDS: Record<string, Unit> = {
  s: "s",
  sec: "s",
  secs: "s",
  second: "s",
  seconds: "s",
  m: "min",
  min: "min",
  mins: "min",
  minute: "min",
  minutes: "min",
  h: "h",
  hr: "h",
  hrs: "h",
  hour: "h",
  hours: "h",
  d: "d",
  day: "d",
  days: "d",
  w: "wk",
  wk: "wk",
  wks: "wk",
  week: "wk",
  weeks: "wk",
};
const SMALLER: Partial<Record<Unit, Unit>> = { h: "min", min: "s", d: "h", wk: "d" };

export type Parsed<T> = { value: T } | { problem: string };

/** Reads a duration as people type it ("3 min", "1h30", "90s") and returns it as the study file writes it. */
export function parseDuration(text: string): Parsed<string> {
  const typed = text.trim().toLowerCase().replace(",", ".");
  if (/^\d+(\.\d+)?$/.test(typed)) return { problem: `“${text.trim()}” has no unit. Write ${typed} min, ${typed} s or ${typed} h.` };
  const parts = [...typed.matchAll(/(\d+(?:\.\d+)?)\s*([a-z]*)\s*/g)];
  if (parts.length === 0 || parts.map((part) => part[0]).join("") !== typed) {
    return { problem: `“${text.trim()}” is not a duration. Write a number and a unit, such as 3 min.` };
  }
  let total = 0;
  let unit: Unit | undefined;
  for (const part of parts) {
    const named = part[2] ? WORDS[part[2]] : unit && SMALLER[unit];
    if (!named) return { problem: `“${part[0].trim()}” has no unit that is known. Use s, min, h, d or wk.` };
    unit = named;
    total += Number(part[1]) * MINUTES[named];
  }
  return { value: parts.length === 1 ? `${Number(parts[0]?.[1])} ${unit}` : inUnit(total, unit ?? "min") };
}

/** Reads an offset from a planned time: a duration with a sign, "-4 min" being early. */
export function parseOffset(text: string): Parsed<string> {
  const early = /^\s*[-−–]/.test(text);
  const read = parseDuration(text.replace(/^\s*[-−–+]/, ""));
  return "value" in read && early ? { value: `-${read.value}` } : read;
}

/** Returns a written duration or offset in minutes. */
export function minutes(duration: string): number {
  const found = /^\s*(-?\d+(?:\.\d+)?)\s*(s|min|h|d|wk)\s*$/.exec(duration);
  return found ? Number(found[1]) * MINUTES[found[2] as Unit] : Number.NaN;
}

export function unitOf(duration: string): Unit {
  return (/[a-z]+/.exec(duration)?.[0] as Unit | undefined) ?? "min";
}

export function inUnit(total: number, unit: Unit, digits = 4): string {
  return `${Number((total / MINUTES[unit]).toPrecision(digits))} ${unit}`;
}

const SPELLED: Record<Unit, string> = { s: "second", min: "minute", h: "hour", d: "day", wk: "week" };

/** Writes a duration with its unit in full: "4 weeks", "1 hour". */
export function spelled(duration: string): string {
  const number = Number.parseFloat(duration);
  return `${number} ${SPELLED[unitOf(duration)]}${number === 1 ? "" : "s"}`;
}

/** Writes minutes in the unit that reads best. */
export function readable(total: number): string {
  const unit: Unit = total < 1 ? "s" : total < 120 ? "min" : total < 2880 ? "h" : "d";
  return inUnit(total, unit);
}

/** About how long something takes, for people who wait for it: "12 s", "4 min". */
export function aboutSeconds(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${Math.round(seconds / 3600)} h`;
}
