/** What is seen of records of cases and of members, line by line; members have a `who` below zero. */
export interface Lines {
  at: Float64Array;
  who: Int32Array;
  number: Int32Array;
  step: Int32Array;
  came_from: Int32Array;
  with_: Int32Array;
  together: Int32Array;
  doing: Int32Array;
  cause: Int32Array;
  type: Int32Array;
  token: Int32Array;
  ends: Float64Array;
  rank: Float64Array;
  turn: Float64Array;
}

/** A stretch of a replay, in minutes since the start: what is seen as it begins, then every change. */
export interface Piece {
  begins: number;
  ends: number;
  isLast: boolean;
  /** How many cases have left before it begins, and how many have given up. */
  left: number;
  gaveUp: number;
  lines: Lines;
  /** When somebody left, and by which exit. */
  goneAt: Float64Array;
  goneStep: Int32Array;
}

interface Head {
  begins: number;
  ends: number;
  is_last: boolean;
  left: number;
  gave_up: number;
  lines: number;
  columns: [string, "f8" | "i4" | "u1", number][];
}

const WHOLE = ["number", "step", "came_from", "with_", "together", "doing", "cause", "type", "token"] as const;
const REAL = ["ends", "rank", "turn"] as const;
const ALIGNED = 8;
const KINDS = { f8: Float64Array, i4: Int32Array, u1: Uint8Array };
const padded = (length: number) => Math.ceil(length / ALIGNED) * ALIGNED;

/** Reads a piece as the engine writes it: numbers as their differences from the same record's line before. */
export function readPiece(bytes: ArrayBuffer): Piece {
  const length = Number(new DataView(bytes).getBigUint64(0, true));
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, ALIGNED, length))) as Head;
  const columns: Record<string, Float64Array | Int32Array | Uint8Array> = {};
  let place = ALIGNED + padded(length);
  for (const [name, kind, many] of head.columns) {
    const column = new KINDS[kind](bytes, place, many);
    columns[name] = column;
    place += padded(column.byteLength);
  }
  return {
    begins: head.begins,
    ends: head.ends,
    isLast: head.is_last,
    left: head.left,
    gaveUp: head.gave_up,
    lines: linesOf(columns, head.lines),
    goneAt: columns.gone_at as Float64Array,
    goneStep: columns.gone_step as Int32Array,
  };
}

function linesOf(columns: Record<string, ArrayLike<number>>, many: number): Lines {
  const who = columns.who as Int32Array;
  const before = linesBefore(who);
  const lines: Record<string, Float64Array | Int32Array> = { who, at: timesOf(columns.instants ?? [], columns.counts ?? [], many) };
  for (const name of WHOLE) {
    const written = columns[name] ?? [];
    const values = new Int32Array(many);
    for (let line = 0; line < many; line++) values[line] = (written[line] ?? 0) + (values[before[line] ?? -1] ?? 0);
    lines[name] = values;
  }
  for (const [bit, name] of REAL.entries()) {
    const written = columns[name] ?? [];
    const values = new Float64Array(many);
    let next = 0;
    for (let line = 0; line < many; line++) {
      const isNew = ((columns.which?.[line] ?? 0) >> bit) & 1;
      values[line] = (isNew ? written[next++] : values[before[line] ?? -1]) ?? 0;
    }
    lines[name] = values;
  }
  return lines as unknown as Lines;
}

/** For each line the one before of the same record or member; -1 for none. */
function linesBefore(who: Int32Array): Int32Array {
  const last = new Map<number, number>();
  return who.map((each, line) => {
    const before = last.get(each) ?? -1;
    last.set(each, line);
    return before;
  });
}

function timesOf(instants: ArrayLike<number>, counts: ArrayLike<number>, many: number): Float64Array {
  const at = new Float64Array(many);
  let line = 0;
  for (let instant = 0; instant < instants.length; instant++) {
    const end = line + (counts[instant] ?? 0);
    at.fill(instants[instant] ?? 0, line, end);
    line = end;
  }
  return at;
}
