import { isOver, type Run, type RunPart } from "../api/queries";

/** So often the figures are read anew while a run goes on. */
export const LOOKS = 20;

/** A scenario of a run as it is looked at: while it goes on, not at each replication but at so many moments. */
export function lookedAt(run: Run, part: RunPart): RunPart {
  if (isOver(run) || part.done >= part.replications) return part;
  const every = Math.ceil(part.replications / LOOKS);
  return { ...part, done: Math.max(1, part.done - (part.done % every)) };
}
