import { useMemo, useState } from "react";
import { SourceMark } from "../fields/SourceMark";
import type { Stream } from "../study/document/types";
import { rowOf, trimmed } from "../study/edits/streams";
import { edit, useToday } from "../study/session/store";
import { DAYS, timeOfDay } from "../study/values/days";
import { minutes } from "../study/values/durations";
import type { Week } from "../study/values/streams";
import { Choice } from "../ui/Choice";
import { Grid, type GridColumn } from "../ui/Grid";
import { type Area, type Put, readNumber } from "../ui/gridText";
import { LINK_BUTTON } from "../ui/Menu";
import { numberBetween, ValueField } from "../ui/ValueField";

type Profile = Extract<Stream, { kind: "profile" }>;

const MOST = 1e6;
const COPIES = [
  { value: "weekdays", label: "Monday to Friday" },
  { value: "all", label: "every day" },
  ...DAYS.map((day) => ({ value: day.id as string, label: day.name })),
];

/** The weekly profile as a grid of intervals and days: typed, painted, scaled, copied, pasted. */
export function ProfilePanel({ stream }: { stream: Profile }) {
  const length = minutes(stream.interval);
  const intervals = Math.round(1440 / length);
  const week = useMemo(() => DAYS.map((day) => rowOf(stream.week, day.id, intervals)), [stream.week, intervals]);
  const most = Math.max(...week.flat(), 1e-9);
  const decimals = Math.min(MOST_DECIMALS, Math.max(0, ...week.flat().map(decimalsOf)));
  const today = useToday()?.streams.find((each) => each.id === stream.id);
  const before = today?.kind === "profile" && minutes(today.interval) === length ? today.week : null;
  const [area, setArea] = useState<Area>({ top: 0, left: 0, bottom: 0, right: 0 });
  const [brush, setBrush] = useState<string | null>(null);
  const [lastBrush, setLastBrush] = useState("5");
  const change = (what: string, act: (days: number[][]) => number[][]) =>
    edit(`${stream.name}: ${what}`, (study) => {
      const found = study.streams.find((each) => each.id === stream.id);
      if (found?.kind === "profile") found.week = asWeek(act(week.map((row) => [...row])));
    });
  const put = (puts: Put[]): string | null => {
    const read = puts.map((each) => ({ ...each, number: each.text === "" ? { value: 0 } : readNumber(each.text) }));
    for (const { row, column, number } of read) {
      const where = `${DAYS[column]?.name} ${timeOfDay(row * length)}`;
      if ("problem" in number) return `${where}: ${number.problem} Nothing was put in.`;
      if (number.value < 0 || number.value > MOST)
        return `${where}: give a number from 0 to ${MOST.toLocaleString("en")}. Nothing was put in.`;
    }
    change(puts.length === 1 ? "one interval" : `${puts.length} intervals`, (days) => {
      for (const { row, column, number } of read) {
        const day = days[column];
        if (day && "value" in number) day[row] = number.value;
      }
      return days;
    });
    return null;
  };
  const totals = week.map((row) => row.reduce((sum, count) => sum + count, 0));
  const head = totals.map((total) => shown(total)).join(" ");
  const columns = useMemo(
    (): GridColumn[] =>
      DAYS.map((day, n) => ({
        id: day.id,
        name: day.name,
        width: 66,
        numbers: true,
        label: (
          <>
            {day.short}
            <br />
            <b className="text-ink">{head.split(" ")[n]}</b>
          </>
        ),
      })),
    [head],
  );
  const rows = useMemo(
    () =>
      Array.from({ length: intervals }, (_, n) => ({
        id: String(n),
        label: `${timeOfDay(n * length)}–${timeOfDay((n + 1) * length)}`,
        name: timeOfDay(n * length),
      })),
    [intervals, length],
  );
  const isOne = area.top === area.bottom && area.left === area.right;
  const scale = (factor: number, all: boolean) =>
    change(`${all ? "all" : "the selection"} × ${factor}`, (days) =>
      days.map((row, column) =>
        row.map((count, n) =>
          all || (column >= area.left && column <= area.right && n >= area.top && n <= area.bottom) ? rounded(count * factor) : count,
        ),
      ),
    );
  const copyDay = (target: string) => {
    const from = week[area.left] ?? [];
    change(`copy ${DAYS[area.left]?.name}`, (days) =>
      days.map((row, n) => (target === "all" || (target === "weekdays" && n < 5) || DAYS[n]?.id === target ? [...from] : row)),
    );
  };
  return (
    <div className="flex h-full min-h-56 flex-col">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-sm">
        <span>
          <b>{shown(totals.reduce((sum, total) => sum + total, 0))} a week</b>
          <SourceMark at={`streams/${stream.id}/week`} />
        </span>
        <span>
          Scale {isOne ? "all" : "the selection"} to{" "}
          <ValueField
            label="Scale to"
            value="100"
            suffix="%"
            parse={numberBetween(0, 10000)}
            onCommit={(percent) => scale(Number(percent) / 100, isOne)}
          />
        </span>
        <span className="inline-flex items-baseline gap-1">
          Copy {DAYS[area.left]?.name} to <Choice quiet label="Copy the day to" value="" options={COPIES} onChoose={copyDay} />
        </span>
        <span>
          <button
            type="button"
            aria-pressed={brush !== null}
            className={`${LINK_BUTTON} aria-pressed:bg-marker aria-pressed:px-1.5 aria-pressed:text-[#17202b]`}
            onClick={() => setBrush(brush === null ? lastBrush : null)}
          >
            Paint with
          </button>{" "}
          <ValueField
            label="Number to paint with"
            value={brush ?? lastBrush}
            parse={numberBetween(0, MOST)}
            onCommit={(number) => {
              setLastBrush(number);
              setBrush(number);
            }}
          />
        </span>
      </div>
      <div className="min-h-0 flex-1 pb-2">
        <Grid
          label={`Weekly profile of ${stream.name}: expected arrivals in each interval`}
          corner="Expected"
          labelWidth={104}
          rows={rows}
          columns={columns}
          firstRow={Math.max(0, Math.floor(firstUsed(week)) - 1)}
          text={(row, column) => textOf(week[column]?.[row] ?? 0, decimals)}
          today={(row, column) => {
            const day = DAYS[column];
            if (!before || !day) return null;
            const [now, then] = [week[column]?.[row] ?? 0, rowOf(before, day.id, intervals)[row] ?? 0];
            return now === then ? null : textOf(then, decimals);
          }}
          shade={(row, column) => (week[column]?.[row] ?? 0) / most}
          brush={brush}
          onPut={put}
          onArea={setArea}
        />
      </div>
    </div>
  );
}

const rounded = (count: number) => Number(count.toPrecision(6));
const MOST_DECIMALS = 3;
const decimalsOf = (count: number) => (String(rounded(count)).split(".")[1] ?? "").length;

/** A count with as many decimals as the others of its week have, so that they stand under each other. */
const textOf = (count: number, decimals: number) =>
  count === 0 ? "" : decimalsOf(count) > decimals ? String(rounded(count)) : count.toFixed(decimals);
const shown = (total: number) => Number(total.toFixed(total < 100 ? 1 : 0)).toLocaleString("en");

/** The first interval of the week in which somebody comes. */
function firstUsed(week: number[][]): number {
  const firsts = week.map((row) => row.findIndex((count) => count > 0)).filter((first) => first >= 0);
  return firsts.length > 0 ? Math.min(...firsts) : 0;
}

function asWeek(days: number[][]): Week {
  const used = days.map((row, n) => [DAYS[n]?.id ?? "", trimmed(row)] as const).filter(([, row]) => row.length > 0);
  return Object.fromEntries(used) as Week;
}
