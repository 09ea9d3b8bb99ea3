import type { Schemas } from "../../api/client";
import type { Stream } from "../document/types";
import { DAY, DAYS, type Day, minuteOfDay } from "./days";
import { spanInWords, spanOf, typedUnit } from "./distributions";
import { minutes } from "./durations";

export type Week = Extract<Stream, { kind: "profile" }>["week"];
type Session = Schemas["Slots"];

/** A slot of a day of the week, and how many may be booked into it. */
export interface Slot {
  minute: number;
  places: number;
}

/** How often a stream's cases come, in a few words. */
export function howOften(stream: Stream): string {
  switch (stream.kind) {
    case "random":
      return stream.gap ? `one every ${spanInWords(spanOf(stream.gap), typedUnit(stream.gap))}` : `by chance every ${stream.chance?.every}`;
    case "profile":
      return `${Math.round(totalOf(stream.week))} a week`;
    case "appointments":
      return "by appointment";
    case "dates":
      return stream.arrivals.length === 1 ? "1 date" : `${stream.arrivals.length.toLocaleString("en")} dates`;
  }
}

/** How many cases come in a week. */
export const totalOf = (week: Week) =>
  Object.values(week).reduce((sum, counts) => sum + (counts ?? []).reduce((of, count) => of + count, 0), 0);

/** When the slots of a session begin, in minutes after its day's midnight; `tests/shared/slots.json` holds this law for both languages. */
export function slotTimes(session: Session): number[] {
  const begin = minuteOfDay(session.from);
  const long = (minuteOfDay(session.to) - begin + DAY) % DAY || DAY;
  const every = minutes(session.every);
  const count = every > 0 ? Math.ceil(long / every - 1e-9) : 0;
  return Array.from({ length: count }, (_, n) => begin + n * every);
}

/** How many places a session has on one day. */
export const placesOf = (session: Session) => slotTimes(session).length * (session.places ?? 1);

/** The slots that begin on a day of the week, also those of a session that began the day before, in their order. */
export function slotsOn(sessions: Session[], day: Day): Slot[] {
  const place = DAYS.findIndex((each) => each.id === day);
  const before = DAYS.at(place - 1)?.id;
  const of = (id: Day | undefined, passed: number) =>
    sessions
      .filter((session) => id && session.days.includes(id))
      .flatMap((session) => slotTimes(session).map((minute) => ({ minute: minute - passed, places: session.places ?? 1 })));
  return [...of(day, 0), ...of(before, DAY)]
    .filter(({ minute }) => minute >= 0 && minute < DAY)
    .toSorted((one, other) => one.minute - other.minute);
}
