import { linkName, passing, sideWays } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { linksOf } from "../study/document/types";
import { assignLanes, closingEdges, columnPositions, columnsOf, orderColumns, straighten, streamNode, withPassages } from "./columns";
import { foldAt, oneFold } from "./folds";
import { roomBeside } from "./names";
import { besideTypes, loopLevel, loopTracks, stubTracks } from "./tracks";
import type { Edge, Lanes, MapLayout, Node, Paper, Pitch, Stop, Way } from "./types";

const MARGIN = { right: 11, top: 70, bottom: 80, line: 46 };
const NEXT_LOOP = 14;

/** How far apart stops stand where there is room, and where there is little. */
export const ROOMY: Pitch = { column: 134, first: 200, lane: 118, flat: 46 };
export const CLOSE: Pitch = { column: 104, first: 176, lane: 96, flat: 40 };

/** What a map is to be drawn into. */
export interface Frame {
  /** How wide the paper may be before it is folded. */
  width: number;
  /** How near it will be looked at: names stay legible on the screen, so they are the larger on paper the farther away. */
  near: number;
  pitch: Pitch;
}

const OPEN: Frame = { width: Number.POSITIVE_INFINITY, near: 1, pitch: ROOMY };

/**
 * Lays the flow of a study out from left to right: columns by longest path, lanes packed, loops below.
 * A flow longer than the frame is wide goes on in the next fold below, like a folded map.
 */
export function layOut(study: StudyDocument, frame: Partial<Frame> = {}): MapLayout {
  const whole = { ...OPEN, ...frame };
  const flat = mayBeFlat(study, whole) ? laidOut(study, whole, false) : null;
  if (flat && flat.width <= whole.width) return drawn(study, flat, oneFold(flat));
  const folded = laidOut(study, whole, true);
  return drawn(study, folded, foldAt(folded, whole.width));
}

/** Whether the columns of a flow fit beside each other if no line climbs. */
function mayBeFlat(study: StudyDocument, { width, pitch }: Frame): boolean {
  if (!Number.isFinite(width)) return true;
  const edges = edgesOf(study);
  const nodes = columnsOf(study, edges, closingEdges(study, edges), passing(study), false);
  return Math.max(0, ...[...nodes.values()].map((node) => node.column)) * pitch.column <= width;
}

/** Columns and lanes, before it is said where on the paper they lie. Exits stand in the last column, unless that may be folds away. */
function laidOut(study: StudyDocument, { width, near, pitch }: Frame, isFolded: boolean): Lanes {
  const flow = passing(study);
  const edges = edgesOf(study);
  const back = closingEdges(study, edges);
  const nodes = columnsOf(study, edges, back, flow, !isFolded);
  const span = (edge: Edge) => (nodes.get(edge.to)?.column ?? 0) - (nodes.get(edge.from)?.column ?? 0);
  const cut = new Set(isFolded ? edges.filter((edge) => !back.has(edge) && span(edge) * pitch.column > width) : []);
  const { columns, passages } = withPassages(nodes, edges, (edge) => back.has(edge) || cut.has(edge));
  orderColumns(columns);
  assignLanes(columns);
  for (const [edge, passed] of passages) straighten([nodes.get(edge.from) as Node, ...passed, nodes.get(edge.to) as Node]);
  const x = columnPositions(columns, pitch);
  const exits = new Map(study.steps.filter((step) => step.kind === "exit").map((step) => [step.id, step.name]));
  const beside = (column: number) =>
    roomBeside(
      (columns[column] ?? []).flatMap(({ id }) => exits.get(id) ?? []),
      near,
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
    pitch,
    beside,
    width: right + MARGIN.right + roomBeside([...exits.values()], near),
  };
}

function drawn(study: StudyDocument, lanes: Lanes, paper: Paper): MapLayout {
  const stops = new Map(stopsOf(study, lanes, paper).map((stop) => [stop.id, stop]));
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
  const lowestLine = Math.max(...ways.flatMap((way) => way.tracks.flatMap((track) => track.pieces.flat().map(({ y }) => y))));
  return {
    pitch: lanes.pitch,
    stops: [...stops.values()],
    ways,
    folds: paper.folds,
    width: paper.width,
    height: Math.max(lowest + MARGIN.bottom, lowestLine + MARGIN.line),
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
    };
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
