import { halfOf } from "../map/labels";
import type { Box } from "../map/obstacles";
import type { Point, Stop } from "../map/types";
import { DOING, isParted, linesIn, type Scene, type Seen, TOKEN } from "./scene";
import { pointOn, reachOf, type Stage } from "./stage";

/** A case as it is drawn. */
export interface Dot extends Point {
  seen: Seen;
  form: "dot" | "batch" | "branch" | "companion" | "ring" | "blocked";
}

/** A member as it is drawn under a stop. */
export interface Person extends Point {
  seen: Seen;
  team: number;
  member: number;
}

/** A number where there is too much to draw. */
export interface Count extends Point {
  words: string;
  anchor: "start" | "middle" | "end";
}

export interface Drawn {
  dots: Dot[];
  people: Person[];
  counts: Count[];
}

const IN_A_ROW = 9;
const MOST_ROWS = 2;
/** So many places of a second row are left free for the stop's name. */
const UNDER_NAME = 2;
/** The number of a line that is too long to draw takes the room of so many places. */
const FOR_NUMBER = 3;
const GAP = 9.5;
const FIRST = 17;
const INSIDE_GAP = 9;
const MOST_INSIDE = 6;
const PEOPLE_GAP = 15;
/** How many members stand in a row: more where there is room beside. */
const PEOPLE_IN_A_ROW = [7, 10] as const;
const MOST_PEOPLE = 21;
/** For so many who belong elsewhere room is kept under a stop at which people work. */
const VISITING = 1;
const OFF = 0;

/**
 * Where everything is at a moment; who has gone on without taking time is seen to glide for so many minutes.
 * What stands at a stop is `apart` times as far from each other as on a map of full size.
 */
export function placesOf(scene: Scene, moment: number, stage: Stage, glide: number, apart: number): Drawn {
  const drawn: Drawn = { dots: [], people: [], counts: [] };
  const gliding = new Set<Seen>();
  for (const seen of scene.cases.values()) {
    const point = seen.doing === DOING.onTheWay ? onTheWay(seen, moment, stage) : glidingAt(seen, moment, stage, glide);
    if (!point) continue;
    gliding.add(seen);
    drawn.dots.push({ ...point, seen, form: formOf(seen) });
  }
  for (const { seen, at, exit } of scene.leavers) {
    const point = moment - at < glide && pointOn(stage.route(seen.step, exit, seen.type), (moment - at) / glide);
    if (point) drawn.dots.push({ ...point, seen, form: formOf(seen) });
  }
  for (const [step, line] of linesIn(scene))
    standInLine(
      stage.stops[step],
      line.filter((seen) => !gliding.has(seen)),
      apart,
      drawn,
    );
  standInside(scene, stage, gliding, apart, drawn);
  standUnder(scene, stage, apart, drawn);
  return drawn;
}

function onTheWay(seen: Seen, moment: number, stage: Stage): Point | null {
  const share = Number.isFinite(seen.ends) ? (moment - seen.at) / Math.max(1e-9, seen.ends - seen.at) : 0.5;
  return pointOn(stage.route(seen.cameFrom, seen.step, seen.type), share);
}

function glidingAt({ before, step, type, doing }: Seen, moment: number, stage: Stage, glide: number): Point | null {
  if (!before || doing === DOING.riding || moment - before.at >= glide) return null;
  return pointOn(stage.route(before.step, step, type), (moment - before.at) / glide);
}

function formOf(seen: Seen): Dot["form"] {
  if (isParted(seen)) return "ring";
  if (seen.doing === DOING.blocked) return "blocked";
  if (seen.token === TOKEN.branch) return "branch";
  if (seen.token === TOKEN.companion) return "companion";
  return seen.together > 1 ? "batch" : "dot";
}

/** Puts those who wait on the approach, the first nearest the stop, row upon row; of more than fit the number is told. */
function standInLine(stop: Stop | undefined, line: Seen[], apart: number, drawn: Drawn): void {
  if (!stop || line.length === 0) return;
  const top = stop.y - halfOf(stop) - 10;
  const shown = line.slice(0, IN_A_ROW * MOST_ROWS);
  for (const [n, seen] of shown.entries()) {
    const row = Math.floor(n / IN_A_ROW);
    const x = stop.x - FIRST - ((n % IN_A_ROW) + (row > 0 ? UNDER_NAME : 0)) * GAP * apart;
    drawn.dots.push({ x, y: top - row * GAP * apart, seen, form: formOf(seen) });
  }
  if (line.length > IN_A_ROW) {
    const farthest = Math.max(IN_A_ROW, shown.length - IN_A_ROW + UNDER_NAME);
    const x = stop.x - FIRST - (farthest - 0.3) * GAP * apart;
    drawn.counts.push({ x, y: top + 4 - (GAP * apart) / 2, words: String(line.length), anchor: "end" });
  }
}

