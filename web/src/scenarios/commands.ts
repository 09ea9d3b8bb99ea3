import { toast } from "sonner";
import { freshId, reorder } from "../study/edits/links";
import { applied, BASELINE_NAME, type Scenario, scenarioOf, withScenarioAs } from "../study/scenarios/scenarios";
import { editWhole, undo, useStudy } from "../study/session/store";

/** Makes a scenario, from another or from the study as it is, and shows it. Returns its id. */
export function addScenario(from: string | null): string {
  const { whole } = useStudy.getState();
  const source = scenarioOf(whole, from);
  const name = freshName(source ? `${source.name}, changed` : "What if", whole.scenarios ?? []);
  const id = freshId(name, whole.scenarios ?? []);
  editWhole(
    `Add the scenario ${name}`,
    (study) => {
      study.scenarios = [...(study.scenarios ?? []), { levers: {}, changes: [], ...structuredClone(source ?? {}), id, name }];
    },
    id,
  );
  toast(`Every edit is now of “${name}” alone. “${BASELINE_NAME}” stays as it is.`);
  return id;
}

/** A name that no scenario has yet. */
export function freshName(name: string, taken: { name: string }[]): string {
  if (!taken.some((each) => each.name === name)) return name;
  for (let number = 2; ; number++) if (!taken.some((each) => each.name === `${name} ${number}`)) return `${name} ${number}`;
}

/** Changes what a scenario is called, or what is said of it. */
export function describeScenario(id: string, words: Partial<Pick<Scenario, "name" | "about">>): void {
  const { whole } = useStudy.getState();
  editWhole(`Scenario ${words.name ?? scenarioOf(whole, id)?.name}: ${words.name ? "name" : "description"}`, (study) => {
    const scenario = study.scenarios?.find((each) => each.id === id);
    if (scenario) Object.assign(scenario, words);
  });
}

export function deleteScenario(id: string): void {
  const { whole, scenario } = useStudy.getState();
  const name = scenarioOf(whole, id)?.name ?? id;
  editWhole(
    `Delete the scenario ${name}`,
    (study) => {
      study.scenarios = study.scenarios?.filter((each) => each.id !== id);
    },
    scenario === id ? null : scenario,
  );
  toast(`“${name}” is deleted.`, { action: { label: "Undo", onClick: undo } });
}

/** Makes a scenario the study as it is; what it was until then is kept as a scenario. */
export function makeBaseline(id: string): void {
  const { whole } = useStudy.getState();
  const scenario = scenarioOf(whole, id);
  if (!scenario) return;
  const others = whole.scenarios?.filter((each) => each.id !== id) ?? [];
  const name = freshName("As it was before", others);
  const before: Scenario = { id: freshId(name, others), name, levers: {}, changes: [] };
  const next = { ...applied(whole, scenario).document, scenarios: [...others, before] };
  const kept = withScenarioAs(next, before.id, { ...whole, scenarios: next.scenarios });
  editWhole(`“${scenario.name}” is as it is today`, (study) => void Object.assign(study, kept), null);
  toast(`The study is now as “${scenario.name}” had it. What it was is kept as “${name}”.`, { action: { label: "Undo", onClick: undo } });
}

/** Moves a scenario in the list. */
export function moveScenario(id: string, by: -1 | 1): void {
  editWhole("Order of the scenarios", (study) => reorder(study.scenarios ?? [], id, by));
}

/** Gives up what of a scenario does not fit the study any more. */
export function dropMisfits(id: string): void {
  const { whole } = useStudy.getState();
  const scenario = scenarioOf(whole, id);
  if (!scenario) return;
  const { changes, levers } = applied(whole, scenario);
  editWhole(`${scenario.name}: drop what no longer fits`, (study) => {
    const own = study.scenarios?.find((each) => each.id === id);
    if (!own) return;
    own.changes = own.changes?.filter((_, place) => !changes.includes(place));
    for (const lever of levers) delete own.levers?.[lever];
  });
}
