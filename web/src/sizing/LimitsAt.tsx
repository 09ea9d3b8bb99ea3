import { BreaksAt } from "../fields/BreaksAt";
import { FlagAt, RefAt } from "../fields/ChoiceAt";
import { DaysAt } from "../fields/DaysAt";
import { Optional, TakeAway } from "../fields/Optional";
import { NotesAt } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { DurationAt, NameAt, NumberAt, TimeAt } from "../fields/ValueAt";
import { type At, within } from "../study/document/addresses";
import { nameOf } from "../study/document/parts";
import { useStudy } from "../study/session/store";
import { daysInWords } from "../study/values/days";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { ShiftLimitsList } from "./ShiftLimitsAt";
import type { TeamLimits } from "./sizings";

const MOST = 100_000;

interface LimitsAtProps {
  at: At;
  limits: TeamLimits;
  /** The teams that have limits already. */
  taken: string[];
  onRemove: () => void;
}

/** How far a team may change: how many, in which shifts, how often each works, who is there anyway. */
export function LimitsAt({ at, limits, taken, onRemove }: LimitsAtProps) {
  const study = useStudy((state) => state.document);
  const team = study.teams.find((each) => each.id === limits.team);
  const name = nameOf(study, "team", limits.team);
  const isPeople = (team?.kind ?? "people") === "people";
  return (
    <div role="group" aria-label={name} className="mb-3 border-b border-rule pb-3 leading-[1.9rem] last-of-type:border-0">
      <div className="flex items-start gap-1">
        <p className="min-w-0 flex-1">
          <RefAt at={within(at, "team")} label="Team" kind="team" only={(id) => id === limits.team || !taken.includes(id)} />: from{" "}
          <NumberAt at={within(at, "people", "low")} label={`${name}: at least`} low={0} high={MOST} whole fallback={0} /> to{" "}
          <NumberAt at={within(at, "people", "high")} label={`${name}: at most`} low={0} high={MOST} whole />{" "}
          {isPeople ? "people" : "of them"}
          {isPeople ? ", in" : "."}
        </p>
        <TakeAway at={at} label={`${name} may not change`} onClick={onRemove} />
      </div>
      <NotesAt at={at} keys={["people"]} />
      {!isPeople && (
        <p>
          One costs {study.currency ?? "EUR"}{" "}
          <NumberAt at={within(at, "cost")} label={`${name}: cost a week`} low={0} high={1e9} fallback={0} /> a week.
        </p>
      )}
      {(isPeople || (limits.shifts ?? []).length > 0) && (
        <>
          <ShiftLimitsList at={within(at, "shifts")} shifts={limits.shifts ?? []} name={name} />
          <NotesAt at={at} keys={["shifts"]} />
          <WeekAt at={at} name={name} />
          <KindsAt at={within(at, "kinds")} kinds={limits.kinds ?? []} name={name} />
          <FixedAt at={within(at, "fixed")} fixed={limits.fixed ?? []} roster={team?.roster ?? []} name={name} />
        </>
      )}
    </div>
  );
}

/** How a member's week may look. */
function WeekAt({ at, name }: { at: At; name: string }) {
  return (
    <>
      <p>
        Each works <NumberAt at={within(at, "days")} label={`${name}: days a week`} low={1} high={7} whole fallback={5} /> days a week, at
        most <NumberAt at={within(at, "in_a_row")} label={`${name}: days in a row`} low={1} high={7} whole fallback={7} /> in a row, with
        days off <FlagAt at={within(at, "off_together")} label={`${name}: days off`} yes="one after the other" no="whenever" />.
      </p>
      <Optional at={within(at, "hours")} offer="any number of hours a week" fresh="40 h">
        At most <DurationAt at={within(at, "hours")} label={`${name}: hours a week`} /> a week
      </Optional>
      <Optional at={within(at, "overtime")} offer="without overtime" fresh="5 h">
        and up to <DurationAt at={within(at, "overtime")} label={`${name}: overtime`} /> of overtime beyond that
      </Optional>
      <Optional at={within(at, "rest")} offer="11 h of rest between two shifts" fresh="11 h">
        <DurationAt at={within(at, "rest")} label={`${name}: rest between shifts`} /> of rest between two shifts
      </Optional>
    </>
  );
}

