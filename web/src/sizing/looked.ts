import type { Answer } from "../api/queries";

/** What of an answer is looked at: one of the proposals, or a point of the frontier. */
export type Looked = { of: "proposals" | "frontier"; place: number };

export const keyOf = ({ of, place }: Looked) => `${of} ${place}`;

/** A staffing: what teams and levers are changed to, and who is there. */
export type Changed = Pick<Answer["frontier"][number], "teams" | "levers" | "there">;

export interface Making {
  /** The ids of the scenarios that were made, by what they were made of. */
  made: Record<string, string>;
  make: (looked: Looked) => void;
}
