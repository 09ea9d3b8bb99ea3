import { Fragment, useState } from "react";
import type { Answer } from "../api/queries";
import { nameOf } from "../study/document/parts";
import { useStudy } from "../study/session/store";
import { DAYS, timeOfDay } from "../study/values/days";
import { Picture } from "../ui/Picture";
import type { Table } from "../ui/saving";
import { useWidth } from "../ui/useWidth";
import type { Changed } from "./looked";
import { type Band, bandsOf, busiest, daysOf, type Hours, hoursOf } from "./week";

const NAMES = 132;
const RIGHT = 18;
const TOP = 24;
const MOST_HIGH = 132;
const LEAST_HIGH = 54;
const ROOM = 168;
const GAP = 14;
const KEY = 22;
const FIRST_WIDTH = 780;

interface NeedPictureProps {
  answer: Answer;
  shown: Changed;
}

/** How many it takes on a day, team by team: needed as an area, by theory thin, there by what is looked at thick, there today dotted. */
export function NeedPicture({ answer, shown }: NeedPictureProps) {
  const study = useStudy((state) => state.document);
  const [holder, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  const days = daysOf(answer, shown);
  const [chosen, setChosen] = useState<number | null>(null);
  const day = chosen !== null && days.includes(chosen) ? chosen : busiest(answer, days);
  const hours = hoursOf(answer, shown);
  const order = study.teams.map((team) => team.id);
  const bands = bandsOf(answer, shown, day, hours).toSorted((one, other) => order.indexOf(one.team) - order.indexOf(other.team));
  const name = (team: string) => nameOf(study, "team", team);
  const high = Math.max(LEAST_HIGH, Math.min(MOST_HIGH, ROOM / bands.length));
  const height = TOP + bands.length * (high + GAP) + KEY;
  const x = (minute: number) => NAMES + ((minute - hours.from) / (hours.to - hours.from)) * (width - NAMES - RIGHT);
  return (
    <Picture
      className="mt-3"
      title="How many it takes"
      aside={<Days days={days} chosen={day} onChoose={setChosen} />}
      table={() => tableOf(answer, shown, name)}
    >
      <div ref={holder} className="overflow-hidden">
        <svg
          role="img"
          aria-label={`People needed, proposed and there today on ${DAYS[day]?.name}: ${bands.map(({ team }) => name(team)).join(", ")}`}
          width={width}
          height={height}
          className="block"
        >
          <TimeMarks hours={hours} x={x} height={height - KEY} />
          <Key y={height - 6} />
          {bands.map((band, n) => (
            <g key={band.team} transform={`translate(0 ${TOP + n * (high + GAP)})`}>
              <BandMarks band={band} name={name(band.team)} high={high} hours={hours} interval={answer.interval} x={x} />
            </g>
          ))}
        </svg>
      </div>
      {bands.some(isShort) && (
        <p className="text-sm text-ink-2">
          Needed is what every interval would take by itself, as simulated; by theory is where that began. Where fewer are proposed, others
          help, or what is left waits a little
          {bands.some(isAfterwards) ? "; for what is left after the last shift nobody is proposed." : "."}
        </p>
      )}
    </Picture>
  );
}

const isShort = ({ needed, proposed }: Band) => needed.some((need, n) => need - (proposed[n] ?? 0) > 0.5);

/** Whether somebody is needed when all who are proposed have left. */
function isAfterwards({ needed, proposed }: Band): boolean {
  const last = proposed.findLastIndex((people) => people > 0);
  return last >= 0 && needed.some((need, n) => n > last && need > 0.5);
}

function Days({ days, chosen, onChoose }: { days: number[]; chosen: number; onChoose: (day: number) => void }) {
  return (
    <span role="group" aria-label="Day" className="inline-flex gap-1.5">
      {days.map((day) => (
        <button
          key={day}
          type="button"
          aria-pressed={day === chosen}
          className="rounded border border-rule bg-sheet px-2.5 py-0.5 text-ink-2 aria-pressed:border-ink aria-pressed:bg-ink
            aria-pressed:font-bold aria-pressed:text-paper"
          onClick={() => onChoose(day)}
        >
          {DAYS[day]?.short}
        </button>
      ))}
    </span>
  );
}

const WORDS = { fontSize: 12, fontFamily: "inherit", fill: "var(--ink-2)" };
const LEAST_APART = 46;

function TimeMarks({ hours, x, height }: { hours: Hours; x: (minute: number) => number; height: number }) {
  const every = x(60) - x(0) >= LEAST_APART ? 60 : 120;
  const marks = Array.from({ length: Math.floor((hours.to - hours.from) / every) + 1 }, (_, n) => hours.from + n * every);
  return marks.map((minute) => (
    <Fragment key={minute}>
      <path d={`M${x(minute)},${TOP - 6}V${height - GAP}`} stroke="var(--rule)" />
      <text x={x(minute)} y={TOP - 11} textAnchor="middle" {...WORDS}>
        {timeOfDay(minute)}
      </text>
    </Fragment>
  ));
}

interface BandMarksProps {
  band: Band;
  name: string;
  high: number;
  hours: Hours;
  interval: number;
  x: (minute: number) => number;
}

function BandMarks({ band, name, high, hours, interval, x }: BandMarksProps) {
  const most = Math.max(1, ...band.needed, ...band.present, ...band.proposed) * 1.08;
  const y = (people: number) => high * (1 - people / most);
  const step = most > 13 ? Math.ceil(most / 4) : most > 7 ? 3 : most > 3 ? 2 : 1;
  const ticks = Array.from({ length: Math.floor(most / step) }, (_, n) => (n + 1) * step);
  const steps = (values: number[]) =>
    values.map((value, n) => `${n === 0 ? `M${x(hours.from)},` : "V"}${y(value)}H${x(hours.from + (n + 1) * interval)}`).join("");
  return (
    <>
      <text x={0} y={14} {...WORDS} fontSize={14} fontWeight={700} fill="var(--ink)">
        {cut(name)}
      </text>
      {ticks.map((people) => (
        <text key={people} x={NAMES - 8} y={y(people) + 4} textAnchor="end" {...WORDS}>
          {people}
        </text>
      ))}
      <path d={`${steps(band.needed)}V${high}H${x(hours.from)}Z`} fill="var(--marker-soft)" />
      <path d={steps(band.byTheory)} fill="none" stroke="var(--marker)" strokeWidth={1.25} />
      <path d={steps(band.present)} fill="none" stroke="var(--ink)" strokeWidth={1.75} strokeDasharray="2 3" />
      <path d={steps(band.proposed)} fill="none" stroke="var(--ink)" strokeWidth={2.75} />
      <path d={`M${x(hours.from)},${high}H${x(hours.to)}`} stroke="var(--ink)" />
    </>
  );
}

const LONGEST = 15;
const cut = (name: string) => (name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name);

const APART = 110;

function Key({ y }: { y: number }) {
  const marks = [
    { words: "needed", mark: <rect y={-10} width={20} height={10} fill="var(--marker-soft)" /> },
    { words: "by theory", mark: <path d="M0,-5h20" stroke="var(--marker)" strokeWidth={1.25} /> },
    { words: "proposed", mark: <path d="M0,-5h20" stroke="var(--ink)" strokeWidth={2.75} /> },
    { words: "today", mark: <path d="M0,-5h20" stroke="var(--ink)" strokeWidth={1.75} strokeDasharray="2 3" /> },
  ];
  return marks.map(({ words, mark }, n) => (
    <g key={words} transform={`translate(${NAMES + n * APART} ${y})`}>
      {mark}
      <text x={26} {...WORDS}>
        {words}
      </text>
    </g>
  ));
}

/** Every interval of the week: who is needed, proposed and there today, a column each by team. */
function tableOf(answer: Answer, shown: Changed, name: (team: string) => string): Table {
  const days = daysOf(answer, shown);
  const hours = hoursOf(answer, shown);
  const teams = bandsOf(answer, shown, 0, hours).map(({ team }) => team);
  return {
    head: ["Day", "From", ...teams.flatMap((team) => ["needed", "by theory", "proposed", "today"].map((what) => `${name(team)}, ${what}`))],
    rows: days.flatMap((day) => {
      const bands = bandsOf(answer, shown, day, hours);
      return (bands[0]?.needed ?? []).map((_, n) => [
        DAYS[day]?.name ?? "",
        timeOfDay(hours.from + n * answer.interval),
        ...bands.flatMap((band) => [band.needed[n] ?? 0, band.byTheory[n] ?? 0, band.proposed[n] ?? 0, band.present[n] ?? 0]),
      ]);
    }),
  };
}
