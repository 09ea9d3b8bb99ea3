import { type KeyboardEvent, type PointerEvent, type ReactNode, useMemo } from "react";
import type { Outline } from "../api/queries";
import { DAY, DAYS } from "../study/values/days";
import { useWidth } from "../ui/useWidth";
import { hoursOfDay, midnightBefore, momentInWords, mostWaiting, startMinute } from "./moments";
import type { Player } from "./player";
import { usePlaying } from "./usePlaying";
import type { Side } from "./useWatched";

interface TimeLineProps {
  player: Player;
  outline: Outline;
  beside: Side | undefined;
  /** The step whose line is shown, and what it is called. */
  step: string | undefined;
  name: string;
}

const HEIGHT = 100;
/** Words stand under the top, the line's area begins under them. */
const TOP = 18;
const HIGHEST = 34;
const FOOT = 76;
const SIDE = 24;
const A_LETTER = 6.4;
const HOUR = 60;

/** The line of a step over the day, to drag the moment through; of one that is beside as an outline. */
export function TimeLine({ player, outline, beside, step, name }: TimeLineProps) {
  const [holder, width] = useWidth<HTMLDivElement>(800);
  const midnight = usePlaying(player, ({ moment }) => midnightBefore(outline.start, moment));
  const moment = usePlaying(player, (each) => each.moment);
  const [from, to] = useMemo(() => hoursOfDay(outline, midnight), [outline, midnight]);
  const most = mostWaiting(outline.waiting, step);
  const mostBeside = beside ? mostWaiting(beside.outline.waiting, step) : 0;
  const y = (many: number) => FOOT - (many / Math.max(1, most, mostBeside)) * (FOOT - HIGHEST);
  const x = (at: number) => SIDE + ((at - from) / (to - from)) * (width - 2 * SIDE);
  const now = x(Math.min(to, Math.max(from, moment)));
  const seek = (event: PointerEvent) => {
    if (event.type === "pointermove" && event.buttons !== 1) return;
    const { left } = event.currentTarget.getBoundingClientRect();
    if (event.type === "pointerdown") event.currentTarget.setPointerCapture(event.pointerId);
    player.goTo(from + ((event.clientX - left - SIDE) / (width - 2 * SIDE)) * (to - from));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: HOUR, PageDown: -HOUR }[event.key];
    if (by === undefined) return;
    player.goTo(player.moment + by);
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div>
      <DayTurn player={player} outline={outline} midnight={midnight}>
        {name && `waiting at ${name}, at most ${most} at once`}
        {name && beside && `; outlined: ${beside.watched.name}, at most ${mostBeside}`}
      </DayTurn>
      <div
        ref={holder}
        role="slider"
        tabIndex={0}
        aria-label="The moment that is seen"
        aria-valuemin={0}
        aria-valuemax={Math.round(outline.ends)}
        aria-valuenow={Math.round(moment)}
        aria-valuetext={momentInWords(outline.start, moment)}
        className="cursor-ew-resize touch-none rounded outline-offset-2"
        onPointerDown={seek}
        onPointerMove={seek}
        onKeyDown={onKeyDown}
      >
        <svg width={width} height={HEIGHT} aria-hidden className="block select-none">
          <Line outline={outline} step={step} from={from} to={to} x={x} y={y} now={now} />
          {beside && (
            <path d={levelsOf({ outline: beside.outline, step, from, to, x, y })} fill="none" stroke="var(--ink)" strokeWidth={1.4} />
          )}
          <Marks outline={outline} from={from} to={to} x={x} width={width} />
          <Hours start={outline.start} from={from} to={to} x={x} />
          <path d={`M${now},8V${FOOT + 4}`} stroke="var(--ink)" strokeWidth={3} />
          <circle cx={now} cy={8} r={5.5} fill="var(--ink)" />
        </svg>
      </div>
    </div>
  );
}

interface DayTurnProps extends Pick<TimeLineProps, "player" | "outline"> {
  midnight: number;
  children: ReactNode;
}

