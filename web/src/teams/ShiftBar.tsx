import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Team } from "../study/document/types";
import { breakMoved, moved, stretched } from "../study/edits/rosters";
import { minutes } from "../study/values/durations";
import { breaksOf, MOST_PEOPLE, type RosterRow, shiftOf } from "../study/values/rosters";
import type { Span } from "./coverage";
import { beginningsOf, shiftInWords, type Typed, type View, withDigit } from "./views";

const SNAP = 15;
const FINE = 5;
/** So many pixels at either end of a bar stretch it. */
const END = 9;
/** So many pixels are no move yet. */
const STILL = 3;
/** A bar shows each member's breaks apart as long as there are no more of them than this. */
const MOST_LANES = 16;

export interface ShiftBarProps {
  team: Team;
  number: number;
  row: RosterRow;
  view: View;
  span: Span;
  isChosen: boolean;
  /** Chosen alone, or beside those that are chosen already. */
  onChoose: (also: boolean) => void;
  onFocus: () => void;
  /** Told while it is dragged, and with null where that is given up. */
  onPreview: (how: How | null) => void;
  /** Changes it, and those that are chosen with it. */
  onChange: (how: How, what: string) => void;
  onCommand: (command: Command) => void;
}

/** What becomes of a shift. */
export type How = (row: RosterRow) => RosterRow;

export type Command = "open" | "duplicate" | "split" | "remove" | "next" | "previous" | "also-next" | "also-previous" | "all" | "alone";

const COMMANDS: Record<string, Command> = {
  Enter: "open",
  d: "duplicate",
  s: "split",
  Delete: "remove",
  Backspace: "remove",
  ArrowDown: "next",
  ArrowUp: "previous",
  Escape: "alone",
};

/** What of a shift is dragged: all of it, one of its ends, or one of its breaks. */
type Part = "all" | "from" | "to" | { break: number };

