import { type PointerEvent, useEffect, useRef, useState } from "react";
import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { OVERVIEW_ROOM } from "./fit";
import { pathOf } from "./tracks";
import type { MapLayout } from "./types";
import type { View } from "./useView";

const LARGEST = { width: OVERVIEW_ROOM - 20, height: 330 };

/** The whole map in a corner with a frame around what is seen; shown while not all is in sight. */
export function Overview({ layout, study, view }: { layout: MapLayout; study: StudyDocument; view: View }) {
  const frame = useRef<SVGRectElement>(null);
  const [needed, setNeeded] = useState(false);
  const { width, height } = layout;
  const { svg, onMove, centre } = view;
  const scale = Math.min(LARGEST.width / width, LARGEST.height / height);
  useEffect(
    () =>
      onMove((transform) => {
        const box = svg.current?.getBoundingClientRect();
        if (!box) return;
        const seen = {
          x: -transform.x / transform.k,
          y: -transform.y / transform.k,
          width: box.width / transform.k,
          height: box.height / transform.k,
        };
        setNeeded(seen.x > 20 || seen.y > 20 || seen.x + seen.width < width - 20 || seen.y + seen.height < height - 20);
        for (const [key, value] of Object.entries(seen)) frame.current?.setAttribute(key, String(value));
      }),
    [onMove, svg, width, height],
  );
  const go = (event: PointerEvent<SVGSVGElement>) => {
    if (event.type === "pointermove" && event.buttons !== 1) return;
    const box = event.currentTarget.getBoundingClientRect();
    centre((event.clientX - box.left) / scale, (event.clientY - box.top) / scale);
  };
  return (
    <svg
      aria-label="The whole flow; the frame is what is seen"
      role="img"
      className={`absolute bottom-14 right-3 cursor-pointer rounded border border-rule bg-sheet ${needed ? "" : "invisible"}`}
      width={width * scale}
      height={height * scale}
      viewBox={`0 0 ${width} ${height}`}
      onPointerDown={go}
      onPointerMove={go}
    >
      {layout.ways.map((way) => (
        <path
          key={`${way.from}>${way.to}`}
          d={way.tracks[0] && pathOf(way.tracks[0])}
          fill="none"
          stroke={way.side ? "var(--ink-3)" : colourOf(study, way.types[0] ?? "")}
          strokeWidth={2.2 / scale / 2}
        />
      ))}
      {layout.stops.map((stop) => (
        <circle key={stop.id} cx={stop.x} cy={stop.y} r={1.6 / scale} fill="var(--ink)" />
      ))}
      <rect ref={frame} fill="var(--marker)" fillOpacity={0.25} stroke="var(--ink)" strokeWidth={1.2 / scale} />
    </svg>
  );
}
