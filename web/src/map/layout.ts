import { linkName, passing, type Passing } from "../study/flow";
import type { Step, StudyDocument } from "../study/types";
import { linksOf } from "../study/types";

/** A place on the map where lines meet: a stream's beginning or a step. */
export interface Stop {
  id: string;
  kind: Step["kind"] | "stream";
  name: string;
  column: number;
  x: number;
  y: number;
  /** The case types that call here, from top to bottom. */
  types: string[];
}

/** A way from stop to stop, with a track per case type. */
export interface Way {
  from: string;
  to: string;
  back: boolean;
  types: string[];
  tracks: { type: string; path: string }[];
  label: { x: number; y: number };
}

export interface MapLayout {
  stops: Stop[];
  ways: Way[];
  width: number;
  height: number;
}

export const TRACK_GAP = 8;
const LANE_HEIGHT = 104;
const LEAST_COLUMN = 152;
const FLAT = 66;
const MARGIN = { left: 40, right: 150, top: 70, bottom: 80 };
const CORNER = 14;
const LOOP_DEPTH = 68;
const LEAN = Math.tan(Math.PI / 8);

interface Node {
  id: string;
  column: number;
  lane: number;
  before: Node[];
  after: Node[];
  weight: number;
}

/** Lays the flow of a study out from left to right: columns by longest path, lanes packed, loops below. */
export function layOut(study: StudyDocument): MapLayout {
  const flow = passing(study);
  const edges = edgesOf(study);
  const back = closingEdges(study, edges);
  const nodes = columnsOf(study, edges, back, flow);
  const chains = withPassages(nodes, edges, back);
  assignLanes(chains.columns);
  const x = columnPositions(chains.columns);
  const top = Math.min(...chains.columns.flat().map((node) => node.lane), 0);
  const yOf = (lane: number) => MARGIN.top + (lane - top) * LANE_HEIGHT;

  const stops = new Map<string, Stop>();
  for (const [id, node] of nodes) {
    const stream = study.streams.find((each) => streamNode(each.id) === id);
    const step = study.steps.find((each) => each.id === id);
    const types = stream ? flow.streams.get(stream.id) : flow.steps.get(id);
    stops.set(id, {
      id,
      kind: stream ? "stream" : (step?.kind ?? "serve"),
      name: stream?.name ?? step?.name ?? id,
      column: node.column,
      x: x[node.column] ?? 0,
      y: yOf(node.lane),
      types: types ?? [],
    });
  }
  const lowest = Math.max(...[...stops.values()].map((stop) => stop.y), MARGIN.top);
  let loops = 0;
  const ways = edges.map((edge): Way => {
    const types = edge.stream ? (flow.streams.get(edge.stream) ?? []) : (flow.links.get(linkName(edge.from, edge.to)) ?? []);
    const from = stops.get(edge.from) as Stop;
    const to = stops.get(edge.to) as Stop;
    if (back.has(edge)) return loopWay(edge, from, to, types, loopLevel(from, to, [...stops.values()]) + 14 * loops++);
    const between = (chains.passages.get(edge) ?? []).map((node) => ({ x: x[node.column] ?? 0, y: yOf(node.lane) }));
    return straightWay(edge, from, to, types, between);
  });
  return {
    stops: [...stops.values()],
    ways,
    width: (x.at(-1) ?? 0) + MARGIN.right,
    height: lowest + MARGIN.bottom + (loops > 0 ? 30 : 0),
  };
}

interface Edge {
  from: string;
  to: string;
  stream?: string;
}

export const streamNode = (id: string) => `stream:${id}`;

function edgesOf(study: StudyDocument): Edge[] {
  const known = new Set(study.steps.map((step) => step.id));
  const edges: Edge[] = study.streams.map((stream) => ({ from: streamNode(stream.id), to: stream.to, stream: stream.id }));
  for (const step of study.steps) for (const link of linksOf(step)) edges.push({ from: step.id, to: link.to });
  return edges.filter((edge) => known.has(edge.to));
}

