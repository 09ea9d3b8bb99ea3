import type { Stream, StudyDocument } from "../document/types";
import { startOf } from "../document/types";
import { DAYS } from "../values/days";
import { spanOf } from "../values/distributions";
import { minutes } from "../values/durations";
import { totalOf, type Week } from "../values/streams";

/** The counts of a day as a full row of intervals. */
export function rowOf(week: Week, day: (typeof DAYS)[number]["id"], intervals: number): number[] {
  const counts = week[day] ?? [];
  return Array.from({ length: intervals }, (_, n) => counts[n] ?? 0);
}

/** A week in other intervals with the same number of cases: parts are added up, or shared out evenly. */
export function inIntervals(week: Week, from: number, to: number): Week {
  return Object.fromEntries(
    Object.entries(week).map(([day, counts]) => {
      const next = Array.from({ length: 1440 / to }, () => 0);
      (counts ?? []).forEach((count, n) => {
        for (let minute = n * from; minute < (n + 1) * from; minute++) {
          const place = Math.floor(minute / to);
          next[place] = (next[place] ?? 0) + count / from;
        }
      });
      return [day, trimmed(next.map((count) => Number(count.toFixed(6))))];
    }),
  );
}

/** A row without the zeros at its end. */
export function trimmed(counts: number[]): number[] {
  return counts.slice(0, counts.findLastIndex((count) => count > 0) + 1);
}

const DEFAULT_OPEN = { first: 8, last: 17 };

/** Lets a stream come in another way, at about the same rate; what all ways have stays. */
export function turnStream(study: StudyDocument, id: string, kind: Stream["kind"], interval = "60 min"): void {
  const place = study.streams.findIndex((stream) => stream.id === id);
  const stream = study.streams[place];
  if (!stream) return;
  if (stream.kind === "profile" && kind === "profile") {
    stream.week = inIntervals(stream.week, minutes(stream.interval), minutes(interval));
    stream.interval = interval;
    return;
  }
  if (stream.kind === kind) return;
  study.streams[place] = { ...common(stream), ...settings(study, stream, kind, interval) } as Stream;
}

function common({ id, name, mix, mix_by_hour, to, open, first, last, limit, group, traits }: Stream): object {
  const all = { id, name, mix, mix_by_hour, to, open, first, last, limit, group, traits };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}

function settings(study: StudyDocument, stream: Stream, kind: Stream["kind"], interval: string): object {
  const weekdays = DAYS.slice(0, 5).map((day) => day.id);
  const hourly = hourlyRate(stream);
  switch (kind) {
    case "random":
      return { kind, gap: { dist: "exponential", mean: `${Number((60 / (hourly || 6)).toPrecision(3))} min` } };
    case "profile": {
      const row = Array.from({ length: DEFAULT_OPEN.last }, (_, hour) => (hour >= DEFAULT_OPEN.first ? Number(hourly.toPrecision(3)) : 0));
      const week = Object.fromEntries(weekdays.map((day) => [day, row]));
      return { kind, interval, week: inIntervals(week, 60, minutes(interval)) };
    }
    case "appointments": {
      const every = Math.max(5, Math.round(60 / (hourly || 3) / 5) * 5);
      return { kind, sessions: [{ days: weekdays, from: "09:00", to: "12:00", every: `${every} min` }] };
    }
    case "dates":
      return { kind, arrivals: [{ at: startOf(study) }] };
  }
}

const middleOf = ([low, high]: [number, number]) => (low + high) / 2;

/** How many cases a stream brings in an hour in which it brings any, about. */
function hourlyRate(stream: Stream): number {
  switch (stream.kind) {
    case "random":
      return stream.gap
        ? 60 / (middleOf(spanOf(stream.gap)) || 60)
        : (60 / minutes(stream.chance?.every ?? "60 min")) * (stream.chance?.probability ?? 1);
    case "profile": {
      const busy = Object.values(stream.week)
        .flat()
        .filter((count) => (count ?? 0) > 0).length;
      return busy ? (totalOf(stream.week) / busy) * (60 / minutes(stream.interval)) : 6;
    }
    case "appointments":
      return stream.sessions[0] ? (60 / minutes(stream.sessions[0].every)) * (stream.sessions[0].places ?? 1) : 3;
    case "dates":
      return 6;
  }
}
