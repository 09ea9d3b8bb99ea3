import { ChoiceAt } from "../fields/ChoiceAt";
import { DeleteSection } from "../fields/DeleteButton";
import { TakeAway } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { NumberAt, ReadAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { select, useStudy } from "../study/session/store";
import { inWords, readId } from "../study/values/ids";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";

/** A team as sentences: how many they are, what they can do, what an hour costs, where they are needed. */
export function TeamSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const team = study.teams.find((each) => each.id === id);
  if (!team) return null;
  const at = `teams/${id}`;
  const skills = team.skills ?? [];
  const steps = study.steps.filter(
    (step) => step.kind === "serve" && step.needs?.some((need) => need.team === id || (need.skill && skills.includes(need.skill))),
  );
  return (
    <>
      <PartTitle at={at} kind="Team" />
      <Section title="Who is there">
        <p className="leading-8">
          {team.roster?.length ? (
            `By a roster of ${team.roster.length} rows, `
          ) : (
            <NumberAt at={within(at, "size")} label="How many they are" low={0} high={100000} whole fallback={1} />
          )}{" "}
          <ChoiceAt
            at={within(at, "kind")}
            label="Kind of team"
            fallback="people"
            options={[
              { value: "people", label: "people" },
              { value: "places", label: "places" },
              { value: "equipment", label: "pieces of equipment" },
            ]}
          />
          {team.roster?.length ? "." : ", always there."}
        </p>
      </Section>
      <Section title="What they can do">
        {skills.map((skill, n) => (
          <p key={`${skill} ${n}`} className="flex items-center">
            <ReadAt at={within(at, "skills", n)} label={`Skill ${n + 1}`} parse={readId} shown={inWords} />
            <span className="ml-auto">
              <TakeAway
                at={within(at, "skills", n)}
                label={`Without the skill ${inWords(skill)}`}
                onClick={() => write(within(at, "skills"), skills.length > 1 ? skills.toSpliced(n, 1) : undefined)}
              />
            </span>
          </p>
        ))}
        <button
          type="button"
          className={LINK_BUTTON}
          onClick={() => write(within(at, "skills"), [...skills, `skill-${skills.length + 1}`])}
        >
          A skill
        </button>
      </Section>
      <Section title="What they cost">
        <p className="leading-8">
          {study.currency ?? "EUR"} <NumberAt at={within(at, "rate")} label="Rate per hour" low={0} high={1e8} fallback={0} /> an hour each.
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
      <DeleteSection kind="team" id={id} />
    </>
  );
}
