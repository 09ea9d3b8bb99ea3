import { BreaksAt } from "../../fields/BreaksAt";
import { ChoiceAt, FlagAt } from "../../fields/ChoiceAt";
import { DaysAt } from "../../fields/DaysAt";
import { Optional, TakeAway } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { SourceMark } from "../../fields/SourceMark";
import { write } from "../../fields/useField";
import { DateAt, DurationAt, NumberAt, TimeAt } from "../../fields/ValueAt";
import { type At, within } from "../../study/document/addresses";
import type { StudyDocument, Team } from "../../study/document/types";
import { startOf } from "../../study/document/types";
import { newShift, takeAwayShift, toAlwaysThere, toRoster } from "../../study/edits/rosters";
import { editTeam } from "../../study/session/store";
import { round } from "../../study/values/numbers";
import { MOST_PEOPLE, paidHours, type RosterRow, wagesOf } from "../../study/values/rosters";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";

const KINDS = [
  { value: "people", label: "people" },
  { value: "places", label: "places" },
  { value: "equipment", label: "pieces of equipment" },
];

/** Who of a team is there when: always so many, or by shifts. */
export function RosterSection({ study, team, at }: { study: StudyDocument; team: Team; at: At }) {
  const rows = team.roster ?? [];
  const turn = (what: string, change: (team: Team) => void) => editTeam(team.id, `${team.name}: ${what}`, change);
  const kind = <ChoiceAt at={within(at, "kind")} label="Kind of team" fallback="people" options={KINDS} />;
  if (rows.length === 0)
    return (
      <Section title="Who is there">
        <p className="leading-8">
          <NumberAt at={within(at, "size")} label="How many they are" low={0} high={MOST_PEOPLE} whole fallback={1} /> {kind}, always there.
        </p>
        {team.absence !== undefined && <Absence at={at} team={team} />}
        <NotesAt at={at} keys={["size", "kind"]} />
        <button type="button" className={LINK_BUTTON} data-sets={within(at, "roster")} onClick={() => turn("by shifts", toRoster)}>
          Let them come by shifts
        </button>
      </Section>
    );
  return (
    <Section
      title="Who is there"
      aside={
        <span className="text-sm text-ink-2">
          {round(paidHours(startOf(study), rows))} h
          {team.rate ? `, ${study.currency ?? "EUR"} ${round(wagesOf(startOf(study), team))}` : ""} a week
          <SourceMark at={within(at, "roster")} />
        </span>
      }
    >
      <p className="leading-8">{kind} by shifts:</p>
      {rows.map((row, n) => (
        <ShiftAt
          key={n}
          at={within(at, "roster", n)}
          row={row}
          number={n + 1}
          day={startOf(study).slice(0, 10)}
          onRemove={() => turn(`without shift ${n + 1}`, (draft) => takeAwayShift(draft, n))}
        />
      ))}
      <NotesAt at={at} keys={["roster", "kind"]} />
      <p className="mt-1 flex gap-4">
        <button
          type="button"
          className={LINK_BUTTON}
          data-sets={within(at, "roster")}
          onClick={() => write(within(at, "roster"), [...rows, newShift()])}
        >
          One more shift
        </button>
        <span data-clears={within(at, "roster")}>
          <button type="button" className={LINK_BUTTON} onClick={() => turn("always there", toAlwaysThere)}>
            Always there
          </button>
        </span>
      </p>
      <Absence at={at} team={team} />
      <FreeDates at={within(at, "closed")} dates={team.closed ?? []} day={startOf(study).slice(0, 10)} />
    </Section>
  );
}

interface ShiftAtProps {
  at: At;
  row: RosterRow;
  number: number;
  day: string;
  onRemove: () => void;
}

function ShiftAt({ at, row, number, day, onRemove }: ShiftAtProps) {
  const name = `Shift ${number}`;
  return (
    <div className="mb-2 border-l-2 border-rule pl-2.5 leading-[1.9rem]" role="group" aria-label={name}>
      <div className="flex items-center justify-between">
        <DaysAt at={within(at, "days")} label={`${name}: days`} />
        <TakeAway at={at} label={`Take away ${name.toLowerCase()}`} onClick={onRemove} />
      </div>
      <NumberAt at={within(at, "people")} label={`${name}: people`} low={0} high={MOST_PEOPLE} whole /> from{" "}
      <TimeAt at={within(at, "from")} label={`${name}: from`} /> to <TimeAt at={within(at, "to")} label={`${name}: to`} />
      <Optional at={within(at, "overtime")} offer="without overtime" fresh="1 h">
        the last <DurationAt at={within(at, "overtime")} label={`${name}: overtime`} /> of it is overtime
      </Optional>
      <BreaksAt at={within(at, "breaks")} breaks={row.breaks ?? []} name={name} />
      <Optional at={within(at, "from_date")} offer="as long as the study" fresh={day}>
        valid from <DateAt at={within(at, "from_date")} label={`${name}: valid from`} />
      </Optional>
      <Optional at={within(at, "to_date")} offer="until its end" fresh={day}>
        valid until <DateAt at={within(at, "to_date")} label={`${name}: valid until`} />
      </Optional>
    </div>
  );
}

/** Which share of its shifts a member misses without notice, and whether it is paid for them. */
function Absence({ at, team }: { at: At; team: Team }) {
  return (
    <>
      <p className="leading-8">
        Each misses <NumberAt at={within(at, "absence")} label="Absence" low={0} high={1} fallback={0} percent /> of the shifts without
        notice
        {team.absence || team.absence_paid !== undefined ? (
          <>
            , and <FlagAt at={within(at, "absence_paid")} label="Absence paid" yes="is paid for them" no="is not paid for them" />
          </>
        ) : null}
        .
      </p>
      <NotesAt at={at} keys={["absence"]} />
    </>
  );
}

/** The dates on which a team's shifts are left out, but for those of that date alone. */
function FreeDates({ at, dates, day }: { at: At; dates: string[]; day: string }) {
  return (
    <div className="mt-2">
      {dates.map((date, n) => (
        <p key={`${date} ${n}`} className="flex items-center">
          <span>
            Off on <DateAt at={within(at, n)} label={`Off on date ${n + 1}`} />
          </span>
          <span className="ml-auto">
            <TakeAway
              at={within(at, n)}
              label={`Not off on ${date}`}
              onClick={() => write(at, dates.length > 1 ? dates.toSpliced(n, 1) : undefined)}
            />
          </span>
        </p>
      ))}
      <button type="button" className={LINK_BUTTON} data-sets={at} onClick={() => write(at, [...dates, day])}>
        A date off
      </button>
    </div>
  );
}