/** A shift on the board, once for each day of the view: dragged to move it, at its ends to stretch it; arrow keys do the same. */
export function ShiftBar({ team, number, row, view, span, isChosen, onChoose, onFocus, onPreview, onChange, onCommand }: ShiftBarProps) {
  const typed = useRef<Typed>({ digits: "", at: 0 });
  const drag = useRef<{ part: Part; x: number; perPixel: number; row: RosterRow } | null>(null);
  const [begins, ends] = shiftOf(row);
  const wide = span.to - span.from;
  const changing =
    (part: Part, by: number): How =>
    (from) => {
      if (part === "all") return moved(from, by);
      return typeof part === "object" ? breakMoved(from, part.break, by) : stretched(from, part, by, SNAP);
    };
  const counting =
    (people: (now: number) => number): How =>
    (from) => ({ ...from, people: Math.min(Math.max(people(from.people), 0), MOST_PEOPLE) });

  const begin = (event: PointerEvent<HTMLButtonElement>) => {
    if (event.button !== 0) return;
    if (event.shiftKey || event.ctrlKey || event.metaKey) {
      onChoose(true);
      return;
    }
    const bar = event.currentTarget.getBoundingClientRect();
    const inside = event.clientX - bar.left;
    const place = (event.target as HTMLElement).dataset.break;
    const end = inside < END ? "from" : inside > bar.width - END ? "to" : "all";
    const part = place === undefined ? end : { break: Number(place) };
    drag.current = { part, x: event.clientX, perPixel: (ends - begins) / bar.width, row };
    event.currentTarget.setPointerCapture(event.pointerId);
    if (!isChosen) onChoose(false);
  };
  const dragged = (event: PointerEvent): How | null => {
    if (!drag.current) return null;
    const { part, x, perPixel, row: from } = drag.current;
    if (Math.abs(event.clientX - x) < STILL) return null;
    const snap = event.altKey ? FINE : SNAP;
    const edge = typeof part === "object" ? 0 : shiftOf(from)[part === "to" ? 1 : 0];
    const by = Math.round((edge + (event.clientX - x) * perPixel) / snap) * snap - edge;
    return changing(part, by);
  };
  const end = (event: PointerEvent) => {
    const how = dragged(event);
    const before = drag.current?.row;
    drag.current = null;
    onPreview(null);
    if (!before) return;
    if (!how) onChoose(false);
    else if (JSON.stringify(how(before)) !== JSON.stringify(before)) onChange(how, inWords(before, how(before)));
  };
  const giveUp = () => {
    drag.current = null;
    onPreview(null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const isAll = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "a";
    if ((event.ctrlKey || event.metaKey) && !isAll) return;
    const side = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (isAll) onCommand("all");
    else if (event.shiftKey && event.key === "ArrowDown") onCommand("also-next");
    else if (event.shiftKey && event.key === "ArrowUp") onCommand("also-previous");
    else if (side !== 0) {
      const how = changing(event.shiftKey ? "to" : "all", side * (event.altKey ? FINE : SNAP));
      onChange(how, inWords(row, how(row)));
    } else if (event.key === "+" || event.key === "-" || /^\d$/.test(event.key)) {
      if (/\d/.test(event.key)) typed.current = withDigit(typed.current, event.key, event.timeStamp);
      const wanted = Number(typed.current.digits);
      const how = counting((now) => (event.key === "+" ? now + 1 : event.key === "-" ? now - 1 : wanted));
      onChange(how, `people ${row.people} → ${how(row).people}`);
    } else if (event.key === "Escape" && drag.current) giveUp();
    else if (COMMANDS[event.key]) onCommand(COMMANDS[event.key] as Command);
    else return;
    event.preventDefault();
  };

  return beginningsOf(row, view).map((day, n) => (
    <button
      key={day}
      type="button"
      aria-label={shiftInWords(team, row)}
      aria-pressed={isChosen}
      data-shift={n === 0 ? "" : undefined}
      data-team={team.id}
      data-row={number}
      tabIndex={n === 0 ? 0 : -1}
      className="absolute inset-y-1 touch-none overflow-hidden rounded-md bg-ink text-left text-paper outline-offset-2
        aria-pressed:shadow-[0_0_0_4px_var(--marker)]"
      style={{
        left: `${((day + begins - span.from) / wide) * 100}%`,
        width: `${((ends - begins) / wide) * 100}%`,
        cursor: "grab",
      }}
      onPointerDown={begin}
      onPointerMove={(event) => {
        if (drag.current) onPreview(dragged(event));
        else event.currentTarget.style.cursor = cursorAt(event);
      }}
      onPointerUp={end}
      onPointerCancel={giveUp}
      onDoubleClick={() => onCommand("open")}
      onFocus={onFocus}
      onKeyDown={onKeyDown}
    >
      <Breaks row={row} />
      <Overtime row={row} />
      {view !== "week" && (
        <span className="relative pl-3 text-sm whitespace-nowrap">
          <b className="text-base">{row.people}</b> {row.people === 1 ? "person" : "people"}
        </span>
      )}
      {view === "week" && <b className="relative pl-1 text-xs">{row.people}</b>}
    </button>
  ));
}

/** The breaks of a shift as notches, one lane for each member. */
function Breaks({ row }: { row: RosterRow }) {
  const [begins, ends] = shiftOf(row);
  const lanes = Math.max(1, Math.min(row.people, MOST_LANES));
  return (
    <span aria-hidden className="absolute inset-0">
      {breaksOf(row)
        .filter((each) => each.member < MOST_LANES)
        .map((each) => (
          <span
            key={`${each.place} ${each.member}`}
            data-break={each.place}
            className="absolute cursor-ew-resize bg-paper"
            style={{
              left: `${((each.begins - begins) / (ends - begins)) * 100}%`,
              width: `${((each.ends - each.begins) / (ends - begins)) * 100}%`,
              top: `${(each.member / lanes) * 100}%`,
              height: `${100 / lanes}%`,
            }}
          />
        ))}
    </span>
  );
}

/** The overtime at the end of a shift, hatched. */
function Overtime({ row }: { row: RosterRow }) {
  const [begins, ends] = shiftOf(row);
  if (row.overtime == null) return null;
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute inset-y-0 right-0"
      style={{
        width: `${(minutes(row.overtime) / (ends - begins)) * 100}%`,
        backgroundImage: "repeating-linear-gradient(135deg, transparent 0 5px, var(--paper) 5px 6.5px)",
      }}
    />
  );
}

function cursorAt(event: PointerEvent<HTMLElement>): string {
  const bar = event.currentTarget.getBoundingClientRect();
  const inside = event.clientX - bar.left;
  return inside < END || inside > bar.width - END ? "ew-resize" : "grab";
}

function inWords(before: RosterRow, now: RosterRow): string {
  const isMoved = now.from !== before.from || now.to !== before.to;
  return isMoved ? `${before.from}–${before.to} → ${now.from}–${now.to}` : "a break moved";
}
