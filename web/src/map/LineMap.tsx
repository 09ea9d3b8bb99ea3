import { Maximize2, Minus, Plus } from "lucide-react";
import { select as d3select } from "d3-selection";
import { type D3ZoomEvent, zoom as d3zoom, type ZoomBehavior, zoomIdentity, zoomTransform, type ZoomTransform } from "d3-zoom";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Problem } from "../api/client";
import { colourOf, partsByShare, shareOf, stepById } from "../study/flow";
import { idsOf } from "../study/parts";
import { problemsAt, type Selection } from "../study/store";
import type { StudyDocument } from "../study/types";
import { linksOf } from "../study/types";
import { IconButton } from "../ui/IconButton";
import { type MapLayout, layOut, type Stop, streamNode, type Way } from "./layout";
import { type Direction, neighbour } from "./moves";
import { StopMark } from "./StopMark";

const NAMES_FROM = 0.4;
const DETAIL_FROM = 0.6;
const CLOSEST = 2.5;
const NEAR = 0.9;
const FARTHEST = 0.05;

interface LineMapProps {
  study: StudyDocument;
  problems: Problem[];
  selection: Selection;
  /** Whether a stop is being asked for: then a click or Enter answers, and the selection stays. */
  asking?: boolean;
  onSelect: (selection: Selection) => void;
  onAlso?: (id: string) => void;
  onAnswer?: (id: string) => void;
  onOpen?: () => void;
}

/** The flow as a line map: case types are lines, steps are stops. Moves by mouse, wheel and keys. */
export function LineMap({ study, problems, selection, asking, onSelect, onAlso, onAnswer, onOpen }: LineMapProps) {
  const layout = useMemo(() => layOut(study), [study]);
  const view = useView(layout);
  const [cursor, setCursor] = useState<string | null>(null);
  const chosen = new Set(selection?.kind === "stream" ? [streamNode(selection.id)] : selection?.kind === "step" ? idsOf(selection) : []);
  const selected = [...chosen][0] ?? null;
  const at = (asking && cursor) || selected;

  const { showFromAfar } = view;
  useEffect(() => {
    const stop = layout.stops.find((each) => each.id === selected);
    if (stop) showFromAfar(stop);
    // Only a new selection moves the map; an edit of what is selected does not.
  }, [selected, showFromAfar]);

  const choose = (stop: Stop, also = false) => {
    if (asking) {
      setCursor(stop.id);
      if (stop.kind !== "stream") onAnswer?.(stop.id);
    } else if (also && stop.kind !== "stream") onAlso?.(stop.id);
    else onSelect(selectionOf(stop));
  };
  const marks = useRef(new Map<string, SVGGElement>());
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key.startsWith("Arrow") && !event.altKey && !event.ctrlKey) {
      const last = [...chosen].at(-1);
      const target = neighbour(layout, (event.shiftKey ? last : at) ?? "", event.key as Direction);
      if (target) {
        if (asking) setCursor(target.id);
        else if (event.shiftKey && target.kind !== "stream") onAlso?.(target.id);
        else onSelect(selectionOf(target));
        marks.current.get(target.id)?.focus();
        view.reveal(target);
      }
      event.preventDefault();
    } else if (event.key === "Enter" && asking && cursor) {
      onAnswer?.(cursor);
      event.preventDefault();
    } else if (event.key === "Enter" && selected) {
      onOpen?.();
      event.preventDefault();
    } else if (event.key === "Escape" && !asking) onSelect(null);
  };

  return (
    <div className="line-map relative h-full min-h-0">
      <svg
        ref={view.svg}
        className="h-full w-full cursor-grab select-none active:cursor-grabbing"
        role="group"
        aria-label="Map of the flow. Arrow keys follow the lines, Enter opens the sheet."
        onKeyDown={onKeyDown}
        onClick={(event) => event.target === event.currentTarget && onSelect(null)}
      >
        <g transform={view.transform.toString()}>
          {layout.ways.toSorted((one, other) => Number(other.side) - Number(one.side)).map((way) => (
            <Tracks key={`${way.from}>${way.to}`} study={study} way={way} />
          ))}
          {view.transform.k >= NAMES_FROM &&
            layout.ways.map((way) => <ShareLabels key={`${way.from}>${way.to}`} study={study} way={way} zoom={view.transform.k} />)}
          {layout.stops.map((stop) => (
            <StopMark
              key={stop.id}
              ref={(mark: SVGGElement | null) => {
                if (mark) marks.current.set(stop.id, mark);
                else marks.current.delete(stop.id);
              }}
              study={study}
              stop={stop}
              selected={chosen.has(stop.id)}
              pointed={asking === true && stop.id === cursor}
              tabbable={stop.id === (at ?? layout.stops[0]?.id)}
              problems={problemsOf(problems, stop)}
              names={view.transform.k >= NAMES_FROM}
              detail={view.transform.k >= DETAIL_FROM}
              zoom={view.transform.k}
              onChoose={(also) => choose(stop, also)}
              onReach={() => !asking && !chosen.has(stop.id) && onSelect(selectionOf(stop))}
            />
          ))}
        </g>
      </svg>
      <div className="absolute bottom-3 right-4 flex gap-1 rounded-md bg-paper">
        <IconButton label="Farther away" onClick={() => view.zoomBy(1 / 1.3)} icon={Minus} />
        <IconButton label="Closer" onClick={() => view.zoomBy(1.3)} icon={Plus} />
        <IconButton label="Show the whole flow" onClick={view.fit} icon={Maximize2} />
      </div>
    </div>
  );
}

