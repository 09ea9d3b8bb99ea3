import { memo } from "react";
import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { sharesOn, stubText } from "./shares";
import { pathOf } from "./tracks";
import type { Way } from "./types";

/** The lines of a way, one for each case type; a thin one where cases go only when something does not go as planned. */
export const WayLines = memo(function WayLines({ study, way }: { study: StudyDocument; way: Way }) {
  if (way.side) return <path d={way.tracks[0] && pathOf(way.tracks[0])} fill="none" stroke="var(--ink-3)" strokeWidth={1.6} />;
  if (way.types.length === 0) return null;
  return (
    <g fill="none" strokeWidth={5.5} strokeLinecap="butt">
      {way.tracks.map((track) => (
        <path key={track.type} d={pathOf(track)} stroke={colourOf(study, track.type)} strokeDasharray={way.back ? "2.5 5" : undefined} />
      ))}
    </g>
  );
});

/** The shares of a way, and where it leads if it is not drawn all the way. */
export const WayTexts = memo(function WayTexts({ study, way, zoom }: { study: StudyDocument; way: Way; zoom: number }) {
  const stub = stubText(way, zoom);
  return (
    <g textAnchor="middle" stroke="var(--paper)" strokeLinejoin="round" paintOrder="stroke">
      {stub && (
        <text x={stub.x} y={stub.y} fontSize={stub.size} fill={stub.colour} strokeWidth={5}>
          {stub.words}
        </text>
      )}
      {sharesOn(study, way, zoom).map(({ words, colour, x, y, size }) => (
        <text key={y} x={x} y={y} fontSize={size} fontWeight={700} fill={colour} strokeWidth={7}>
          {words}
        </text>
      ))}
    </g>
  );
});
