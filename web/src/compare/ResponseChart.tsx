import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { scaleOf } from "../study/values/scales";
import { FRAME } from "./frame";

interface ResponseChartProps {
  lever: Schemas["MovedLever"];
  families: Schemas["Family"][];
  row: Schemas["MeasureRow"];
}

interface Point {
  x: number;
  y: number;
  low: number;
  high: number;
}

/** So many curves are told apart by their dashes. */
const MOST_CURVES = 4;
const DASHES = ["", "7 4", "2 4", "10 4 2 4"];

/** How a measure answers to a lever: a curve with its band for scenarios that differ in nothing else. */
export function ResponseChart({ lever, families, row }: ResponseChartProps) {
  const options = useMemo(() => drawn(lever, families.slice(0, MOST_CURVES), row), [lever, families, row]);
  return (
    <figure>
      <PlotFigure label={`${row.title.name} over ${lever.name}`} options={options} />
      {families.length > 1 && (
        <figcaption className="pb-1 text-sm text-ink-2">
          {families.slice(0, MOST_CURVES).map((family, n) => (
            <span key={family.name} className="flex items-baseline gap-2">
              <svg aria-hidden width={30} height={8} className="shrink-0">
                <path d="M0 4H30" stroke="var(--ink)" strokeWidth={2} strokeDasharray={DASHES[n]} />
              </svg>
              {family.name}
            </span>
          ))}
          {families.length > MOST_CURVES && `The first ${MOST_CURVES} of ${families.length} such lines are drawn.`}
        </figcaption>
      )}
    </figure>
  );
}

function pointsOf(family: Schemas["Family"], lever: Schemas["MovedLever"], row: Schemas["MeasureRow"]): Point[] {
  const { factor } = scaleOf(row.title);
  return family.columns.flatMap((n) => {
    const [figure, setting] = [row.cells[n]?.figure, lever.settings[n]];
    if (figure?.mean == null || !setting) return [];
    const [low, high] = [figure.low ?? figure.mean, figure.high ?? figure.mean];
    return [{ x: setting.at, y: figure.mean * factor, low: low * factor, high: high * factor }];
  });
}

function drawn(lever: Schemas["MovedLever"], families: Schemas["Family"][], row: Schemas["MeasureRow"]): Plot.PlotOptions {
  const curves = families.map((family) => pointsOf(family, lever, row));
  const all = curves.flat();
  const words = new Map(lever.settings.map(({ at, words }) => [at, words]));
  const top = Math.max(...all.map(({ high }) => high), 1e-9) * 1.1;
  const settings = [...new Set(all.map(({ x }) => x))].toSorted((one, other) => one - other);
  return {
    ...FRAME,
    x: {
      label: lever.name,
      labelArrow: "none",
      labelAnchor: "right",
      ticks: fewOf(settings),
      tickSize: 4,
      tickFormat: (at: number) => words.get(at) ?? "",
      insetLeft: 8,
      insetRight: 8,
    },
    y: {
      label: `${row.title.name}, ${row.title.of}`,
      labelArrow: "none",
      ticks: 4,
      tickSize: 4,
      domain: [Math.min(0, ...all.map(({ low }) => low)), top],
    },
    marks: curves.flatMap((points, n) => [
      Plot.areaY(points, { x: "x", y1: "low", y2: "high", fill: "var(--marker)", fillOpacity: 0.45 }),
      Plot.line(points, { x: "x", y: "y", stroke: "var(--ink)", strokeWidth: 2, strokeDasharray: DASHES[n] }),
      Plot.dot(points, { x: "x", y: "y", r: 4, stroke: "var(--ink)", strokeWidth: 2, fill: "var(--sheet)" }),
    ]),
  };
}

const MOST_TICKS = 6;

/** Some of the settings, both ends among them. */
function fewOf(settings: number[]): number[] {
  const every = Math.ceil(settings.length / MOST_TICKS);
  return settings.filter((_, n) => n % every === 0);
}
