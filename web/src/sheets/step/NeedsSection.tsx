import { ArrowRight } from "lucide-react";
import { ChoiceAt, RefAt } from "../../fields/ChoiceAt";
import { Optional, TakeAway } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { useField, write } from "../../fields/useField";
import { NumberAt, ReadAt } from "../../fields/ValueAt";
import { type At, setAt, within } from "../../study/document/addresses";
import { stepsAhead } from "../../study/document/flow";
import { needsOf } from "../../study/document/needs";
import { inWords, partAt, partsOf } from "../../study/document/parts";
import type { Need, StudyDocument } from "../../study/document/types";
import { freshId } from "../../study/edits/links";
import { makePart } from "../../study/edits/making";
import { edit, select } from "../../study/session/store";
import { readId } from "../../study/values/ids";
import { Choice } from "../../ui/Choice";
import { IconButton } from "../../ui/IconButton";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";

/** Who a step asks for at once. */
export function NeedsSection({ study, at }: { study: StudyDocument; at: At }) {
  const field = useField<Need[]>(within(at, "needs"));
  const needs = field.value ?? [];
  const add = () =>
    edit("One more need", (draft) => {
      const taken = new Set(needs.map((need) => need.team));
      const team = draft.teams.find((each) => !taken.has(each.id))?.id ?? makePart(draft, "team");
      setAt(draft, within(at, "needs"), [...needs, { team, count: 1 }]);
    });
  return (
    <Section title="Who it needs">
      {needs.length === 0 && <p className="mb-1">Nobody: it runs by itself and never queues.</p>}
      <ul className="space-y-1">
        {needs.map((need, place) => (
          <li key={`${need.team ?? need.skill} ${place}`}>
            <div className="flex items-start gap-1">
              <div className="min-w-0 flex-1">
                {place > 0 && "and "}
                <NeedAt study={study} at={within(at, "needs", place)} need={need} place={place} />
              </div>
              <IconButton
                label={need.team ? "Open the team" : "Open the skill"}
                icon={ArrowRight}
                onClick={() => select(need.team ? { kind: "team", id: need.team } : { kind: "skill", id: need.skill ?? "" })}
              />
              <TakeAway
                at={within(at, "needs", place)}
                label="No longer needed"
                onClick={() => (needs.length > 1 ? field.set(needs.toSpliced(place, 1)) : field.clear())}
              />
            </div>
          </li>
        ))}
      </ul>
      <NotesAt at={at} keys={["needs"]} />
      <button type="button" className={`${LINK_BUTTON} mt-1.5`} data-sets={within(at, "needs")} onClick={add}>
        {needs.length === 0 ? "Needs somebody" : "Needs more"}
      </button>
    </Section>
  );
}

interface NeedAtProps {
  study: StudyDocument;
  at: At;
  need: Need;
  place: number;
  /** Without what only makes sense for the people of a step: an escort. */
  plain?: boolean;
}

const NEW_TEAM = "+team";
const NEW_SKILL = "+skill";

/** So many of a team or of a skill, and what is special about them. */
export function NeedAt({ study, at, need, place, plain }: NeedAtProps) {
  const value = need.team ? `team:${need.team}` : `skill:${need.skill}`;
  const options = [
    ...study.teams.map((team) => ({ value: `team:${team.id}`, label: team.name })),
    ...partsOf(study, "skill").map((skill) => ({ value: `skill:${skill.id}`, label: `anyone with the skill ${skill.name}` })),
    { value: NEW_TEAM, label: "A new team", separated: true },
    ...(study.teams.length > 0 ? [{ value: NEW_SKILL, label: "A new skill" }] : []),
  ];
  const choose = (chosen: string) =>
    edit("Who is needed", (draft) => {
      const { team: _team, skill: _skill, prefer: _prefer, ...kept } = need;
      if (chosen === NEW_SKILL) setAt(draft, at, { ...kept, skill: makeSkill(draft, need.team) });
      else if (chosen === NEW_TEAM) setAt(draft, at, { ...kept, team: makePart(draft, "team") });
      else {
        const [kind = "team", id] = chosen.split(/:(.*)/s);
        setAt(draft, at, { ...kept, [kind]: id });
      }
    });
  const names = namesGiven(study);
  const [first = ""] = (partAt(at)?.id ?? "").split(",");
  const ahead = stepsAhead(study, first);
  const later = ahead.find((step) => step.kind === "serve") ?? ahead[0];
  const able = need.skill ? study.teams.filter((team) => team.skills?.includes(need.skill ?? "")) : [];
  return (
    <>
      <NumberAt at={within(at, "count")} label={`How many of need ${place + 1}`} low={1} high={10000} whole fallback={1} /> of{" "}
      <Choice
        at={within(at, need.team ? "team" : "skill")}
        label={`Team of need ${place + 1}`}
        value={value}
        options={options}
        onChoose={choose}
      />
      <div className="pl-3">
        {able.length > 1 && (
          <Optional at={within(at, "prefer")} offer="prefer one of their teams" fresh={[able[0]?.id]}>
            {need.prefer?.map((team, n) => (
              <span key={team}>
                {n === 0 ? "first " : ", then "}
                <ChoiceAt
                  at={within(at, "prefer", n)}
                  label={`Preferred team ${n + 1}`}
                  options={able.map((each) => ({ value: each.id, label: each.name }))}
                />
              </span>
            ))}
            {(need.prefer?.length ?? 0) < able.length && (
              <button
                type="button"
                className="ml-2 text-sm underline"
                onClick={() =>
                  write(within(at, "prefer"), [...(need.prefer ?? []), able.find((team) => !need.prefer?.includes(team.id))?.id])
                }
              >
                then …
              </button>
            )}
          </Optional>
        )}
        {!plain && (
          <>
            <Optional at={within(at, "keep_until")} offer="kept until a later step" fresh={later?.id ?? ""}>
              kept until <RefAt at={within(at, "keep_until")} label="Kept until" kind="step" />
            </Optional>
            <Optional
              at={within(at, "as")}
              offer="remembered by a name"
              fresh={freshId(
                need.team ?? need.skill ?? "one",
                names.map((id) => ({ id })),
              )}
            >
              remembered as <ReadAt at={within(at, "as")} label="Remembered as" parse={readId} shown={inWords} />
            </Optional>
            {names.length > 0 && (
              <Optional at={within(at, "same_as")} offer="the same one as before" fresh={names[0]}>
                the same as{" "}
                <ChoiceAt
                  at={within(at, "same_as")}
                  label="The same as"
                  options={names.map((name) => ({ value: name, label: inWords(name) }))}
                />
              </Optional>
            )}
          </>
        )}
      </div>
    </>
  );
}

/** Gives a team a skill that nobody has yet and returns it. */
function makeSkill(study: StudyDocument, teamId: string | null | undefined): string {
  const skill = makePart(study, "skill");
  const team = study.teams.find((each) => each.id === teamId) ?? study.teams[0];
  if (team) team.skills = [...(team.skills ?? []), skill];
  return skill;
}

function namesGiven(study: StudyDocument): string[] {
  return [...new Set(study.steps.flatMap(needsOf).flatMap((need) => need.as ?? []))];
}
