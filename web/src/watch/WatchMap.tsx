import { type MouseEvent, useEffect, useMemo, useRef, useState } from "react";
import type { Outline } from "../api/queries";
import { type Box, fitted, nearnessOf, stepped } from "../map/fit";
import { halfOf, placeLabels } from "../map/labels";
import { Glyph, Labels } from "../map/StopMark";
import type { MapLayout } from "../map/types";
import { WayLines } from "../map/WayMark";
import type { StudyDocument } from "../study/document/types";
import { draw, type Paint, type Pen, paintOf, sizeAt, wipe } from "./drawing";
import { type Drawn, placesOf, standsOf } from "./places";
import type { Player } from "./player";
import { SaveMoment } from "./SaveMoment";
import { type Stage, stageOf } from "./stage";

export interface WatchMapProps {
  study: StudyDocument;
  /** What is seen, in words: the name of the study and the clock. */
  words: () => string;
  player: Player;
  /** Which of those that are played it is. */
  place: number;
  outline: Outline;
  /** The step whose line is shown below. */
  step: string | undefined;
  followed: number | null;
  onStep: (id: string) => void;
  onFollow: (number: number) => void;
  onMember: (team: string, member: number) => void;
}

/** So far from its middle, in pixels, a dot is still hit. */
const NEAR_ENOUGH = 9;

/** The line map with everything on it that moves: drawn on a canvas over the lines and stops. */
export function WatchMap({ study, words, player, place, outline, step, followed, onStep, onFollow, onMember }: WatchMapProps) {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<Drawn | null>(null);
  const box = useBox(holder);
  const layout = useMemo(() => fitted(study, box, true).layout, [study, box]);
  const near = nearnessOf(layout, box);
  const left = (box.width - layout.width * near) / 2;
  const top = (box.height - layout.height * near) / 2;
  const stage = useMemo(() => stageOf(study, layout, outline), [study, layout, outline]);
  useEffect(() => {
    const pen = canvas.current?.getContext("2d");
    if (!pen || !canvas.current) return;
    const dense = devicePixelRatio || 1;
    canvas.current.width = Math.round(box.width * dense);
    canvas.current.height = Math.round(box.height * dense);
    pen.setTransform(dense, 0, 0, dense, left * dense, top * dense);
    let paint = paintOf(study);
    const show = () => {
      const scene = player.sceneOf(place);
      if (!scene) return;
      drawn.current = placesOf(scene, player.moment, stage, player.glide, sizeAt(near) / near);
      wipe(pen);
      draw(pen, drawn.current, near, paint, followed);
    };
    const theme = new MutationObserver(() => {
      paint = paintOf(study);
      show();
    });
    theme.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    show();
    const stop = player.listen(show);
    return () => {
      stop();
      theme.disconnect();
    };
  }, [player, place, stage, near, left, top, box, followed, study]);
  const scenery = () => {
    const ground = holder.current?.querySelector("svg");
    if (!ground) return null;
    const drawOn = (pen: Pen, paint: Paint) => drawn.current && draw(pen, drawn.current, near, paint, followed);
    return { study, ground, drawOn, left, top, words };
  };
  const onClick = (event: MouseEvent) => {
    const at = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - at.left - left, event.clientY - at.top - top];
    const hit = drawn.current?.dots.find((dot) => Math.hypot(dot.x * near - x, dot.y * near - y) < NEAR_ENOUGH);
    const whom = drawn.current?.people.find((person) => Math.hypot(person.x * near - x, person.y * near - y) < NEAR_ENOUGH);
    if (hit) onFollow(hit.seen.number);
    else if (whom) onMember(study.teams[whom.team]?.id ?? "", whom.member + 1);
  };
  return (
    <div ref={holder} className="relative min-h-0 flex-1 overflow-hidden">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: cases are followed by the keyboard from the sheet. */}
      <div className="absolute inset-0" onClick={onClick}>
        <Ground study={study} layout={layout} stage={stage} near={near} left={left} top={top} step={step} onStep={onStep} />
        <canvas ref={canvas} aria-hidden className="pointer-events-none absolute inset-0 h-full w-full" />
      </div>
      <span className="absolute right-0 bottom-0">
        <SaveMoment player={player} scenery={scenery} />
      </span>
    </div>
  );
}

function useBox(holder: React.RefObject<HTMLDivElement | null>): Box {
  const [box, setBox] = useState<Box>({ width: 800, height: 420 });
  useEffect(() => {
    if (!holder.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setBox({ width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) });
    });
    watch.observe(holder.current);
    return () => watch.disconnect();
  }, [holder]);
  return box;
}

interface GroundProps {
  study: StudyDocument;
  layout: MapLayout;
  stage: Stage;
  near: number;
  left: number;
  top: number;
  step: string | undefined;
  onStep: (id: string) => void;
}

/** The lines and stops, on which everything moves. */
function Ground({ study, layout, stage, near, left, top, step, onStep }: GroundProps) {
  const labels = useMemo(
    () => placeLabels(study, layout, stepped(near), () => [], standsOf(stage, sizeAt(near) / near)),
    [study, layout, stage, near],
  );
  return (
    <svg className="absolute inset-0 h-full w-full" role="group" aria-label="Map of the flow: choose a step to see its line below">
      <g transform={`translate(${left} ${top}) scale(${near})`}>
        {layout.ways
          .toSorted((one, other) => Number(other.side) - Number(one.side))
          .map((way) => (
            <WayLines key={`${way.from}>${way.to}`} study={study} way={way} />
          ))}
        {layout.stops.map((stop) => (
          <g key={stop.id} transform={`translate(${stop.x},${stop.y})`} className="cursor-pointer" onClick={() => onStep(stop.id)}>
            <g
              role="button"
              tabIndex={stop.kind === "stream" || stop.kind === "exit" ? -1 : 0}
              aria-label={stop.name}
              aria-pressed={stop.id === step}
              className="outline-offset-4"
              onKeyDown={(event) => event.key === "Enter" && onStep(stop.id)}
            >
              {stop.id === step && <Chosen half={halfOf(stop)} />}
              <Glyph half={halfOf(stop)} kind={stop.kind} />
            </g>
            <g aria-hidden>
              <Labels {...labels.get(stop.id)} />
            </g>
          </g>
        ))}
      </g>
    </svg>
  );
}

/** The mark of the stop whose line is shown below. */
function Chosen({ half }: { half: number }) {
  return <rect x={-15} y={-half - 18} width={30} height={2 * half + 36} rx={15} fill="var(--marker)" />;
}
