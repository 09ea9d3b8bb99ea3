import { linkName, passing, sideWays, type Passing } from "../study/flow";
import type { Step, StudyDocument } from "../study/types";
import { linksOf } from "../study/types";
import { roomBeside } from "./names";
import { besideTypes, FLAT, loopLevel, loopTracks, straightTracks, type Track } from "./tracks";

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
  /** How far below the next stop of its column stands. */
  room: number;
}

/** A way from stop to stop, with a track per case type. */
export interface Way {
  from: string;
  to: string;
  back: boolean;
  /** Taken only when something does not go as planned. */
  side: boolean;
  types: string[];
  tracks: Track[];
  label: { x: number; y: number };
}

export interface MapLayout {
  stops: Stop[];
  ways: Way[];
  width: number;
  height: number;
}

const LANE_HEIGHT = 118;
export const LEAST_COLUMN = 134;
const MARGIN = { left: 30, right: 24, top: 70, bottom: 80 };
const FIRST_STOP = 72;

const STOP_ROOM = 0.5;
const PASSAGE_ROOM = 0.22;

interface Node {
  id: string;
  column: number;
  lane: number;
  /** How much of a lane it takes up on either side. */
  room: number;
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
  orderColumns(chains.columns);
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
      room: Infinity,
    });
  }
  giveRoom([...stops.values()]);
  const lowest = Math.max(...[...stops.values()].map((stop) => stop.y), MARGIN.top);
  const right = x.at(-1) ?? 0;
  const exits = study.steps.filter((step) => step.kind === "exit");
  let loops = 0;
  const ways = edges.map((edge): Way => {
    const types = edge.stream ? (flow.streams.get(edge.stream) ?? []) : (flow.links.get(linkName(edge.from, edge.to)) ?? []);
    const ends = [stops.get(edge.from), stops.get(edge.to)] as [Stop, Stop];
    const [from, to] = edge.side ? besideTypes(...ends) : ends;
    const drawn = edge.side ? from.types : types;
    const way = { from: edge.from, to: edge.to, side: edge.side ?? false, types };
    if (back.has(edge)) {
      const level = loopLevel(from, to, [...stops.values()]) + 14 * loops++;
      return { ...way, back: true, ...loopTracks(from, to, drawn, level) };
    }
    const between = (chains.passages.get(edge) ?? []).map((node) => ({ x: x[node.column] ?? 0, y: yOf(node.lane) }));
    return { ...way, back: false, ...straightTracks(from, to, drawn, between) };
  });
  return {
    stops: [...stops.values()],
    ways,
    width: right + MARGIN.right + roomBeside(exits.map((step) => step.name), right),
    height: lowest + MARGIN.bottom + (loops > 0 ? 30 : 0),
  };
}

/** Notes for each stop how far below the next one of its column stands. */
function giveRoom(stops: Stop[]): void {
  const sorted = stops.toSorted((one, other) => one.column - other.column || one.y - other.y);
  sorted.forEach((stop, n) => {
    const next = sorted[n + 1];
    if (next?.column === stop.column) stop.room = next.y - stop.y;
  });
}

interface Edge {
  from: string;
  to: string;
  stream?: string;
  side?: boolean;
}

export const streamNode = (id: string) => `stream:${id}`;

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
  const add = (id: string, weight: number) => nodes.set(id, { id, column: 0, lane: 0, room: STOP_ROOM, before: [], after: [], weight });
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
      const node: Node = { id: `${edge.from}>${edge.to}@${column}`, column, lane: 0, room: PASSAGE_ROOM, before: [], after: [], weight: 0.5 };
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

const SWEEPS = 8;
const FIRST_COLUMN = 200;

/** Orders each column so that few lines cross: by the middle of the neighbours, there and back, the best kept. */
function orderColumns(columns: Node[][]): void {
  let best = columns.map((column) => [...column]);
  let fewest = crossings(best);
  for (let sweep = 0; sweep < SWEEPS && fewest > 0; sweep++) {
    const forth = sweep % 2 === 0;
    const places = new Map(columns.flatMap((column) => column.map((node, place) => [node, place] as const)));
    for (const column of forth ? columns : columns.toReversed()) {
      const middle = (node: Node) => {
        const near = forth ? node.before : node.after;
        return near.length === 0 ? (places.get(node) ?? 0) : near.reduce((sum, each) => sum + (places.get(each) ?? 0), 0) / near.length;
      };
      const middles = new Map(column.map((node) => [node, middle(node)]));
      column.sort((one, other) => (middles.get(one) ?? 0) - (middles.get(other) ?? 0));
      column.forEach((node, place) => places.set(node, place));
    }
    for (const column of columns) exchange(column, places, sweep % 4 > 1);
    const found = crossings(columns);
    if (found < fewest) {
      fewest = found;
      best = columns.map((column) => [...column]);
    }
  }
  for (const [n, column] of best.entries()) {
    columns[n] = column;
    const places = new Map(column.map((node, place) => [node, place]));
    for (const before of columns[n - 1] ?? []) before.after.sort((one, other) => (places.get(one) ?? 0) - (places.get(other) ?? 0));
  }
}

