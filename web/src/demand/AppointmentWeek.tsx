import type { Stream } from "../study/document/types";
import { DAYS, timeOfDay } from "../study/values/days";
import { slotsOn } from "../study/values/streams";

type Appointments = Extract<Stream, { kind: "appointments" }>;

const ROW = 34;
const LEFT = 84;
const RIGHT = 70;
const WIDTH = 800;
const HEAD = 26;

/** The appointment book as a week of days: a mark for each place of each slot. */
export function AppointmentWeek({ stream }: { stream: Appointments }) {
  const days = DAYS.map((day) => ({ ...day, slots: slotsOn(stream.sessions, day.id) })).filter((day) => day.slots.length > 0);
  const all = days.flatMap((day) => day.slots);
  const first = Math.floor(Math.min(...all.map((slot) => slot.minute), 1380) / 60);
  const last = Math.ceil((Math.max(...all.map((slot) => slot.minute), 60) + 1) / 60);
  const x = (minute: number) => LEFT + ((minute / 60 - first) / Math.max(1, last - first)) * (WIDTH - LEFT - RIGHT);
  const places = all.reduce((sum, slot) => sum + slot.places, 0);
  const [filled, noShow] = [stream.filled ?? 1, stream.no_show ?? 0];
  const come = places * filled * (1 - noShow);
  const states = marks(places, filled, noShow);
  let turn = 0;
  return (
    <div>
      <p className="flex flex-wrap items-baseline gap-x-5 text-sm text-ink-2">
        <b className="text-ink">{places} slots a week</b>
        <span>{rounded(come)} of them come, on average</span>
        <Legend state="comes">booked and comes</Legend>
        {noShow > 0 && <Legend state="no-show">booked, does not come</Legend>}
        {filled < 1 && <Legend state="free">left free</Legend>}
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEAD + days.length * ROW + 6}`}
        className="mt-1 w-full max-w-4xl"
        role="img"
        aria-label={`Slots of ${stream.name} by day`}
      >
        {Array.from({ length: last - first + 1 }, (_, n) => (
          <g key={n}>
            <line x1={x((first + n) * 60)} x2={x((first + n) * 60)} y1={HEAD - 6} y2={HEAD + days.length * ROW} stroke="var(--rule)" />
            <text x={x((first + n) * 60)} y={HEAD - 10} textAnchor="middle" fontSize={12} fill="var(--ink-2)">
              {timeOfDay((first + n) * 60)}
            </text>
          </g>
        ))}
        {days.map((day, row) => (
          <g key={day.id} transform={`translate(0,${HEAD + row * ROW + ROW / 2})`}>
            <text x={0} y={4} fontSize={13} fontWeight={700} fill="var(--ink)">
              {day.name}
            </text>
            <line x1={LEFT} x2={WIDTH - RIGHT} y1={ROW / 2} y2={ROW / 2} stroke="var(--rule)" />
            {day.slots.map((slot) => (
              <g key={slot.minute} transform={`translate(${x(slot.minute)},0)`}>
                {Array.from({ length: Math.min(slot.places, MOST_MARKS) }, (_, place) => (
                  <Mark key={place} y={(place - (Math.min(slot.places, MOST_MARKS) - 1) / 2) * 9} state={states[turn++] ?? "comes"} />
                ))}
              </g>
            ))}
            <text x={WIDTH} y={4} fontSize={12} textAnchor="end" fill="var(--ink-2)">
              {day.slots.reduce((sum, slot) => sum + slot.places, 0)} slots
            </text>
          </g>
        ))}
      </svg>
      <p className="text-sm text-ink-2">Sessions, no-shows and punctuality are in the sheet.</p>
    </div>
  );
}

const MOST_MARKS = 3;

type State = "comes" | "no-show" | "free";

/** One state for each slot, so that each has its share and they lie evenly among each other. */
function marks(count: number, filled: number, noShow: number): State[] {
  let [booked, missed] = [0, 0];
  return Array.from({ length: count }, () => {
    booked += filled;
    if (booked < 1 - 1e-9) return "free";
    booked -= 1;
    missed += noShow;
    if (missed < 1 - 1e-9) return "comes";
    missed -= 1;
    return "no-show";
  });
}

function Mark({ y, state }: { y: number; state: State }) {
  if (state === "comes") return <circle cy={y} r={3.6} fill="var(--ink)" />;
  return (
    <g>
      <circle
        cy={y}
        r={3.2}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.2}
        strokeDasharray={state === "free" ? "2 1.5" : undefined}
      />
      {state === "no-show" && <line x1={-2.2} x2={2.2} y1={y + 2.2} y2={y - 2.2} stroke="var(--ink)" strokeWidth={1.2} />}
    </g>
  );
}

function Legend({ state, children }: { state: State; children: React.ReactNode }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <svg width={10} height={12} viewBox="-5 -6 10 12" aria-hidden>
        <Mark y={0} state={state} />
      </svg>
      {children}
    </span>
  );
}

const rounded = (number: number) => Number(number.toFixed(1));