/** Which day it is, and the way to the one before and the next; whose line is shown. */
function DayTurn({ player, outline, midnight, children }: DayTurnProps) {
  const day = DAYS[Math.floor((startMinute(outline.start) + midnight) / DAY) % 7]?.name;
  const turn = (by: number) => player.goTo(player.moment + by * DAY);
  return (
    <p className="flex items-baseline gap-2 text-sm text-ink-2">
      <button type="button" aria-label="The day before" className={TURN} disabled={midnight <= 0} onClick={() => turn(-1)}>
        ‹
      </button>
      <b className="text-ink">{day}</b>
      <button type="button" aria-label="The next day" className={TURN} disabled={midnight + DAY >= outline.ends} onClick={() => turn(1)}>
        ›
      </button>
      <span className="ml-2">{children}</span>
    </p>
  );
}

const TURN = "rounded px-1.5 text-base hover:bg-value disabled:opacity-30";

interface Scaled {
  outline: Outline;
  from: number;
  to: number;
  x: (at: number) => number;
}

interface Levels extends Scaled {
  step: string | undefined;
  y: (many: number) => number;
}

/** How long the line is over the day, as the path of an area. */
function levelsOf({ outline, step, from, to, x, y }: Levels): string {
  const line = (step && outline.waiting[step]) || [];
  const [first, last] = [Math.max(0, Math.floor(from / outline.interval)), Math.ceil(to / outline.interval)];
  let path = `M${x(Math.max(0, from))},${FOOT}`;
  for (let n = first; n < last; n++)
    path += `L${x(n * outline.interval)},${y(line[n] ?? 0)}H${x(Math.min(to, (n + 1) * outline.interval))}`;
  return `${path}V${FOOT}Z`;
}

/** How long the line is over the day: what is past in full colour, what is to come pale. */
function Line({ now, ...levels }: Levels & { now: number }) {
  const { from, to, x } = levels;
  const path = levelsOf(levels);
  return (
    <>
      <path d={path} fill="var(--rule)" />
      <clipPath id="past">
        <rect x={0} y={0} width={now} height={HEIGHT} />
      </clipPath>
      <path d={path} fill="var(--marker)" clipPath="url(#past)" />
      <path d={`M${x(from)},${FOOT}H${x(to)}`} stroke="var(--ink)" strokeWidth={1.4} />
    </>
  );
}

/** What matters on the day, one word beside another as far as there is room. */
function Marks({ outline, from, to, x, width }: Scaled & { width: number }) {
  let free = 0;
  return outline.marks
    .filter(({ at }) => at > from && at < to)
    .map(({ at, words }) => {
      const left = Math.min(x(at) + 4, width - words.length * A_LETTER);
      const hasRoom = left >= free;
      if (hasRoom) free = left + words.length * A_LETTER + 8;
      return (
        <g key={`${at} ${words}`}>
          <path
            d={`M${x(at)},${TOP + (hasRoom ? 2 : HIGHEST - TOP)}V${FOOT}`}
            stroke="var(--ink-2)"
            strokeWidth={1.4}
            strokeDasharray="2 3"
          />
          {hasRoom && (
            <text x={left} y={TOP + 11} fontSize={12} fill="var(--ink-2)" stroke="var(--paper)" strokeWidth={3} paintOrder="stroke">
              {words}
            </text>
          )}
        </g>
      );
    });
}

function Hours({ start, from, to, x }: { start: string; from: number; to: number; x: (at: number) => number }) {
  const every = x(from + HOUR) - x(from) > 44 ? HOUR : x(from + HOUR) - x(from) > 22 ? 2 * HOUR : 4 * HOUR;
  const marks = Array.from({ length: Math.floor((to - from) / every) + 1 }, (_, n) => from + n * every);
  return marks.map((at) => (
    <text key={at} x={x(at)} y={FOOT + 17} fontSize={12.5} textAnchor="middle" fill="var(--ink-2)">
      {momentInWords(start, at).split(" ")[1]}
    </text>
  ));
}
