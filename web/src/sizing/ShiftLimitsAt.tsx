import { FlagAt } from "../fields/ChoiceAt";
import { DaysAt } from "../fields/DaysAt";
import { ListAt } from "../fields/ListedValues";
import { Optional, TakeAway } from "../fields/Optional";
import { NotesAt } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { DurationAt, NameAt, TimeAt } from "../fields/ValueAt";
import { type At, setAt, within } from "../study/document/addresses";
import { edit } from "../study/session/store";
import { parseTime } from "../study/values/days";
import { parseDuration } from "../study/values/durations";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import type { ShiftLimits } from "./sizings";

const FRESH: ShiftLimits = { lengths: ["4 h", "6 h", "8 h"], from: "08:00", to: "12:00", every: "30 min" };

interface ShiftLimitsListProps {
  at: At;
  shifts: ShiftLimits[];
  name: string;
  /** What holds where there are none. */
  none?: string;
}

/** Which shifts are allowed. */
export function ShiftLimitsList({ at, shifts, name, none }: ShiftLimitsListProps) {
  return (
    <div>
      {shifts.map((each, n) => (
        <ShiftLimitsAt
          key={n}
          at={within(at, n)}
          shift={each}
          label={`${name}, shifts ${n + 1}`}
          onRemove={() => write(at, shifts.length > 1 ? shifts.toSpliced(n, 1) : undefined)}
        />
      ))}
      {shifts.length === 0 && none && <p className="text-sm text-ink-2">{none}</p>}
      <button
        type="button"
        className={`${LINK_BUTTON} mb-1.5`}
        data-sets={at}
        onClick={() => write(at, [...shifts, shifts.at(-1) ?? FRESH])}
      >
        {shifts.length === 0 ? "Shifts" : "Other shifts too"}
      </button>
    </div>
  );
}

interface ShiftLimitsAtProps {
  at: At;
  shift: ShiftLimits;
  label: string;
  onRemove: () => void;
}

/** Shifts that are allowed, as a sentence: how long, when they start, on which days, with which breaks. */
function ShiftLimitsAt({ at, shift, label, onRemove }: ShiftLimitsAtProps) {
  return (
    <div role="group" aria-label={label} className="mb-1.5 border-l-2 border-rule pl-2.5">
      <div className="flex items-start gap-1">
        <p className="min-w-0 flex-1">
          shifts of <ListAt at={within(at, "lengths")} label={`${label}: lengths`} read={parseDuration} /> that start{" "}
          <StartsAt at={at} shift={shift} label={label} />
        </p>
        <TakeAway at={at} label={`Take away ${label}`} onClick={onRemove} />
      </div>
      <NotesAt at={at} keys={["lengths", "starts", "from", "to", "every"]} />
      <Optional at={within(at, "days")} offer="on any day" fresh={["mon", "tue", "wed", "thu", "fri"]}>
        on <DaysAt at={within(at, "days")} label={`${label}: days`} />
      </Optional>
      <BreakWindowsAt at={within(at, "breaks")} breaks={shift.breaks ?? []} label={label} />
    </div>
  );
}

/** When shifts start: at any step between two times, or at listed ones. */
function StartsAt({ at, shift, label }: Pick<ShiftLimitsAtProps, "at" | "shift" | "label">) {
  const isListed = (shift.starts ?? []).length > 0;
  const turn = (how: string) =>
    edit(`${label}: start ${how}`, (study) => {
      const listed = how === "listed";
      setAt(study, within(at, "starts"), listed ? [shift.from ?? "08:00"] : undefined);
      setAt(study, within(at, "from"), listed ? undefined : (shift.starts?.[0] ?? "08:00"));
      setAt(study, within(at, "to"), listed ? undefined : (shift.starts?.at(-1) ?? "12:00"));
      setAt(study, within(at, "every"), listed ? undefined : "30 min");
    });
  return (
    <>
      <Choice
        quiet
        label={`${label}: how they start`}
        value={isListed ? "listed" : "range"}
        options={[
          { value: "range", label: "between" },
          { value: "listed", label: "at" },
        ]}
        onChoose={turn}
      />{" "}
      {isListed ? (
        <ListAt at={within(at, "starts")} label={`${label}: starts`} read={parseTime} />
      ) : (
        <>
          <TimeAt at={within(at, "from")} label={`${label}: earliest start`} /> and{" "}
          <TimeAt at={within(at, "to")} label={`${label}: latest start`} />, every{" "}
          <DurationAt at={within(at, "every")} label={`${label}: step of the starts`} fallback="30 min" />
        </>
      )}
    </>
  );
}

/** Breaks that begin in a window after the start of the shift. */
function BreakWindowsAt({ at, breaks, label }: { at: At; breaks: NonNullable<ShiftLimits["breaks"]>; label: string }) {
  return (
    <div>
      {breaks.map((_, n) => {
        const name = `${label}, break ${n + 1}`;
        const here = within(at, n);
        return (
          <div key={n} className="flex items-start gap-1">
            <div className="min-w-0 flex-1">
              with a break of <DurationAt at={within(here, "length")} label={`${name}: length`} />{" "}
              <DurationAt at={within(here, "from")} label={`${name}: earliest`} /> to{" "}
              <DurationAt at={within(here, "to")} label={`${name}: latest`} /> after the start,{" "}
              <FlagAt at={within(here, "paid")} label={`${name}: paid`} yes="paid" no="not paid" usual />
              <Optional at={within(here, "name")} offer="without a name" fresh="Lunch">
                called <NameAt at={within(here, "name")} label={`${name}: name`} />
              </Optional>
            </div>
            <TakeAway
              at={here}
              label={`Take away ${name}`}
              onClick={() => write(at, breaks.length > 1 ? breaks.toSpliced(n, 1) : undefined)}
            />
          </div>
        );
      })}
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={at}
        onClick={() => write(at, [...breaks, { length: "30 min", from: "3 h", to: "4.5 h" }])}
      >
        {breaks.length === 0 ? "A break" : "One more break"}
      </button>
    </div>
  );
}
