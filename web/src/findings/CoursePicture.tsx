import * as Plot from "@observablehq/plot";
import { type ReactNode, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { Choice } from "../ui/Choice";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { type Shown, useCourse, useLevel, useLevels } from "./shown";

const HEIGHT = 260;
/** Stands for the cases inside, of which the course of every replication is kept. */
const INSIDE = "inside";

/** The cases inside over the run, or another level: the mean over the replications, and the band that holds eight of ten. */
export function CoursePicture({ shown, settled }: { shown: Shown; settled: string }) {
  const [quantity, setQuantity] = useState(INSIDE);
  const levels = useLevels(shown);
  const options = [
    { value: INSIDE, label: "Cases inside" },
    ...(levels ?? []).map(({ quantity: value, title }) => ({ value, label: title.name })),
  ];
  const choice = <Choice quiet label="What is drawn over time" value={quantity} options={options} onChoose={setQuantity} />;
  return quantity === INSIDE ? (
    <InsideCourse shown={shown} settled={settled} choice={choice} />
  ) : (
    <LevelCourse shown={shown} quantity={quantity} choice={choice} />
  );
}

function InsideCourse({ shown, settled, choice }: { shown: Shown; settled: string; choice: ReactNode }) {
  return <CourseOf name="cases inside" course={useCourse(shown)} choice={choice} words={settled} />;
}

function LevelCourse({ shown, quantity, choice }: { shown: Shown; quantity: string; choice: ReactNode }) {
  const { data, error } = useLevel(shown, quantity);
  const words = error?.message ?? (data ? `By ${data.replications} replications, drawn again.` : "Drawing replications again …");
  return (
    <>
      <CourseOf name={data?.title.name ?? ""} course={data?.course} choice={choice} words={words} />
      {data && data.shares.length > 0 && <LevelSpread level={data} />}
    </>
  );
}

interface CourseOfProps {
  name: string;
  course: Schemas["Course"] | undefined;
  choice: ReactNode;
  words: string;
}

function CourseOf({ name, course, choice, words }: CourseOfProps) {
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const options = useMemo(() => (course && course.mean.length > 0 ? optionsOf(course, width, name) : null), [course, width, name]);
  const aside = <>{choice} mean and the range of eight replications in ten</>;
  return (
    <Picture title="Over the run" aside={aside} table={() => tableOf(course, name)}>
      <div ref={holder} style={{ minHeight: HEIGHT }}>
        {options && <PlotFigure label={`Over the run: ${name}`} options={options} />}
        {course?.mean.length === 0 && <p className="text-ink-2">A run of this length keeps its course by the week only.</p>}
      </div>
      <p role="status" className="mt-1 text-sm text-ink-2">
        {words}
      </p>
    </Picture>
  );
}

/** How much of the time there are how many. */
function LevelSpread({ level }: { level: Schemas["LevelTold"] }) {
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const options = useMemo(() => spreadOptions(level, width), [level, width]);
  const head = ["cases", "of the time, %"];
  return (
    <Picture
      className="mt-4"
      title="How much of the time how many"
      aside={level.title.name}
      table={() => ({ head, rows: level.shares.map((share, n) => [level.least[n] ?? null, 100 * share]) })}
    >
      <div ref={holder}>
        <PlotFigure label={`${level.title.name}: ${level.words}`} options={options} />
      </div>
      <p className="text-sm text-ink-2">{level.words}</p>
    </Picture>
  );
}

/** So much higher than the next bar the one for nobody may be before it is cut, and so little of the time is left out at the end. */
const CUT_FROM = 2.5;
const TAIL = 0.005;

function spreadOptions({ least, shares }: Schemas["LevelTold"], width: number): Plot.PlotOptions {
  const some = shares.slice(1).reduce((sum, share) => sum + share, 0);
  let left = some;
  const many = shares.findLastIndex((share) => {
    left -= share;
    return some - left > TAIL * some;
  });
  const bars = shares.slice(0, many + 1).map((share, n) => ({ many: least[n] ?? 0, share: 100 * share }));
  const highest = Math.max(...bars.slice(1).map(({ share }) => share), 0.1);
  const nobody = bars[0]?.share ?? 0;
  const ceiling = nobody > CUT_FROM * highest ? 1.4 * highest : Math.max(nobody, highest);
  const cut = nobody > ceiling ? [{ many: 0, share: ceiling, words: `${Math.round(nobody)} % ↑` }] : [];
  return {
    width,
    height: 180,
    marginLeft: 48,
    marginRight: 16,
    marginTop: 24,
    marginBottom: 36,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit", overflow: "visible" },
    x: { type: "band", label: "cases", labelArrow: "none", labelAnchor: "right", tickSize: 0, ticks: sparse(bars.map(({ many }) => many)) },
    y: { label: "% of the time", labelArrow: "none", ticks: 4, tickSize: 0, domain: [0, ceiling] },
    marks: [
      Plot.barY(cut.length > 0 ? bars.slice(1) : bars, { x: "many", y: "share", fill: "var(--ink)" }),
      Plot.barY(cut, { x: "many", y: "share", fill: "var(--paper)", stroke: "var(--ink)" }),
      Plot.text(cut, { x: "many", y: "share", text: "words", textAnchor: "start", dx: 16, dy: 8, fill: "var(--ink)" }),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}

const MOST_TICKS = 20;

/** So few of the numbers that their ticks do not run into each other. */
function sparse(numbers: number[]): number[] {
  const every = Math.ceil(numbers.length / MOST_TICKS);
  return numbers.filter((_, n) => n % every === 0);
}

function optionsOf(course: Schemas["Course"], width: number, name: string): Plot.PlotOptions {
  const unit = course.days ? 1440 : 60;
  const at = (n: number) => (n * course.every) / unit;
  const points = course.mean.map((mean, n) => ({ x: at(n), mean, low: course.low[n], high: course.high[n] }));
  const warmUp = course.warm_up / unit;
  const proposed = course.proposed === null || course.proposed <= course.warm_up ? [] : [course.proposed / unit];
  const words = { dy: 8, dx: 4, textAnchor: "start", lineAnchor: "top", frameAnchor: "top-left", fill: "var(--ink)" } as const;
  return {
    width,
    height: HEIGHT,
    marginLeft: 48,
    marginRight: 16,
    marginBottom: 36,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
    x: { label: course.days ? "days" : "hours", labelArrow: "none", labelAnchor: "right", tickSize: 4 },
    y: { label: name, labelArrow: "none", ticks: 5, tickSize: 0, zero: true },
    marks: [
      ...(warmUp > 0 ? [Plot.rect([0], { x1: 0, x2: warmUp, fill: "var(--value)" }), Plot.text(["warm-up"], { x: 0, ...words })] : []),
      Plot.areaY(points, { x: "x", y1: "low", y2: "high", fill: "var(--ink)", fillOpacity: 0.16 }),
      Plot.lineY(points, { x: "x", y: "mean", stroke: "var(--ink)", strokeWidth: 1.5 }),
      Plot.ruleX(proposed, { stroke: "var(--ink)", strokeDasharray: "3 3" }),
      Plot.text(
        proposed.map((x) => ({ x, text: "leave out until here" })),
        { x: "x", text: "text", ...words },
      ),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}

function tableOf(course: Schemas["Course"] | undefined, name: string) {
  const rows = course?.mean.map((mean, n) => [n * course.every, mean, course.low[n] ?? null, course.high[n] ?? null]) ?? [];
  return { head: ["from, min of the run", `${name}, mean`, "low, 10 %", "high, 90 %"], rows };
}
