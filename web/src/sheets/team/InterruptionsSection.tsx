import type { Schemas } from "../../api/client";
import { ChoiceAt } from "../../fields/ChoiceAt";
import { DistributionAt } from "../../fields/DistributionAt";
import { TakeAway } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { write } from "../../fields/useField";
import { NameAt } from "../../fields/ValueAt";
import { type At, within } from "../../study/document/addresses";
import type { Team } from "../../study/document/types";
import { spanInWords, spanOf, typedUnit } from "../../study/values/distributions";
import { readable, spelled } from "../../study/values/durations";
import { Choice } from "../../ui/Choice";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";
import { HandOverAt } from "./HandOverAt";

type Interruption = Schemas["Interruption"];
type Measure = "clock" | "working" | "cases";

const EVERY = { dist: "exponential", mean: "2 h" } as const;
const FRESH: Record<Measure, Interruption["after"]> = {
  clock: { clock: EVERY },
  working: { working: EVERY },
  cases: { cases: 20 },
};
const MEASURES: { value: Measure; label: string }[] = [
  { value: "clock", label: "by the clock" },
  { value: "working", label: "of time at work" },
  { value: "cases", label: "by cases served" },
];

/** How often and for how long, in one sentence: "Each of the 3 vets is called away about every 2 hours for about 12 minutes." */
export function interruptionInWords({ after, length, strikes }: Interruption, who: string, many: number): string {
  const whom =
    strikes === "team" ? `All of the ${many} ${who} at once are` : many === 1 ? "The one in the team is" : `Each of the ${many} ${who} is`;
  const time = (value: Interruption["length"]) => {
    const [low, high] = spanOf(value);
    return low === high ? spelled(readable(low)) : spanInWords([low, high], typedUnit(value));
  };
  const often =
    after.cases != null
      ? `after about ${spanInWords(spanOf(after.cases), null)} cases`
      : after.working != null
        ? `after about ${time(after.working)} at work`
        : `about every ${time(after.clock ?? EVERY)}`;
  return `${whom} called away ${often} for about ${time(length)}.`;
}

/** What calls members away without notice: how often, for how long, and what becomes of the case in hand. */
export function InterruptionsSection({ team, at }: { team: Team; at: At }) {
  const list = within(at, "interruptions");
  const interruptions = team.interruptions ?? [];
  const remove = (n: number) => write(list, interruptions.length > 1 ? interruptions.toSpliced(n, 1) : undefined);
  return (
    <Section title="What calls them away">
      {interruptions.length === 0 && <p className="text-ink-2">Nothing.</p>}
      {interruptions.map((each, n) => (
        <InterruptionAt key={n} at={within(list, n)} each={each} team={team} onRemove={() => remove(n)} />
      ))}
      <NotesAt at={at} keys={["interruptions"]} />
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={list}
        onClick={() =>
          write(list, [
            ...interruptions,
            { name: "Phone call", after: FRESH.clock, length: { dist: "exponential", mean: "5 min" }, strikes: "each" },
          ] satisfies Interruption[])
        }
      >
        {interruptions.length === 0 ? "An interruption" : "One more interruption"}
      </button>
    </Section>
  );
}

interface InterruptionAtProps {
  at: At;
  each: Interruption;
  team: Team;
  onRemove: () => void;
}

function InterruptionAt({ at, each, team, onRemove }: InterruptionAtProps) {
  const measure: Measure = each.after.cases != null ? "cases" : each.after.working != null ? "working" : "clock";
  const many = (team.roster ?? []).reduce((sum, row) => sum + row.people, 0) || (team.size ?? 1);
  const after = within(at, "after");
  return (
    <div className="mb-2 border-l-2 border-rule pl-2.5 leading-[1.9rem]" role="group" aria-label={each.name}>
      <div className="flex items-center justify-between">
        <NameAt at={within(at, "name")} label="Name of the interruption" />
        <TakeAway at={at} label={`Take away ${each.name}`} onClick={onRemove} />
      </div>
      <p>{interruptionInWords(each, team.name.toLowerCase(), many)}</p>
      <ChoiceAt
        at={within(at, "strikes")}
        label={`${each.name}: who is called away`}
        options={[
          { value: "each", label: `each of the ${many} ${team.name.toLowerCase()}, on their own` },
          { value: "team", label: "the whole team at once" },
        ]}
      />{" "}
      is called away every so often,{" "}
      <Choice
        quiet
        label={`${each.name}: counted`}
        value={measure}
        options={MEASURES}
        onChoose={(value) => write(after, FRESH[value as Measure], `${each.name}: ${value}`)}
      />
      :
      {measure === "cases" ? (
        <DistributionAt at={within(after, "cases")} label={`${each.name}: cases between`} measure="number" verb="every" />
      ) : (
        <DistributionAt at={within(after, measure)} label={`${each.name}: time between`} verb="every" />
      )}
      <DistributionAt at={within(at, "length")} label={`${each.name}: length`} verb="for" />
      <p className="text-sm text-ink-2">The case in hand: they</p>
      <HandOverAt at={within(at, "work")} label={`${each.name}: the case in hand`} fallback="pause" />
    </div>
  );
}
