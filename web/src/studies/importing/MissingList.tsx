import type { Schemas } from "../../api/client";
import { parseDuration } from "../../study/values/durations";
import { numberBetween, ValueField } from "../../ui/ValueField";
import type { Answers } from "./useImport";

type Missing = Schemas["Missing"];

interface MissingListProps {
  missing: Missing[];
  answers: Answers;
  onAnswer: (key: string, value: unknown) => void;
}

/** What a file does not say, in one list: each with what is taken as long as nothing else is given. */
export function MissingList({ missing, answers, onAnswer }: MissingListProps) {
  if (missing.length === 0) return null;
  return (
    <section aria-label="What the file does not say" className="mb-5">
      <h3 className="font-bold">
        What the file does not say <span className="font-normal text-ink-2">({missing.length})</span>
      </h3>
      <p className="mb-1 text-sm text-ink-2">What stands here is assumed. Give it now, or later in the study.</p>
      <table className="w-full text-sm">
        <tbody>
          {missing.map((each) => (
            <tr key={each.key} className="border-b border-rule align-baseline">
              <td className="w-56 py-1 pr-3" title={each.element}>
                {each.name}
              </td>
              <td className="py-1 pr-3 text-ink-2">{each.asks}</td>
              <td className="w-52 py-1">
                <Answer missing={each} value={answers[each.key] ?? each.assumed} onAnswer={(value) => onAnswer(each.key, value)} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Answer({ missing, value, onAnswer }: { missing: Missing; value: unknown; onAnswer: (value: unknown) => void }) {
  const label = `${missing.name}: ${missing.asks}`;
  if (missing.kind === "share") {
    const percent = String(Math.round(Number(value) * 1e4) / 100);
    const take = (typed: string) => onAnswer(Number(typed) / 100);
    return <ValueField label={label} value={percent} parse={numberBetween(0, 100)} onCommit={take} suffix="%" />;
  }
  if (missing.kind === "count") {
    const take = (typed: string) => onAnswer(Number(typed));
    return <ValueField label={label} value={String(value)} parse={numberBetween(1, 1000, true)} onCommit={take} />;
  }
  const mean = meanOf(value);
  if (mean === null) return <ValueField label={label} value={String(value)} parse={parseDuration} onCommit={onAnswer} />;
  const take = (typed: string) => onAnswer({ dist: "exponential", mean: typed });
  return <ValueField label={label} value={mean} parse={parseDuration} onCommit={take} suffix="on average, at random" />;
}

/** The mean of a time that is assumed to be exponential; null of one that is always the same. */
function meanOf(value: unknown): string | null {
  return typeof value === "object" && value !== null && "mean" in value ? String(value.mean) : null;
}
