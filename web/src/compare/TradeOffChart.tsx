import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { scaleOf } from "../study/values/scales";
import { FRAME } from "./frame";
import { type Label, placed } from "./labels";

type Comparison = Schemas["Comparison"];

interface Point {
  name: string;
  x: number;
  y: number;
  low: number;
  high: number;
  isEfficient: boolean;
}

interface TradeOffChartProps {
  comparison: Comparison;
  across: Schemas["MeasureRow"];
  up: Schemas["MeasureRow"];
}

const MOST_NAMED = 8;

/** Two figures of every scenario against each other; those that no other beats in both are filled, and joined. */
export function TradeOffChart({ comparison, across, up }: TradeOffChartProps) {
  const options = useMemo(() => drawn(pointsOf(comparison, across, up), across, up), [comparison, across, up]);
  return <PlotFigure label={`${up.title.name} against ${across.title.name}`} options={options} />;
}

function pointsOf({ columns, trade_off }: Comparison, across: Schemas["MeasureRow"], up: Schemas["MeasureRow"]): Point[] {
  const [xs, ys] = [scaleOf(across.title), scaleOf(up.title)];
  return columns.flatMap(({ name }, n) => {
    const [x, y] = [across.cells[n]?.figure, up.cells[n]?.figure];
    if (x?.mean == null || y?.mean == null) return [];
    const [low, high] = [y.low ?? y.mean, y.high ?? y.mean].map((end) => end * ys.factor) as [number, number];
    return [{ name, x: x.mean * xs.factor, y: y.mean * ys.factor, low, high, isEfficient: trade_off.efficient.includes(n) }];
  });
}

function drawn(points: Point[], across: Schemas["MeasureRow"], up: Schemas["MeasureRow"]): Plot.PlotOptions {
  const efficient = points.filter((point) => point.isEfficient).toSorted((one, other) => one.x - other.x);
  const xDomain = around(points.map(({ x }) => x));
  const yDomain = around(points.flatMap(({ low, high }) => [low, high]));
  const others = points.filter((point) => !point.isEfficient);
  const named = points.length <= MOST_NAMED ? [...efficient, ...others] : efficient.slice(0, MOST_NAMED);
  const { width, height, marginLeft, marginRight, marginTop, marginBottom } = FRAME;
  const frame = { left: marginLeft, right: width - marginRight, top: marginTop, bottom: height - marginBottom };
  const toX = (x: number) => frame.left + ((x - xDomain[0]) / (xDomain[1] - xDomain[0])) * (frame.right - frame.left);
  const toY = (y: number) => frame.bottom - ((y - yDomain[0]) / (yDomain[1] - yDomain[0])) * (frame.bottom - frame.top);
  const spots = (all: Point[]) => all.map(({ name, x, y }) => ({ name, x: toX(x), y: toY(y) }));
  const labels = placed(spots(named), spots(points), { ...frame, right: width });
  return {
    ...FRAME,
    x: { label: inFull(across), labelArrow: "none", labelAnchor: "right", ticks: 4, tickSize: 4, domain: xDomain },
    y: { label: inFull(up), labelArrow: "none", ticks: 4, tickSize: 4, domain: yDomain },
    marks: [
      Plot.line(efficient, { x: "x", y: "y", stroke: "var(--marker)", strokeWidth: 6, strokeLinecap: "round" }),
      Plot.ruleX(points, { x: "x", y1: "low", y2: "high", stroke: "var(--ink)" }),
      Plot.dot(points, {
        x: "x",
        y: "y",
        r: 5,
        stroke: "var(--ink)",
        strokeWidth: 2.5,
        fill: (point: Point) => (point.isEfficient ? "var(--ink)" : "var(--sheet)"),
      }),
      () => labelsAt(labels),
    ],
  };
}

/** A span of an axis with some room around its values. */
function around(values: number[]): [number, number] {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = (most - least || Math.abs(most) || 1) * 0.12;
  return [least - room, most + room];
}

const SVG = "http://www.w3.org/2000/svg";

/** Names at places in the picture, which were chosen clear of each other and of the points. */
function labelsAt(labels: Label[]): SVGElement {
  const group = document.createElementNS(SVG, "g");
  for (const { x, y, name, anchor } of labels) {
    const text = document.createElementNS(SVG, "text");
    const look = {
      x,
      y,
      "text-anchor": anchor,
      dy: "0.32em",
      "font-weight": 700,
      fill: "var(--ink)",
      stroke: "var(--sheet)",
      "stroke-width": 4,
    };
    for (const [key, value] of Object.entries({ ...look, "paint-order": "stroke", "stroke-linejoin": "round" }))
      text.setAttribute(key, String(value));
    text.textContent = name;
    group.append(text);
  }
  return group;
}

const inFull = ({ title }: Schemas["MeasureRow"]) => `${title.name}, ${title.of}`;
