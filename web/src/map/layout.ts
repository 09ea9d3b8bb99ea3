import { linkName, passing, sideWays } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { linksOf } from "../study/document/types";
import {
  assignLanes,
  closingEdges,
  columnPositions,
  columnsOf,
  LEAST_COLUMN,
  orderColumns,
  straighten,
  streamNode,
  withPassages,
} from "./columns";
import { foldAt, oneFold } from "./folds";
import { roomBeside } from "./names";
import { besideTypes, loopLevel, loopTracks, stubTracks } from "./tracks";
import type { Edge, Lanes, MapLayout, Node, Paper, Stop, Way } from "./types";

const MARGIN = { right: 11, top: 70, bottom: 80 };
const LOOPS_ROOM = 30;
const NEXT_LOOP = 14;

/**
 * Lays the flow of a study out from left to right: columns by longest path, lanes packed, loops below.
 * A flow longer than the width of a fold goes on in the next one below, like a folded map.
 */
export function layOut(study: StudyDocument, fold = Number.POSITIVE_INFINITY): MapLayout {
  const lanes = laidOut(study, fold);
  return drawn(study, lanes, lanes.width <= fold ? oneFold(lanes) : foldAt(lanes, fold));
}

/** The window through which a map is looked at, in pixels. */
export interface Box {
  width: number;
  height: number;
}

/** How near the whole of a map should be seen at least; if it cannot, it is folded to the window and looked at in parts. */
const NEARNESSES = [1, 0.9, 0.8, 0.72];
/** Flows of more steps than this are never seen whole and legible. */
const SMALL = 40;
const IN_PARTS = 0.9;
/** What the overview takes of the window's width, where the map is seen in parts. */
export const OVERVIEW_ROOM = 84;

/** Lays a flow out for a window: with as few folds as let all of it be seen and read, else folded to its width. */
export function layOutFor(study: StudyDocument, box: Box): MapLayout {
  let best: MapLayout | null = null;
  for (const near of study.steps.length <= SMALL ? NEARNESSES : []) {
    const layout = layOut(study, box.width / near);
    const isWhole = layout.height * near <= box.height && layout.width * near <= box.width + 1;
    if (isWhole && (!best || layout.folds.length < best.folds.length)) best = layout;
    if (best?.folds.length === 0) break;
  }
  return best ?? layOut(study, (box.width - OVERVIEW_ROOM) / IN_PARTS);
}

/** Columns and lanes, before it is said where on the paper they lie. Exits stand in the last column, unless that is folds away. */
function laidOut(study: StudyDocument, fold: number): Lanes {
  const flow = passing(study);
  const edges = edgesOf(study);
  const back = closingEdges(study, edges);
  const inOne = columnsOf(study, edges, back, flow, true);
  const many = Math.max(0, ...[...inOne.values()].map((node) => node.column)) + 1;
  const isFolded = many * LEAST_COLUMN > fold;
  const nodes = isFolded ? columnsOf(study, edges, back, flow, false) : inOne;
  const span = (edge: Edge) => (nodes.get(edge.to)?.column ?? 0) - (nodes.get(edge.from)?.column ?? 0);
  const cut = new Set(isFolded ? edges.filter((edge) => !back.has(edge) && span(edge) * LEAST_COLUMN > fold) : []);
  const { columns, passages } = withPassages(nodes, edges, (edge) => back.has(edge) || cut.has(edge));
  orderColumns(columns);
  assignLanes(columns);
  for (const [edge, passed] of passages) straighten([nodes.get(edge.from) as Node, ...passed, nodes.get(edge.to) as Node]);
  const x = columnPositions(columns);
  const exits = new Map(study.steps.filter((step) => step.kind === "exit").map((step) => [step.id, step.name]));
  const beside = (column: number, width: number) =>
    roomBeside(
      (columns[column] ?? []).flatMap(({ id }) => exits.get(id) ?? []),
      width,
    );
  const right = x.at(-1) ?? 0;
  return {
    flow,
    edges,
    back,
    cut,
    nodes,
    columns,
    passages,
    x,
    beside,
    width: right + MARGIN.right + roomBeside([...exits.values()], right),
  };
}

