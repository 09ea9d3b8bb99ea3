import { ChoiceAt } from "../../fields/ChoiceAt";
import type { At } from "../../study/document/addresses";

/** Whether a step is done by those who are in overtime. */
export function OvertimeAt({ at, label }: { at: At; label: string }) {
  return (
    <ChoiceAt
      at={at}
      label={label}
      fallback="yes"
      options={[
        { value: "yes", label: "in overtime too" },
        { value: "no", label: "not in overtime" },
        { value: "only", label: "only in overtime" },
      ]}
    />
  );
}