/** Puts those who are served, or are blocked, inside their stop; of more than fit the number is told. */
function standInside(scene: Scene, stage: Stage, gliding: Set<Seen>, apart: number, drawn: Drawn): void {
  const inside = new Map<number, Seen[]>();
  for (const seen of scene.cases.values()) {
    const isHere = seen.doing === DOING.atWork || seen.doing === DOING.blocked || isParted(seen);
    if (isHere && !gliding.has(seen)) inside.set(seen.step, [...(inside.get(seen.step) ?? []), seen]);
  }
  for (const [step, all] of inside) {
    const stop = stage.stops[step];
    if (!stop) continue;
    const here = all.toSorted((one, other) => one.at - other.at || one.who - other.who);
    if (here.length > MOST_INSIDE) {
      drawn.counts.push({ x: stop.x, y: stop.y + 4.5, words: String(here.length), anchor: "middle" });
      continue;
    }
    const gap = INSIDE_GAP * apart;
    const columns = here.length > Math.floor((2 * reachOf(stop)) / gap) ? 2 : 1;
    const rows = Math.ceil(here.length / columns);
    for (const [n, seen] of here.entries()) {
      const x = stop.x + (Math.floor(n / rows) - (columns - 1) / 2) * gap;
      drawn.dots.push({ x, y: stop.y + ((n % rows) - (rows - 1) / 2) * gap, seen, form: formOf(seen) });
    }
  }
}

/** Where cases stand before each stop when its line is longest, and members under it when all are there. */
export const standsOf = (stage: Stage, apart: number): Box[] => [...linesOf(stage, apart), ...membersOf(stage, apart)];

function linesOf({ stops, longest }: Stage, apart: number): Box[] {
  return stops.flatMap((stop, step) => {
    const many = longest[step] ?? 0;
    if (!stop || many === 0) return [];
    const foot = stop.y - halfOf(stop) - 10 + GAP / 2;
    const wide = Math.min(IN_A_ROW + (many > IN_A_ROW ? UNDER_NAME + FOR_NUMBER : 0), many) * GAP * apart;
    return [
      {
        left: stop.x - FIRST - wide,
        right: stop.x - FIRST,
        top: foot - Math.min(MOST_ROWS, Math.ceil(many / IN_A_ROW)) * GAP * apart,
        bottom: foot,
      },
    ];
  });
}

function membersOf({ stops, homes, sizes, manned, beside }: Stage, apart: number): Box[] {
  const gap = PEOPLE_GAP * apart;
  return stops.flatMap((stop, step) => {
    const many = sizes.reduce((sum, size, team) => sum + (homes[team] === step ? size : 0), manned[step] ? VISITING : 0);
    if (!stop || many === 0) return [];
    const inARow = peopleInARow(beside[step], gap);
    const half = (Math.min(inARow, many) * gap) / 2;
    const rows = Math.ceil(Math.min(MOST_PEOPLE, many) / inARow);
    const middle = stop.y + firstRow(stop, apart);
    return [{ left: stop.x - half, right: stop.x + half, top: middle - gap / 2, bottom: middle + (rows - 0.5) * gap }];
  });
}

function peopleInARow(beside: number | undefined, gap: number): number {
  const [least, most] = PEOPLE_IN_A_ROW;
  return Math.max(least, Math.min(most, Math.floor((beside ?? 0) / gap)));
}

const firstRow = (stop: Stop, apart: number) => reachOf(stop) + 13 * apart;

/** Puts members under the stop where they serve, else where their team belongs; those who are off shift stand at the end. */
function standUnder(scene: Scene, stage: Stage, apart: number, drawn: Drawn): void {
  const under = new Map<number, Omit<Person, "x" | "y">[]>();
  let first = 0;
  for (const [team, size] of stage.sizes.entries()) {
    for (let member = 0; member < size; member++) {
      const seen = scene.members[first + member];
      const step = seen && seen.step >= 0 ? seen.step : (stage.homes[team] ?? -1);
      if (seen && step >= 0) under.set(step, [...(under.get(step) ?? []), { seen, team, member }]);
    }
    first += size;
  }
  for (const [step, all] of under) {
    const stop = stage.stops[step];
    if (!stop) continue;
    const people = all.toSorted((one, other) => Number(one.seen.doing === OFF) - Number(other.seen.doing === OFF));
    const shown = people.slice(0, MOST_PEOPLE);
    const gap = PEOPLE_GAP * apart;
    const inARow = peopleInARow(stage.beside[step], gap);
    const wide = Math.min(inARow, shown.length);
    for (const [n, person] of shown.entries()) {
      const x = stop.x + ((n % inARow) - (wide - 1) / 2) * gap;
      drawn.people.push({ ...person, x, y: stop.y + firstRow(stop, apart) + Math.floor(n / inARow) * gap });
    }
    if (people.length > shown.length) {
      const y = stop.y + reachOf(stop) + 16 * apart + Math.ceil(shown.length / inARow) * gap;
      drawn.counts.push({ x: stop.x, y, words: `and ${people.length - shown.length} more`, anchor: "middle" });
    }
  }
}
