import type { Schemas } from "../api/client";
import type { Run } from "../api/queries";
import { ChangeList } from "../ui/ChangeList";
import { Section } from "../ui/Section";

interface ChangesSheetProps {
  against: Schemas["RunComparison"];
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
        {against.changes.length === 0 && (
          <p className="text-ink-2">Nothing: both runs are of the same study. Change one thing, and run again.</p>
        )}
        {against.changes.length > 0 && <ChangeList changes={against.changes} />}
      </Section>
      {against.changes.length > 1 && (
        <p className="text-sm text-ink-2">With more than one change, nobody can say which one made the difference.</p>
      )}
    </aside>
  );
}
