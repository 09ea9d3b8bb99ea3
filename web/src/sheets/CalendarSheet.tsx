import type { Schemas } from "../api/client";
import { DaysAt } from "../fields/DaysAt";
import { DeleteSection } from "../fields/DeleteButton";
import { TakeAway } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { DateAt, TimeAt } from "../fields/ValueAt";
import { type At, within } from "../study/document/addresses";
import { startOf } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";

/** A calendar: the hours of the week, the dates that are closed, and those with hours of their own. */
export function CalendarSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const calendar = study.calendars?.find((each) => each.id === id);
  if (!calendar) return null;
  const at = `calendars/${id}`;
  const weekly = calendar.weekly ?? [];
  const closed = calendar.closed ?? [];
  const open = calendar.open ?? [];
  const day = startOf(study).slice(0, 10);
  const mayEmpty = weekly.length + open.length > 1;
  const users = [
    ...study.streams.filter((stream) => stream.open === id),
    ...study.steps.filter((step) => "open" in step && step.open === id),
  ];
  return (
    <>
      <PartTitle at={at} kind="Calendar" />
      <Section title="Open every week">
        {weekly.map((_, n) => (
          <HoursAt
            key={n}
            at={within(at, "weekly", n)}
            number={n + 1}
            onRemove={mayEmpty ? () => write(within(at, "weekly"), weekly.length > 1 ? weekly.toSpliced(n, 1) : undefined) : undefined}
          />
        ))}
        <button
          type="button"
          className={LINK_BUTTON}
          data-sets={within(at, "weekly")}
          onClick={() =>
            write(within(at, "weekly"), [...weekly, { days: ["sat"], from: "09:00", to: "12:00" }] satisfies Schemas["Hours"][])
          }
        >
          More hours
        </button>
      </Section>
      <Section title="Closed on these dates">
        {closed.map((date, n) => (
          <p key={`${date} ${n}`} className="flex items-center">
            <DateAt at={within(at, "closed", n)} label={`Closed date ${n + 1}`} />
            <span className="ml-auto">
              <TakeAway
                at={within(at, "closed", n)}
                label={`Not closed on ${date}`}
                onClick={() => write(within(at, "closed"), closed.length > 1 ? closed.toSpliced(n, 1) : undefined)}
              />
            </span>
          </p>
        ))}
        <button
          type="button"
          className={LINK_BUTTON}
          data-sets={within(at, "closed")}
          onClick={() => write(within(at, "closed"), [...closed, day])}
        >
          A closed date
        </button>
      </Section>
      <Section title="Other hours on these dates">
        {open.map((_, n) => (
          <div key={n} className="flex items-center gap-1">
            <DateAt at={within(at, "open", n, "date")} label={`Date ${n + 1} with other hours`} />
            <TimeAt at={within(at, "open", n, "from")} label={`Date ${n + 1} from`} /> to{" "}
            <TimeAt at={within(at, "open", n, "to")} label={`Date ${n + 1} to`} />
            {mayEmpty && (
              <span className="ml-auto">
                <TakeAway
                  at={within(at, "open", n)}
                  label={`No other hours on date ${n + 1}`}
                  onClick={() => write(within(at, "open"), open.length > 1 ? open.toSpliced(n, 1) : undefined)}
                />
              </span>
            )}
          </div>
        ))}
        <button
          type="button"
          className={LINK_BUTTON}
          data-sets={within(at, "open")}
          onClick={() => write(within(at, "open"), [...open, { date: day, from: "09:00", to: "12:00" }])}
        >
          A date with other hours
        </button>
      </Section>
      <Section title="Where it holds">
        {users.length === 0 && <p className="text-ink-2">Nowhere yet. Pick it as the doors of a stream or the opening hours of a step.</p>}
        <p>{users.map((user) => user.name).join(", ")}</p>
      </Section>
      <DeleteSection kind="calendar" id={id} />
    </>
  );
}

interface HoursAtProps {
  at: At;
  number: number;
  onRemove?: () => void;
}

function HoursAt({ at, number, onRemove }: HoursAtProps) {
  return (
    <div className="mb-2 leading-[1.9rem]">
      <div className="flex items-center justify-between">
        <DaysAt at={within(at, "days")} label={`Days of hours ${number}`} />
        {onRemove && <TakeAway at={at} label={`Take away hours ${number}`} onClick={onRemove} />}
      </div>
      from <TimeAt at={within(at, "from")} label={`Hours ${number} from`} /> to{" "}
      <TimeAt at={within(at, "to")} label={`Hours ${number} to`} />
    </div>
  );
}
