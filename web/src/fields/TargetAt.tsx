import type { Schemas } from "../api/client";
import { type At, within } from "../study/document/addresses";
import { useStudy } from "../study/session/store";
import { unbroken } from "../ui/SentenceText";
import { ValueField } from "../ui/ValueField";
import { ChoiceAt } from "./ChoiceAt";
import { FigurePicker } from "./FigurePicker";
import { keptValue, readValue, shownValue, suffixOf } from "./figureValue";
import { OFFER, TakeAway } from "./Optional";
import { useField } from "./useField";
import { NumberAt } from "./ValueAt";

export type Target = NonNullable<Schemas["StudyDocument"]["targets"]>[number];
type Title = Schemas["Title"];

const LIMITS = [
  { key: "at_most", end: "at most" },
  { key: "at_least", end: "at least" },
] as const;
const COUNTED = ["count", "cases"];

interface TargetAtProps {
  at: At;
  target: Target;
  title: Title | null | undefined;
  label: string;
}

/** A target as a sentence: which figure, its limits, of what it is, and how sure one wants to be of it. */
export function TargetAt({ at, target, title, label }: TargetAtProps) {
  const interval = useStudy((state) => state.document.run.interval ?? "60 min");
  const figure = useField<string>(within(at, "figure"));
  const words = title ? unbroken(`${title.name}, ${withoutUnit(title.of)}`) : target.figure;
  const limits = LIMITS.toSorted((one, other) => Number(target[one.key] === undefined) - Number(target[other.key] === undefined));
  return (
    <>
      <FigurePicker
        label={`${label}: ${words}`}
        className="rounded-t border-b-2 border-ink bg-value px-1.5 py-px text-left leading-6 font-semibold hover:bg-marker-light"
        trigger={words}
        onPick={(found) => figure.set(found.address)}
      />{" "}
      {limits.map(({ key, end }) => title && <LimitAt key={key} {...{ at, target, title, label, end }} limit={key} />)}{" "}
      <ChoiceAt
        at={within(at, "by")}
        label={`${label}: of what`}
        fallback="run"
        options={[
          { value: "run", label: "over the whole run" },
          { value: "day", label: "on every day of the week" },
          { value: "interval", label: `in every ${interval} of the week` },
        ]}
      />
      {title && (COUNTED.includes(title.unit) || target.per !== undefined) && (
        <>
          ,{" "}
          <ChoiceAt
            at={within(at, "per")}
            label={`${label}: counted`}
            fallback="run"
            options={[
              { value: "run", label: "in a replication" },
              { value: "day", label: "a day" },
              { value: "week", label: "a week" },
              { value: "month", label: "a month" },
            ]}
          />
        </>
      )}
      , with <NumberAt at={within(at, "sure")} label={`${label}: how sure`} low={0.5} high={0.999} fallback={0.95} percent /> confidence
    </>
  );
}

/** What a figure is of, without the unit, which stands with its limit. */
const withoutUnit = (of: string) => of.replace(/, (min|cases|members|% of cases|%)$/, "");

interface LimitAtProps extends TargetAtProps {
  title: Title;
  limit: "at_most" | "at_least";
  end: string;
}

/** One end of a target; where only the other one is set, an offer to set it too. */
function LimitAt({ at, target, title, label, limit, end }: LimitAtProps) {
  const field = useField<number | string>(within(at, limit));
  const other = target[limit === "at_most" ? "at_least" : "at_most"];
  if (field.value === undefined)
    return (
      <button type="button" className={`${OFFER} mr-1.5`} data-sets={within(at, limit)} onClick={() => field.set(other ?? 0)}>
        and {end} …
      </button>
    );
  return (
    <span className="mr-1.5 inline-flex items-baseline gap-1">
      {end}
      <ValueField
        at={within(at, limit)}
        label={`${label}: ${end}`}
        value={shownValue(field.value, title)}
        suffix={suffixOf(title)}
        parse={(text) => (text.trim() ? readValue(text, title) : { problem: "Give a limit, or take the target away." })}
        onCommit={(typed) => field.set(keptValue(typed, title) as number | string)}
      />
      {other !== undefined && <TakeAway at={within(at, limit)} label={`${label}: no limit ${end}`} onClick={() => field.clear()} />}
    </span>
  );
}
