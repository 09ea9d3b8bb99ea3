import { useId } from "react";
import type { Schemas } from "../api/client";
import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { round, withInterval } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { Forms, formOf, isDark } from "./forms";

type Bar = Schemas["MinutesBar"];

interface MinutesPictureProps {
  title: string;
  aside: string;
  study: StudyDocument;
  bars: Bar[];
}

const NAMES = 168;
const TOTALS = 92;
const ROW = 33;
const BAR = 24;
const A_LETTER = 7;
const KEY = 20;

/** Where the minutes go: a bar for each, made of what they are spent with, that adds up to its whole. */
export function MinutesPicture({ title, aside, study, bars }: MinutesPictureProps) {
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const scope = useId().replaceAll(":", "");
  const parts = [...new Map(bars.flatMap((bar) => bar.parts.map(({ part, words }) => [part, words] as const)))];
  const longest = Math.max(...bars.map((bar) => bar.whole), 1e-9);
  const unit = spanUnit(longest);
  const scale = Math.max(40, width - NAMES - TOTALS) / longest;
  const keys = placed(parts, width);
  const height = bars.length * ROW + KEY * (1 + Math.max(0, ...keys.map((key) => key.row)));
  return (
    <Picture title={title} aside={`${aside}, ${unit.unit}`} table={() => tableOf(bars, unit.unit, unit.minutes)}>
      <div ref={holder}>
        <svg width={width} height={height} role="img" aria-label={`${title}: ${bars.map((bar) => spoken(bar, unit)).join("; ")}`}>
          <Forms parts={parts.map(([part]) => part)} scope={scope} />
          {bars.map((bar, n) => (
            <g key={`${bar.subject} ${bar.id}`} transform={`translate(0 ${n * ROW})`} data-figure={figuresOf(bar)}>
              <BarName bar={bar} study={study} />
              {begins(bar).map(({ part, from }) => (
                <Part key={part.part} part={part} x={NAMES + from * scale} width={part.minutes * scale} unit={unit.minutes} scope={scope} />
              ))}
              <Whole bar={bar} x={NAMES + bar.whole * scale + 10} unit={unit.minutes} />
            </g>
          ))}
          {keys.map(({ part, words, x, row }) => (
            <g key={part} transform={`translate(${x} ${bars.length * ROW + 2 + row * KEY})`}>
              <rect width={18} height={12} y={3} fill={formOf(part, scope)} stroke="var(--ink)" strokeWidth={0.5} />
              <text x={24} y={13} fontSize={13} fill="var(--ink-2)">
                {words}
              </text>
            </g>
          ))}
        </svg>
      </div>
    </Picture>
  );
}

function BarName({ bar, study }: { bar: Bar; study: StudyDocument }) {
  const isType = bar.subject === "type" && bar.id !== "all";
  return (
    <>
      <text y={isType ? 11 : 17} fontSize={14} fontWeight={700} fill="var(--ink)">
        {cut(bar.name, (NAMES - 12) / (A_LETTER + 0.6))}
        <title>{bar.name}</title>
      </text>
      {isType && <rect y={17} width={26} height={5} rx={2.5} fill={colourOf(study, bar.id)} />}
    </>
  );
}

interface PartProps {
  part: Schemas["Minutes"];
  x: number;
  width: number;
  unit: number;
  scope: string;
}

/** A part of a bar, with its minutes where they fit, and its words where these do too. */
function Part({ part, x, width, unit, scope }: PartProps) {
  const amount = round(part.minutes / unit);
  const words = `${amount} ${part.words}`;
  const told = [words, amount].find((each) => each.length * A_LETTER + 12 <= width);
  const dark = isDark(part.part);
  return (
    <g data-figure={part.address}>
      <rect x={x} width={Math.max(0, width - 1)} height={BAR} fill={formOf(part.part, scope)} stroke="var(--rule)" strokeWidth={0.5}>
        <title>{words}</title>
      </rect>
      {told && !dark && (
        <rect
          x={x + (width - told.length * A_LETTER) / 2 - 4}
          y={4}
          width={told.length * A_LETTER + 8}
          height={BAR - 8}
          rx={3}
          fill="var(--sheet)"
          opacity={0.85}
        />
      )}
      {told && (
        <text x={x + width / 2} y={17} fontSize={13} textAnchor="middle" fill={dark ? "var(--paper)" : "var(--ink)"}>
          {told}
        </text>
      )}
    </g>
  );
}

function Whole({ bar, x, unit }: { bar: Bar; x: number; unit: number }) {
  const isTotal = bar.subject === "type";
  const { mean, half } = withInterval(bar.total, 1 / unit);
  return (
    <>
      <text x={x} y={12} fontSize={15} fontWeight={700} fill="var(--ink)">
        {isTotal ? mean : round(bar.whole / unit)}
      </text>
      <text x={x} y={25} fontSize={12} fill="var(--ink-2)">
        {isTotal ? half : ""}
      </text>
    </>
  );
}

/** The parts of a bar, each with where it begins. */
function begins(bar: Bar): { part: Schemas["Minutes"]; from: number }[] {
  let from = 0;
  return bar.parts.map((part) => ({ part, from: (from += part.minutes) - part.minutes }));
}

/** The keys of the forms, in as many rows as they need. */
function placed(parts: (readonly [string, string])[], width: number) {
  let [x, row] = [0, 0];
  return parts.map(([part, words]) => {
    const long = 24 + words.length * (A_LETTER - 0.5) + 16;
    if (x > 0 && x + long - 16 > width) [x, row] = [0, row + 1];
    const here = { part, words, x, row };
    x += long;
    return here;
  });
}

const cut = (name: string, letters: number) => (name.length > letters ? `${name.slice(0, Math.floor(letters) - 1)}…` : name);

const figuresOf = (bar: Bar) => [bar.address, `${bar.subject}/${bar.id}/wait/mean`].join(" ");

function spoken(bar: Bar, { unit, minutes }: { unit: string; minutes: number }): string {
  const parts = bar.parts.map((part) => `${round(part.minutes / minutes)} ${part.words}`);
  return `${bar.name} ${round(bar.whole / minutes)} ${unit}, ${parts.join(", ")}`;
}

function tableOf(bars: Bar[], unit: string, minutes: number) {
  const parts = [...new Map(bars.flatMap((bar) => bar.parts.map(({ part, words }) => [part, words] as const)))];
  return {
    head: ["", ...parts.map(([, words]) => `${words}, ${unit}`), `in all, ${unit}`],
    rows: bars.map((bar) => [
      bar.name,
      ...parts.map(([part]) => (bar.parts.find((each) => each.part === part)?.minutes ?? 0) / minutes),
      bar.whole / minutes,
    ]),
  };
}
