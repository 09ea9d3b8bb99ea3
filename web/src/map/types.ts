import type { Passing } from "../study/document/flow";
import type { Step } from "../study/document/types";

/** A place on the paper. */
export interface Point {
  x: number;
  y: number;
}

/** One case type's line along a way. */
export interface Track {
  type: string;
  path: string;
}

export interface Tracks {
  tracks: Track[];
  label: Point;
}

/** A stop, or a place where a line passes through a column. */
export interface Node {
  id: string;
  column: number;
  lane: number;
  /** Where it stands in its column, from the top. */
  place: number;
  /** The middle of the places of its neighbours on one side, while columns are put in order. */
  middle: number;
  /** How much of a lane it takes up on either side. */
  room: number;
  before: Node[];
  after: Node[];
  weight: number;
}

/** A way from stop to stop, by the names of its ends. */
export interface Edge {
  from: string;
  to: string;
  stream?: string;
  side?: boolean;
}

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
  /** Where the way leads, in words, where it is not drawn all the way. */
  stub?: string;
}

export interface MapLayout {
  stops: Stop[];
  ways: Way[];
  /** Where the map is folded: lines that leave on the right come in again on the left of the next one. */
  folds: Fold[];
  width: number;
  height: number;
}

/** A flow in columns and lanes. */
export interface Lanes {
  flow: Passing;
  edges: Edge[];
  back: Set<Edge>;
  /** Ways so long that only their beginning is drawn. */
  cut: Set<Edge>;
  nodes: Map<string, Node>;
  columns: Node[][];
  passages: Map<Edge, Node[]>;
  x: number[];
  /** The room that names take beside the stops of each column, on a map so wide. */
  beside: (column: number, width: number) => number;
  width: number;
}

/** Where one part of a folded map ends and the next begins. */
export interface Fold {
  right: { x: number; top: number; bottom: number };
  left: { x: number; top: number; bottom: number };
}

/** Where columns and lanes lie on the paper. */
export interface Paper {
  at: (node: Node) => { x: number; y: number };
  bandOf: (column: number) => number;
  tracks: (from: Stop, to: Stop, types: string[], passed: Node[]) => Tracks;
  folds: Fold[];
  width: number;
}
