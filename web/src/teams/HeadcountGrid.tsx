import type { StudyDocument } from "../study/document/types";
import { headcountOf, SLOTS, setHeadcount } from "../study/edits/headcount";
import { attempt, useToday } from "../study/session/store";
import { DAYS, timeOfDay } from "../study/values/days";
import { MOST_PEOPLE } from "../study/values/rosters";
import { Grid, type GridColumn } from "../ui/Grid";
import { type Put, readNumber } from "../ui/gridText";

const HALF_HOUR = 30;
const FIRST_SHOWN = 14;

const COLUMNS: GridColumn[] = Array.from({ length: SLOTS }, (_, slot) => ({
  id: String(slot),
  label: slot % 2 === 0 ? timeOfDay(slot * HALF_HOUR) : "",
  name: timeOfDay(slot * HALF_HOUR),
  width: 44,
  numbers: true,
}));
const written = (people: number) => String(Number(people.toFixed(2)));
const ROWS = DAYS.map(({ id, short, name }) => ({ id, label: short, name }));

/** How many of a team there are in each half hour of the week; what is typed or pasted becomes the fewest shifts that give it. */
export function HeadcountGrid({ study, team: id }: { study: StudyDocument; team: string }) {
  const team = study.teams.find((each) => each.id === id);
  const today = useToday()?.teams.find((each) => each.id === id);
  if (!team) return null;
  const people = headcountOf(team);
  const before = today && headcountOf(today);
  const most = Math.max(1, ...people);
  const dated = (team.roster ?? []).filter((row) => row.from_date || row.to_date).length;
  return (
    <>
      <p className="pb-2 text-ink-2">
        {team.name} by the half hour, those on a break among them. What you type or paste becomes the fewest shifts that give it; breaks
        stay with shifts that keep their hours.
        {dated > 0 && ` Not counted, and kept: ${dated === 1 ? "a shift that is" : `${dated} shifts that are`} valid between dates.`}
        {!team.roster?.length && ` Until then they are always there.`}
      </p>
      <div className="min-h-56 flex-1 pb-2">
        <Grid
          label={`${team.name} by the half hour`}
          corner=""
          labelWidth={44}
          firstColumn={FIRST_SHOWN}
          rows={ROWS}
          columns={COLUMNS}
          text={(row, column) => written(people[row * SLOTS + column] ?? 0)}
          today={(row, column) => {
            const [now, then] = [people, before].map((each) => written(each?.[row * SLOTS + column] ?? 0));
            return before && now !== then ? (then ?? null) : null;
          }}
          shade={(row, column) => (people[row * SLOTS + column] ?? 0) / most}
          onPut={(puts) =>
            attempt(`${team.name}: people by the half hour`, (draft) => {
              const found = draft.teams.find((each) => each.id === id);
              const next = withPuts(people, puts);
              if (typeof next === "string" || !found) return typeof next === "string" ? next : null;
              setHeadcount(found, next);
              return null;
            })
          }
        />
      </div>
    </>
  );
}

/** The people with what was typed; says what is no number of people. */
function withPuts(people: number[], puts: Put[]): number[] | string {
  const next = people.map(Math.round);
  for (const { row, column, text } of puts) {
    const read = text.trim() === "" ? { value: 0 } : readNumber(text);
    const place = `${DAYS[row]?.name} ${timeOfDay(column * HALF_HOUR)}`;
    if ("problem" in read) return `${place}: ${read.problem}`;
    if (!Number.isInteger(read.value) || read.value < 0 || read.value > MOST_PEOPLE) return `${place}: give a whole number of people.`;
    next[row * SLOTS + column] = read.value;
  }
  return next;
}
