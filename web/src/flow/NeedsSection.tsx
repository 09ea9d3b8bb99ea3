import { ArrowRight, X } from "lucide-react";
import type { Problem } from "../api/client";
import { addTeam } from "../study/edits";
import { edit, select } from "../study/store";
import type { Serve, StudyDocument } from "../study/types";
import { Choice } from "../ui/Choice";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { numberBetween, ValueField } from "../ui/ValueField";

interface NeedsSectionProps {
  study: StudyDocument;
  step: Serve;
  problems: Problem[];
}

const NEW_TEAM = "+new";

function change(stepId: string, what: string, act: (step: Serve, study: StudyDocument) => void): void {
  edit(what, (study) => {
    const step = study.steps.find((each) => each.id === stepId);
    if (step?.kind === "serve") act(step, study);
  });
}

/** Who a step asks for at once. */
export function NeedsSection({ study, step, problems }: NeedsSectionProps) {
  const needs = step.needs ?? [];
  const teams = [
    ...study.teams.map((team) => ({ value: team.id, label: team.name })),
    { value: NEW_TEAM, label: "A new team", separated: true },
  ];
  const choose = (place: number, team: string) =>
    change(step.id, `${step.name}: team`, (draft, document) => {
      const need = draft.needs?.[place];
      if (need) need.team = team === NEW_TEAM ? addTeam(document).id : team;
    });
  const add = () =>
    change(step.id, `${step.name}: one more need`, (draft, document) => {
      const taken = new Set(draft.needs?.map((need) => need.team));
      const team = document.teams.find((each) => !taken.has(each.id)) ?? addTeam(document);
      (draft.needs ??= []).push({ team: team.id, count: 1 });
    });
  return (
    <Section title="Who it needs">
      {needs.length === 0 && <p className="mb-1">Nobody: it runs by itself and never queues.</p>}
      <ul className="space-y-1">
        {needs.map((need, place) => (
          <li key={`${need.team} ${place}`} className="flex flex-wrap items-baseline gap-x-1.5">
            {place > 0 && "and "}
            <ValueField
              label={`How many of need ${place + 1}`}
              value={String(need.count ?? 1)}
              parse={numberBetween(1, 10000, true)}
              onCommit={(count) =>
                change(step.id, `${step.name}: ${count} needed`, (draft) => {
                  const changed = draft.needs?.[place];
                  if (changed) changed.count = Number(count);
                })
              }
            />
            of
            {need.team ? <Choice label={`Team of need ${place + 1}`} value={need.team} options={teams} onChoose={(team) => choose(place, team)} /> : <b>anyone with the skill {need.skill}</b>}
            <span className="ml-auto flex self-center">
              <IconButton
                label="No longer needed"
                icon={X}
                onClick={() => change(step.id, `${step.name}: one need less`, (draft) => void draft.needs?.splice(place, 1))}
              />
              {need.team && <IconButton label="Open the team" icon={ArrowRight} onClick={() => select({ kind: "team", id: need.team ?? "" })} />}
            </span>
          </li>
        ))}
      </ul>
      <ProblemNotes problems={problems} />
      <div className="mt-2 flex gap-4">
        <button type="button" className={LINK_BUTTON} onClick={add}>
          {needs.length === 0 ? "Needs somebody" : "Needs more"}
        </button>
        {needs.length === 0 && study.teams.length > 0 && (
          <Menu
            trigger="Choose a team"
            items={study.teams.map((team) => ({
              label: team.name,
              onChoose: () => change(step.id, `${step.name}: needs ${team.name}`, (draft) => void (draft.needs = [{ team: team.id, count: 1 }])),
            }))}
          />
        )}
      </div>
    </Section>
  );
}