/** Exchanges neighbours in a column where their lines then cross less, or on ties if wanted. */
function exchange(column: Node[], places: Map<Node, number>, onTies: boolean): void {
  for (let place = 0; place + 1 < column.length; place++) {
    const [one, other] = [column[place], column[place + 1]] as [Node, Node];
    const gain = crossed(one, other, places) - crossed(other, one, places);
    if (gain < 0 || (gain === 0 && !onTies)) continue;
    column.splice(place, 2, other, one);
    places.set(other, place).set(one, place + 1);
  }
}

/** How often the lines of two stops cross if the first stands above the second. */
function crossed(above: Node, below: Node, places: Map<Node, number>): number {
  let count = 0;
  for (const side of ["before", "after"] as const) {
    for (const one of above[side]) for (const other of below[side]) if ((places.get(one) ?? 0) > (places.get(other) ?? 0)) count++;
  }
  return count;
}

function crossings(columns: Node[][]): number {
  let count = 0;
  columns.forEach((column, n) => {
    const places = new Map((columns[n + 1] ?? []).map((node, place) => [node, place]));
    const ends = column.flatMap((node) => node.after.map((after) => places.get(after) ?? 0).sort((one, other) => one - other));
    for (let i = 0; i < ends.length; i++) for (let j = i + 1; j < ends.length; j++) if ((ends[i] ?? 0) > (ends[j] ?? 0)) count++;
  });
  return count;
}

/** Packs each column in its order, as near as can be to where the lines come from. */
function assignLanes(columns: Node[][]): void {
  for (const column of columns) pack(column.map((node) => ({ node, lane: wishedLane(node) })));
  for (const column of columns.toReversed()) pack(column.map((node) => ({ node, lane: onlyPartner(node, "after")?.lane ?? node.lane })));
  for (const column of columns) pack(column.map((node) => ({ node, lane: onlyPartner(node, "before")?.lane ?? node.lane })));
}

/** The stop on one side, where both lead only to each other and so should stand level. */
function onlyPartner(node: Node, side: "before" | "after"): Node | undefined {
  const [partner, ...more] = node[side];
  const back = partner?.[side === "before" ? "after" : "before"];
  return more.length === 0 && back?.length === 1 ? partner : undefined;
}

function wishedLane(node: Node): number {
  if (node.before.length === 0) return 0;
  const weight = (before: Node) => Math.max(before.weight, 0.1);
  const total = node.before.reduce((sum, before) => sum + weight(before), 0);
  return node.before.reduce((sum, before) => sum + fannedLane(before, node) * weight(before), 0) / total;
}

/** Where a stop would stand if only this one led to it: ways that part fan out around their origin. */
function fannedLane(before: Node, node: Node): number {
  const place = before.after.indexOf(node);
  return before.lane + (place - (before.after.length - 1) / 2) * 2 * node.room;
}

/** Sets lanes apart with the least shifting: neighbours that touch are centred on their wishes. */
function pack(wished: { node: Node; lane: number }[]): void {
  interface Group {
    first: number;
    size: number;
    members: { node: Node; lane: number; offset: number }[];
  }
  const groups: Group[] = [];
  for (const { node, lane } of wished) {
    groups.push({ first: lane - node.room, size: 2 * node.room, members: [{ node, lane, offset: node.room }] });
    for (;;) {
      const last = groups.at(-1);
      const before = groups.at(-2);
      if (!last || !before || before.first + before.size <= last.first + 1e-9) break;
      const members = [...before.members, ...last.members.map((each) => ({ ...each, offset: each.offset + before.size }))];
      const first = members.reduce((sum, each) => sum + each.lane - each.offset, 0) / members.length;
      groups.splice(-2, 2, { first, size: before.size + last.size, members });
    }
  }
  for (const group of groups) for (const { node, offset } of group.members) node.lane = group.first + offset;
}

/** Sets columns apart so that every change of lane fits between two stops at 45°. */
function columnPositions(columns: Node[][]): number[] {
  const beginsWithSteps = columns[0]?.some((node) => !node.id.startsWith(streamNode("")));
  const positions = [beginsWithSteps ? FIRST_STOP : MARGIN.left];
  for (const column of columns.slice(0, -1)) {
    const climbs = column.flatMap((node) => node.after.map((after) => Math.abs(after.lane - node.lane) * LANE_HEIGHT));
    const least = positions.length === 1 ? FIRST_COLUMN : LEAST_COLUMN;
    positions.push((positions.at(-1) as number) + Math.max(least, Math.max(0, ...climbs) + 2 * FLAT));
  }
  return positions;
}
