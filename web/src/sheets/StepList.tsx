import type { Step } from "../study/document/types";
import { select } from "../study/session/store";

/** Some steps, each leading to its sheet; a sentence where there are none. */
export function StepList({ steps, none }: { steps: Step[]; none: string }) {
  if (steps.length === 0) return <p className="text-ink-2">{none}</p>;
  return (
    <ul>
      {steps.map((step) => (
        <li key={step.id}>
          <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "step", id: step.id })}>
            {step.name}
          </button>
        </li>
      ))}
    </ul>
  );
}