/** Part-time members, of whom there is a number. */
function KindsAt({ at, kinds, name }: { at: At; kinds: NonNullable<TeamLimits["kinds"]>; name: string }) {
  return (
    <div>
      {kinds.map((kind, n) => {
        const label = `${name}, part-time ${n + 1}`;
        const here = within(at, n);
        return (
          <div key={n} role="group" aria-label={label} className="mb-1 border-l-2 border-rule pl-2.5">
            <div className="flex items-start gap-1">
              <p className="min-w-0 flex-1">
                Up to <NumberAt at={within(here, "people")} label={`${label}: people`} low={0} high={MOST} whole /> called{" "}
                <NameAt at={within(here, "name")} label={`${label}: name`} />
              </p>
              <TakeAway
                at={here}
                label={`Take away part-time ${n + 1} of ${name}`}
                onClick={() => write(at, kinds.length > 1 ? kinds.toSpliced(n, 1) : undefined)}
              />
            </div>
            <Optional at={within(here, "days")} offer="as many days as the others" fresh={3}>
              <NumberAt at={within(here, "days")} label={`${label}: days a week`} low={1} high={7} whole /> days a week
            </Optional>
            <Optional at={within(here, "hours")} offer="as many hours as the others" fresh="20 h">
              at most <DurationAt at={within(here, "hours")} label={`${label}: hours a week`} /> a week
            </Optional>
            <ShiftLimitsList at={within(here, "shifts")} shifts={kind.shifts ?? []} name={label} none="in the same shifts as the others" />
          </div>
        );
      })}
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={at}
        onClick={() =>
          write(at, [...kinds, { name: kinds.length === 0 ? "Part-time" : `Part-time ${kinds.length + 1}`, people: 2, days: 3 }])
        }
      >
        {kinds.length === 0 ? "Part-time people" : "More part-time people"}
      </button>
    </div>
  );
}

interface FixedAtProps {
  at: At;
  fixed: NonNullable<TeamLimits["fixed"]>;
  roster: NonNullable<TeamLimits["fixed"]>;
  name: string;
}

/** Shifts that stay as they are, whatever is found. */
function FixedAt({ at, fixed, roster, name }: FixedAtProps) {
  return (
    <div className="mt-1.5">
      {fixed.map((row, n) => {
        const label = `${name}, there anyway ${n + 1}`;
        const here = within(at, n);
        return (
          <div key={n} role="group" aria-label={label} className="mb-1 border-l-2 border-rule pl-2.5">
            <div className="flex items-center justify-between">
              <DaysAt at={within(here, "days")} label={`${label}: days`} />
              <TakeAway
                at={here}
                label={`Take away ${label}`}
                onClick={() => write(at, fixed.length > 1 ? fixed.toSpliced(n, 1) : undefined)}
              />
            </div>
            There anyway: <NumberAt at={within(here, "people")} label={`${label}: people`} low={0} high={MOST} whole /> from{" "}
            <TimeAt at={within(here, "from")} label={`${label}: from`} /> to <TimeAt at={within(here, "to")} label={`${label}: to`} />
            <BreaksAt at={within(here, "breaks")} breaks={row.breaks ?? []} name={label} />
          </div>
        );
      })}
      {roster.length > 0 && (
        <span data-sets={at}>
          <Menu
            trigger={fixed.length === 0 ? "A shift that stays as it is" : "One more that stays as it is"}
            items={roster.map((row, n) => ({
              label: `Shift ${n + 1}: ${row.people} from ${row.from} to ${row.to}, ${daysInWords(row.days, "short")}`,
              onChoose: () => write(at, [...fixed, row]),
            }))}
          />
        </span>
      )}
    </div>
  );
}
