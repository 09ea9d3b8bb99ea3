import { MoreHorizontal } from "lucide-react";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { BASELINE_NAME, type Scenario } from "../study/scenarios/scenarios";
import { choose, useStudy } from "../study/session/store";
import { ChangeList } from "../ui/ChangeList";
import { LINK_BUTTON, MAIN_BUTTON, Menu, QUIET_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { readName, ValueField } from "../ui/ValueField";
import { addScenario, deleteScenario, describeScenario, dropMisfits, makeBaseline, moveScenario } from "./commands";
import { Levers } from "./Levers";
import { useScenarioWords } from "./useScenarioWords";

/** What is tried: each scenario with what it changes, in words. */
export function ScenariosScreen() {
  const whole = useStudy((state) => state.whole);
  const scenarios = whole.scenarios ?? [];
  const words = useScenarioWords(whole);
  const navigate = useNavigate();
  const edit = (id: string | null) => {
    choose(id);
    void navigate("../flow", { relative: "path" });
  };
  return (
    <main className="h-full overflow-y-auto px-7 py-6">
      <header className="max-w-4xl">
        <h1 className="text-xl font-bold">{scenarios.length === 0 ? "Nothing is tried yet" : inWords(scenarios.length)}</h1>
        <p className="mt-1 mb-4 max-w-2xl text-ink-2">
          A scenario is the study with some things changed. While one is chosen above, every edit on every screen is its own; the study as
          it is today stays as it is. All are run on the same luck, and compared.
        </p>
        <button type="button" className={MAIN_BUTTON} onClick={() => edit(addScenario(null))}>
          Try something
        </button>
      </header>
      <ol className="mt-6 max-w-4xl">
        {scenarios.map((scenario, n) => (
          <ScenarioEntry
            key={scenario.id}
            scenario={scenario}
            isFirst={n === 0}
            isLast={n === scenarios.length - 1}
            words={words.find((each) => each.id === scenario.id)}
            onEdit={() => edit(scenario.id)}
          />
        ))}
      </ol>
      <Levers />
    </main>
  );
}

const inWords = (many: number) => (many === 1 ? "One scenario beside today" : `${many} scenarios beside today`);

interface ScenarioEntryProps {
  scenario: Scenario;
  isFirst: boolean;
  isLast: boolean;
  words: Schemas["ScenarioWords"] | undefined;
  onEdit: () => void;
}

function ScenarioEntry({ scenario, isFirst, isLast, words, onEdit }: ScenarioEntryProps) {
  const { id, name, about = "" } = scenario;
  const seen = useStudy((state) => state.scenario === id);
  const misfits = words?.problems.filter((problem) => problem.where.startsWith("scenarios/")) ?? [];
  return (
    <li
      aria-label={name}
      className={`border-t border-rule py-3 pl-3 ${seen ? "border-l-4 border-l-marker" : "border-l-4 border-l-transparent"}`}
    >
      <div className="flex items-baseline gap-3">
        <h2 className="min-w-0 flex-1 text-base font-bold">
          <span className="sr-only">{name}</span>
          <span
            className="-ml-1.5 [&_input]:border-transparent [&_input]:bg-transparent [&_input]:font-bold
              [&_input:focus]:bg-marker-light [&_input:hover]:bg-value"
          >
            <ValueField label={`Name of ${name}`} value={name} parse={readName} onCommit={(next) => describeScenario(id, { name: next })} />
          </span>
        </h2>
        <button type="button" className={LINK_BUTTON} onClick={onEdit}>
          Edit it<span className="sr-only">: {name}</span>
        </button>
        <Menu
          trigger={<MoreHorizontal size={17} aria-hidden />}
          label={`More on ${name}`}
          className="self-center rounded p-1 hover:bg-value"
          items={[
            { label: "Make another from it", onChoose: () => void addScenario(id) },
            ...(isFirst ? [] : [{ label: "Move up", onChoose: () => moveScenario(id, -1) }]),
            ...(isLast ? [] : [{ label: "Move down", onChoose: () => moveScenario(id, 1) }]),
            { label: `Make it “${BASELINE_NAME}”`, onChoose: () => makeBaseline(id) },
            { label: "Delete", onChoose: () => deleteScenario(id), wrong: true },
          ]}
        />
      </div>
      <textarea
        key={about}
        aria-label={`What ${name} is for`}
        placeholder="What it is for"
        rows={about ? Math.min(4, about.split("\n").length) : 1}
        maxLength={4000}
        defaultValue={about}
        onBlur={(event) => event.target.value !== about && describeScenario(id, { about: event.target.value })}
        className="-ml-1.5 w-full max-w-2xl resize-none bg-transparent px-1.5 text-sm text-ink-2 placeholder:text-ink-3 hover:bg-value
          focus:bg-marker-light"
      />
      {words && words.problems.length > 0 && <ProblemNotes problems={words.problems} />}
      {misfits.length > 0 && (
        <button type="button" className={`${QUIET_BUTTON} mt-1 text-sm`} onClick={() => dropMisfits(id)}>
          Drop what no longer fits
        </button>
      )}
      {words && words.changes.length > 0 && <ChangeList changes={words.changes} />}
      {words && words.changes.length + words.problems.length === 0 && <p className="text-sm text-ink-2">It changes nothing yet.</p>}
    </li>
  );
}