/** The edges that lead back to a step from which they were reached. */
function closingEdges(study: StudyDocument, edges: Edge[]): Set<Edge> {
  const out = grouped(edges);
  const state = new Map<string, "open" | "done">();
  const closing = new Set<Edge>();
  for (const start of [...study.streams.map((stream) => streamNode(stream.id)), ...study.steps.map((step) => step.id)]) {
    if (state.has(start)) continue;
    const path: { id: string; turn: number }[] = [{ id: start, turn: 0 }];
    state.set(start, "open");
    while (path.length > 0) {
      const here = path[path.length - 1] as { id: string; turn: number };
      const edge = out.get(here.id)?.[here.turn++];
      if (!edge) {
        state.set(here.id, "done");
        path.pop();
      } else if (state.get(edge.to) === "open") closing.add(edge);
      else if (!state.has(edge.to)) {
        state.set(edge.to, "open");
        path.push({ id: edge.to, turn: 0 });
      }
    }
  }
  return closing;
}

function grouped(edges: Edge[]): Map<string, Edge[]> {
  const groups = new Map<string, Edge[]>();
  for (const edge of edges) groups.set(edge.from, [...(groups.get(edge.from) ?? []), edge]);
  return groups;
}

/** Gives every stop its column: one after the last stop that leads to it; exits stand in the last. */
function columnsOf(study: StudyDocument, edges: Edge[], back: Set<Edge>, flow: Passing): Map<string, Node> {
  const nodes = new Map<string, Node>();
  const add = (id: string, weight: number) => nodes.set(id, { id, column: 0, lane: 0, before: [], after: [], weight });
  for (const stream of study.streams) add(streamNode(stream.id), 1);
  for (const step of study.steps) add(step.id, flow.steps.get(step.id)?.length ?? 0);
  const forward = edges.filter((edge) => !back.has(edge));
  const waitingFor = new Map([...nodes.keys()].map((id) => [id, 0]));
  for (const edge of forward) waitingFor.set(edge.to, (waitingFor.get(edge.to) ?? 0) + 1);
  const out = grouped(forward);
  const ready = [...nodes.keys()].filter((id) => waitingFor.get(id) === 0);
  while (ready.length > 0) {
    const id = ready.shift() as string;
    for (const edge of out.get(id) ?? []) {
      const target = nodes.get(edge.to) as Node;
      target.column = Math.max(target.column, (nodes.get(id) as Node).column + 1);
      const left = (waitingFor.get(edge.to) ?? 1) - 1;
      waitingFor.set(edge.to, left);
      if (left === 0) ready.push(edge.to);
    }
  }
  const last = Math.max(0, ...[...nodes.values()].map((node) => node.column));
  for (const step of study.steps) {
    const node = nodes.get(step.id);
    if (step.kind === "exit" && node && node.column > 0) node.column = last;
  }
  return nodes;
}

/** Lets long edges pass through the columns between, so that no line runs through a stop. */
function withPassages(nodes: Map<string, Node>, edges: Edge[], back: Set<Edge>) {
  const columns: Node[][] = [];
  const place = (node: Node) => (columns[node.column] ??= []).push(node);
  nodes.forEach(place);
  const passages = new Map<Edge, Node[]>();
  const connect = (one: Node, other: Node) => {
    one.after.push(other);
    other.before.push(one);
  };
  for (const edge of edges) {
    if (back.has(edge)) continue;
    let previous = nodes.get(edge.from) as Node;
    const target = nodes.get(edge.to) as Node;
    const passed: Node[] = [];
    for (let column = previous.column + 1; column < target.column; column++) {
      const node: Node = { id: `${edge.from}>${edge.to}@${column}`, column, lane: 0, before: [], after: [], weight: 0.5 };
      connect(previous, node);
      place(node);
      passed.push(node);
      previous = node;
    }
    connect(previous, target);
    passages.set(edge, passed);
  }
  for (let column = 0; column < columns.length; column++) columns[column] ??= [];
  return { columns, passages };
}

/** Packs the stops of each column on half lanes, as near as can be to where their lines come from. */
function assignLanes(columns: Node[][]): void {
  columns[0]?.forEach((node, place) => {
    node.lane = place;
  });
  for (const column of columns.slice(1)) {
    const wished = column.map((node) => ({ node, lane: wishedLane(node) })).sort((one, other) => one.lane - other.lane);
    pack(wished);
  }
}

function wishedLane(node: Node): number {
  if (node.before.length === 0) return 0;
  const total = node.before.reduce((sum, before) => sum + Math.max(before.weight, 0.1), 0);
  return node.before.reduce((sum, before) => sum + fannedLane(before, node) * Math.max(before.weight, 0.1), 0) / total;
}

