import { LANE_HEIGHT, LEFT_MARGIN } from "./columns";
import { straightTracks } from "./tracks";
import type { Fold, Lanes, Node, Paper, Stop, Tracks } from "./types";

const TOP = 70;
const BAND_GAP = 132;
const LOOPS_GAP = 74;
const FOLD_EDGE = 14;
const OUT = 62;
const HALF_LANE = 46;

/** The whole flow in one line. */
export function oneFold({ columns, x, width }: Lanes): Paper {
  const top = Math.min(...columns.flat().map((node) => node.lane), 0);
  const at = (node: Node) => ({ x: x[node.column] ?? 0, y: TOP + (node.lane - top) * LANE_HEIGHT });
  return { at, bandOf: () => 0, folds: [], width, tracks: (from, to, types, passed) => straightTracks(from, to, types, passed.map(at)) };
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
  const { columns, x } = lanes;
  const bands = bandsOf(lanes, width);
  const bandOf = columns.map((_, column) => bands.findIndex((band) => column >= band.first && column <= band.last));
  const entry = (band: Band) => (band.first === 0 ? (x[0] ?? LEFT_MARGIN) : FOLD_EDGE + gapBefore(x, band.first));
  const xOf = (column: number) => {
    const band = bands[bandOf[column] ?? 0] as Band;
    return entry(band) + (x[column] ?? 0) - (x[band.first] ?? 0);
  };
  const yIn = (band: Band, lane: number) => band.top + (lane - band.highest) * LANE_HEIGHT;
  const at = (node: Node) => ({ x: xOf(node.column), y: yIn(bands[bandOf[node.column] ?? 0] as Band, node.lane) });
  const rights = bands.map((band) =>
    Math.max(...columns.slice(band.first, band.last + 1).map((_, n) => xOf(band.first + n) + roomAfter(lanes, band.first + n, width))),
  );
  const folds = bands.slice(1).map((band, n): Fold => {
    const before = bands[n] as Band;
    const edge = (each: Band, from: Band) => ({ top: yIn(each, from.highest) - HALF_LANE, bottom: yIn(each, from.lowest) + HALF_LANE });
    return { right: { x: rights[n] ?? 0, ...edge(before, before) }, left: { x: FOLD_EDGE, ...edge(band, band) } };
  });
  const tracks = (from: Stop, to: Stop, types: string[], passed: Node[]): Tracks => {
    const pieces: Tracks[] = [];
    let start = from;
    let between: { x: number; y: number }[] = [];
    let lane = laneOf(lanes, from.id);
    let band = bandOf[from.column] ?? 0;
    for (const node of [...passed, lanes.nodes.get(to.id) as Node]) {
      const next = bandOf[node.column] ?? 0;
      if (next !== band) {
        const [here, there] = [bands[band] as Band, bands[next] as Band];
        const bundle = start === from && between.length === 0 ? from.types : types;
        pieces.push(straightTracks(start, { ...to, x: rights[band] ?? 0, y: yIn(here, lane), types: bundle }, types, between));
        start = { ...from, x: FOLD_EDGE, y: yIn(there, lane), types: bundle };
        between = [];
        band = next;
      }
      if (node.id !== to.id) between.push(at(node));
      lane = node.lane;
    }
    pieces.push(straightTracks(start, to, types, between));
    const first = passed[0] ?? lanes.nodes.get(to.id);
    const partsHere = bandOf[first?.column ?? 0] === bandOf[from.column];
    const label = (partsHere ? pieces[0] : pieces[1])?.label ?? { x: 0, y: 0 };
    return { label, tracks: types.map((type, n) => ({ type, path: pieces.map((piece) => piece.tracks[n]?.path ?? "").join("") })) };
  };
  return { at, bandOf: (column) => bandOf[column] ?? 0, folds, width: Math.max(...rights) + FOLD_EDGE, tracks };
}

const laneOf = ({ nodes }: Lanes, id: string) => nodes.get(id)?.lane ?? 0;
const gapBefore = (x: number[], column: number) => (x[column] ?? 0) - (x[column - 1] ?? 0);

/** The room from a column to the edge of the paper, where the next column is on another fold. */
const roomAfter = ({ beside }: Lanes, column: number, width: number) => Math.max(OUT, beside(column, width));

function bandsOf(lanes: Lanes, width: number): Band[] {
  const { columns, x, edges, back, nodes } = lanes;
  const bands: Band[] = [];
  let top = TOP;
  for (let first = 0; first < columns.length; ) {
    const begins = first === 0 ? (x[0] ?? LEFT_MARGIN) : FOLD_EDGE + gapBefore(x, first);
    let last = first;
    while (
      last + 1 < columns.length &&
      begins + (x[last + 1] ?? 0) - (x[first] ?? 0) + roomAfter(lanes, last + 1, width) + FOLD_EDGE <= width
    )
      last++;
    const entering = (columns[first - 1] ?? []).filter((node) => node.after.length > 0);
    const lanesHere = [...entering, ...columns.slice(first, last + 1).flat()].map((node) => node.lane);
    const [highest, lowest] = [Math.min(...lanesHere), Math.max(...lanesHere)];
    bands.push({ first, last, top, highest, lowest });
    const loops = edges.some(
      (edge) => back.has(edge) && inside(nodes.get(edge.from), first, last) && inside(nodes.get(edge.to), first, last),
    );
    top += (lowest - highest) * LANE_HEIGHT + BAND_GAP + (loops ? LOOPS_GAP : 0);
    first = last + 1;
  }
  return bands;
}

const inside = (node: Node | undefined, first: number, last: number) => node !== undefined && node.column >= first && node.column <= last;
