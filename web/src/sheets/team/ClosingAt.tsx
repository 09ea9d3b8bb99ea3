import { ChoiceAt } from "../../fields/ChoiceAt";
import { Optional } from "../../fields/Optional";
import { DurationAt } from "../../fields/ValueAt";
import { type At, within } from "../../study/document/addresses";
import type { Team } from "../../study/document/types";

/** How long a team stays after the end of its shift when work is left: the rest of a sentence. */
export function ClosingAt({ at, team }: { at: At; team: Team }) {
  const isLimited = (team.closing?.stay ?? "leave") !== "leave" || team.closing?.at_most !== undefined;
  return (
    <>
      <ChoiceAt
        at={within(at, "stay")}
        label={`${team.name}: after the end of the shift`}
        fallback="leave"
        options={[
          { value: "leave", label: "go home" },
          { value: "clear-line", label: "stay for those who waited" },
          { value: "empty", label: "stay until everybody has left" },
        ]}
      />
      {isLimited ? (
        <Optional at={within(at, "at_most")} offer="however long it takes" fresh="1 h">
          for at most <DurationAt at={within(at, "at_most")} label={`${team.name}: longest stay`} />
        </Optional>
      ) : (
        "."
      )}
    </>
  );
}
