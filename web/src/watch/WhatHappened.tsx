import { useState } from "react";
import type { Outline } from "../api/queries";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { momentInWords } from "./moments";
import type { Player } from "./player";
import { useLogbook } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import type { Watched } from "./useWatched";

/** So many minutes back the logbook is told. */
const BACK = 5;

interface WhatHappenedProps {
  watched: Watched;
  player: Player;
  outline: Outline;
  followed: number | null;
  onFollow: (number: number) => void;
}

/** The logbook of the last minutes, in words, the latest first; asked for, and told while the replay pauses. */
export function WhatHappened({ watched, player, outline, followed, onFollow }: WhatHappenedProps) {
  const [isAsked, setAsked] = useState(false);
  const playing = usePlaying(player, (each) => each.playing);
  const moment = usePlaying(player, (each) => each.moment);
  const [only, setOnly] = useState(false);
  const book = useLogbook(watched, Math.max(0, moment - BACK), moment, only ? followed : null, isAsked && !playing);
  if (!isAsked)
    return (
      <Section title="What happened">
        <button type="button" className={LINK_BUTTON} onClick={() => setAsked(true)}>
          Open the logbook
        </button>
      </Section>
    );
  return (
    <Section title={`What happened, ${BACK} min up to ${momentInWords(outline.start, moment, true).split(" ")[1]}`}>
      {playing && <p className="text-sm text-ink-2">It is told while the replay pauses.</p>}
      {followed !== null && (
        <label className="flex items-center gap-1.5 text-sm text-ink-2">
          <input type="checkbox" checked={only} onChange={(event) => setOnly(event.target.checked)} /> of case{" "}
          {followed.toLocaleString("en")} only
        </label>
      )}
      {!playing && (
        <ol aria-label="Logbook" className="text-sm leading-5">
          {book.data?.lines.toReversed().map((line, n) => (
            <li key={n} className="flex gap-2">
              <span className="shrink-0 text-ink-2 tabular-nums">{momentInWords(outline.start, line.at, true).split(" ")[1]}</span>
              {line.case ? (
                <button type="button" className="text-left hover:underline" onClick={() => onFollow(line.case ?? 0)}>
                  {line.words}
                </button>
              ) : (
                <span>{line.words}</span>
              )}
            </li>
          ))}
          {book.data?.lines.length === 0 && <li className="text-ink-2">Nothing.</li>}
          {book.isError && <li className="text-wrong">{book.error.message}</li>}
        </ol>
      )}
    </Section>
  );
}
