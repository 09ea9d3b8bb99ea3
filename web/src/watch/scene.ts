import type { Lines, Piece } from "./piece";

/** What is seen of a case, as the engine numbers it. */
export const DOING = { nothing: 0, onTheWay: 1, waiting: 2, atWork: 3, blocked: 4, riding: 5 } as const;
/** What a member does, as the engine numbers it. */
export const STATE = { off: 0, idle: 1, working: 2, walking: 3, onBreak: 4, interrupted: 5, unpaidBreak: 6, absent: 7 } as const;
/** A case itself, a branch of one, a companion that is sent. */
export const TOKEN = { case: 0, branch: 1, companion: 2 } as const;
const WAITS_FOR_BRANCHES = 12;

/** What is seen of one record or member from a time on. */
export interface Seen {
  who: number;
  at: number;
  number: number;
  step: number;
  cameFrom: number;
  with: number;
  together: number;
  doing: number;
  cause: number;
  type: number;
  token: number;
  ends: number;
  rank: number;
  turn: number;
  /** Where it was seen before, and until when, where it has gone on without taking time; -1 for one who has just come. */
  before: { step: number; at: number } | null;
}

/** Somebody who has just left from a step, by an exit. */
export interface Leaver {
  seen: Seen;
  at: number;
  exit: number;
}

/** All that is seen at a moment: of cases by their record, of members in their order. */
export class Scene {
  readonly cases = new Map<number, Seen>();
  readonly members: Seen[] = [];
  leavers: Leaver[] = [];
  private next = 0;
  private nextGone = 0;

  constructor(readonly piece: Piece) {}

  /** Goes on to a moment of the piece; only forward. */
  goTo(moment: number): void {
    const { lines } = this.piece;
    while (this.next < lines.at.length && (lines.at[this.next] ?? 0) <= moment) this.take(seenAt(lines, this.next++));
    this.leavers = this.leavers.filter(({ at }) => at > moment - LONGEST_GLIDE);
  }

  /** How many cases have left by a moment, and how many have given up, at exits that `gives` says. */
  goneBy(moment: number, gives: readonly boolean[]): { left: number; gaveUp: number } {
    const { goneAt, goneStep, left, gaveUp } = this.piece;
    const found = { left, gaveUp };
    for (let n = 0; n < goneAt.length && (goneAt[n] ?? 0) <= moment; n++) {
      if (gives[goneStep[n] ?? -1]) found.gaveUp++;
      else found.left++;
    }
    return found;
  }

  private take(seen: Seen): void {
    if (seen.who < 0) {
      this.members[-1 - seen.who] = seen;
      return;
    }
    const before = this.cases.get(seen.who);
    const isSnapshot = seen.at <= this.piece.begins;
    if (before && (seen.doing === DOING.nothing || before.number !== seen.number)) this.leave(before, seen.at);
    if (seen.doing === DOING.nothing) {
      this.cases.delete(seen.who);
      return;
    }
    const isSame = before?.number === seen.number;
    if (isSame && before.step === seen.step) seen.before = before.before;
    else if (isSame && before.doing !== DOING.onTheWay) seen.before = { step: before.step, at: seen.at };
    else if (!isSame && !isSnapshot && seen.token === TOKEN.case) seen.before = { step: -1, at: seen.at };
    this.cases.set(seen.who, seen);
  }

  private leave(seen: Seen, at: number): void {
    if (seen.token !== TOKEN.case) return;
    const { goneAt, goneStep } = this.piece;
    while (this.nextGone < goneAt.length && (goneAt[this.nextGone] ?? 0) < at) this.nextGone++;
    const exit = goneAt[this.nextGone] === at ? (goneStep[this.nextGone++] ?? -1) : -1;
    if (exit >= 0) this.leavers.push({ seen, at, exit });
  }
}

/** So many minutes may pass at most while somebody glides who has gone on without taking time. */
export const LONGEST_GLIDE = 1;

function seenAt(lines: Lines, line: number): Seen {
  const of = (column: ArrayLike<number>) => column[line] ?? 0;
  return {
    who: of(lines.who),
    at: of(lines.at),
    number: of(lines.number),
    step: of(lines.step),
    cameFrom: of(lines.came_from),
    with: of(lines.with_),
    together: of(lines.together),
    doing: of(lines.doing),
    cause: of(lines.cause),
    type: of(lines.type),
    token: of(lines.token),
    ends: of(lines.ends),
    rank: of(lines.rank),
    turn: of(lines.turn),
    before: null,
  };
}

/** Whether a case stands where its branches will come together, while they go on for it. */
export const isParted = (seen: Seen) => seen.doing === DOING.waiting && seen.cause === WAITS_FOR_BRANCHES;

/** Those who wait at each step, first who is called first. */
export function linesIn(scene: Scene): Map<number, Seen[]> {
  const lines = new Map<number, Seen[]>();
  for (const seen of scene.cases.values()) {
    if (seen.doing !== DOING.waiting || isParted(seen)) continue;
    const line = lines.get(seen.step);
    if (line) line.push(seen);
    else lines.set(seen.step, [seen]);
  }
  for (const line of lines.values()) line.sort((one, other) => one.rank - other.rank || one.turn - other.turn || one.who - other.who);
  return lines;
}

/** How many cases are inside, with those who travel as one, and how many of them wait. */
export function countIn(scene: Scene): { inside: number; waiting: number } {
  let [inside, waiting] = [0, 0];
  for (const seen of scene.cases.values()) {
    if (seen.token === TOKEN.case) inside += 1;
    if (seen.doing === DOING.waiting && !isParted(seen)) waiting += seen.token === TOKEN.case ? 1 : 0;
  }
  return { inside, waiting };
}
