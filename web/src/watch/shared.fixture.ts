import { readFileSync } from "node:fs";
import type { Schemas } from "../api/client";
import { readPiece } from "./piece";

/** What the engine sees at a moment: cases as record, number, what they do and where; lines by step; members. */
export interface Seen {
  moment: number;
  cases: number[][];
  lines: Record<string, number[]>;
  members: number[][];
  gone: number;
}

export interface Shared {
  seed: number;
  study: Schemas["StudyDocument"];
  /** How many members each team has. */
  members: number[];
  piece: string;
  seen: Seen[];
}

/** Studies with a piece of a replay each, as the engine writes it, and what the engine sees at moments of it. */
export const SHARED = JSON.parse(readFileSync("../tests/shared/replay.json", "utf-8")) as Shared[];

export function pieceOf(text: string) {
  const bytes = Uint8Array.from(Buffer.from(text, "base64"));
  return readPiece(bytes.buffer);
}
