import type { Passing } from "../study/document/flow";
import type { Step } from "../study/document/types";

/** A place on the paper. */
export interface Point {
  x: number;
  y: number;
}

/** One case type's line along a way: its corners, piece by piece where the map is folded. */
export interface Track {
  type: string;
  pieces: Point[][];
}

/** How far apart stops stand on the paper. */
export interface Pitch {
  column: number;
  /** From the streams to the first steps. */
  first: number;
  lane: number;
  /** How much of a line stays level on either side of a stop. */
  flat: number;
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
  label: Point;
  /** Where the way leads, in words, where it is not drawn all the way. */
  stub?: string;
}

export interface MapLayout {
  pitch: Pitch;
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
  pitch: Pitch;
  /** The room that names take beside the exits of a column. */
  beside: (column: number) => number;
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
