/** A point in a picture, in pixels, and its name. */
export interface Spot {
  name: string;
  x: number;
  y: number;
}

/** A name at its place: `y` is its middle, `x` where it begins or ends. */
export interface Label extends Spot {
  anchor: "start" | "end" | "middle";
}

interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

const PER_LETTER = 6.6;
const LINE = 14;
const AWAY = 9;
const DOT = 6;
const LONGEST = 26;

/**
 * Names beside their points, clear of every point and of each other, inside a frame; the points that come first choose
 * first. A name that finds no place is left out, and long ones are cut.
 */
export function placed(named: Spot[], points: Spot[], frame: Box): Label[] {
  const taken: Box[] = points.map(({ x, y }) => ({ left: x - DOT, right: x + DOT, top: y - DOT, bottom: y + DOT }));
  return named.flatMap((spot) => {
    const name = spot.name.length > LONGEST ? `${spot.name.slice(0, LONGEST - 1)}…` : spot.name;
    const label = placesFor({ ...spot, name }).find((each) => isIn(boxOf(each), frame) && !taken.some((box) => meet(box, boxOf(each))));
    if (!label) return [];
    taken.push(boxOf(label));
    return [label];
  });
}

/** Where a name may stand, the best first: beside its point, a line higher or lower, above or below it. */
function placesFor({ name, x, y }: Spot): Label[] {
  const beside = [0, -LINE, LINE, -2 * LINE, 2 * LINE].flatMap((down): Label[] => [
    { name, x: x + AWAY, y: y + down, anchor: "start" },
    { name, x: x - AWAY, y: y + down, anchor: "end" },
  ]);
  const over = [-LINE, LINE, -2 * LINE, 2 * LINE].map((down): Label => ({ name, x, y: y + down, anchor: "middle" }));
  return [...beside, ...over];
}

function boxOf({ name, x, y, anchor }: Label): Box {
  const width = name.length * PER_LETTER;
  const left = anchor === "start" ? x : anchor === "end" ? x - width : x - width / 2;
  return { left, right: left + width, top: y - LINE / 2, bottom: y + LINE / 2 };
}

const isIn = (box: Box, frame: Box) =>
  box.left >= frame.left && box.right <= frame.right && box.top >= frame.top - LINE / 2 && box.bottom <= frame.bottom;

const meet = (one: Box, other: Box) => one.left < other.right && other.left < one.right && one.top < other.bottom && other.top < one.bottom;
