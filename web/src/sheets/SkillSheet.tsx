import { DeleteSection } from "../fields/DeleteButton";
import { TakeAway } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { needsOf } from "../study/document/needs";
import { nameOf } from "../study/document/parts";
import { nameSkill } from "../study/edits/making";
import { edit, editTeam, select, useStudy } from "../study/session/store";
import { Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { StepList } from "./StepList";

/** A skill: who has it, and where it is asked for. */
export function SkillSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const name = nameOf(study, "skill", id);
  const able = study.teams.filter((team) => team.skills?.includes(id));
  const others = study.teams.filter((team) => !able.includes(team));
  const steps = study.steps.filter((step) => needsOf(step).some((need) => need.skill === id));
  const give = (team: string) => editTeam(team, `${nameOf(study, "team", team)}: ${name}`, (draft) => (draft.skills ??= []).push(id));
  const take = (team: string) =>
    editTeam(team, `${nameOf(study, "team", team)}: without ${name}`, (draft) => {
      draft.skills = draft.skills?.filter((skill) => skill !== id);
      if (draft.skills?.length === 0) delete draft.skills;
    });
  return (
    <>
      <PartTitle
        at={`skills/${id}`}
        kind="Skill"
        onName={(next) => edit(`Rename ${name} to ${next}`, (draft) => nameSkill(draft, id, next))}
      />
      <Section title="Who has it">
        {able.length === 0 && <p className="text-ink-2">Nobody yet.</p>}
        {able.map((team) => (
          <p key={team.id} className="flex items-center">
            <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "team", id: team.id })}>
              {team.name}
            </button>
            <span className="ml-auto">
              <TakeAway at={`teams/${team.id}/skills`} label={`${team.name} without the skill`} onClick={() => take(team.id)} />
            </span>
          </p>
        ))}
        {others.length > 0 && (
          <Menu trigger="Give it to …" items={others.map((team) => ({ label: team.name, onChoose: () => give(team.id) }))} />
        )}
      </Section>
      <Section title="Where it is asked for">
        <StepList steps={steps} none="Nowhere yet. Open a step and let it need anyone with this skill." />
      </Section>
      <DeleteSection kind="skill" id={id} />
    </>
  );
}
