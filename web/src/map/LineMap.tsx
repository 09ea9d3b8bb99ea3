import { Maximize2, Minus, Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Problem, Schemas } from "../api/client";
import { idsOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { problemsAt, type Selection } from "../study/session/store";
import { IconButton } from "../ui/IconButton";
import { streamNode } from "./columns";
import { type Box, type Fit, fitted } from "./fit";
import { DETAIL_FROM, placeLabels } from "./labels";
import { type Direction, neighbour } from "./moves";
import { Overview } from "./Overview";
import { StopMark } from "./StopMark";
import type { Fold, Stop } from "./types";
import { useView } from "./useView";
import { WayLines, WayTexts } from "./WayMark";

/** The window before it is measured. */
const USUAL: Box = { width: 840, height: 620 };

interface LineMapProps {
  study: StudyDocument;
  problems: Problem[];
  selection: Selection;
  /** Whether a stop is being asked for: then a click or Enter answers, and the selection stays. */
  asking?: boolean;
  /** What differs from today in the scenario that is seen. */
  changes?: Schemas["Change"][];
  /** How many cases wait on average, by step. */
  waiting?: Record<string, number>;
  /** Whether all of the flow is shown at first, however small. */
  mustBeWhole?: boolean;
  onSelect: (selection: Selection) => void;
  onAlso?: (id: string) => void;
  onAnswer?: (id: string) => void;
  onOpen?: () => void;
}

/** The flow as a line map: case types are lines, steps are stops. Moves by mouse, wheel and keys. */
export function LineMap({
  study,
  problems,
  selection,
  asking,
  changes,
  waiting,
  mustBeWhole,
  onSelect,
  onAlso,
  onAnswer,
  onOpen,
}: LineMapProps) {
  const [box, setBox] = useState<Box>(USUAL);
  const fit = useFit(study, box, mustBeWhole);
  const { layout } = fit;
  const view = useView(fit, box, setBox);
  const labels = useMemo(() => placeLabels(study, layout, view.zoom), [study, layout, view.zoom]);
  const [cursor, setCursor] = useState<string | null>(null);
  const chosen = new Set(selection?.kind === "stream" ? [streamNode(selection.id)] : selection?.kind === "step" ? idsOf(selection) : []);
  const selected = [...chosen][0] ?? null;
  const at = (asking && cursor) || selected;

  const { showFromAfar } = view;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new selection or window moves the map, no edit.
  useEffect(() => {
    const stop = layout.stops.find((each) => each.id === selected);
    if (stop) showFromAfar(stop);
  }, [selected, showFromAfar, box]);

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
    else if (event.key === "+" || event.key === "=") view.zoomBy(1.3);
    else if (event.key === "-") view.zoomBy(1 / 1.3);
    else if (event.key === "0") view.fit();
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
        <g ref={view.paper}>
          {layout.folds.map((each) => (
            <FoldMarks key={each.right.top} fold={each} />
          ))}
          {layout.ways
            .toSorted((one, other) => Number(other.side) - Number(one.side))
            .map((way) => (
              <WayLines key={`${way.from}>${way.to}`} study={study} way={way} />
            ))}
          {view.zoom >= DETAIL_FROM &&
            layout.ways.map((way) => <WayTexts key={`${way.from}>${way.to}`} study={study} way={way} zoom={view.zoom} />)}
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
              changes={changesOf(changes, stop)}
              labels={labels.get(stop.id) ?? {}}
              flat={layout.pitch.flat}
              zoom={view.zoom}
              waiting={waiting?.[stop.id] ?? 0}
              onChoose={(also) => choose(stop, also)}
              onReach={() => !asking && !chosen.has(stop.id) && onSelect(selectionOf(stop))}
            />
          ))}
        </g>
      </svg>
      <Overview layout={layout} study={study} view={view} />
      <div className="absolute bottom-3 right-4 flex gap-1 rounded-md bg-paper">
        <IconButton label="Farther away" onClick={() => view.zoomBy(1 / 1.3)} icon={Minus} />
        <IconButton label="Closer" onClick={() => view.zoomBy(1.3)} icon={Plus} />
        <IconButton label="Show the whole flow" onClick={view.fit} icon={Maximize2} />
      </div>
    </div>
  );
}

/** A map laid out for a window; as long as that stays the same, an edit changes the map no more than it must. */
function useFit(study: StudyDocument, box: Box, mustBeWhole?: boolean): Fit {
  const last = useRef<{ box: Box; fit: Fit } | null>(null);
  return useMemo(() => {
    const before = last.current?.box === box ? last.current.fit : undefined;
    const fit = fitted(study, box, mustBeWhole, before);
    last.current = { box, fit };
    return fit;
  }, [study, box, mustBeWhole]);
}

/** The dotted edges at which a folded map goes on below. */
function FoldMarks({ fold }: { fold: Fold }) {
  return (
    <g stroke="var(--rule)" strokeWidth={2} strokeDasharray="2 6">
      <path d={`M${fold.right.x},${fold.right.top}V${fold.right.bottom}`} />
      <path d={`M${fold.left.x},${fold.left.top}V${fold.left.bottom}`} />
    </g>
  );
}

function selectionOf(stop: Stop): Selection {
  return stop.kind === "stream" ? { kind: "stream", id: stop.id.slice("stream:".length) } : { kind: "step", id: stop.id };
}

/** What differs from today at a stop, in words. */
function changesOf(changes: Schemas["Change"][] | undefined, stop: Stop): string[] {
  const selection = selectionOf(stop);
  const at = selection && `${selection.kind === "stream" ? "streams" : "steps"}/${selection.id}/`;
  return (changes ?? []).filter(({ where }) => `${where}/`.startsWith(at ?? "/")).map(({ words }) => words);
}

function problemsOf(problems: Problem[], stop: Stop): Problem[] {
  const selection = selectionOf(stop);
  return selection ? problemsAt(problems, `${selection.kind === "stream" ? "streams" : "steps"}/${selection.id}`) : [];
}
