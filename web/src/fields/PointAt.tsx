import { type At, within } from "../study/document/addresses";
import { ChoiceAt, RefAt } from "./ChoiceAt";

/** A point of the flow: coming to a step, or leaving it. */
export function PointAt({ at, label }: { at: At; label: string }) {
  return (
    <>
      <ChoiceAt
        at={within(at, "at")}
        label={`${label}: coming or leaving`}
        fallback="entering"
        options={[
          { value: "entering", label: "coming to" },
          { value: "leaving", label: "leaving" },
        ]}
      />{" "}
      <RefAt at={within(at, "step")} label={`${label}: step`} kind="step" />
    </>
  );
}
