import type { At } from "../study/document/addresses";
import { DAYS, type Day } from "../study/values/days";
import { useField } from "./useField";

/** The days of the week as chips; one at least stays chosen. */
export function DaysAt({ at, label }: { at: At; label: string }) {
  const field = useField<Day[]>(at);
  const chosen = new Set(field.value ?? []);
  const toggle = (day: Day) => {
    const next = DAYS.map((each) => each.id).filter((each) => (each === day ? !chosen.has(each) : chosen.has(each)));
    if (next.length > 0) field.set(next);
  };
  return (
    <span role="group" aria-label={label} data-at={at} className="inline-flex gap-0.5">
      {DAYS.map((day) => (
        <button
          key={day.id}
          type="button"
          aria-pressed={chosen.has(day.id)}
          className="h-6 w-8 rounded bg-value text-xs leading-6 text-ink-2 aria-pressed:bg-ink aria-pressed:font-bold
            aria-pressed:text-paper"
          onClick={() => toggle(day.id)}
        >
          <span aria-hidden>{day.short}</span>
          <span className="sr-only">{day.name}</span>
        </button>
      ))}
    </span>
  );
}
