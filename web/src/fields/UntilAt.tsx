import type { RunSettings } from "../study/document/types";
import { Choice } from "../ui/Choice";
import { useField } from "./useField";
import { NumberAt } from "./ValueAt";

type Until = NonNullable<RunSettings["until"]>;

/** When a run is over. */
export function UntilAt() {
  const field = useField<Until>("run/until");
  const value = field.value?.empty ? "empty" : field.value ? "completed" : "length";
  return (
    <>
      <span data-sets="run/until" data-clears="run/until">
        <Choice
          label="When a run is over"
          value={value}
          options={[
            { value: "length", label: "is over after its length" },
            { value: "empty", label: "is over when the last case has left after closing" },
            { value: "completed", label: "is over after so many cases" },
          ]}
          onChoose={(next) => {
            if (next === "length") field.clear();
            else field.set(next === "empty" ? { empty: true } : { completed: 1000 });
          }}
        />
      </span>
      {value === "completed" && (
        <>
          : <NumberAt at="run/until/completed" label="Cases of a run" low={1} high={1e9} whole />
        </>
      )}
    </>
  );
}
