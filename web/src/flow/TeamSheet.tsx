import { deleteTeam } from "../study/edits";
import { edit, problemsOf, select, useStudy } from "../study/store";
import type { Team } from "../study/types";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { numberBetween, ValueField } from "../ui/ValueField";
import { SheetTitle } from "./SheetTitle";

function change(id: string, what: string, act: (team: Team) => void): void {
  edit(what, (study) => {
    const team = study.teams.find((each) => each.id === id);
    if (team) act(team);
  });
}

/** A team as sentences: how many they are, what an hour costs, where they are needed. */
export function TeamSheet({ id }: { id: string }) {
  const { document: study, problems } = useStudy();
  const team = study.teams.find((each) => each.id === id);
  if (!team) return null;
  const steps = study.steps.filter((step) => step.kind === "serve" && step.needs?.some((need) => need.team === id));
  return (
    <>
      <SheetTitle kind="Team" name={team.name} problems={problemsOf(problems, "teams", id)} onRename={(name) => change(id, `Rename to ${name}`, (draft) => void (draft.name = name))} />
      <Section title="Who is there">
        <p className="leading-8">
          {team.roster?.length ? `By a roster of ${team.roster.length} rows, ` : <ValueField label="How many they are" value={String(team.size ?? 1)} parse={numberBetween(0, 100000, true)} onCommit={(size) => change(id, `${team.name} ${team.size ?? 1} → ${size}`, (draft) => void (draft.size = Number(size)))} />}{" "}
          <Choice
            label="Kind of team"
            value={team.kind ?? "people"}
            options={[
              { value: "people", label: "people" },
              { value: "places", label: "places" },
              { value: "equipment", label: "pieces of equipment" },
            ]}
            onChoose={(kind) => change(id, `${team.name}: ${kind}`, (draft) => void (draft.kind = kind as Team["kind"]))}
          />
          {team.roster?.length ? "." : ", always there."}
        </p>
      </Section>
      <Section title="What they cost">
        <p className="leading-8">
          {study.currency ?? "EUR"}{" "}
          <ValueField label="Rate per hour" value={String(team.rate ?? 0)} parse={numberBetween(0, 1e8)} onCommit={(rate) => change(id, `${team.name}: rate ${rate}`, (draft) => void (draft.rate = Number(rate)))} /> an hour each.
        </p>
      </Section>
      <Section title="Where they are needed">
        {steps.length === 0 && <p className="text-ink-2">Nowhere yet. Open a step and let it need this team.</p>}
        <ul>
          {steps.map((step) => (
            <li key={step.id}>
              <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "step", id: step.id })}>
                {step.name}
              </button>
            </li>
          ))}
        </ul>
      </Section>
      <div className="border-t border-rule pt-3">
        <button
          type="button"
          className={LINK_BUTTON}
          onClick={() => {
            edit(`Delete ${team.name}`, (draft) => deleteTeam(draft, id));
            select(null);
          }}
        >
          Delete the team
        </button>
      </div>
    </>
  );
}
