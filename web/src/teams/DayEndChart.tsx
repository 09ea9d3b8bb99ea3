import { timeOfDay } from "../study/values/days";
import { QUARTER } from "../study/values/rosters";
import type { DayEnd } from "./dayEnd";

const HEIGHT = 44;
const DAY = 1440;

interface DayEndChartProps {
  end: DayEnd;
  teamName: (id: string) => string;
}

/** The end of a day: cases that come, cases that wait, and under them who is still there. */
export function DayEndChart({ end, teamName }: DayEndChartProps) {
  const many = end.arrived.length;
  const hours = Array.from({ length: Math.floor(many / 4) + 1 }, (_, n) => end.from + n * 60);
  const clock = (minute: number) => timeOfDay(minute % DAY);
  return (
    <div className="grid grid-cols-[9.5rem_1fr] items-center gap-x-3 gap-y-1.5">
      <span />
      <div aria-hidden className="relative h-5 text-sm text-ink-2">
        {hours.map((minute, n) => (
          <span key={minute} className="absolute -translate-x-1/2" style={{ left: `${((n * 4) / many) * 100}%` }}>
            {clock(minute)}
          </span>
        ))}
      </div>
      <Band
        name="Cases that come"
        told={`the last by ${clock(end.lastCase)}`}
        values={end.arrived}
        fill="var(--ink)"
        at={mark(end, end.lastCase)}
      />
      <Band
        name="Cases that wait"
        told={end.noLine === null ? "some stay in line overnight" : `nobody any more from ${clock(end.noLine)}`}
        values={end.waiting}
        fill="var(--marker)"
        at={mark(end, end.noLine)}
      />
      {end.there.map(({ team, members }) => {
        const gone = end.gone[team] ?? null;
        return (
          <Band
            key={team}
            name={teamName(team)}
            told={gone === 0 ? "nobody on this day" : gone === null ? "still there" : `gone by ${clock(gone)}`}
            values={members}
            fill="var(--ink-2)"
            at={gone === 0 ? null : mark(end, gone)}
          />
        );
      })}
    </div>
  );
}

const mark = (end: DayEnd, minute: number | null) => (minute === null ? null : (minute - end.from) / QUARTER / end.arrived.length);

interface BandProps {
  name: string;
  told: string;
  values: number[];
  fill: string;
  /** Where it is over, as a share of the width. */
  at: number | null;
}

function Band({ name, told, values, fill, at }: BandProps) {
  const most = Math.max(...values, 1e-9);
  const steps = values.map((value, n) => `${n === 0 ? "M0," : "V"}${HEIGHT * (1 - value / most)}H${n + 1}`).join("");
  return (
    <>
      <span className="leading-tight">
        <b>{name}</b>
        <span className="block text-sm text-ink-2">{told}</span>
      </span>
      <div className="relative">
        <svg
          role="img"
          aria-label={`${name}: ${told}`}
          viewBox={`0 0 ${values.length} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="block h-9 w-full border-b border-rule"
        >
          <path d={`${steps}V${HEIGHT}H0Z`} fill={fill} />
        </svg>
        {at !== null && (
          <span aria-hidden className="absolute -inset-y-1 border-l-2 border-dashed border-ink" style={{ left: `${at * 100}%` }} />
        )}
        <span aria-hidden className="absolute -top-1 right-full pr-1 text-xs text-ink-2">
          {Number(most.toFixed(most < 10 ? 1 : 0))}
        </span>
      </div>
    </>
  );
}
