import { useNavigate, useSearchParams } from "react-router";
import type { Run } from "../api/queries";
import { Choice } from "../ui/Choice";
import type { Shown } from "./shown";

/** Stands for the study as it is among the choices, none of which may be empty. */
const TODAY = "today:";

/** Which run is read, and which scenario of it. */
export function RunChoice({ runs, shown: { run, part } }: { runs: Run[]; shown: Shown }) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const go = (id: string | number, scenario = "") => {
    const kept = new URLSearchParams(search);
    if (scenario) kept.set("scenario", scenario);
    else kept.delete("scenario");
    void navigate({ pathname: `/studies/${run.study}/findings/${id}`, search: kept.toString() });
  };
  return (
    <span className="flex flex-wrap justify-end gap-x-3">
      <Choice
        quiet
        label="Which run"
        value={String(run.id)}
        options={runs.map((each) => ({ value: String(each.id), label: `${each.name || `Run ${each.number}`}, version ${each.version}` }))}
        onChoose={(id) => go(id)}
      />
      {run.parts.length > 1 && (
        <Choice
          quiet
          label="Which scenario"
          value={part.scenario || TODAY}
          options={run.parts.filter((each) => each.done > 0).map((each) => ({ value: each.scenario || TODAY, label: each.name }))}
          onChoose={(scenario) => go(run.id, scenario === TODAY ? "" : scenario)}
        />
      )}
    </span>
  );
}
