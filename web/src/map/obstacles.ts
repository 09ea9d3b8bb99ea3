import type { Point } from "./types";

/** An upright rectangle on the paper. */
export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

type Obstacle = Box | { from: Point; to: Point; half: number };

const CELL = 120;

/** What is drawn already, so that what comes later keeps clear of it. */
export class Obstacles {
  private readonly cells = new Map<string, Obstacle[]>();

  add(obstacle: Obstacle): void {
    for (const cell of cellsOf(around(obstacle))) {
      const found = this.cells.get(cell);
      if (found) found.push(obstacle);
      else this.cells.set(cell, [obstacle]);
    }
  }

  addLine(points: Point[], half: number): void {
    for (let n = 1; n < points.length; n++) this.add({ from: points[n - 1] as Point, to: points[n] as Point, half });
  }

  isFree(box: Box): boolean {
    return cellsOf(box).every((cell) => !this.cells.get(cell)?.some((obstacle) => meets(box, obstacle)));
  }
}

function around(obstacle: Obstacle): Box {
  if ("left" in obstacle) return obstacle;
  const { from, to, half } = obstacle;
  return {
    left: Math.min(from.x, to.x) - half,
    right: Math.max(from.x, to.x) + half,
    top: Math.min(from.y, to.y) - half,
    bottom: Math.max(from.y, to.y) + half,
  };
}

function cellsOf({ left, right, top, bottom }: Box): string[] {
  const cells: string[] = [];
  for (let x = Math.floor(left / CELL); x <= Math.floor(right / CELL); x++)
    for (let y = Math.floor(top / CELL); y <= Math.floor(bottom / CELL); y++) cells.push(`${x} ${y}`);
  return cells;
}

function meets(box: Box, obstacle: Obstacle): boolean {
  const other = around(obstacle);
  const apart = other.right <= box.left || other.left >= box.right || other.bottom <= box.top || other.top >= box.bottom;
  if (apart) return false;
  return "left" in obstacle || crosses(obstacle.from, obstacle.to, grown(box, obstacle.half));
}

const grown = ({ left, right, top, bottom }: Box, by: number): Box => ({
  left: left - by,
  right: right + by,
  top: top - by,
  bottom: bottom + by,
});

/** Whether a straight line runs through a box (Liang and Barsky 1984). */
function crosses(from: Point, to: Point, { left, right, top, bottom }: Box): boolean {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  let [enters, leaves] = [0, 1];
  for (const [step, room] of [
    [-dx, from.x - left],
    [dx, right - from.x],
    [-dy, from.y - top],
    [dy, bottom - from.y],
  ] as const) {
    if (step === 0 && room < 0) return false;
    if (step < 0) enters = Math.max(enters, room / step);
    if (step > 0) leaves = Math.min(leaves, room / step);
  }
  return enters <= leaves;
}
