import { useRef } from "react";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import { decoded } from "../demand/readDates";
import type { StudyDocument } from "../study/document/types";
import { fileNameOf, saveFile } from "../ui/files";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { type RostersRead, rostersAsCsv, rostersFromCsv } from "./rosterFile";

interface RosterFilesProps {
  study: StudyDocument;
  /** The team of events that name none. */
  team: string;
  onRead: (file: string, read: RostersRead) => void;
}

/** Rosters out as a calendar or a table, and in from one. */
export function RosterFiles({ study, team, onRead }: RosterFilesProps) {
  const input = useRef<HTMLInputElement>(null);
  const told = (work: Promise<unknown>) =>
    work.catch((error: unknown) => toast.error(error instanceof Error ? error.message : String(error)));
  const file = (ending: string) => `${fileNameOf(study.name)}-rosters.${ending}`;
  const asCalendar = async () => {
    const text = await ask(api.POST("/api/rosters/calendar", { body: study, parseAs: "text" }));
    saveFile(text, file("ics"), "text/calendar");
  };
  const read = async (chosen: File) => {
    const text = decoded(await chosen.arrayBuffer());
    const isCalendar = /^\s*BEGIN:VCALENDAR/i.test(text.replace(/^\ufeff/, ""));
    const found = isCalendar
      ? await ask(api.POST("/api/rosters/calendar/read", { body: { study, text, team } }))
      : rostersFromCsv(text, study);
    onRead(chosen.name, found);
  };
  return (
    <>
      <Menu
        trigger="Take out …"
        items={[
          { label: "Shifts as iCalendar", onChoose: () => void told(asCalendar()) },
          { label: "Shifts as a table (CSV)", onChoose: () => saveFile(rostersAsCsv(study), file("csv"), "text/csv") },
        ]}
      />
      <button type="button" className={LINK_BUTTON} onClick={() => input.current?.click()}>
        Bring in …
      </button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="A file of shifts"
        accept=".ics,.csv,.txt,.tsv,text/calendar,text/csv"
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = "";
          if (chosen) void told(read(chosen));
        }}
      />
    </>
  );
}
