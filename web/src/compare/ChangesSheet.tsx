import type { Schemas } from "../api/client";
import type { Run } from "../app/queries";
import { Section } from "../ui/Section";

interface ChangesSheetProps {
  against: Schemas["Against"];
  first: Run;
  other: Run;
}

/** What was changed between the two runs. */
export function ChangesSheet({ against, first, other }: ChangesSheetProps) {
  return (
    <aside aria-label="What differs" className="w-72 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-60">
      <p className="text-sm text-ink-2">
        Run {first.number} and run {other.number}
      </p>
      <h2 className="pb-2 text-xl font-bold">What differs</h2>
      <Section title={against.changes.length === 1 ? "One thing" : `${against.changes.length} things`}>
        {against.changes.length === 0 && <p className="text-ink-2">Nothing: both runs are of the same study. Change one thing, and run again.</p>}
        <ul className="space-y-2">
          {against.changes.map((change) => (
            <li key={change.where}>
              <b>{change.name}</b>, {placeOf(change.where)}: {change.before ?? "none"} <span aria-label="becomes">→</span> {change.after ?? "none"}
            </li>
          ))}
        </ul>
      </Section>
      {against.changes.length > 1 && <p className="text-sm text-ink-2">With more than one change, nobody can say which one made the difference.</p>}
    </aside>
  );
}

const WORDS: Record<string, string> = { size: "how many", rate: "rate per hour", gap: "time between arrivals", next: "ways on", work: "what it takes", time: "what it takes", needs: "who it needs", mix: "mix of types", replications: "replications", length: "length of the run", warm_up: "warm-up", seed: "seed", name: "name" };

function placeOf(where: string): string {
  const last = where.split("/").findLast((part) => part in WORDS);
  return last ? (WORDS[last] as string) : (where.split("/").at(-1) ?? where);
}
