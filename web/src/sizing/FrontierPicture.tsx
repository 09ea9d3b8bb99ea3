import type { Schemas } from "../api/client";
import type { Answer } from "../api/queries";
import { type Label, placed } from "../compare/labels";
import { useStudy } from "../study/session/store";
import { money, round } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { Picture } from "../ui/Picture";
import type { Table } from "../ui/saving";
import { useWidth } from "../ui/useWidth";
import type { Looked, Making } from "./looked";
import { MakeScenario } from "./MakeScenario";

type Point = Answer["frontier"][number];
type Title = Schemas["Title"] | null | undefined;

const HEIGHT = 260;
const LEFT = 48;
const RIGHT = 20;
const TOP = 16;
const BOTTOM = 40;
const FIRST_WIDTH = 780;
const TICKS = 5;
const WORDS = { fontSize: 12, fontFamily: "inherit", fill: "var(--ink-2)" };
const OF_WHAT: Record<string, string> = { run: "", day: ", the worst day", interval: ", the worst interval" };

interface FrontierPictureProps extends Making {
  answer: Answer;
  title: Title;
  looked: Looked;
  onLook: (looked: Looked) => void;
}

/** What the next unit of money buys: cost against the first target's figure, of all that was tried and of what nothing beats. */
export function FrontierPicture({ answer, title, looked, onLook, made, make }: FrontierPictureProps) {
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  const [holder, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  const { factor, write } = title ? scaleOf(title) : { factor: 1, write: round };
  const { frontier, aimed_at: aim } = answer;
  const limit = aim.limit * factor;
  const candidates = answer.candidates.flatMap(({ cost_per_week: cost, figure }) =>
    figure === null ? [] : [{ cost, figure: figure * factor }],
  );
  const points = frontier.map((each) => ({ ...each, figure: each.figure * factor, error: each.error * factor }));
  const best = points.filter((each) => !each.today);
  const costs = axis(points.map((each) => each.cost_per_week));
  const figures = axis([...points.map((each) => each.figure), limit]);
  const x = (cost: number) => LEFT + ((cost - costs.low) / (costs.high - costs.low)) * (width - LEFT - RIGHT);
  const y = (figure: number) => HEIGHT - BOTTOM - ((figure - figures.low) / (figures.high - figures.low)) * (HEIGHT - BOTTOM - TOP);
  const within = candidates.filter(({ cost, figure }) => isIn(cost, costs) && isIn(figure, figures));
  const place = looked.of === "frontier" ? looked.place : -1;
  const at = points[place];
  const spots = points.map((each) => ({ name: nameOf(each), x: x(each.cost_per_week), y: y(each.figure) }));
  const frame = { left: LEFT, right: width, top: 0, bottom: HEIGHT - BOTTOM };
  const of = title ? `${title.name}, ${title.of}${OF_WHAT[aim.by] ?? ""}` : aim.figure;
  return (
    <Picture className="mt-5 mb-4" title="What it buys" aside={of} table={() => tableOf(frontier, of, currency)}>
      <div ref={holder} className="relative overflow-hidden">
        <svg role="img" aria-label={`${of} against the cost a week, of what nothing beats`} width={width} height={HEIGHT} className="block">
          <Axes costs={costs} figures={figures} x={x} y={y} write={write} width={width} of={`${currency} a week`} />
          <path d={`M${LEFT},${y(limit)}H${width - RIGHT}`} stroke="var(--wrong)" strokeDasharray="5 4" />
          <text x={width - RIGHT} y={y(limit) - 6} textAnchor="end" {...WORDS} fill="var(--wrong)" fontWeight={700}>
            target {write(limit)}
          </text>
          {within.map(({ cost, figure }, n) => (
            <circle key={n} cx={x(cost)} cy={y(figure)} r={2.5} fill="none" stroke="var(--ink-3)" />
          ))}
          <polyline
            points={best.map((each) => `${x(each.cost_per_week)},${y(each.figure)}`).join(" ")}
            fill="none"
            stroke="var(--marker)"
            strokeWidth={6}
            strokeLinejoin="round"
            strokeLinecap="round"
          />
          {points.map((each, n) => (
            <PointMark key={n} point={each} x={x(each.cost_per_week)} y={y} isLooked={n === place} />
          ))}
          {placed(
            spots.filter(({ name }) => name),
            spots,
            frame,
          ).map((label) => (
            <NameMark key={label.name} label={label} />
          ))}
        </svg>
        {points.map((each, n) => (
          <button
            key={n}
            type="button"
            aria-pressed={n === place}
            aria-label={`${currency} ${money(each.cost_per_week)} a week, ${write(each.figure)}${nameOf(each) ? `, ${nameOf(each)}` : ""}`}
            className="absolute size-4 -translate-1/2 rounded-full focus-visible:outline-2 focus-visible:outline-marker"
            style={{ left: x(each.cost_per_week), top: y(each.figure) }}
            onClick={() => onLook({ of: "frontier", place: n })}
          />
        ))}
      </div>
      <p className="mt-1 min-h-6 text-sm">
        {at ? (
          <>
            <b>
              {currency} {money(at.cost_per_week)} a week
            </b>
            : {write(at.figure)} <span className="text-ink-2">± {write(2 * at.error)}</span>,{" "}
            {at.holds ? "all targets seem to hold" : "a target is missed"}.{" "}
            {!at.today && <MakeScenario what="the chosen point" looked={{ of: "frontier", place }} made={made} onMake={make} />}
          </>
        ) : (
          <span className="text-ink-2">Every filled point is a staffing that nothing tried beats in both. Choose one to see it above.</span>
        )}
      </p>
    </Picture>
  );
}

const nameOf = ({ today, cheapest }: Point) => (today ? "today" : cheapest ? "cheapest that holds" : "");

interface Span {
  low: number;
  high: number;
  ticks: number[];
}

const isIn = (value: number, { low, high }: Span) => value >= low && value <= high;

/** An axis with some room around its values, and round numbers on it. */
function axis(values: number[]): Span {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = (most - least || Math.abs(most) || 1) * 0.1;
  const [low, high] = [least >= 0 ? Math.max(0, least - room) : least - room, most + room];
  const rough = (high - low) / TICKS;
  const size = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((times) => times * size).find((each) => each >= rough) ?? size;
  const first = Math.ceil(low / step);
  const ticks = Array.from({ length: Math.floor(high / step) - first + 1 }, (_, n) => (first + n) * step);
  return { low, high, ticks };
}

interface AxesProps {
  costs: Span;
  figures: Span;
  x: (cost: number) => number;
  y: (figure: number) => number;
  write: (value: number) => string;
  width: number;
  of: string;
}

function Axes({ costs, figures, x, y, write, width, of }: AxesProps) {
  return (
    <>
      <path d={`M${LEFT},${TOP - 8}V${HEIGHT - BOTTOM}H${width - RIGHT}`} fill="none" stroke="var(--ink-2)" />
      {costs.ticks.map((cost) => (
        <text key={cost} x={x(cost)} y={HEIGHT - BOTTOM + 16} textAnchor="middle" {...WORDS}>
          {money(cost)}
        </text>
      ))}
      {figures.ticks.map((figure) => (
        <text key={figure} x={LEFT - 7} y={y(figure) + 4} textAnchor="end" {...WORDS}>
          {write(figure)}
        </text>
      ))}
      <text x={width - RIGHT} y={HEIGHT - 6} textAnchor="end" {...WORDS}>
        {of}
      </text>
    </>
  );
}

interface PointMarkProps {
  point: Point;
  x: number;
  y: (figure: number) => number;
  isLooked: boolean;
}

function PointMark({ point: { figure, error, today }, x, y, isLooked }: PointMarkProps) {
  return (
    <>
      <path d={`M${x},${y(figure - 2 * error)}V${y(figure + 2 * error)}`} stroke="var(--ink)" />
      {isLooked && <circle cx={x} cy={y(figure)} r={10} fill="none" stroke="var(--ink)" strokeWidth={2} />}
      <circle cx={x} cy={y(figure)} r={5} fill={today ? "var(--paper)" : "var(--ink)"} stroke="var(--ink)" strokeWidth={2.5} />
    </>
  );
}

function NameMark({ label: { x, y, name, anchor } }: { label: Label }) {
  return (
    <text
      x={x}
      y={y}
      dy="0.32em"
      textAnchor={anchor}
      {...WORDS}
      fill="var(--ink)"
      fontWeight={700}
      stroke="var(--paper)"
      strokeWidth={4}
      paintOrder="stroke"
      strokeLinejoin="round"
    >
      {name}
    </text>
  );
}

function tableOf(frontier: Point[], of: string, currency: string): Table {
  return {
    head: [`${currency} a week`, of, "standard error", "all targets hold", ""],
    rows: frontier.map((each) => [each.cost_per_week, each.figure, each.error, each.holds ? "yes" : "no", nameOf(each)]),
  };
}
