import equal from "fast-deep-equal";
import { valueAt } from "../document/addresses";
import type { StudyDocument } from "../document/types";

/** Takes away what is said of where values come from where an edit has changed these, or has taken them away. */
export function dropStaleSources(before: StudyDocument, after: StudyDocument): StudyDocument {
  const sources = after.sources;
  if (!sources || before === after) return after;
  const isStale = (at: string) => sources[at] === before.sources?.[at] && !equal(valueAt(before, at.slice(1)), valueAt(after, at.slice(1)));
  const stale = Object.keys(sources).filter(isStale);
  if (stale.length === 0) return after;
  const kept = Object.entries(sources).filter(([at]) => !stale.includes(at));
  return { ...after, sources: Object.fromEntries(kept) };
}
