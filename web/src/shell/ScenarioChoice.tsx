import { ChevronDown } from "lucide-react";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { addScenario } from "../scenarios/commands";
import type { StudyDocument } from "../study/document/types";
import { applied, BASELINE_NAME, scenarioOf } from "../study/scenarios/scenarios";
import { choose, useStudy } from "../study/session/store";
import { Menu } from "../ui/Menu";

/** Which scenario is seen and edited, and the way to the others. */
export function ScenarioChoice() {
  const navigate = useNavigate();
  const scenario = useStudy((state) => state.scenario);
  const whole = useStudy((state) => state.whole);
  const misfits = useMemo(() => misfitsIn(whole, scenario), [whole, scenario]);
  const { scenarios } = whole;
  const name = scenarios?.find((each) => each.id === scenario)?.name ?? BASELINE_NAME;
  return (
    <>
      <Menu
        label={`Scenario: ${name}`}
        trigger={
          <>
            <span className="max-w-40 truncate">{name}</span>
            <ChevronDown size={14} aria-hidden className="shrink-0" />
          </>
        }
        className={`flex items-center gap-1 whitespace-nowrap rounded-md border px-2.5 py-1 text-sm font-semibold
        ${scenario === null ? "border-[#5b6675]" : "border-marker bg-marker text-[#17202b]"}`}
        items={[
          { label: BASELINE_NAME, hint: scenario === null ? "now" : undefined, onChoose: () => choose(null) },
          ...(scenarios ?? []).map((each) => ({
            label: each.name,
            hint: each.id === scenario ? "now" : undefined,
            onChoose: () => choose(each.id),
          })),
          { label: "New scenario", separated: true, onChoose: () => void addScenario(scenario) },
          { label: "All scenarios", onChoose: () => void navigate("scenarios") },
        ]}
      />
      {misfits > 0 && (
        <button
          type="button"
          className="truncate text-sm font-semibold text-marker hover:underline"
          onClick={() => void navigate("scenarios")}
        >
          {misfits === 1 ? "One change does" : `${misfits} changes do`} not fit any more
        </button>
      )}
    </>
  );
}

/** How many changes of a scenario do not fit the study any more. */
function misfitsIn(whole: StudyDocument, scenario: string | null): number {
  const seen = scenarioOf(whole, scenario);
  if (!seen) return 0;
  const { changes, levers } = applied(whole, seen);
  return changes.length + levers.length;
}
