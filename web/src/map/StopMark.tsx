import type { Ref } from "react";
import type { Problem } from "../api/client";
import { stepById } from "../study/document/flow";
import { KIND_WORDS } from "../study/document/kinds";
import type { StudyDocument, Team } from "../study/document/types";
import { howOften } from "../study/edits/streams";
import { inShort } from "../study/values/distributions";
import { LEAST_COLUMN } from "./columns";
import { inLines, LETTER, linesBeside, NAME } from "./names";
import { FLAT, TRACK_GAP } from "./tracks";
import type { Stop } from "./types";

interface StopMarkProps {
  study: StudyDocument;
  stop: Stop;
  selected: boolean;
  /** Where the keyboard points while a stop is asked for. */
  pointed: boolean;
  tabbable: boolean;
  problems: Problem[];
  names: boolean;
  detail: boolean;
  zoom: number;
  /** How many cases wait here on average. */
  waiting: number;
  onChoose: (also: boolean) => void;
  onReach: () => void;
  ref: Ref<SVGGElement>;
}

/** Sizes in pixels on the screen at the least, and on the map where it is seen from near. */
const DETAIL = { least: 12, near: 12.5 };

/** Who is needed takes two lines where it is longer than so many letters and there is room. */
const LONGEST_DETAIL = 21;
const ROOM_FOR_THREE = 140;

/** Room on the screen from stop to stop below which two lines of detail would meet the next one's name. */
const ROOM_FOR_DETAIL = 84;

/** A stop with its name above and what it needs below; its kind shows in its form. */
export function StopMark({
  study,
  stop,
  selected,
  pointed,
  tabbable,
  problems,
  names,
  detail,
  zoom,
  waiting,
  onChoose,
  onReach,
  ref,
}: StopMarkProps) {
  const below = detailOf(study, stop);
  const half = ((Math.max(stop.types.length, 1) - 1) * TRACK_GAP) / 2;
  const label = `${stop.name}, ${kindWord(stop.kind)}${below.length > 0 ? `: ${below.join(", ")}` : ""}${
    problems.length > 0 ? `. ${problems.length} to look at` : ""
  }`;
  return (
    <g
      transform={`translate(${stop.x},${stop.y})`}
      className="cursor-pointer"
      onClick={(event) => onChoose(event.shiftKey || event.ctrlKey || event.metaKey)}
    >
      <g
        ref={ref}
        role="button"
        aria-label={label}
        aria-pressed={selected}
        tabIndex={tabbable ? 0 : -1}
        className="group"
        onFocus={(event) => event.currentTarget.matches(":focus-visible") && onReach()}
      >
        <Halo half={half} kind={stop.kind} selected={selected} pointed={pointed} />
        <Glyph half={half} kind={stop.kind} />
      </g>
      <g aria-hidden>
        {names && <Labels stop={stop} half={half} below={detail && stop.room * zoom >= ROOM_FOR_DETAIL ? below : []} zoom={zoom} />}
        {names && <WaitingRoom study={study} stop={stop} half={half} zoom={zoom} />}
        {waiting > 0 && <WaitingDots half={half} waiting={waiting} />}
        {problems.length > 0 && <ProblemMark half={half} problems={problems} />}
      </g>
    </g>
  );
}

const kindWord = (kind: Stop["kind"]) => (kind === "stream" ? "stream" : KIND_WORDS[kind].word);

/** How far the mark of what is selected reaches beyond the lines, where that is not as far as at a step with work. */
const REACH: Partial<Record<Stop["kind"], number>> = { stream: 11, exit: 16, choose: 13, fork: 13, join: 13, delay: 14 };

function Halo({ half, kind, selected, pointed }: { half: number; kind: Stop["kind"]; selected: boolean; pointed: boolean }) {
  const wide = kind === "exit" || kind === "stream" ? 12 : kind === "choose" ? 13 : 18;
  const high = half + (REACH[kind] ?? 18);
  return (
    <rect
      x={-wide}
      y={-high}
      width={2 * wide}
      height={2 * high}
      rx={Math.min(wide, high)}
      fill={selected ? "var(--marker)" : "transparent"}
      stroke={pointed ? "var(--ink)" : undefined}
      strokeDasharray={pointed ? "4 3" : undefined}
      className="group-focus-visible:stroke-ink group-focus-visible:[stroke-width:2]"
    />
  );
}

function Glyph({ half, kind }: { half: number; kind: Stop["kind"] }) {
  switch (kind) {
    case "stream":
      return <rect x={-2.5} y={-half - 6} width={5} height={2 * half + 12} fill="var(--ink)" rx={1.5} />;
    case "exit":
      return <rect x={-3.5} y={-half - 11} width={7} height={2 * half + 22} fill="var(--ink)" />;
    case "choose":
      return <circle r={5} fill="var(--ink)" />;
    case "signal":
      return (
        <rect x={-4} y={-half - 13} width={8} height={2 * half + 26} rx={1.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2.6} />
      );
    case "fork":
    case "join":
      return <rect x={-6} y={-half - 6} width={12} height={2 * half + 12} rx={6} fill="var(--ink)" />;
    case "delay":
      return (
        <rect x={-7} y={-half - 7} width={14} height={2 * half + 14} rx={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.8} />
      );
    default:
      return (
        <rect x={-9} y={-half - 12} width={18} height={2 * half + 24} rx={9} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={3.6} />
      );
  }
}

interface LabelsProps {
  stop: Stop;
  half: number;
  below: string[];
  zoom: number;
}

