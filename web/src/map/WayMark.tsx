import { memo } from "react";
import { colourOf, shareOf, showsShares, stepById } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { linksOf } from "../study/document/types";
import type { Way } from "./types";

/** The lines of a way, one for each case type; a thin one where cases go only when something does not go as planned. */
export const WayLines = memo(function WayLines({ study, way }: { study: StudyDocument; way: Way }) {
  if (way.side) return <path d={way.tracks[0]?.path} fill="none" stroke="var(--ink-3)" strokeWidth={1.6} />;
  if (way.types.length === 0) return null;
  return (
    <g fill="none" strokeWidth={5.5} strokeLinecap="butt">
      {way.tracks.map((track) => (
        <path key={track.type} d={track.path} stroke={colourOf(study, track.type)} strokeDasharray={way.back ? "2.5 5" : undefined} />
      ))}
    </g>
  );
});

/** The share of a way where its step has more than one, for the types that are split. */
export const ShareLabels = memo(function ShareLabels({ study, way, zoom }: { study: StudyDocument; way: Way; zoom: number }) {
  const step = stepById(study, way.from);
  const size = Math.max(13, 12 / zoom);
  const link = step && linksOf(step).find((each) => each.to === way.to);
  const stub = way.stub && (
    <text
      x={way.label.x}
      y={way.label.y + 2 * size}
      fontSize={size}
      fill="var(--ink-2)"
      textAnchor="middle"
      stroke="var(--paper)"
      strokeWidth={5}
      paintOrder="stroke"
    >
      {way.stub}
    </text>
  );
  if (!step || !link || !showsShares(step)) return stub || null;
  const split = way.types.map((type) => ({ type, share: shareOf(step, link, type) })).filter(({ share }) => share < 1);
  const shown = new Set(split.map(({ share }) => share)).size === 1 && split.length > 1 ? split.slice(0, 1) : split;
  return (
    <>
      {stub}
      {shown.map(({ type, share }, n) => (
        <text
          key={type}
          x={way.label.x}
          y={way.label.y + 4 + (n - (shown.length - 1) / 2) * 16}
          textAnchor="middle"
          fontSize={size}
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
});
