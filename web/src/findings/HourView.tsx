import type { StudyDocument } from "../study/document/types";
import { DAYS } from "../study/values/days";
import { withInterval } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Choice } from "../ui/Choice";
import { MinutesPicture } from "./MinutesPicture";
import { Spread } from "./SpreadPicture";
import { type Shown, useHour } from "./shown";

interface HourViewProps {
  shown: Shown;
  study: StudyDocument;
  quantity: string;
  /** The hour of the week, counted from Monday's midnight. */
  hour: number;
  onHour: (hour: number) => void;
}

/** One hour of the week: how those wait who come in it, and for what. */
export function HourView({ shown, study, quantity, hour, onHour }: HourViewProps) {
  const [day, begins] = [Math.floor(hour / 24), hour % 24];
  const turnDay = (next: string) => onHour(24 * Number(next) + begins);
  const turnHour = (next: string) => onHour(24 * day + Number(next));
  const days = DAYS.map(({ name }, n) => ({ value: String(n), label: name }));
  const hours = Array.from({ length: 24 }, (_, n) => ({ value: String(n), label: `${n}:00 to ${n + 1}:00` }));
  return (
    <section aria-label="One hour of the week" className="mt-4 border-t border-rule pt-3">
      <h2 className="text-sm font-bold">
        Who comes on <Choice quiet label="Day" value={String(day)} options={days} onChoose={turnDay} />{" "}
        <Choice quiet label="Hour" value={String(begins)} options={hours} onChoose={turnHour} />
      </h2>
      {quantity.endsWith("/wait") ? (
        <Told shown={shown} study={study} quantity={quantity} hour={hour} />
      ) : (
        <p className="py-2 text-ink-2">Choose the wait at a step, or of cases, above: of waits an hour can be taken apart.</p>
      )}
    </section>
  );
}

function Told({ shown, study, quantity, hour }: Omit<HourViewProps, "onHour">) {
  const { data, error } = useHour(shown, quantity, hour);
  if (error) return <p className="py-2 text-ink-2">{error.message}</p>;
  if (!data)
    return (
      <p role="status" className="py-2 text-ink-2">
        Drawing replications again …
      </p>
    );
  const unit = spanUnit(data.wait.mean ?? 0);
  const wait = withInterval(data.wait, 1 / unit.minutes);
  const cases = withInterval(data.cases);
  return (
    <>
      <p className="py-1">
        {data.name}: <b>{wait.mean}</b> {wait.half} {unit.unit} on average, of <b>{cases.mean}</b> {cases.half} cases in a replication.{" "}
        <span className="text-sm text-ink-2">By {data.replications} replications, drawn again.</span>
      </p>
      <div className="mt-2 grid grid-cols-2 gap-x-8 max-[1180px]:grid-cols-1">
        {data.minutes && <MinutesPicture title="Where the minutes of this hour go" aside="mean" study={study} bars={[data.minutes]} />}
        <Spread title="How long they wait in this hour" aside={data.hour} spread={data.spread} height={158} />
      </div>
    </>
  );
}
