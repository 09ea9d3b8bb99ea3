import { useId, useMemo } from "react";
import type { Schemas } from "../api/client";
import { fitted, nearnessOf, stepped } from "../map/fit";
import { halfOf, placeLabels } from "../map/labels";
import { Labels } from "../map/StopMark";
import { pathOf } from "../map/tracks";
import type { Stop, Way } from "../map/types";
import { colourOf, stepById } from "../study/document/flow";
import { meets, needsOf } from "../study/document/needs";
import type { StudyDocument } from "../study/document/types";
import { type FigureOf, percent, round } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { Forms, formOf } from "./forms";
import { type Shown, useGroups, useSteps } from "./shown";

interface RunMapProps {
  shown: Shown;
  study: StudyDocument;
  figure: FigureOf;
}

const HEIGHT = 430;
const KEY = 24;
/** How wide the way with most cases is drawn, and the least that is seen. */
const WIDEST = 26;
const THINNEST = 1.2;
/** How wide a stop is, and how much wider where cases wait longest. */
const STOP = 18;
const WIDER = 14;
/** Shorter mean waits than this, in minutes, are none worth a form. */
const NOTHING = 0.05;

/** The flow as a line map of what happened: lines as thick as the flow, stops with their wait, its main cause and the load. */
export function RunMap({ shown, study, figure }: RunMapProps) {
  const steps = useSteps(shown);
  const groups = useGroups(shown);
  return steps && groups ? <DrawnMap study={study} figure={figure} steps={steps} groups={groups} /> : null;
}

interface DrawnMapProps extends Omit<RunMapProps, "shown"> {
  steps: Schemas["StepRow"][];
  groups: Schemas["FigureGroup"][];
}

function DrawnMap({ study, figure, steps, groups }: DrawnMapProps) {
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const scope = useId().replaceAll(":", "");
  const told = useMemo(() => tellStops(study, steps, figure), [study, steps, figure]);
  const { layout } = useMemo(() => fitted(study, { width, height: HEIGHT }, true), [study, width]);
  const near = Math.min(1, nearnessOf(layout, { width, height: HEIGHT }));
  const labels = placeLabels(study, layout, stepped(near), (stop) => told.get(stop.id)?.words ?? []);
  const flow = flows(groups);
  const most = Math.max(1, ...flow.values());
  const longest = Math.max(NOTHING, ...[...told.values()].map(({ wait }) => wait));
  const causes = new Map([...told.values()].flatMap(({ cause }) => (cause ? [[cause.part, cause.words] as const] : [])));
  return (
    <Picture
      title="Map of the run"
      aside="lines as thick as the flow; mean wait, what for most, and how busy"
      table={() => tableOf(study, told, flow)}
    >
      <div ref={holder}>
        <svg width={width} height={layout.height * near + KEY} role="img" aria-label={`Map of the run: ${spoken(study, told)}`}>
          <Forms parts={[...causes.keys()]} scope={scope} />
          <g transform={`scale(${near})`}>
            {layout.ways.map((way) => (
              <Flow key={`${way.from}>${way.to}`} study={study} way={way} cases={flow.get(keyOf(way)) ?? 0} most={most} />
            ))}
            {layout.stops.map((stop) => {
              const here = told.get(stop.id);
              return (
                <g key={stop.id} transform={`translate(${stop.x} ${stop.y})`} data-figure={`step/${stop.id}/wait/mean`}>
                  <StopBody stop={stop} here={here} longest={longest} scope={scope} />
                  <Labels {...labels.get(stop.id)} />
                </g>
              );
            })}
          </g>
          <Keys causes={[...causes]} y={layout.height * near + 4} scope={scope} />
        </svg>
      </div>
    </Picture>
  );
}

interface Told {
  name: string;
  wait: number;
  cause?: Schemas["Minutes"];
  loads: { name: string; share: number }[];
  words: string[];
}

/** What is told at each step: its mean wait and main cause, and how busy those are who work there. */
function tellStops(study: StudyDocument, rows: Schemas["StepRow"][], figure: FigureOf): Map<string, Told> {
  const unit = spanUnit(Math.max(0, ...rows.map((row) => row.figures["wait/mean"]?.mean ?? 0)));
  return new Map(
    rows.map(({ minutes, figures }): [string, Told] => {
      const wait = figures["wait/mean"]?.mean ?? 0;
      const causes = minutes.parts.filter(({ part }) => part !== "work" && part !== "travel");
      const cause = wait > NOTHING ? causes.toSorted((one, other) => other.minutes - one.minutes)[0] : undefined;
      const loads = loadsAt(study, minutes.id, figure);
      const waits = cause ? [`${round(wait / unit.minutes)} ${unit.unit}`] : [];
      return [minutes.id, { name: minutes.name, wait, cause, loads, words: [...loads.map(loadWords), ...waits] }];
    }),
  );
}

const loadWords = ({ name, share }: Told["loads"][number]) => `${name} ${percent(share)}`;

