import type { Passing } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import type { Edge, Node, Pitch } from "./types";

export const LEFT_MARGIN = 30;
const FIRST_STOP = 72;

const STOP_ROOM = 0.5;
const PASSAGE_ROOM = 0.26;

export const streamNode = (id: string) => `stream:${id}`;

/** The edges that lead back to a step from which they were reached. */
export function closingEdges(study: StudyDocument, edges: Edge[]): Set<Edge> {
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
  for (const edge of edges) {
    const group = groups.get(edge.from);
    if (group) group.push(edge);
    else groups.set(edge.from, [edge]);
  }
  return groups;
}

/** Gives every stop its column: one after the last stop that leads to it; exits in the last one, if wanted. */
export function columnsOf(study: StudyDocument, edges: Edge[], back: Set<Edge>, flow: Passing, exitsLast: boolean): Map<string, Node> {
  const nodes = new Map<string, Node>();
  const add = (id: string, weight: number) =>
    nodes.set(id, { id, column: 0, lane: 0, place: 0, middle: 0, room: STOP_ROOM, before: [], after: [], weight });
  for (const stream of study.streams) add(streamNode(stream.id), 1);
  for (const step of study.steps) add(step.id, flow.steps.get(step.id)?.length ?? 0);
  const forward = edges.filter((edge) => !back.has(edge));
  const waitingFor = new Map([...nodes.keys()].map((id) => [id, 0]));
  for (const edge of forward) waitingFor.set(edge.to, (waitingFor.get(edge.to) ?? 0) + 1);
  const out = grouped(forward);
  const ready = [...nodes.keys()].filter((id) => waitingFor.get(id) === 0);
  for (let turn = 0; turn < ready.length; turn++) {
    const id = ready[turn] as string;
    for (const edge of out.get(id) ?? []) {
      const target = nodes.get(edge.to) as Node;
      target.column = Math.max(target.column, (nodes.get(id) as Node).column + 1);
      const left = (waitingFor.get(edge.to) ?? 1) - 1;
      waitingFor.set(edge.to, left);
      if (left === 0) ready.push(edge.to);
    }
  }
  if (!exitsLast) return nodes;
  const last = Math.max(0, ...[...nodes.values()].map((node) => node.column));
  for (const step of study.steps) {
    const node = nodes.get(step.id);
    if (step.kind === "exit" && node && node.column > 0) node.column = last;
  }
  return nodes;
}