function drawn(study: StudyDocument, lanes: Lanes, paper: Paper): MapLayout {
  const stops = new Map(stopsOf(study, lanes, paper).map((stop) => [stop.id, stop]));
  giveRoom([...stops.values()]);
  const loops = new Map<number, number>();
  const stubs = new Map<string, number>();
  const stub = (from: Stop, to: Stop, types: string[], word: string) => {
    const turn = stubs.get(from.id) ?? 0;
    stubs.set(from.id, turn + 1);
    return { ...stubTracks(from, types, turn), stub: `${word} ${to.name}` };
  };
  const ways = lanes.edges.map((edge): Way => {
    const types = edge.stream ? (lanes.flow.streams.get(edge.stream) ?? []) : (lanes.flow.links.get(linkName(edge.from, edge.to)) ?? []);
    const ends = [stops.get(edge.from), stops.get(edge.to)] as [Stop, Stop];
    const [from, to] = edge.side ? besideTypes(...ends) : ends;
    const way = { from: edge.from, to: edge.to, side: edge.side ?? false, types };
    const drawnTypes = edge.side ? from.types : types;
    if (lanes.cut.has(edge)) return { ...way, back: false, ...stub(from, to, drawnTypes, "to") };
    if (!lanes.back.has(edge)) return { ...way, back: false, ...paper.tracks(from, to, drawnTypes, lanes.passages.get(edge) ?? []) };
    const band = paper.bandOf(from.column);
    if (band !== paper.bandOf(to.column)) return { ...way, back: true, ...stub(from, to, drawnTypes, "back to") };
    const turn = loops.get(band) ?? 0;
    loops.set(band, turn + 1);
    const near = [...stops.values()].filter((stop) => paper.bandOf(stop.column) === band);
    return { ...way, back: true, ...loopTracks(from, to, drawnTypes, loopLevel(from, to, near) + NEXT_LOOP * turn) };
  });
  const lowest = Math.max(...[...stops.values()].map((stop) => stop.y), MARGIN.top);
  return {
    stops: [...stops.values()],
    ways,
    folds: paper.folds,
    width: paper.width,
    height: lowest + MARGIN.bottom + (loops.size > 0 ? LOOPS_ROOM : 0),
  };
}

function stopsOf(study: StudyDocument, { flow, nodes }: Lanes, paper: Paper): Stop[] {
  const steps = new Map(study.steps.map((step) => [step.id, step]));
  const streams = new Map(study.streams.map((stream) => [streamNode(stream.id), stream]));
  return [...nodes.values()].map((node) => {
    const [stream, step] = [streams.get(node.id), steps.get(node.id)];
    const types = stream ? flow.streams.get(stream.id) : flow.steps.get(node.id);
    return {
      id: node.id,
      kind: stream ? "stream" : (step?.kind ?? "serve"),
      name: stream?.name ?? step?.name ?? node.id,
      column: node.column,
      ...paper.at(node),
      types: types ?? [],
      room: Number.POSITIVE_INFINITY,
    };
  });
}

/** Notes for each stop how far below the next one of its column stands. */
function giveRoom(stops: Stop[]): void {
  const sorted = stops.toSorted((one, other) => one.column - other.column || one.y - other.y);
  sorted.forEach((stop, n) => {
    const next = sorted[n + 1];
    if (next?.column === stop.column) stop.room = next.y - stop.y;
  });
}

function edgesOf(study: StudyDocument): Edge[] {
  const known = new Set(study.steps.map((step) => step.id));
  const edges: Edge[] = study.streams.map((stream) => ({ from: streamNode(stream.id), to: stream.to, stream: stream.id }));
  for (const step of study.steps) for (const link of linksOf(step)) edges.push({ from: step.id, to: link.to });
  const drawn = new Set(edges.map((edge) => linkName(edge.from, edge.to)));
  for (const way of sideWays(study)) {
    const name = linkName(way.from, way.to);
    if (known.has(way.from) && !drawn.has(name)) edges.push({ ...way, side: true });
    drawn.add(name);
  }
  return edges.filter((edge) => known.has(edge.to));
}
