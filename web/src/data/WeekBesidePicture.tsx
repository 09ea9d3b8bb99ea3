import * as Plot from "@observablehq/plot";
import { useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { DAYS } from "../study/values/days";
import { Choice } from "../ui/Choice";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";

type Week = Schemas["WeekBeside"];

const HEIGHT = 210;
const HOURS = 168;
const UNITS: Record<string, string> = { minutes: "min", count: "an hour", share: "share" };

/** A quantity by the hour of the week: as the log has it, as bars, and as it was simulated, as a line with its interval. */
export function WeekBesidePicture({ weeks }: { weeks: Week[] }) {
  const told = weeks.filter((week) => week.observed.some((each) => each));
  const [quantity, setQuantity] = useState<string | null>(null);
  const week = told.find((each) => each.quantity === quantity) ?? told[0];
  if (!week) return null;
  const choice = (
    <Choice
      quiet
      label="What of the week"
      value={week.quantity}
      options={told.map((each) => ({ value: each.quantity, label: wordsOf(each) }))}
      onChoose={setQuantity}
    />
  );
  return (
    <Picture className="mt-4" title="The week by the hour" aside={choice} table={() => tableOf(week)}>
      <WeekLines week={week} />
      <p className="text-sm text-ink-2">Bars are the log’s, the line with its interval was simulated.</p>
    </Picture>
  );
}

const wordsOf = ({ title }: Week) => title.name;

function WeekLines({ week }: { week: Week }) {
  const [holder, width] = useWidth<HTMLDivElement>(800);
  const options = useMemo((): Plot.PlotOptions => {
    const hours = Array.from({ length: HOURS }, (_, hour) => {
      const mean = week.simulated[hour] ?? null;
      const half = week.half_width[hour] ?? 0;
      return { hour, seen: week.observed[hour] ?? null, mean, low: mean && Math.max(0, mean - half), high: mean && mean + half };
    });
    const used = hours.filter(({ seen, mean }) => seen || mean);
    const days = DAYS.map((day, n) => ({ day, n })).filter(({ n }) => used.some(({ hour }) => Math.floor(hour / 24) === n));
    const [first, last] = [Math.min(...used.map(({ hour }) => hour % 24)), Math.max(...used.map(({ hour }) => hour % 24)) + 1];
    const span = last - first + 1;
    const placed = days.map(({ n, day }, place) => ({
      day,
      from: place * span,
      hours: hours
        .slice(24 * n + first, 24 * n + last)
        .map((each) => ({ ...each, x1: place * span + (each.hour % 24) - first, x: place * span + (each.hour % 24) - first + 0.5 })),
    }));
    return {
      width,
      height: HEIGHT,
      marginLeft: 40,
      marginBottom: 24,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { axis: null, domain: [0, days.length * span - 1] },
      y: {
        label: UNITS[week.title.unit as string] ?? null,
        labelArrow: "none",
        labelAnchor: "top",
        labelOffset: 38,
        ticks: 4,
        tickSize: 0,
      },
      marks: [
        Plot.rectY(
          placed.flatMap((each) => each.hours.filter(({ seen }) => seen)),
          { x1: "x1", x2: ({ x1 }: { x1: number }) => x1 + 1, y: "seen", fill: "var(--ink-3)", fillOpacity: 0.45, insetRight: 1 },
        ),
        ...placed.flatMap(({ hours: all }) => {
          const known = all.filter(({ mean }) => mean !== null);
          return [
            Plot.areaY(known, { x: "x", y1: "low", y2: "high", fill: "var(--ink)", fillOpacity: 0.15 }),
            Plot.lineY(known, { x: "x", y: "mean", stroke: "var(--ink)", strokeWidth: 2 }),
          ];
        }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
        Plot.text(placed, {
          x: ({ from }: { from: number }) => from + (last - first) / 2,
          text: ({ day }: (typeof placed)[number]) => day.name,
          frameAnchor: "bottom",
          dy: 20,
          fill: "var(--ink-2)",
        }),
      ],
    };
  }, [week, width]);
  return (
    <div ref={holder}>
      <PlotFigure label={`${wordsOf(week)} by the hour of the week, of the log and as simulated`} options={options} />
    </div>
  );
}

const tableOf = (week: Week) => ({
  head: ["Day", "From", "Log", "Simulated", "±"],
  rows: week.observed.map((seen, n) => [
    DAYS[Math.floor(n / 24)]?.name ?? "",
    `${n % 24}:00`,
    seen,
    week.simulated[n] ?? null,
    week.half_width[n] ?? null,
  ]),
});
