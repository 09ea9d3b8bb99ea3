import type { Schemas } from "../api/client";
import { DAYS } from "../study/values/days";
import { percent, round } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { useWidth } from "../ui/useWidth";

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const NAMES = 40;
const HEAD = 18;
const ROW = 24;
/** The palest ground that is told from none, and the depth from which on words on it are light, in % of ink. */
const PALEST = 6;
const DEEP = 66;
/** Numbers stand in the highest hours, so many, and only from so large a share of the highest on. */
const MOST_TOLD = 12;
const TOLD = 0.75;
const ROOM_FOR_NUMBERS = 25;

interface HourGridProps {
  week: Schemas["RunWeek"];
  rowHeight?: number;
  /** An hour of the week that is pointed out, counted from Monday's midnight. */
  hour?: number | null;
  onHour?: (hour: number) => void;
}

/** A quantity in the hours of a week, a row for each day: the darker, the higher. */
export function HourGrid({ rowHeight = ROW, ...props }: HourGridProps) {
  const [holder, width] = useWidth<HTMLDivElement>(420);
  return (
    <div ref={holder} style={{ minHeight: HEAD + 5 * rowHeight }}>
      <Hours {...props} width={width} rowHeight={rowHeight} />
    </div>
  );
}

function Hours({ week, width, rowHeight, hour: chosen, onHour }: HourGridProps & { width: number; rowHeight: number }) {
  const meanAt = (day: number, hour: number) => week.mean[24 * day + hour] ?? null;
  const isThere = (day: number, hour: number) => (meanAt(day, hour) ?? 0) !== 0;
  const days = DAYS.map((day, n) => ({ ...day, n })).filter(({ n }) => HOURS.some((hour) => isThere(n, hour)));
  const used = HOURS.filter((hour) => days.some(({ n }) => isThere(n, hour)));
  const [first, last] = [used[0] ?? 0, (used.at(-1) ?? 23) + 1];
  const hours = HOURS.slice(first, last);
  const known = week.mean.filter((mean): mean is number => mean !== null);
  const most = Math.max(...known, 1e-12);
  const told = Math.max(TOLD * most, known.toSorted((one, other) => other - one)[MOST_TOLD - 1] ?? 0, 1e-12);
  const { write, unit } = writer(week.title.unit, most);
  const cell = Math.min(64, (width - NAMES) / Math.max(1, hours.length));
  const every = cell < 22 ? 2 : 1;
  if (days.length === 0) return <p className="text-ink-2">Nothing of it in any hour.</p>;
  return (
    <svg width={width} height={HEAD + days.length * rowHeight + 4} role="img" aria-label={label(week, days, hours, write, unit)}>
      {hours.map((hour, n) =>
        n % every === 0 ? (
          <text key={hour} x={NAMES + n * cell} y={12} fontSize={12} fill="var(--ink-2)">
            {hour}
          </text>
        ) : null,
      )}
      {days.map((day, row) => (
        <g key={day.id} transform={`translate(0 ${HEAD + row * rowHeight})`}>
          <text y={rowHeight / 2 + 4} fontSize={13} fill="var(--ink-2)">
            {day.short}
          </text>
          {hours.map((hour, n) => {
            const mean = meanAt(day.n, hour);
            if (mean === null) return null;
            const depth = PALEST + ((100 - PALEST) * mean) / most;
            const half = week.half_width[24 * day.n + hour];
            return (
              <g
                key={hour}
                data-figure={`${week.quantity}/hour:${24 * day.n + hour}`}
                className={onHour && "cursor-pointer"}
                onClick={() => onHour?.(24 * day.n + hour)}
              >
                <rect
                  x={NAMES + n * cell}
                  width={cell - 1}
                  height={rowHeight - 1}
                  stroke={chosen === 24 * day.n + hour ? "var(--marker)" : undefined}
                  strokeWidth={3}
                  style={{ fill: `color-mix(in srgb, var(--ink) ${depth}%, var(--paper))` }}
                >
                  <title>
                    {`${day.name} ${hour}:00 to ${hour + 1}:00: ${write(mean)} ${unit}${half == null ? "" : ` ± ${write(half)}`}`}
                  </title>
                </rect>
                {mean >= told && cell >= ROOM_FOR_NUMBERS && (
                  <text
                    x={NAMES + (n + 0.5) * cell - 0.5}
                    y={rowHeight / 2 + 4}
                    fontSize={12}
                    fontWeight={700}
                    textAnchor="middle"
                    fill={depth >= DEEP ? "var(--marker-light)" : "var(--ink)"}
                    pointerEvents="none"
                  >
                    {write(mean).replace(" %", "")}
                  </text>
                )}
              </g>
            );
          })}
        </g>
      ))}
    </svg>
  );
}

/** How the numbers of a week are written, and in which unit. */
function writer(unit: Schemas["Title"]["unit"], most: number) {
  if (unit === "share") return { write: percent, unit: "" };
  if (unit !== "minutes") return { write: round, unit: { members: "members", count: "cases", cases: "cases" }[unit as string] ?? "" };
  const span = spanUnit(most);
  const digits = most / span.minutes >= 10 ? 0 : 1;
  return { write: (value: number) => (value / span.minutes).toFixed(digits), unit: span.unit };
}

function label(
  week: Schemas["RunWeek"],
  days: { name: string; n: number }[],
  hours: number[],
  write: (value: number) => string,
  unit: string,
): string {
  const all = days.flatMap((day) => hours.map((hour) => ({ day, hour, mean: week.mean[24 * day.n + hour] ?? -1 })));
  const worst = all.toSorted((one, other) => other.mean - one.mean)[0];
  return worst
    ? `${week.title.name} by the hour of the week, most on ${worst.day.name} from ${worst.hour}:00: ${write(worst.mean)} ${unit}`
    : week.title.name;
}
