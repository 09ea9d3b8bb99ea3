import { LEFT_MARGIN } from "./columns";
import { straightTracks } from "./tracks";
import type { Fold, Lanes, Node, Paper, Point, Stop, Tracks } from "./types";

const TOP = 70;
const BAND_GAP = 14;
const LOOPS_GAP = 74;
const FOLD_EDGE = 14;
const OUT = 62;
const HALF_LANE = 46;

/** The whole flow in one line. */
export function oneFold({ columns, x, width, pitch }: Lanes): Paper {
  const top = Math.min(...columns.flat().map((node) => node.lane), 0);
  const at = (node: Node) => ({ x: x[node.column] ?? 0, y: TOP + (node.lane - top) * pitch.lane });
  return {
    at,
    bandOf: () => 0,
    folds: [],
    width,
    tracks: (from, to, types, passed) => straightTracks(from, to, types, passed.map(at), pitch.flat),
  };
}

/** A stretch of columns that lies on one fold. */
interface Band {
  first: number;
  last: number;
  top: number;
  highest: number;
  lowest: number;
}

/** The flow folded so that no part is wider than wanted; each part begins with at least one column. */
export function foldAt(lanes: Lanes, width: number): Paper {
  const { columns, pitch } = lanes;
  const bands = bandsOf(lanes, foldedBefore(lanes, width));
  const bandOf = columns.map((_, column) => bands.findIndex((band) => column >= band.first && column <= band.last));
  const xOf = (column: number) => placeIn(lanes, (bands[bandOf[column] ?? 0] as Band).first, column);
  const yIn = (band: Band, lane: number) => band.top + (lane - band.highest) * pitch.lane;
  const at = (node: Node) => ({ x: xOf(node.column), y: yIn(bands[bandOf[node.column] ?? 0] as Band, node.lane) });
  const rights = bands.map((band) => rightOf(lanes, band.first, band.last));
  const folds = bands.slice(1).map((band, n): Fold => {
    const before = bands[n] as Band;
    const edge = (each: Band) => ({ top: yIn(each, each.highest) - HALF_LANE, bottom: yIn(each, each.lowest) + HALF_LANE });
    return { right: { x: rights[n] ?? 0, ...edge(before) }, left: { x: FOLD_EDGE, ...edge(band) } };
  });
  const tracks = (from: Stop, to: Stop, types: string[], passed: Node[]): Tracks => {
    const parts: Tracks[] = [];
    let start = from;
    let between: Point[] = [];
    let lane = laneOf(lanes, from.id);
    let band = bandOf[from.column] ?? 0;
    for (const node of [...passed, lanes.nodes.get(to.id) as Node]) {
      const next = bandOf[node.column] ?? 0;
      if (next !== band) {
        const [here, there] = [bands[band] as Band, bands[next] as Band];
        const bundle = start === from && between.length === 0 ? from.types : types;
        const edge = { ...to, x: rights[band] ?? 0, y: yIn(here, lane), types: bundle };
        parts.push(straightTracks(start, edge, types, between, pitch.flat));
        start = { ...from, x: FOLD_EDGE, y: yIn(there, lane), types: bundle };
        between = [];
        band = next;
      }
      if (node.id !== to.id) between.push(at(node));
      lane = node.lane;
    }
    parts.push(straightTracks(start, to, types, between, pitch.flat));
    const first = passed[0] ?? lanes.nodes.get(to.id);
    const partsHere = bandOf[first?.column ?? 0] === bandOf[from.column];
    const label = (partsHere ? parts[0] : parts[1])?.label ?? { x: 0, y: 0 };
    return { label, tracks: types.map((type, n) => ({ type, pieces: parts.flatMap((part) => part.tracks[n]?.pieces ?? []) })) };
  };
  return { at, bandOf: (column) => bandOf[column] ?? 0, folds, width: Math.max(...rights) + FOLD_EDGE, tracks };
}

