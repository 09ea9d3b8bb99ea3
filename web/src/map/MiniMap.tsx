import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { pathOf } from "./tracks";
import type { MapLayout } from "./types";

interface MiniMapProps {
  study: StudyDocument;
  layout: MapLayout;
  width: number;
  height: number;
}

const EDGE = 40;
const THIN = 9;

/** A study's flow as small as a stamp: its lines and its stops, without a word. */
export function MiniMap({ study, layout, width, height }: MiniMapProps) {
  const box = `${-EDGE} 0 ${layout.width + 2 * EDGE} ${layout.height}`;
  return (
    <svg aria-hidden width={width} height={height} viewBox={box} preserveAspectRatio="xMinYMid meet">
      {layout.ways.flatMap((way) =>
        way.tracks.map((track) => (
          <path
            key={`${way.from} ${way.to} ${track.type}`}
            d={pathOf(track)}
            fill="none"
            stroke={way.side ? "var(--ink-3)" : colourOf(study, track.type)}
            strokeWidth={THIN}
          />
        )),
      )}
      {layout.stops.map((stop) => (
        <circle key={stop.id} cx={stop.x} cy={stop.y} r={16} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={8} />
      ))}
    </svg>
  );
}