function selectionOf(stop: Stop): Selection {
  return stop.kind === "stream" ? { kind: "stream", id: stop.id.slice("stream:".length) } : { kind: "step", id: stop.id };
}

function problemsOf(problems: Problem[], stop: Stop): Problem[] {
  const selection = selectionOf(stop);
  return selection ? problemsAt(problems, `${selection.kind === "stream" ? "streams" : "steps"}/${selection.id}`) : [];
}

/** Keeps where the map is looked at from, shows all of it at first, and follows drags and wheels. */
function useView(layout: MapLayout) {
  const svg = useRef<SVGSVGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const { width, height } = layout;

  const fit = useCallback(() => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || !svg.current || !behaviour.current || box.width === 0) return;
    const k = Math.max(FARTHEST, Math.min(1, box.width / width, box.height / height));
    const top = Math.max(0, (box.height - height * k) / 2);
    const left = Math.max(0, (box.width - width * k) / 2);
    behaviour.current.transform(d3select(svg.current), zoomIdentity.translate(left, top).scale(k));
  }, [width, height]);

  useEffect(() => {
    if (!svg.current) return;
    behaviour.current = d3zoom<SVGSVGElement, unknown>()
      .scaleExtent([FARTHEST, CLOSEST])
      .on("zoom", (event: D3ZoomEvent<SVGSVGElement, unknown>) => setTransform(event.transform));
    d3select(svg.current).call(behaviour.current).on("dblclick.zoom", null);
  }, []);

  const isTouched = useRef(false);
  useEffect(() => {
    if (!isTouched.current) fit();
  }, [fit]);
  useEffect(() => {
    if (!svg.current) return;
    const touched = () => {
      isTouched.current = true;
    };
    const element = svg.current;
    const observer = new ResizeObserver(() => !isTouched.current && fit());
    observer.observe(element);
    element.addEventListener("wheel", touched, { passive: true });
    element.addEventListener("pointerdown", touched);
    return () => {
      observer.disconnect();
      element.removeEventListener("wheel", touched);
      element.removeEventListener("pointerdown", touched);
    };
  }, [fit]);

  const zoomBy = (factor: number) => {
    isTouched.current = true;
    if (svg.current && behaviour.current) behaviour.current.scaleBy(d3select(svg.current), factor);
  };
  const reveal = (stop: Stop) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || !svg.current || !behaviour.current) return;
    const [x, y] = transform.apply([stop.x, stop.y]);
    if (x > 60 && x < box.width - 60 && y > 60 && y < box.height - 60) return;
    isTouched.current = true;
    behaviour.current.translateTo(d3select(svg.current), stop.x, stop.y);
  };
  /** Brings a stop that was chosen elsewhere than on the map near enough to read. */
  const showFromAfar = useCallback((stop: Stop) => {
    if (!svg.current || !behaviour.current || svg.current.contains(document.activeElement)) return;
    const { k } = zoomTransform(svg.current);
    if (k >= NAMES_FROM) return;
    isTouched.current = true;
    const seen = d3select(svg.current);
    behaviour.current.scaleTo(seen, NEAR);
    behaviour.current.translateTo(seen, stop.x, stop.y);
  }, []);
  return { svg, transform, fit, zoomBy, reveal, showFromAfar };
}

function Tracks({ study, way }: { study: StudyDocument; way: Way }) {
  if (way.side) return <path d={way.tracks[0]?.path} fill="none" stroke="var(--ink-3)" strokeWidth={1.6} />;
  if (way.types.length === 0) return null;
  return (
    <g fill="none" strokeWidth={5.5} strokeLinecap="butt">
      {way.tracks.map((track) => (
        <path key={track.type} d={track.path} stroke={colourOf(study, track.type)} strokeDasharray={way.back ? "2.5 5" : undefined} />
      ))}
    </g>
  );
}

/** The share of a way where its step has more than one, for the types that are split. */
function ShareLabels({ study, way, zoom }: { study: StudyDocument; way: Way; zoom: number }) {
  const step = stepById(study, way.from);
  const link = step && linksOf(step).find((each) => each.to === way.to);
  if (!step || !link || !partsByShare(step)) return null;
  const split = way.types.map((type) => ({ type, share: shareOf(step, link, type) })).filter(({ share }) => share < 1);
  const shown = new Set(split.map(({ share }) => share)).size === 1 && split.length > 1 ? split.slice(0, 1) : split;
  return (
    <>
      {shown.map(({ type, share }, n) => (
        <text
          key={type}
          x={way.label.x}
          y={way.label.y + 4 + (n - (shown.length - 1) / 2) * 16}
          textAnchor="middle"
          fontSize={Math.max(13, 12 / zoom)}
          fontWeight={700}
          fill={split.length > 1 && shown.length === 1 ? "var(--ink)" : colourOf(study, type)}
          stroke="var(--paper)"
          strokeWidth={7}
          strokeLinejoin="round"
          paintOrder="stroke"
        >
          {Number((share * 100).toFixed(1))} %
        </text>
      ))}
    </>
  );
}
