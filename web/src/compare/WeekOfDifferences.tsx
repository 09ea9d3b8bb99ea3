import type { Schemas } from "../api/client";
import { DAYS } from "../study/values/days";
import { round } from "../study/values/figures";

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const EVERY = 6;

/** The hours of the week in which more or fewer cases are inside than in the baseline, as far as that is clear. */
export function WeekOfDifferences({ week }: { week: Schemas["HourDifference"][] }) {
  const byHour = new Map(week.map((each) => [each.hour, each]));
  const most = Math.max(...week.map(({ difference }) => Math.abs(difference.mean ?? 0)), 1e-12);
  const days = DAYS.map((day, n) => ({ ...day, n })).filter(({ n }) => HOURS.some((hour) => byHour.has(24 * n + hour)));
  return (
    <>
      <table
        aria-label="Cases inside by the hour of the week, against the baseline"
        className="w-full table-fixed border-separate border-spacing-px"
      >
        <thead>
          <tr className="text-left text-xs text-ink-2">
            <th className="w-9">
              <span className="sr-only">Day</span>
            </th>
            {HOURS.filter((hour) => hour % EVERY === 0).map((hour) => (
              <th key={hour} scope="colgroup" colSpan={EVERY} className="font-normal">
                {hour}:00
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {days.map((day) => (
            <tr key={day.id}>
              <th scope="row" className="text-left text-xs font-normal text-ink-2">
                {day.short}
              </th>
              {HOURS.map((hour) => (
                <HourCell key={hour} found={byHour.get(24 * day.n + hour)} when={`${day.name}, ${hour}:00`} most={most} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-sm text-ink-2">
        Cases inside, against the baseline: <Key colour="var(--better)" words="fewer" />, <Key colour="var(--wrong)" words="more" />, the
        stronger the colour the more so, up to {round(most)}; without colour where there is no clear difference.
      </p>
    </>
  );
}

function Key({ colour, words }: { colour: string; words: string }) {
  return (
    <span className="whitespace-nowrap">
      <span aria-hidden className="mr-1 inline-block size-2.5" style={{ background: colour }} />
      {words}
    </span>
  );
}

const CLEAR: Schemas["HourDifference"]["verdict"][] = ["better", "worse", "higher", "lower"];
const PALEST = 25;

function HourCell({ found, when, most }: { found: Schemas["HourDifference"] | undefined; when: string; most: number }) {
  const mean = found?.difference.mean ?? null;
  if (!found || mean === null) return <td />;
  const isClear = CLEAR.includes(found.verdict);
  const colour = mean < 0 ? "var(--better)" : "var(--wrong)";
  const strength = PALEST + ((100 - PALEST) * Math.abs(mean)) / most;
  const words = isClear ? `${round(Math.abs(mean))} ${mean < 0 ? "fewer" : "more"} inside` : found.verdict;
  return (
    <td
      title={`${when}: ${words}`}
      className="h-5 bg-value p-0"
      style={isClear ? { background: `color-mix(in srgb, ${colour} ${strength}%, var(--value))` } : undefined}
    >
      <span className="sr-only">{words}</span>
    </td>
  );
}
