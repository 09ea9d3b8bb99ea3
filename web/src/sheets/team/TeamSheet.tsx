import { ArrowRight } from "lucide-react";
import { ChoiceAt, FlagAt, RefAt } from "../../fields/ChoiceAt";
import { DeleteSection } from "../../fields/DeleteButton";
import { Folded, TakeAway } from "../../fields/Optional";
import { NotesAt, PartTitle } from "../../fields/PartTitle";
import { write } from "../../fields/useField";
import { NumberAt } from "../../fields/ValueAt";
import { useSizeTeam } from "../../sizing/useSizeTeam";
import { type At, within } from "../../study/document/addresses";
import { meets, needsOf } from "../../study/document/needs";
import { nameOf, partsOf } from "../../study/document/parts";
import type { StudyDocument, Team } from "../../study/document/types";
import { makePart } from "../../study/edits/making";
import { edit, editTeam, select, useStudy } from "../../study/session/store";
import { IconButton } from "../../ui/IconButton";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";
import { StepList } from "../StepList";
import { ClosingAt } from "./ClosingAt";
import { HandOverAt } from "./HandOverAt";
import { InterruptionsSection } from "./InterruptionsSection";
import { RosterSection } from "./RosterSection";

/** What stands below under headings of its own, so that it is not told twice. */
const BELOW = ["size", "kind", "roster", "absence", "interruptions", "skills", "closing", "place", "walks"];

/** A team as sentences: who is there when, what they do with work in hand, what they can do and what they cost. */
export function TeamSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const team = study.teams.find((each) => each.id === id);
  if (!team) return null;
  const at = `teams/${id}`;
  const hasBreaks = team.roster?.some((row) => row.breaks?.length) || team.at_break !== undefined;
  const hasShifts = Boolean(team.roster?.length) || team.at_shift_end !== undefined || team.closing !== undefined;
  return (
    <>
      <PartTitle at={at} kind="Team" below={BELOW} />
      <RosterSection study={study} team={team} at={at} />
      {hasBreaks && (
        <Section title="When a break comes in the middle of a case, they">
          <HandOverAt at={within(at, "at_break")} label="When a break comes in the middle of a case" fallback="finish" />
        </Section>
      )}
      {hasShifts && (
        <Section title="When the shift ends in the middle of a case, they">
          <HandOverAt at={within(at, "at_shift_end")} label="When the shift ends in the middle of a case" fallback="finish" isEnd />
          <p className="mt-1.5 leading-[1.9rem]">
            Then they <ClosingAt at={within(at, "closing")} team={team} />
          </p>
          <NotesAt at={at} keys={["closing"]} />
        </Section>
      )}
      <InterruptionsSection team={team} at={at} />
      <Abilities study={study} at={at} team={team} />
      <Pay at={at} team={team} currency={study.currency ?? "EUR"} />
      <Folded title="More about them" holds={["picks", "place", "walks"].map((key) => `${at}/${key}`)}>
        <p>
          Of those who are free, work goes to{" "}
          <ChoiceAt
            at={within(at, "picks")}
            label="Who is picked first"
            fallback="longest-idle"
            options={[
              { value: "longest-idle", label: "who has been free longest" },
              { value: "least-used", label: "who has worked least" },
              { value: "listed", label: "the first in the list" },
              { value: "random", label: "anyone, by chance" },
            ]}
          />
          .
        </p>
        <p>
          Their place is <RefAt at={within(at, "place")} label="Place of the team" kind="place" none="nowhere" />, and they{" "}
          <FlagAt at={within(at, "walks")} label="Walking" yes="walk to where the work is" no="are where the work is" />.
        </p>
        <NotesAt at={at} keys={["place", "walks"]} />
      </Folded>
      <NeededAt study={study} team={team} />
      <Sizing team={team} />
      <DeleteSection kind="team" id={id} />
    </>
  );
}

/** What a team can do, and how fast. */
function Abilities({ study, at, team }: { study: StudyDocument; at: At; team: Team }) {
  const skills = team.skills ?? [];
  const asking = (skill: string) => study.steps.filter((step) => needsOf(step).some((need) => need.skill === skill));
  const first = partsOf(study, "skill").find((each) => !skills.includes(each.id));
  const add = () => {
    const given = (draft: Team, skill: string) => (draft.skills ??= []).push(skill);
    if (first) editTeam(team.id, `${team.name}: ${first.name}`, (draft) => given(draft, first.id));
    else
      edit(`${team.name}: a new skill`, (draft) => {
        const skill = makePart(draft, "skill");
        given(draft.teams.find((each) => each.id === team.id) as Team, skill);
      });
  };
  return (
    <Section title="What they can do">
      {skills.map((skill, n) => (
        <p key={`${skill} ${n}`} className="flex items-center gap-2">
          <RefAt at={within(at, "skills", n)} label={`Skill ${n + 1}`} kind="skill" only={(id) => id === skill || !skills.includes(id)} />
          <span className="text-sm text-ink-2">
            {asking(skill)
              .map((step) => step.name)
              .join(", ") || "no step asks for it"}
          </span>
          <span className="ml-auto flex">
            <IconButton label="Open the skill" icon={ArrowRight} onClick={() => select({ kind: "skill", id: skill })} />
            <TakeAway
              at={within(at, "skills", n)}
              label={`Without the skill ${nameOf(study, "skill", skill)}`}
              onClick={() => write(within(at, "skills"), skills.length > 1 ? skills.toSpliced(n, 1) : undefined)}
            />
          </span>
        </p>
      ))}
      <NotesAt at={at} keys={["skills"]} />
      <button type="button" className={LINK_BUTTON} data-sets={within(at, "skills")} onClick={add}>
        {skills.length === 0 ? "A skill" : "One more skill"}
      </button>
      <p className="leading-8">
        They work at <NumberAt at={within(at, "pace")} label="Pace" low={0.001} high={100} fallback={1} percent /> of the usual pace.
      </p>
    </Section>
  );
}

/** What a team costs. */
function Pay({ at, team, currency }: { at: At; team: Team; currency: string }) {
  return (
    <Section title="What they cost">
      <p className="leading-[1.9rem]">
        {currency} <NumberAt at={within(at, "rate")} label="Rate per hour" low={0} high={1e8} fallback={0} /> an hour each, paid{" "}
        <ChoiceAt
          at={within(at, "paid")}
          label="When they are paid"
          fallback="present"
          options={[
            { value: "present", label: "while they are there" },
            { value: "used", label: "only while they work" },
          ]}
        />
        ; {currency} <NumberAt at={within(at, "use_cost")} label="Cost of each use" low={0} high={1e8} fallback={0} /> for each use
        {team.roster?.length || team.overtime !== undefined ? (
          <>
            ; after the shift <NumberAt at={within(at, "overtime")} label="Overtime pay" low={1} high={100} fallback={1} suffix="×" /> as
            much
          </>
        ) : null}
        .
      </p>
    </Section>
  );
}

/** Leads to how many of a team it takes. */
function Sizing({ team }: { team: Team }) {
  const size = useSizeTeam();
  return (
    <Section title="How many it takes">
      <button type="button" className={LINK_BUTTON} onClick={() => size(team.id)}>
        Size {team.name}
      </button>
    </Section>
  );
}

/** The steps that ask for a team, by its name or by a skill. */
function NeededAt({ study, team }: { study: StudyDocument; team: Team }) {
  const steps = study.steps.filter((step) => needsOf(step).some((need) => meets(team, need)));
  return (
    <Section title="Where they are needed">
      <StepList steps={steps} none="Nowhere yet. Open a step and let it need this team." />
    </Section>
  );
}
