import { Undo } from "lucide-react";
import { memo, type ReactNode, type RefObject, useEffect, useLayoutEffect, useRef, useState } from "react";
import { type Area, filled, laidOut, type Put, readCells, writeCells } from "./gridText";

export interface GridColumn {
  id: string;
  label: ReactNode;
  /** What is read aloud where the label is not plain. */
  name: string;
  width: number;
  numbers?: boolean;
}

export interface GridRow {
  id: string;
  label: ReactNode;
  name: string;
}

interface GridProps {
  label: string;
  corner: string;
  rows: GridRow[];
  columns: GridColumn[];
  /** What stands in a cell; null where there is nothing to fill in. */
  text: (row: number, column: number) => string | null;
  /** What stands beside a cell's text, to be read alone. */
  note?: (row: number, column: number) => string | null;
  /** What stands in a cell today, where that is something else in the scenario that is seen; else null. */
  today?: (row: number, column: number) => string | null;
  /** How strongly a cell is shaded, from 0 to 1. */
  shade?: (row: number, column: number) => number;
  /** Takes over what was typed or pasted, all of it or nothing; says what is wrong. */
  onPut: (puts: Put[]) => string | null;
  /** What a stroke of the mouse paints with; without it, the mouse selects. */
  brush?: string | null;
  /** Told which cells are selected. */
  onArea?: (area: Area) => void;
  labelWidth?: number;
  /** The row and the column that are shown first. */
  firstRow?: number;
  firstColumn?: number;
  /** Whether the first column stays in sight, as it names the row. */
  firstStays?: boolean;
}

interface Cell {
  row: number;
  column: number;
}

const MOVES: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
const PAGE = 16;

function areaOf(one: Cell, other: Cell): Area {
  return {
    top: Math.min(one.row, other.row),
    bottom: Math.max(one.row, other.row),
    left: Math.min(one.column, other.column),
    right: Math.max(one.column, other.column),
  };
}