/** Lets long edges pass through the columns between, so that no line runs through a stop. */
export function withPassages(nodes: Map<string, Node>, edges: Edge[], undrawn: (edge: Edge) => boolean) {
  const columns: Node[][] = [];
  const place = (node: Node) => (columns[node.column] ??= []).push(node);
  nodes.forEach(place);
  const passages = new Map<Edge, Node[]>();
  const connect = (one: Node, other: Node) => {
    one.after.push(other);
    other.before.push(one);
  };
  for (const edge of edges) {
    if (undrawn(edge)) continue;
    let previous = nodes.get(edge.from) as Node;
    const target = nodes.get(edge.to) as Node;
    const passed: Node[] = [];
    for (let column = previous.column + 1; column < target.column; column++) {
      const node: Node = {
        id: `${edge.from}>${edge.to}@${column}`,
        column,
        lane: 0,
        place: 0,
        middle: 0,
        room: PASSAGE_ROOM,
        before: [],
        after: [],
        weight: 0.5,
      };
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
const IN_VAIN = 2;

/** Orders each column so that few lines cross: by the middle of the neighbours, there and back, the best kept. */
export function orderColumns(columns: Node[][]): void {
  columns.forEach(number);
  let best = columns.map((column) => [...column]);
  let fewest = crossings(columns);
  let inVain = 0;
  for (let sweep = 0; sweep < SWEEPS && fewest > 0 && inVain < IN_VAIN; sweep++) {
    const side = sweep % 2 === 0 ? "before" : "after";
    for (const column of side === "before" ? columns : columns.toReversed()) {
      if (column.length < 2) continue;
      for (const node of column) node.middle = middleOf(node, side);
      column.sort((one, other) => one.middle - other.middle);
      number(column);
    }
    for (const column of columns) exchange(column, sweep % 4 > 1);
    const found = crossings(columns);
    inVain = found < fewest ? 0 : inVain + 1;
    if (inVain > 0) continue;
    fewest = found;
    best = columns.map((column) => [...column]);
  }
  best.forEach((column, n) => {
    columns[n] = column;
    number(column);
  });
  for (const column of columns) for (const node of column) node.after.sort((one, other) => one.place - other.place);
}

/** Tells the stops of a column their places in it. */
function number(column: Node[]): void {
  column.forEach((node, place) => {
    node.place = place;
  });
}

function middleOf(node: Node, side: "before" | "after"): number {
  const near = node[side];
  return near.length === 0 ? node.place : near.reduce((sum, each) => sum + each.place, 0) / near.length;
}

/** Exchanges neighbours in a column where their lines then cross less, or on ties if wanted. */
function exchange(column: Node[], onTies: boolean): void {
  for (let place = 0; place + 1 < column.length; place++) {
    const [one, other] = [column[place], column[place + 1]] as [Node, Node];
    const gain = crossed(one, other) - crossed(other, one);
    if (gain < 0 || (gain === 0 && !onTies)) continue;
    column[place] = other;
    column[place + 1] = one;
    other.place = place;
    one.place = place + 1;
  }
}

/** How often the lines of two stops cross if the first stands above the second. */
function crossed(above: Node, below: Node): number {
  let count = crossedAfter(above, below);
  for (const one of above.before) for (const other of below.before) if (one.place > other.place) count++;
  return count;
}

function crossedAfter(above: Node, below: Node): number {
  let count = 0;
  for (const one of above.after) for (const other of below.after) if (one.place > other.place) count++;
  return count;
}

function crossings(columns: Node[][]): number {
  let count = 0;
  for (const column of columns) {
    for (let i = 0; i < column.length; i++)
      for (let j = i + 1; j < column.length; j++) count += crossedAfter(column[i] as Node, column[j] as Node);
  }
  return count;
}

/** Packs each column in its order, as near as can be to where the lines come from. */
export function assignLanes(columns: Node[][]): void {
  for (const column of columns) pack(column.map((node) => ({ node, lane: wishedLane(node) })));
  for (const column of columns.toReversed()) pack(column.map((node) => ({ node, lane: onlyPartner(node, "after")?.lane ?? node.lane })));
  for (const column of columns) pack(column.map((node) => ({ node, lane: onlyPartner(node, "before")?.lane ?? node.lane })));
}

const NEARLY_LEVEL = 0.2;

/** Lets a line that passes through columns run level as far as it nearly does: first on from where it begins, then back from its end. */
export function straighten(path: Node[]): void {
  const follow = (node: Node | undefined, other: Node | undefined) => {
    if (node && other && Math.abs(node.lane - other.lane) < NEARLY_LEVEL) node.lane = other.lane;
  };
  for (let n = 1; n < path.length - 1; n++) follow(path[n], path[n - 1]);
  for (let n = path.length - 2; n > 0; n--) follow(path[n], path[n + 1]);
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
export function columnPositions(columns: Node[][], pitch: Pitch): number[] {
  const beginsWithSteps = columns[0]?.some((node) => !node.id.startsWith(streamNode("")));
  const positions = [beginsWithSteps ? FIRST_STOP : LEFT_MARGIN];
  for (const column of columns.slice(0, -1)) {
    const climbs = column.flatMap((node) => node.after.map((after) => Math.abs(after.lane - node.lane) * pitch.lane));
    const least = positions.length === 1 ? pitch.first : pitch.column;
    positions.push((positions.at(-1) as number) + Math.max(least, Math.max(0, ...climbs) + 2 * pitch.flat));
  }
  return positions;
}
