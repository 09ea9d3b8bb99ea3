import { isOver, type Run, type RunPart } from "../api/queries";

/** So often figures are read anew while the replications of a run become ten times as many. */
const LOOKS = 10;

/** How many replications were done when a run that goes on was looked at last: often at first, and ever more seldom. */
export const lookAt = (done: number) => (done > 0 ? Math.floor(10 ** (Math.floor(LOOKS * Math.log10(done)) / LOOKS)) : 0);

/** A scenario of a run as it is looked at: while it goes on, not at each replication. */
export function lookedAt(run: Run, part: RunPart): RunPart {
  return isOver(run) || part.done >= part.replications ? part : { ...part, done: lookAt(part.done) };
}