const laneOf = ({ nodes }: Lanes, id: string) => nodes.get(id)?.lane ?? 0;

/** Where a column stands on a fold that begins with another. */
function placeIn({ x }: Lanes, first: number, column: number): number {
  const at = (n: number) => x[n] ?? 0;
  const entry = first === 0 ? (x[0] ?? LEFT_MARGIN) : FOLD_EDGE + at(first) - at(first - 1);
  return entry + at(column) - at(first);
}

/** Where a fold of these columns ends on the right: lines go on to the edge, and names stand beside exits. */
function rightOf(lanes: Lanes, first: number, last: number): number {
  let right = 0;
  for (let column = first; column <= last; column++)
    right = Math.max(
      right,
      placeIn(lanes, first, column) + (column === last ? OUT : 0),
      placeIn(lanes, first, column) + lanes.beside(column),
    );
  return right;
}

/** What it hurts to fold: at all, each line that is broken, each loop that is, an end without steps, and unused width. */
const HURT = { fold: 4, line: 1, loop: 4, onlyExits: 12, unused: 4 };

/** The columns with which a new fold begins, so that it hurts least; the first of each fold may be wider than wanted. */
function foldedBefore(lanes: Lanes, width: number): number[] {
  const count = lanes.columns.length;
  const hurts = lanes.columns.map((_, column) => hurtBefore(lanes, column));
  const least = [0];
  const begins = [0];
  for (let end = 1; end <= count; end++) {
    least[end] = Number.POSITIVE_INFINITY;
    for (let first = end - 1; first >= 0; first--) {
      const wide = rightOf(lanes, first, end - 1) + FOLD_EDGE;
      if (wide > width && first < end - 1) break;
      const unused = HURT.unused * Math.max(0, 1 - wide / width) ** 2;
      const hurt = (least[first] ?? 0) + (hurts[first] ?? 0) + unused;
      if (hurt < (least[end] ?? 0)) {
        least[end] = hurt;
        begins[end] = first;
      }
    }
  }
  const found: number[] = [];
  for (let end = count; end > 0; end = begins[end] ?? 0) found.unshift(begins[end] ?? 0);
  return found;
}

/** How much it hurts to fold before a column. */
function hurtBefore({ columns, edges, back, nodes }: Lanes, column: number): number {
  if (column === 0) return 0;
  const lines = (columns[column - 1] ?? []).reduce((sum, node) => sum + node.after.length, 0);
  const columnOf = (id: string) => nodes.get(id)?.column ?? 0;
  const loops = edges.filter((edge) => back.has(edge) && columnOf(edge.to) < column && columnOf(edge.from) >= column).length;
  const isEnd = columns.slice(column).every((each) => each.every((node) => node.after.length === 0));
  return HURT.fold + HURT.line * lines + HURT.loop * loops + (isEnd ? HURT.onlyExits : 0);
}

/** The folds that begin with these columns, one below the other. */
function bandsOf({ columns, edges, back, nodes, pitch }: Lanes, begins: number[]): Band[] {
  const bands: Band[] = [];
  let top = TOP;
  begins.forEach((first, n) => {
    const last = (begins[n + 1] ?? columns.length) - 1;
    const entering = (columns[first - 1] ?? []).filter((node) => node.after.length > 0);
    const lanesHere = [...entering, ...columns.slice(first, last + 1).flat()].map((node) => node.lane);
    const [highest, lowest] = [Math.min(...lanesHere), Math.max(...lanesHere)];
    bands.push({ first, last, top, highest, lowest });
    const isHere = (id: string) => inside(nodes.get(id), first, last);
    const loops = edges.some((edge) => back.has(edge) && isHere(edge.from) && isHere(edge.to));
    top += (lowest - highest + 1) * pitch.lane + BAND_GAP + (loops ? LOOPS_GAP : 0);
  });
  return bands;
}

const inside = (node: Node | undefined, first: number, last: number) => node !== undefined && node.column >= first && node.column <= last;
