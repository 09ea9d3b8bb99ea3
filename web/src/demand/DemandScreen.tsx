import { useEffect, useRef, useState } from "react";
import { Sheet } from "../sheets/Sheet";
import type { Stream } from "../study/document/types";
import { addPart } from "../study/session/adding";
import { select, useStudy } from "../study/session/store";
import { howOften } from "../study/values/streams";
import { LINK_BUTTON } from "../ui/Menu";
import { AppointmentWeek } from "./AppointmentWeek";
import { DatesPanel } from "./DatesPanel";
import { ProfilePanel } from "./ProfilePanel";
import { WeekPictures } from "./WeekPictures";

/** When cases come: each stream by its own rhythm, and the week that comes of all of them beside what the staff can handle. */
export function DemandScreen() {
  const study = useStudy((state) => state.document);
  const selection = useStudy((state) => state.selection);
  const sheet = useRef<HTMLElement>(null);
  const [chosen, setChosen] = useState(selection?.kind === "stream" ? selection.id : study.streams[0]?.id);
  const selected = selection?.kind === "stream" ? selection.id : chosen;
  const stream = study.streams.find((each) => each.id === selected) ?? study.streams[0];
  const [importing, setImporting] = useState(false);
  const main = useRef<HTMLElement>(null);
  useEffect(() => {
    if (stream && useStudy.getState().selection === null) select({ kind: "stream", id: stream.id });
    if (stream) setChosen(stream.id);
  }, [stream]);
  return (
    <div className="flex h-full min-h-0">
      <main ref={main} className="flex min-w-0 flex-1 flex-col overflow-y-auto px-5 pt-3">
        <h1 className="sr-only">Demand</h1>
        <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
          <div role="tablist" aria-label="Streams" className="flex flex-wrap gap-x-6 gap-y-1 empty:hidden">
            {study.streams.map((each) => (
              <button
                key={each.id}
                type="button"
                role="tab"
                aria-selected={each.id === stream?.id}
                className="border-b-2 border-transparent pb-0.5 text-ink-2 aria-selected:border-ink aria-selected:text-ink"
                onClick={() => select({ kind: "stream", id: each.id })}
              >
                <b>{each.name}</b> <span className="text-sm">{howOften(each)}</span>
              </button>
            ))}
          </div>
          <button type="button" className={`${LINK_BUTTON} border-transparent! text-ink-2`} onClick={() => addPart("stream")}>
            Add a stream
          </button>
        </div>
        {stream ? (
          <>
            {!importing && <WeekPictures study={study} stream={stream} />}
            <div className="min-h-40 flex-1 border-t border-rule pt-2.5">
              <StreamPanel key={`${stream.id} ${stream.kind}`} stream={stream} onImporting={setImporting} />
            </div>
          </>
        ) : (
          <p className="py-6 text-ink-2">Nobody comes yet. Add a stream, and say how its cases come.</p>
        )}
      </main>
      <Sheet ref={sheet} onLeave={() => main.current?.querySelector<HTMLElement>('[role="tab"][aria-selected="true"]')?.focus()} />
    </div>
  );
}

function StreamPanel({ stream, onImporting }: { stream: Stream; onImporting: (importing: boolean) => void }) {
  switch (stream.kind) {
    case "random":
      return (
        <p className="max-w-prose text-ink-2">
          They come at random all through the hours in which their doors are open. The sheet says how often; where it changes with the hour,
          turn the stream into a weekly profile there, and it begins with the same number.
        </p>
      );
    case "profile":
      return <ProfilePanel stream={stream} />;
    case "appointments":
      return <AppointmentWeek stream={stream} />;
    case "dates":
      return <DatesPanel stream={stream} onImporting={onImporting} />;
  }
}
