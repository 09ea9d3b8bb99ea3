import type { Outline } from "../api/queries";
import { halfOf } from "../map/labels";
import type { MapLayout, Point, Stop, Way } from "../map/types";
import { meets, needsOf } from "../study/document/needs";
import type { StudyDocument } from "../study/document/types";
import { mostWaiting } from "./moments";

/** Where everything is drawn: stops by the number of their step, ways between them, and where each team belongs. */
export interface Stage {
  study: StudyDocument;
  layout: MapLayout;
  stops: (Stop | undefined)[];
  /** The step, by its number, where a team is seen while it serves nobody; -1 for none. */
  homes: number[];
  /** How many members each team has. */
  sizes: number[];
  /** Whether people work at each step. */
  manned: boolean[];
  /** How far it is from each stop to the next one beside it at which people work. */
  beside: number[];
  /** How many wait at each step at most. */
  longest: number[];
  route: (from: number, to: number, type: number) => Point[][];
}

/** Stops are beside each other where their heights differ by no more than this. */
const SAME_HEIGHT = 45;

/** So many ways are gone at most from one step to the next one that takes time. */
const MOST_WAYS = 8;

export function stageOf(study: StudyDocument, layout: MapLayout, { members, waiting }: Pick<Outline, "members" | "waiting">): Stage {
  const byId = new Map(layout.stops.map((stop) => [stop.id, stop]));
  const stops = study.steps.map((step) => byId.get(step.id));
  const homes = study.teams.map((team) => study.steps.findIndex((step) => needsOf(step).some((need) => meets(team, need))));
  const ways = waysFrom(layout.ways);
  const known = new Map<string, Point[][]>();
  const route = (from: number, to: number, type: number): Point[][] => {
    const key = `${from} ${to} ${type}`;
    const found = known.get(key) ?? routeOf(study, ways, stops, from, to, study.case_types?.[type]?.id ?? "");
    known.set(key, found);
    return found;
  };
  const longest = study.steps.map(({ id }) => mostWaiting(waiting, id));
  const manned = study.steps.map((step) => needsOf(step).length > 0);
  return { study, layout, stops, homes, sizes: members, manned, beside: besideOf(stops, manned), longest, route };
}

function besideOf(stops: (Stop | undefined)[], manned: boolean[]): number[] {
  const there = stops.filter((stop, n) => stop && manned[n]) as Stop[];
  return stops.map((stop) => {
    const near = there.filter((other) => stop && other !== stop && Math.abs(other.y - stop.y) < SAME_HEIGHT);
    return Math.min(...near.map((other) => Math.abs(other.x - (stop?.x ?? 0))));
  });
}

function waysFrom(ways: Way[]): Map<string, Way[]> {
  const found = new Map<string, Way[]>();
  for (const way of ways) found.set(way.from, [...(found.get(way.from) ?? []), way]);
  return found;
}

/** The line that a case of a type follows from a step, or from its stream, to another: over the fewest ways that are drawn. */
function routeOf(
  study: StudyDocument,
  ways: Map<string, Way[]>,
  stops: (Stop | undefined)[],
  from: number,
  to: number,
  type: string,
): Point[][] {
  const goal = study.steps[to]?.id ?? "";
  const starts = from < 0 ? study.streams.map((stream) => `stream:${stream.id}`) : [study.steps[from]?.id ?? ""];
  let reached: { at: string; gone: Way[] }[] = starts.map((at) => ({ at, gone: [] }));
  for (let length = 0; length < MOST_WAYS; length++) {
    const there = reached.find(({ at, gone }) => at === goal && gone.length > 0);
    if (there) return there.gone.flatMap((way) => trackOf(way, type));
    reached = reached.flatMap(({ at, gone }) => (ways.get(at) ?? []).map((way) => ({ at: way.to, gone: [...gone, way] }))).slice(0, 200);
  }
  const [first, last] = [from < 0 ? undefined : stops[from], stops[to]];
  return first && last ? [[first, last]] : [];
}

const trackOf = (way: Way, type: string) => (way.tracks.find((track) => track.type === type) ?? way.tracks[0])?.pieces ?? [];

/** The point that is a share of the way along a line, however many pieces it has. */
export function pointOn(pieces: Point[][], share: number): Point | null {
  const lengths = pieces.map((piece) => piece.slice(1).map((point, n) => distance(piece[n] ?? point, point)));
  let left = lengths.flat().reduce((sum, each) => sum + each, 0) * Math.min(1, Math.max(0, share));
  for (const [n, piece] of pieces.entries()) {
    for (const [k, length] of (lengths[n] ?? []).entries()) {
      const [one, other] = [piece[k], piece[k + 1]];
      if (!one || !other) continue;
      if (left <= length) {
        const part = length > 0 ? left / length : 0;
        return { x: one.x + (other.x - one.x) * part, y: one.y + (other.y - one.y) * part };
      }
      left -= length;
    }
  }
  return pieces.at(-1)?.at(-1) ?? null;
}

const distance = (one: Point, other: Point) => Math.hypot(other.x - one.x, other.y - one.y);

/** How far a stop reaches above and below the middle of its lines. */
export const reachOf = (stop: Stop) => halfOf(stop) + 12;
