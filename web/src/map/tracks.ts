import type { Point, Stop, Track, Tracks } from "./types";

export const TRACK_GAP = 8;
const CORNER = 14;
const LOOP_DEPTH = 68;
const LEAN = Math.tan(Math.PI / 8);
const LABEL_ROOM = 30;
const LABEL_HALF = 24;
const LABEL_GAP = 8;
const LOOP_OUT = 58;

/** How far a case type's track lies from the middle of its bundle. */
export function trackOffset(types: string[], type: string): number {
  return (types.indexOf(type) - (types.length - 1) / 2) * TRACK_GAP;
}

const SIDE = "side";
const BELOW_LINES = 6;

/** Two stops as the ends of a thin line of no case type, which leaves and enters below the lines that call there. */
export function besideTypes(from: Stop, to: Stop): [Stop, Stop] {
  const below = (stop: Stop) => stop.y + (Math.max(stop.types.length - 1, 0) / 2) * TRACK_GAP + BELOW_LINES;
  return [
    { ...from, y: below(from), types: [SIDE] },
    { ...to, y: below(to), types: [SIDE] },
  ];
}

/** The tracks of a way that leads on, through its passages, and where its share stands. */
export function straightTracks(from: Stop, to: Stop, types: string[], between: Point[], flat: number): Tracks {
  const tracks = types.map((type) => {
    const start = { x: from.x, y: from.y + trackOffset(from.types, type) };
    const end = { x: to.x, y: to.y + trackOffset(to.types, type) };
    const offset = trackOffset(types, type);
    return { type, pieces: [bent([start, ...levelled(start, between, offset), end], offset)] };
  });
  return { tracks, label: labelPlace(from, between[0] ?? to, flat) };
}

/** Where a way's share stands: on its diagonal where that is long enough, else on the level piece that leads on. */
function labelPlace(from: Point, next: Point, flat: number): Point {
  const climb = next.y - from.y;
  const middle = (from.x + next.x) / 2;
  if (Math.abs(climb) > LABEL_ROOM) return { x: middle, y: from.y + climb / 2 };
  return { x: climb === 0 ? from.x + flat + LABEL_HALF : middle + Math.abs(climb) / 2 + LABEL_GAP, y: next.y };
}

/** The passages of a track; where they lie almost level with the one before, quite level. */
function levelled(start: Point, between: Point[], offset: number): Point[] {
  let level = start.y;
  return between.map((point) => {
    const y = point.y + offset;
    if (Math.abs(y - level) > 2 * TRACK_GAP) level = y;
    return { x: point.x, y: level };
  });
}

/**
 * Joins points by level pieces and 45° diagonals in the middle of each gap; parallel tracks stay parallel.
 * Points on a level piece are left out.
 */
function bent(points: Point[], offset: number): Point[] {
  const path: Point[] = [points[0] as Point];
  for (let n = 1; n < points.length; n++) {
    const start = points[n - 1] as Point;
    const end = points[n] as Point;
    const climb = end.y - start.y;
    if (climb !== 0) {
      const lean = -Math.sign(climb) * offset * LEAN;
      const middle = (start.x + end.x) / 2 + (Math.abs(climb) > 2 * TRACK_GAP ? lean : 0);
      path.push({ x: middle - Math.abs(climb) / 2, y: start.y }, { x: middle + Math.abs(climb) / 2, y: end.y });
    }
    if (n + 1 === points.length) path.push(end);
  }
  return path;
}

/** The level below everything between two stops. */
export function loopLevel(from: Stop, to: Stop, stops: Stop[]): number {
  const [left, right] = [Math.min(from.column, to.column), Math.max(from.column, to.column)];
  const under = stops.filter((stop) => stop.column >= left && stop.column <= right && stop.y <= Math.max(from.y, to.y));
  return Math.max(...under.map((stop) => stop.y)) + LOOP_DEPTH;
}

/** The tracks of a way that leads back, below everything between. */
export function loopTracks(from: Stop, to: Stop, types: string[], level: number): Tracks {
  const right = from.x + LOOP_OUT;
  const left = to.x - LOOP_OUT;
  const tracks = types.map((type, n) => {
    const shift = n * TRACK_GAP;
    const points = [
      { x: from.x, y: from.y + trackOffset(from.types, type) },
      { x: right + shift, y: from.y + trackOffset(from.types, type) },
      { x: right + shift, y: level + shift },
      { x: left - shift, y: level + shift },
      { x: left - shift, y: to.y + trackOffset(to.types, type) },
      { x: to.x, y: to.y + trackOffset(to.types, type) },
    ];
    return { type, pieces: [points] };
  });
  return { tracks, label: { x: (left + right) / 2, y: level } };
}

const STUB = { out: 40, down: 64, next: 18 };

/** The beginning of a way that leads to another fold: a hook below the line, and words at its end. */
export function stubTracks(from: Stop, types: string[], turn: number): Tracks {
  const end = from.y + STUB.down + turn * STUB.next;
  const tracks = types.map((type, n) => {
    const x = from.x + STUB.out + n * TRACK_GAP;
    const y = from.y + trackOffset(from.types, type);
    return {
      type,
      pieces: [
        [
          { x: from.x, y },
          { x, y },
          { x, y: end },
        ],
      ],
    };
  });
  return { tracks, label: { x: from.x + STUB.out, y: end } };
}

/** A track as it is drawn, with round corners. */
export const pathOf = ({ pieces }: Track) => pieces.map(rounded).join("");

function rounded(points: Point[]): string {
  const [first, ...rest] = points;
  if (!first) return "";
  const text = [`M${at(first)}`];
  rest.forEach((point, n) => {
    const next = rest[n + 1];
    const before = points[n] as Point;
    if (!next) {
      text.push(`L${at(point)}`);
      return;
    }
    const reach = Math.min(CORNER, distance(before, point) / 2, distance(point, next) / 2);
    text.push(`L${at(towards(point, before, reach))}Q${at(point)} ${at(towards(point, next, reach))}`);
  });
  return text.join("");
}

const at = (point: Point) => `${Math.round(point.x * 10) / 10},${Math.round(point.y * 10) / 10}`;
const distance = (one: Point, other: Point) => Math.hypot(other.x - one.x, other.y - one.y);

function towards(from: Point, to: Point, reach: number): Point {
  const length = distance(from, to) || 1;
  return { x: from.x + ((to.x - from.x) * reach) / length, y: from.y + ((to.y - from.y) * reach) / length };
}