function Labels({ stop, half, below, zoom }: LabelsProps) {
  const name = Math.max(NAME.near, NAME.least / zoom);
  const detail = Math.max(DETAIL.near, DETAIL.least / zoom);
  const lines =
    stop.kind === "exit" ? linesBeside(stop.name) : inLines(stop.name, Math.floor((LEAST_COLUMN - LABEL_GAP) / (name * LETTER)));
  const above = -half - 22 - (lines.length - 1) * name * 1.15;
  const place = {
    exit: { anchor: "start", x: 13, nameY: 5, belowY: 0 },
    stream: { anchor: "start", x: -2, nameY: half + 13 + name, belowY: half + 13 + name * (1.15 * lines.length) + detail },
    step: { anchor: "middle", x: 0, nameY: above, belowY: half + 19 + detail },
  } as const;
  const { anchor, x, nameY, belowY } = place[stop.kind === "exit" || stop.kind === "stream" ? stop.kind : "step"];
  return (
    <g textAnchor={anchor} stroke="var(--paper)" strokeWidth={4} strokeLinejoin="round" paintOrder="stroke">
      <TextLines lines={lines} x={x} y={nameY} size={name} bold />
      <TextLines lines={below} x={x} y={belowY} size={detail} />
    </g>
  );
}

interface TextLinesProps {
  lines: string[];
  x: number;
  y: number;
  size: number;
  bold?: boolean;
}

function TextLines({ lines, x, y, size, bold }: TextLinesProps) {
  return (
    <text x={x} y={y} fontSize={size} fontWeight={bold ? 700 : 400} fill={bold ? "var(--ink)" : "var(--ink-2)"}>
      {lines.map((line, n) => (
        <tspan key={line} x={x} dy={n === 0 ? 0 : size * 1.2}>
          {line}
        </tspan>
      ))}
    </text>
  );
}

/** A waiting room that holds only so many: a bracket around the approach, with its number below. */
function WaitingRoom({ study, stop, half, zoom }: { study: StudyDocument; stop: Stop; half: number; zoom: number }) {
  const step = stepById(study, stop.id);
  const most = step?.kind === "serve" ? step.line?.max : undefined;
  if (most == null) return null;
  const [left, right, top, bottom] = [-FLAT + 2, -14, -half - 7, half + 7];
  const size = Math.max(12, 12 / zoom);
  return (
    <g>
      <path
        d={`M${left + 6},${top}H${left}V${bottom}H${left + 6}M${right - 6},${bottom}H${right}`}
        fill="none"
        stroke="var(--ink-2)"
        strokeWidth={1.4}
      />
      <text x={left} y={bottom + size} fontSize={size} fill="var(--ink-2)" stroke="var(--paper)" strokeWidth={4} paintOrder="stroke">
        {most}
      </text>
    </g>
  );
}

const MOST_DOTS = 16;
const DOTS_IN_A_ROW = 8;
const DOT_GAP = 7;

/** The waiting cases as dots on the approach, so that a long line looks long; after so many, their number. */
function WaitingDots({ half, waiting }: { half: number; waiting: number }) {
  const many = Math.round(waiting);
  const shown = Math.min(many, MOST_DOTS);
  return (
    <g fill="var(--ink)">
      {Array.from({ length: shown }, (_, n) => (
        <circle key={n} cx={-20 - (n % DOTS_IN_A_ROW) * DOT_GAP} cy={-half - 9 - Math.floor(n / DOTS_IN_A_ROW) * DOT_GAP} r={2.6} />
      ))}
      {many > MOST_DOTS && (
        <text x={-20 - DOTS_IN_A_ROW * DOT_GAP} y={-half - 10} fontSize={12} fontWeight={700} textAnchor="end">
          {many}
        </text>
      )}
    </g>
  );
}

function ProblemMark({ half, problems }: { half: number; problems: Problem[] }) {
  const isError = problems.some((problem) => problem.level === "error");
  return (
    <g transform={`translate(20,${-half - 9})`}>
      <circle r={8.5} fill={isError ? "var(--wrong)" : "var(--sheet)"} stroke={isError ? "var(--paper)" : "var(--ink)"} strokeWidth={1.5} />
      <text y={4} textAnchor="middle" fontSize={12} fontWeight={700} fill={isError ? "var(--paper)" : "var(--ink)"}>
        {isError ? problems.length : "?"}
      </text>
    </g>
  );
}

const LABEL_GAP = 6;

/** Who works at a stop and how long, or how often cases come. */
function detailOf(study: StudyDocument, stop: Stop): string[] {
  if (stop.kind === "stream") {
    const stream = study.streams.find((each) => `stream:${each.id}` === stop.id);
    return stream ? [howOften(stream)] : [];
  }
  const step = stepById(study, stop.id);
  if (step?.kind === "delay") return [inShort(step.time, stop.types)];
  if (step?.kind !== "serve") return [];
  const needs = (step.needs ?? []).map((need) => {
    const able = need.skill
      ? study.teams.filter((team) => team.skills?.includes(need.skill as string))
      : study.teams.filter((team) => team.id === need.team);
    const several = need.count && need.count > 1 ? `${need.count} of ` : "";
    return several + (able.map(headcount).join(" or ") || "nobody known");
  });
  const who = needs.join(" + ") || "automatic";
  return [...(stop.room >= ROOM_FOR_THREE ? inLines(who, LONGEST_DETAIL) : [who]), inShort(step.work, stop.types)];
}

/** "4 clerks", "1 clerk", or "clerks" where a roster says how many: a team's name is usually a plural. */
function headcount({ size, roster, name }: Team): string {
  const word = name.toLowerCase();
  if (roster?.length) return word;
  size ??= 1;
  return `${size} ${size === 1 && /[^s]s$/.test(word) ? word.slice(0, -1) : word}`;
}
