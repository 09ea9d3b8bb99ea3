import { useField } from "../../fields/useField";
import type { At } from "../../study/document/addresses";
import type { Team } from "../../study/document/types";

type Rule = NonNullable<Team["at_break"]>;

interface Picture {
  /** Minutes of work before the absence is due, of it after that, of the absence's beginning and end. */
  work: [number, number][];
  away: [number, number];
  /** Where a colleague goes on. */
  passed?: [number, number];
}

/** What becomes of a case in hand when its member has to go, told and drawn; the absence is due at 36, the case would end at 52. */
const RULES: Record<Rule, { words: string; rest: string } & Picture> = {
  finish: { words: "finish it,", rest: "then be away as long as planned", work: [[0, 52]], away: [52, 82] },
  "finish-short": { words: "finish it,", rest: "and be back on time", work: [[0, 52]], away: [52, 66] },
  pause: {
    words: "leave it",
    rest: "and go on with it afterwards",
    work: [
      [0, 36],
      [66, 82],
    ],
    away: [36, 66],
  },
  "hand-over": { words: "pass it on", rest: "to whoever is free first", work: [[0, 36]], away: [36, 66], passed: [42, 58] },
};
const AT_END: Record<Rule, string> = {
  finish: "however late it gets: that is overtime",
  "finish-short": "however late it gets: that is overtime",
  pause: "and go on with it in the next shift",
  "hand-over": "to whoever is free first",
};

interface HandOverAtProps {
  at: At;
  label: string;
  fallback: Rule;
  /** Whether they go home: then to finish a case is one rule, not two. */
  isEnd?: boolean;
}

/** What becomes of the case in hand, as four rules with a small picture each. */
export function HandOverAt({ at, label, fallback, isEnd }: HandOverAtProps) {
  const field = useField<Rule>(at);
  const chosen = field.value ?? fallback;
  const offered = (Object.keys(RULES) as Rule[]).filter((rule) => !isEnd || rule !== "finish-short" || chosen === rule);
  return (
    <div role="group" aria-label={label} data-at={at} className="space-y-0.5">
      {offered.map((rule) => (
        <span key={rule} data-clears={rule === fallback ? at : undefined} className="block">
          <button
            type="button"
            aria-pressed={rule === chosen}
            className="flex w-full items-center gap-3 rounded-md border-2 border-transparent px-1.5 py-1 text-left text-sm hover:bg-value
              aria-pressed:border-marker aria-pressed:bg-marker-light"
            onClick={() => (rule === fallback ? field.clear() : field.set(rule))}
          >
            <RulePicture {...RULES[rule]} />
            <span>
              <b>{RULES[rule].words}</b> {isEnd ? AT_END[rule] : RULES[rule].rest}
            </span>
          </button>
        </span>
      ))}
    </div>
  );
}

/** Work as a filled bar, the absence as a hollow one, when it is due as a dotted line, and a colleague's work below. */
function RulePicture({ work, away, passed }: Picture) {
  return (
    <svg width={84} height={20} viewBox="0 0 84 20" aria-hidden className="shrink-0">
      {work.map(([from, to]) => (
        <rect key={from} x={from} y={5} width={to - from} height={8} fill="var(--ink)" />
      ))}
      <rect
        x={away[0] + 0.75}
        y={5.75}
        width={away[1] - away[0] - 1.5}
        height={6.5}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
      <path d="M36,1V17" stroke="var(--wrong)" strokeWidth={1.2} strokeDasharray="2 2" />
      {passed && <rect x={passed[0]} y={16} width={passed[1] - passed[0]} height={3} fill="var(--ink)" />}
    </svg>
  );
}
