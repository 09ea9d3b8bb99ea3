import type { Ref } from "react";
import type { Problem } from "../api/client";
import { KIND_WORDS } from "../study/document/kinds";
import type { StudyDocument } from "../study/document/types";
import { detailOf, mostWaiting } from "./details";
import { halfOf, LEADING, type PlacedText, type StopLabels, usualName, waitingRoom } from "./labels";
import type { Box } from "./obstacles";
import type { Stop } from "./types";

interface StopMarkProps {
  study: StudyDocument;
  stop: Stop;
  selected: boolean;
  /** Where the keyboard points while a stop is asked for. */
  pointed: boolean;
  tabbable: boolean;
  problems: Problem[];
  /** What differs from today, in words. */
  changes: string[];
  /** What has room here. */
  labels: StopLabels;
  /** How much of a line stays level on either side. */
  flat: number;
  zoom: number;
  /** How many cases wait here on average. */
  waiting: number;
  onChoose: (also: boolean) => void;
  onReach: () => void;
  ref: Ref<SVGGElement>;
}

/** A stop with its name above and what it needs below; its kind shows in its form. */
export function StopMark({
  study,
  stop,
  selected,
  pointed,
  tabbable,
  problems,
  changes,
  labels,
  flat,
  zoom,
  waiting,
  onChoose,
  onReach,
  ref,
}: StopMarkProps) {
  const below = detailOf(study, stop);
  const half = halfOf(stop);
  const most = mostWaiting(study, stop);
  const label = `${stop.name}, ${kindWord(stop.kind)}${below.length > 0 ? `: ${below.join(", ")}` : ""}${
    most === null ? "" : `; at most ${most} wait`
  }${problems.length > 0 ? `. ${problems.length} to look at` : ""}${
    changes.length > 0 ? `. Differs from today: ${changes.join("; ")}` : ""
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
        <Labels {...labels} name={labels.name ?? (selected || pointed ? usualName(stop, zoom) : undefined)} />
        {most !== null && <WaitingRoom {...waitingRoom(stop, flat)} />}
        {waiting > 0 && <WaitingDots half={half} waiting={waiting} />}
        {problems.length > 0 && <ProblemMark half={half} problems={problems} />}
        {changes.length > 0 && <ChangeMark half={half} changes={changes} />}
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

/** The form of a stop by its kind. */
export function Glyph({ half, kind }: { half: number; kind: Stop["kind"] }) {
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

/** The words at a stop. */
export function Labels({ name, detail, most }: StopLabels) {
  return (
    <g stroke="var(--paper)" strokeWidth={4} strokeLinejoin="round" paintOrder="stroke">
      {name && <TextLines {...name} />}
      {detail && <TextLines {...detail} />}
      {most && <TextLines {...most} />}
    </g>
  );
}

function TextLines({ lines, x, y, size, anchor, isBold }: PlacedText) {
  return (
    <text x={x} y={y} fontSize={size} fontWeight={isBold ? 700 : 400} fill={isBold ? "var(--ink)" : "var(--ink-2)"} textAnchor={anchor}>
      {lines.map((line, n) => (
        <tspan key={n} x={x} dy={n === 0 ? 0 : size * LEADING}>
          {line}
        </tspan>
      ))}
    </text>
  );
}

/** A waiting room that holds only so many: a bracket around the approach. */
function WaitingRoom({ left, right, top, bottom }: Box) {
  return (
    <path
      d={`M${left + 6},${top}H${left}V${bottom}H${left + 6}M${right - 6},${bottom}H${right}`}
      fill="none"
      stroke="var(--ink-2)"
      strokeWidth={1.4}
    />
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

/** Marks what differs from today; on hover it says how. */
function ChangeMark({ half, changes }: { half: number; changes: string[] }) {
  return (
    <g transform={`translate(24,${half + 15})`}>
      <title>{`Differs from today: ${changes.join("; ")}`}</title>
      <circle r={9} fill="var(--marker)" stroke="#17202b" strokeWidth={1.8} />
      <path d="M-4,-2H4M-4,2H4M2.5,-5L-2.5,5" stroke="#17202b" strokeWidth={1.6} />
    </g>
  );
}