/** Cells that are filled like a spreadsheet: arrows, typing over, filling down and right, copy and paste, painting. */
export function Grid({
  label,
  corner,
  rows,
  columns,
  text,
  note,
  today,
  shade,
  onPut,
  brush,
  onArea,
  labelWidth = 150,
  firstStays,
  firstRow = 0,
  firstColumn = 0,
}: GridProps) {
  const [active, setActive] = useState<Cell>({ row: firstRow, column: firstColumn });
  const [anchor, setAnchor] = useState<Cell>({ row: firstRow, column: firstColumn });
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const holder = useRef<HTMLDivElement>(null);
  const stroke = useRef<Put[] | null>(null);
  const dragging = useRef(false);
  const staysHere = useRef(false);
  const area = areaOf(active, anchor);

  const clampTo = (cell: Cell): Cell => ({
    row: Math.max(0, Math.min(rows.length - 1, cell.row)),
    column: Math.max(0, Math.min(columns.length - 1, cell.column)),
  });
  const go = (cell: Cell, extend = false) => {
    const next = clampTo(cell);
    const from = extend ? anchor : next;
    setActive(next);
    setAnchor(from);
    onArea?.(areaOf(next, from));
  };
  const put = (puts: Put[]): boolean => {
    const wrong = onPut(puts.filter((each) => text(each.row, each.column) !== null));
    setProblem(wrong);
    return wrong === null;
  };
  const commit = (all: boolean): boolean => {
    if (draft === null) return true;
    const done = put(all ? filled(area, () => draft) : [{ ...active, text: draft }]);
    if (done) setDraft(null);
    return done;
  };

  // biome-ignore lint/correctness/useExhaustiveDependencies: only where the grid begins; afterwards it is scrolled by hand.
  useLayoutEffect(() => {
    const [row, head] = [holder.current?.querySelectorAll("tr")[firstRow + 1], holder.current?.querySelector("thead")];
    if (holder.current && row) holder.current.scrollTop = row.offsetTop - (head?.offsetHeight ?? 0);
    if (holder.current) holder.current.scrollLeft = columns.slice(0, firstColumn).reduce((sum, column) => sum + column.width, 0);
  }, []);
  useEffect(() => {
    const end = () => {
      dragging.current = false;
      if (stroke.current) put(stroke.current);
      stroke.current = null;
    };
    window.addEventListener("mouseup", end);
    return () => window.removeEventListener("mouseup", end);
  });
  useEffect(() => {
    const cell = holder.current?.querySelector<HTMLElement>(`[data-cell="${active.row},${active.column}"]`);
    if (draft !== null || !(staysHere.current || holder.current?.contains(document.activeElement))) return;
    staysHere.current = false;
    cell?.focus();
  }, [active, draft]);

  const paint = (cell: Cell) => {
    const known = stroke.current ?? [];
    if (brush == null || known.some((each) => each.row === cell.row && each.column === cell.column)) return;
    stroke.current = [...known, { ...cell, text: brush }];
    holder.current?.querySelector(`[data-cell="${cell.row},${cell.column}"]`)?.setAttribute("data-painted", "");
  };
  const press = (cell: Cell, extend: boolean): boolean => {
    if (!commit(false)) return false;
    dragging.current = true;
    if (brush != null) {
      for (const each of holder.current?.querySelectorAll("[data-painted]") ?? []) each.removeAttribute("data-painted");
      paint(cell);
    }
    go(cell, extend);
    return true;
  };
  const enter = (cell: Cell) => {
    if (!dragging.current) return;
    if (brush != null) paint(cell);
    else go(cell, true);
  };

  const asToday = () => {
    const puts = filled(area, (row, column) => today?.(row, column) ?? "");
    void put(puts.filter(({ row, column }) => today && today(row, column) !== null));
  };
  const hands = useRef<Hands | null>(null);
  useLayoutEffect(() => {
    hands.current = {
      press,
      enter,
      edit: () => setDraft(text(active.row, active.column)),
      type: setDraft,
      leave: () => void commit(false),
      back: asToday,
    };
  });

  const onKeyDown = (event: React.KeyboardEvent) => {
    const control = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (draft !== null) {
      staysHere.current = event.key === "Escape" || event.key === "Enter" || event.key === "Tab";
      if (event.key === "Escape") {
        setDraft(null);
        setProblem(null);
        event.stopPropagation();
      } else if (event.key === "Enter" || event.key === "Tab") {
        const step = event.key === "Tab" ? [0, event.shiftKey ? -1 : 1] : [event.shiftKey ? -1 : 1, 0];
        if (commit(control) && !control) go({ row: active.row + (step[0] ?? 0), column: active.column + (step[1] ?? 0) });
        event.preventDefault();
      }
      return;
    }
    const move = MOVES[event.key];
    if (move) {
      const far = control ? Math.max(rows.length, columns.length) : 1;
      go({ row: active.row + move[0] * far, column: active.column + move[1] * far }, event.shiftKey);
    } else if (event.key === "PageDown" || event.key === "PageUp")
      go({ row: active.row + (event.key === "PageDown" ? PAGE : -PAGE), column: active.column }, event.shiftKey);
    else if (event.key === "Home") go({ row: control ? 0 : active.row, column: 0 }, event.shiftKey);
    else if (event.key === "End") go({ row: control ? rows.length - 1 : active.row, column: columns.length - 1 }, event.shiftKey);
    else if (event.key === "Enter" || event.key === "F2") setDraft(text(active.row, active.column));
    else if (event.altKey && event.key === "Delete") asToday();
    else if (event.key === "Delete" || event.key === "Backspace") put(filled(area, () => ""));
    else if (control && key === "d") put(filled(area, (_, column) => text(area.top, column) ?? ""));
    else if (control && key === "r") put(filled(area, (row) => text(row, area.left) ?? ""));
    else if (control && key === "a") {
      setAnchor({ row: 0, column: 0 });
      setActive({ row: rows.length - 1, column: columns.length - 1 });
      onArea?.({ top: 0, left: 0, bottom: rows.length - 1, right: columns.length - 1 });
    } else if (!control && event.key.length === 1 && text(active.row, active.column) !== null) setDraft(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const copy = (event: React.ClipboardEvent) => {
    if (draft !== null) return;
    const cells = Array.from({ length: area.bottom - area.top + 1 }, (_, row) =>
      Array.from({ length: area.right - area.left + 1 }, (_, column) => text(area.top + row, area.left + column) ?? ""),
    );
    event.clipboardData.setData("text/plain", writeCells(cells));
    event.preventDefault();
  };
  const paste = (event: React.ClipboardEvent) => {
    if (draft !== null) return;
    event.preventDefault();
    const laid = laidOut(readCells(event.clipboardData.getData("text/plain")), area, rows.length, columns.length);
    if (typeof laid === "string") setProblem(laid);
    else if (put(laid)) {
      const [last] = laid.slice(-1);
      if (last && laid.length > 1) {
        setAnchor({ row: area.top, column: area.left });
        setActive(clampTo(last));
      }
    }
  };

  return (
    <div className="flex h-full min-h-0 flex-col">
      {problem && (
        <p role="alert" className="mb-2 border-l-2 border-wrong pl-2 text-sm text-wrong">
          {problem}
        </p>
      )}
      <div ref={holder} className="min-h-0 flex-1 overflow-auto" onKeyDown={onKeyDown} onCopy={copy} onPaste={paste}>
        {/* Tabs lead into the grid once; the arrow keys go on from there. */}
        <table
          role="grid"
          aria-label={label}
          aria-multiselectable
          className="border-separate border-spacing-0 text-sm"
          style={{ width: labelWidth + columns.reduce((sum, column) => sum + column.width, 0), tableLayout: "fixed" }}
        >
          <thead>
            <tr>
              <th
                scope="col"
                style={{ width: labelWidth }}
                className="sticky left-0 top-0 z-20 border-b-2 border-ink bg-paper pb-1 text-left align-bottom font-normal text-ink-2"
              >
                {corner}
              </th>
              {columns.map((column, n) => (
                <th
                  key={column.id}
                  scope="col"
                  style={{ width: column.width, left: firstStays && n === 0 ? labelWidth : undefined }}
                  className={`sticky top-0 ${firstStays && n === 0 ? "z-20" : "z-10"} border-b-2 border-ink bg-paper px-1.5 pb-1
                    align-bottom font-normal text-ink-2 ${column.numbers ? "text-right" : "text-left"}`}
                >
                  {column.label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <Row
                key={row.id}
                row={row}
                number={n}
                columns={columns}
                texts={columns.map((_, column) => text(n, column))}
                notes={note ? columns.map((_, column) => note(n, column)) : null}
                todays={today ? columns.map((_, column) => today(n, column)) : null}
                shades={shade ? columns.map((_, column) => shade(n, column)) : null}
                left={n >= area.top && n <= area.bottom ? area.left : -1}
                right={area.right}
                active={active.row === n ? active.column : -1}
                draft={active.row === n ? draft : null}
                hands={hands}
                stays={firstStays ? labelWidth : -1}
              />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

/** What a cell does; behind a reference, so that rows that have not changed still do what is right now. */
interface Hands {
  /** Goes to a cell; stays where what was typed cannot be taken over. */
  press: (cell: Cell, extend: boolean) => boolean;
  enter: (cell: Cell) => void;
  edit: () => void;
  type: (text: string) => void;
  leave: () => void;
  /** Puts back into what is selected what stands there today. */
  back: () => void;
}

interface RowProps {
  row: GridRow;
  number: number;
  columns: GridColumn[];
  texts: (string | null)[];
  notes: (string | null)[] | null;
  todays: (string | null)[] | null;
  shades: number[] | null;
  left: number;
  right: number;
  active: number;
  draft: string | null;
  hands: RefObject<Hands | null>;
  /** Where the first column stays, in pixels from the left; below zero where it does not. */
  stays: number;
}

const sameRow = (one: RowProps, other: RowProps) =>
  one.row.label === other.row.label &&
  one.columns === other.columns &&
  one.left === other.left &&
  (one.left < 0 || one.right === other.right) &&
  one.active === other.active &&
  one.draft === other.draft &&
  one.texts.every((text, n) => text === other.texts[n]) &&
  (one.notes ?? []).every((note, n) => note === other.notes?.[n]) &&
  (one.todays === null) === (other.todays === null) &&
  (one.todays ?? []).every((today, n) => today === other.todays?.[n]) &&
  (one.shades ?? []).every((shade, n) => shade === other.shades?.[n]);

/** A row is drawn again only when something in it has changed. */
const Row = memo(function Row({ row, number, columns, texts, notes, todays, shades, left, right, active, draft, hands, stays }: RowProps) {
  return (
    <tr>
      <th scope="row" className="sticky left-0 z-10 truncate border-b border-rule bg-paper py-0.5 pr-2 text-left font-normal">
        {row.label}
      </th>
      {columns.map((column, place) => {
        const isActive = place === active;
        const isSelected = left >= 0 && place >= left && place <= right;
        const text = texts[place];
        const note = notes?.[place];
        const today = todays?.[place] ?? null;
        const filled = [text ?? (note ? null : "nothing to fill in"), note].filter(Boolean).join(" ");
        const told = today === null ? filled : `${filled}, today ${today || "nothing"}`;
        return (
          <td
            key={column.id}
            role="gridcell"
            aria-label={`${row.name}, ${column.name}: ${told}`}
            aria-selected={isSelected}
            aria-readonly={text === null || undefined}
            data-cell={`${number},${place}`}
            tabIndex={isActive ? 0 : -1}
            className={`relative h-6 cursor-cell border-b border-r border-rule px-1.5 outline-none data-painted:bg-marker!
              ${column.numbers ? "text-right" : "truncate"} ${isSelected ? "bg-marker-light" : text === null ? "bg-value/50" : ""}
              ${isActive ? "outline-2 -outline-offset-2 outline-ink" : ""}`}
            style={
              stays >= 0 && place === 0
                ? { position: "sticky", left: stays, zIndex: 5, background: isSelected ? undefined : "var(--paper)", fontWeight: 700 }
                : shades && !isSelected
                  ? { background: `color-mix(in srgb, var(--ink) ${Math.round((shades[place] ?? 0) * 42)}%, transparent)` }
                  : undefined
            }
            onMouseDown={(event) => {
              if (isActive && draft !== null) return;
              if (hands.current?.press({ row: number, column: place }, event.shiftKey)) event.currentTarget.focus();
              event.preventDefault();
            }}
            onMouseEnter={() => hands.current?.enter({ row: number, column: place })}
            onDoubleClick={() => hands.current?.edit()}
            title={today !== null ? `Today: ${today || "nothing"}` : text && text.length > 18 ? text : undefined}
          >
            {today !== null && (
              <span aria-hidden className="absolute top-0 left-0 border-4 border-marker border-r-transparent border-b-transparent" />
            )}
            {isActive && draft !== null ? (
              <input
                autoFocus
                aria-label={`${row.name}, ${column.name}`}
                className={`-mx-1.5 w-[calc(100%+0.75rem)] bg-marker-light px-1.5 outline-none ${column.numbers ? "text-right" : ""}`}
                value={draft}
                onChange={(event) => hands.current?.type(event.target.value)}
                onBlur={() => hands.current?.leave()}
              />
            ) : (
              <>
                {text}
                {note && text !== null && " "}
                {today !== null && isActive && (
                  <button
                    type="button"
                    aria-label={`Back to today’s ${today || "nothing"}`}
                    className="absolute right-0.5 bottom-0.5 grid size-4 place-items-center rounded-full bg-marker text-[#17202b]"
                    onMouseDown={(event) => event.stopPropagation()}
                    onClick={() => hands.current?.back()}
                  >
                    <Undo size={10} aria-hidden />
                  </button>
                )}
                {note && <span className={text === null ? "" : "float-left text-xs leading-5 text-ink-2"}>{note}</span>}
              </>
            )}
          </td>
        );
      })}
    </tr>
  );
}, sameRow);