/** Where a stop would stand if only this one led to it: ways that part fan out around their origin. */
function fannedLane(before: Node, node: Node): number {
  const place = before.after.indexOf(node);
  return before.lane + (before.after.length > 1 ? place - (before.after.length - 1) / 2 : 0);
}

/** Sets lanes a whole lane apart with the least shifting: groups that touch are centred on their wishes. */
function pack(wished: { node: Node; lane: number }[]): void {
  const groups: { first: number; lanes: number[] }[] = [];
  for (const { lane } of wished) {
    groups.push({ first: lane, lanes: [lane] });
    for (;;) {
      const last = groups.at(-1);
      const before = groups.at(-2);
      if (!last || !before || before.first + before.lanes.length <= last.first) break;
      groups.splice(-2, 2, centred([...before.lanes, ...last.lanes]));
    }
  }
  let place = 0;
  let free = -Infinity;
  for (const group of groups) {
    const first = Math.max(free, Math.round(group.first * 2) / 2);
    group.lanes.forEach((_, n) => {
      (wished[place++] as { node: Node }).node.lane = first + n;
    });
    free = first + group.lanes.length;
  }
}

function centred(lanes: number[]) {
  const first = lanes.reduce((sum, lane, n) => sum + lane - n, 0) / lanes.length;
  return { first, lanes };
}

/** Sets columns apart so that every change of lane fits between two stops at 45°. */
function columnPositions(columns: Node[][]): number[] {
  const positions = [MARGIN.left];
  for (const column of columns.slice(0, -1)) {
    const climbs = column.flatMap((node) => node.after.map((after) => Math.abs(after.lane - node.lane) * LANE_HEIGHT));
    positions.push((positions.at(-1) as number) + Math.max(LEAST_COLUMN, Math.max(0, ...climbs) + 2 * FLAT));
  }
  return positions;
}

/** How far a case type's track lies from the middle of its bundle. */
export function trackOffset(types: string[], type: string): number {
  return (types.indexOf(type) - (types.length - 1) / 2) * TRACK_GAP;
}

interface Point {
  x: number;
  y: number;
}

function straightWay(edge: Edge, from: Stop, to: Stop, types: string[], between: Point[]): Way {
  const tracks = types.map((type) => {
    const start = { x: from.x, y: from.y + trackOffset(from.types, type) };
    const end = { x: to.x, y: to.y + trackOffset(to.types, type) };
    const offset = trackOffset(types, type);
    const middle = between.map((point) => ({ x: point.x, y: point.y + offset }));
    return { type, path: rounded(bent([start, ...middle, end], offset)) };
  });
  const first = between[0] ?? to;
  const label =
    first.y === from.y ? { x: from.x + 48, y: from.y } : { x: (from.x + first.x) / 2, y: (from.y + first.y) / 2 };
  return { from: edge.from, to: edge.to, back: false, types, tracks, label };
}

/** Joins points by level pieces and 45° diagonals in the middle of each gap; parallel tracks stay parallel. */
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
    path.push(end);
  }
  return path;
}

/** The level below everything between two stops. */
function loopLevel(from: Stop, to: Stop, stops: Stop[]): number {
  const [left, right] = [Math.min(from.column, to.column), Math.max(from.column, to.column)];
  const under = stops.filter((stop) => stop.column >= left && stop.column <= right && stop.y <= Math.max(from.y, to.y));
  return Math.max(...under.map((stop) => stop.y)) + LOOP_DEPTH;
}

const LOOP_OUT = 44;

function loopWay(edge: Edge, from: Stop, to: Stop, types: string[], level: number): Way {
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
    return { type, path: rounded(points) };
  });
  return { from: edge.from, to: edge.to, back: true, types, tracks, label: { x: (left + right) / 2, y: level } };
}

/** Draws a polyline with round corners. */
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

const at = (point: Point) => `${Number(point.x.toFixed(1))},${Number(point.y.toFixed(1))}`;
const distance = (one: Point, other: Point) => Math.hypot(other.x - one.x, other.y - one.y);

function towards(from: Point, to: Point, reach: number): Point {
  const length = distance(from, to) || 1;
  return { x: from.x + ((to.x - from.x) * reach) / length, y: from.y + ((to.y - from.y) * reach) / length };
}
