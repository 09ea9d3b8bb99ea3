import type { Schemas } from "../api/client";
import { DaysAt } from "../fields/DaysAt";
import { TakeAway } from "../fields/Optional";
import { NotesAt } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { DurationAt, NumberAt, TimeAt } from "../fields/ValueAt";
import { type At, within } from "../study/document/addresses";
import { placesOf } from "../study/values/streams";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";

/** The day template of an appointment book: sessions with slots. */
export function SessionsSection({ at, sessions }: { at: At; sessions: Schemas["Slots"][] }) {
  const list = within(at, "sessions");
  const slots = sessions.reduce((sum, session) => sum + placesOf(session) * session.days.length, 0);
  return (
    <Section title="Sessions" aside={<span className="text-sm text-ink-2">{slots} slots a week</span>}>
      {sessions.map((session, n) => (
        <div key={n} className="mb-2 leading-[1.9rem]">
          <div className="flex items-center justify-between">
            <DaysAt at={within(list, n, "days")} label={`Days of session ${n + 1}`} />
            {sessions.length > 1 && (
              <TakeAway at={within(list, n)} label={`Take away session ${n + 1}`} onClick={() => write(list, sessions.toSpliced(n, 1))} />
            )}
          </div>
          <TimeAt at={within(list, n, "from")} label={`Session ${n + 1} from`} /> to{" "}
          <TimeAt at={within(list, n, "to")} label={`Session ${n + 1} to`} />, a slot every{" "}
          <DurationAt at={within(list, n, "every")} label={`Session ${n + 1}: a slot every`} /> for{" "}
          <NumberAt at={within(list, n, "places")} label={`Session ${n + 1}: places`} low={1} high={10000} whole fallback={1} />
          <span className="text-sm text-ink-2"> = {placesOf(session)} a day</span>
        </div>
      ))}
      <NotesAt at={at} keys={["sessions"]} />
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={list}
        onClick={() =>
          write(list, [...sessions, { days: ["mon", "tue", "wed", "thu", "fri"], from: "13:00", to: "16:00", every: "20 min" }])
        }
      >
        One more session
      </button>
    </Section>
  );
}