function loadsAt(study: StudyDocument, id: string, figure: FigureOf): Told["loads"] {
  const step = stepById(study, id);
  const able = step ? study.teams.filter((team) => needsOf(step).some((need) => meets(team, need))) : [];
  return able.flatMap(({ id: team, name }) => {
    const share = figure(`team/${team}/utilisation`)?.mean;
    return share == null ? [] : [{ name, share }];
  });
}

/** How many cases went each way, and came by each stream. */
function flows(groups: Schemas["FigureGroup"][]): Map<string, number> {
  const cells = groups.flatMap(({ rows }) => rows.flatMap((row) => row.cells));
  return new Map(
    cells.flatMap((cell): [string, number][] => {
      const found = /^(link|stream)\/(.+)\/arrived$/.exec(cell?.address ?? "");
      return found?.[2] ? [[found[1] === "link" ? found[2] : `stream:${found[2]}`, cell?.figure.mean ?? 0]] : [];
    }),
  );
}

/** A way as flows are known by: those from a stream by the stream, others by both ends. */
const keyOf = ({ from, to }: Way) => (from.startsWith("stream:") ? from : `${from}:${to}`);

interface FlowProps {
  study: StudyDocument;
  way: Way;
  cases: number;
  most: number;
}

/** The lines of a way, together as thick as the cases that took it; ways aside are not counted, and drawn thin. */
function Flow({ study, way, cases, most }: FlowProps) {
  const lines = way.side ? way.tracks.slice(0, 1) : way.tracks;
  const thick = way.side ? THINNEST : Math.max(THINNEST, ((cases / most) * WIDEST) / Math.max(1, lines.length));
  return (
    <g fill="none" strokeWidth={thick}>
      {lines.map((track) => (
        <path
          key={track.type}
          d={pathOf(track)}
          stroke={way.side ? "var(--ink-3)" : colourOf(study, track.type)}
          strokeOpacity={way.side ? 1 : 0.8}
          strokeDasharray={way.back ? "6 4" : undefined}
        />
      ))}
      <title>{way.side ? "" : `${Math.round(cases).toLocaleString("en")} cases`}</title>
    </g>
  );
}

interface StopBodyProps {
  stop: Stop;
  here: Told | undefined;
  longest: number;
  scope: string;
}

/** A stop: the wider, the longer cases wait, and filled with the form of what they wait for most. */
function StopBody({ stop, here, longest, scope }: StopBodyProps) {
  const half = halfOf(stop);
  if (stop.kind === "stream" || stop.kind === "exit") {
    const high = half + (stop.kind === "exit" ? 14 : 8);
    return <rect x={-3.5} y={-high} width={7} height={2 * high} fill="var(--ink)" />;
  }
  if (!here) return <circle r={6} fill="var(--ink)" />;
  const wide = STOP + WIDER * Math.sqrt(here.wait / longest);
  const high = 2 * half + 26;
  return (
    <rect
      x={-wide / 2}
      y={-high / 2}
      width={wide}
      height={high}
      rx={9}
      fill={here.cause ? formOf(here.cause.part, scope) : "var(--sheet)"}
      stroke="var(--ink)"
      strokeWidth={2.6}
    >
      <title>{spokenAt(here)}</title>
    </rect>
  );
}

const A_LETTER = 6.6;

function Keys({ causes, y, scope }: { causes: (readonly [string, string])[]; y: number; scope: string }) {
  let x = 0;
  return (
    <g>
      {causes.map(([part, words]) => {
        const here = x;
        x += 40 + words.length * A_LETTER;
        return (
          <g key={part} transform={`translate(${here} ${y})`}>
            <rect width={18} height={12} y={3} fill={formOf(part, scope)} stroke="var(--ink)" strokeWidth={0.5} />
            <text x={24} y={13} fontSize={13} fill="var(--ink-2)">
              {words}
            </text>
          </g>
        );
      })}
    </g>
  );
}

const spokenAt = ({ name, words, cause }: Told) => `${[name, ...words].join(", ")}${cause ? `; most of it ${cause.words}` : ""}`;

const spoken = (study: StudyDocument, told: Map<string, Told>) =>
  study.steps.flatMap(({ id }) => [told.get(id)].flatMap((here) => (here ? [spokenAt(here)] : []))).join(". ");

function tableOf(study: StudyDocument, told: Map<string, Told>, flow: Map<string, number>) {
  const steps = [...told].map(([, { name, wait, cause, loads }]) => [name, wait, cause?.words ?? "", loads.map(loadWords).join(", ")]);
  const called = (id: string) => study.streams.find((each) => `stream:${each.id}` === id)?.name ?? stepById(study, id)?.name ?? id;
  const ways = [...flow].map(([key, cases]) => [
    key.startsWith("stream:") ? called(key) : key.split(":").map(called).join(" → "),
    null,
    "cases in a replication",
    Math.round(cases),
  ]);
  return { head: ["Step or way", "mean wait, min", "what for most", "how busy, or how many"], rows: [...steps, ...ways] };
}
