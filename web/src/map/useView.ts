import { select } from "d3-selection";
import { type D3ZoomEvent, zoom as d3zoom, type ZoomBehavior, type ZoomTransform, zoomIdentity, zoomTransform } from "d3-zoom";
import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { type Box, type Fit, nearnessOf, OVERVIEW_ROOM, stepped } from "./fit";
import type { Stop } from "./types";

/** Nearer than this most names have room. */
const NAMES_FROM = 0.4;
const CLOSEST = 2.5;
const NEAR = 0.9;
const FARTHEST = 0.05;
/** Smaller changes of the window do not lay the map out again. */
const STEP = 20;
/** Room for the buttons and the overview, which stand on the map. */
const SLACK = 60;

export interface View {
  svg: RefObject<SVGSVGElement | null>;
  /** The group that is moved: by hand and not by drawing it again, so that moving stays smooth. */
  paper: RefObject<SVGGElement | null>;
  /** How near it is, in steps. */
  zoom: number;
  /** Told of every move. */
  onMove: (listener: (transform: ZoomTransform) => void) => () => void;
  fit: () => void;
  zoomBy: (factor: number) => void;
  reveal: (stop: Stop) => void;
  showFromAfar: (stop: Stop) => void;
  centre: (x: number, y: number) => void;
}

/** Keeps where the map is looked at from, shows what is legible of it at first, and follows drags and wheels. */
export function useView(fit: Fit, box: Box, onBox: (change: (box: Box) => Box) => void): View {
  const svg = useRef<SVGSVGElement>(null);
  const paper = useRef<SVGGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const listeners = useRef(new Set<(transform: ZoomTransform) => void>());
  const isTouched = useRef(false);
  const [zoom, setZoom] = useState(1);
  const { layout } = fit;
  const shown = useRef(fit);
  shown.current = fit;

  const moveTo = useCallback((transform: ZoomTransform) => {
    if (svg.current && behaviour.current) behaviour.current.transform(select(svg.current), transform);
  }, []);
  const show = useCallback(
    (all: boolean) => {
      const box = svg.current?.getBoundingClientRect();
      if (!box || box.width === 0) return;
      const { layout, isWhole } = shown.current;
      const { width, height } = layout;
      const whole = nearnessOf(layout, box);
      const k = Math.max(FARTHEST, all || isWhole ? whole : Math.min(1, (box.width - OVERVIEW_ROOM) / width));
      const left = k === whole ? Math.max(0, (box.width - width * k) / 2) : 0;
      const top = Math.max(0, (box.height - height * k) / 2);
      moveTo(zoomIdentity.translate(left, top).scale(k));
    },
    [moveTo],
  );

  useEffect(() => {
    if (!svg.current) return;
    behaviour.current = d3zoom<SVGSVGElement, unknown>()
      .scaleExtent([FARTHEST, CLOSEST])
      .constrain(({ x, y, k }, [[left, top], [right, bottom]]) =>
        zoomIdentity
          .translate(held(x, right - left, shown.current.layout.width * k), held(y, bottom - top, shown.current.layout.height * k))
          .scale(k),
      )
      .on("zoom", ({ transform }: D3ZoomEvent<SVGSVGElement, unknown>) => {
        paper.current?.setAttribute("transform", transform.toString());
        setZoom(stepped(transform.k));
        for (const listener of listeners.current) listener(transform);
      });
    select(svg.current).call(behaviour.current).on("dblclick.zoom", null);
  }, []);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a window of another size is shown anew.
  useEffect(() => {
    if (!isTouched.current) show(false);
  }, [show, box]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: an edit moves the map only where it would lie out of sight.
  useEffect(() => {
    if (svg.current && behaviour.current) behaviour.current.translateBy(select(svg.current), 0, 0);
  }, [layout]);
  useEffect(() => {
    const element = svg.current;
    if (!element) return;
    const touched = () => {
      isTouched.current = true;
    };
    const observer = new ResizeObserver(() => {
      const { width: wide, height: high } = element.getBoundingClientRect();
      const next = { width: Math.floor(wide / STEP) * STEP, height: Math.floor(high / STEP) * STEP };
      onBox((box) => (box.width === next.width && box.height === next.height ? box : next));
    });
    observer.observe(element);
    element.addEventListener("wheel", touched, { passive: true });
    element.addEventListener("pointerdown", touched);
    return () => {
      observer.disconnect();
      element.removeEventListener("wheel", touched);
      element.removeEventListener("pointerdown", touched);
    };
  }, [onBox]);

  const centre = useCallback((x: number, y: number) => {
    if (svg.current && behaviour.current) behaviour.current.translateTo(select(svg.current), x, y);
  }, []);
  /** Brings a stop that was chosen elsewhere than on the map near enough to read, and into sight. */
  const showFromAfar = useCallback(
    (stop: Stop) => {
      if (!svg.current || !behaviour.current || svg.current.contains(document.activeElement)) return;
      const transform = zoomTransform(svg.current);
      if (transform.k < NAMES_FROM) behaviour.current.scaleTo(select(svg.current), NEAR);
      else if (isInSight(svg.current, transform, stop)) return;
      centre(stop.x, stop.y);
    },
    [centre],
  );
  return {
    svg,
    paper,
    zoom,
    onMove: useCallback((listener) => {
      listeners.current.add(listener);
      if (svg.current) listener(zoomTransform(svg.current));
      return () => listeners.current.delete(listener);
    }, []),
    fit: () => show(true),
    zoomBy: (factor) => {
      isTouched.current = true;
      if (svg.current && behaviour.current) behaviour.current.scaleBy(select(svg.current), factor);
    },
    reveal: (stop) => {
      if (svg.current && !isInSight(svg.current, zoomTransform(svg.current), stop)) centre(stop.x, stop.y);
    },
    showFromAfar,
    centre: (x, y) => {
      isTouched.current = true;
      centre(x, y);
    },
  };
}

/** Keeps a map in its window: all of it where there is room, else without a gap wider than the slack at its ends. */
function held(offset: number, room: number, length: number): number {
  const [least, most] = length <= room ? [0, room - length] : [room - length - SLACK, SLACK];
  return Math.min(Math.max(offset, least), most);
}

const EDGE = 60;

function isInSight(svg: SVGSVGElement, transform: ZoomTransform, stop: Stop): boolean {
  const box = svg.getBoundingClientRect();
  const [x, y] = transform.apply([stop.x, stop.y]);
  return x > EDGE && x < box.width - EDGE && y > EDGE && y < box.height - EDGE;
}
