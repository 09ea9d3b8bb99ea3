import type { Schemas } from "../../api/client";
import { ChoiceAt, FlagAt, RefAt } from "../../fields/ChoiceAt";
import { Folded, OFFER, TakeAway } from "../../fields/Optional";
import { useField, write } from "../../fields/useField";
import { NumberAt } from "../../fields/ValueAt";
import { type At, setAt, valueAt, within } from "../../study/document/addresses";
import type { Step, StudyDocument } from "../../study/document/types";
import { makePart } from "../../study/edits/making";
import { edit } from "../../study/session/store";
import { OvertimeAt } from "./OvertimeAt";

/** When a step is open, where it is, what it costs and counts for: the rare settings of a step. */
export function WhereSection({ study, at, kind }: { study: StudyDocument; at: At; kind: Step["kind"] }) {
  const works = kind === "serve" || kind === "delay" || kind === "signal";
  const byMessage = valueAt(study, within(at, "clears", "message")) !== undefined;
  const keys = ["open", "overtime", "cost", "value", "place", "places", "pick_place", "checkpoint", "penalty"];
  return (
    <Folded title="When, where and what it costs" holds={keys.map((key) => within(at, key))}>
      {works && (
        <>
          {!byMessage && (
            <p>
              It is open <RefAt at={within(at, "open")} label="Opening hours" kind="calendar" none="whenever somebody is there" />.
            </p>
          )}
          {kind !== "signal" && (
            <p>
              It is done <OvertimeAt at={within(at, "overtime")} label="In overtime" />.
            </p>
          )}
          <p>
            Each time costs {study.currency ?? "EUR"}{" "}
            <NumberAt at={within(at, "cost")} label="Cost each time" low={0} high={1e9} fallback={0} />.
          </p>
          <p>
            {kind === "signal" ? "The time there" : "The work"}{" "}
            <ChoiceAt
              at={within(at, "value")}
              label="Value class"
              fallback="unsaid"
              options={[
                { value: "unsaid", label: "is not classed" },
                { value: "adds", label: "adds value" },
                { value: "necessary", label: "is necessary" },
                { value: "waste", label: "is waste" },
              ]}
            />
            .
          </p>
        </>
      )}
      {kind === "exit" && (
        <p>
          Each such case costs {study.currency ?? "EUR"}{" "}
          <NumberAt at={within(at, "penalty")} label="Penalty" low={0} high={1e9} fallback={0} />.
        </p>
      )}
      <PlacesAt at={at} />
      <p>
        For spans and the journey it is <FlagAt at={within(at, "checkpoint")} label="Checkpoint" yes="a checkpoint" no="no checkpoint" />.
      </p>
    </Folded>
  );
}

/** Where a step happens: at one place, or at one of several. */
function PlacesAt({ at }: { at: At }) {
  const places = useField<Schemas["PlaceOption"][]>(within(at, "places"));
  const pick = useField<string>(within(at, "pick_place")).value;
  if (!places.value?.length) {
    return (
      <>
        <p>
          It happens at <RefAt at={within(at, "place")} label="Place" kind="place" none="no place in particular" />.
        </p>
        <AddPlace at={at} offer="it happens at one of several places" />
      </>
    );
  }
  return (
    <div>
      It happens at one of these:
      <ul>
        {places.value.map((option, n) => (
          <li key={`${option.place} ${n}`} className="flex items-center gap-1.5">
            <RefAt at={within(at, "places", n, "place")} label={`Place ${n + 1}`} kind="place" />
            {pick === "share" && (
              <NumberAt at={within(at, "places", n, "share")} label={`Share of place ${n + 1}`} low={0} high={1} percent fallback={0} />
            )}
            <span className="ml-auto">
              <TakeAway
                at={within(at, "places", n)}
                label={`Not at place ${n + 1}`}
                onClick={() => write(within(at, "places"), (places.value?.length ?? 0) > 1 ? places.value?.toSpliced(n, 1) : undefined)}
              />
            </span>
          </li>
        ))}
      </ul>
      <AddPlace at={at} offer="one more place" />
      picked{" "}
      <ChoiceAt
        at={within(at, "pick_place")}
        label="How the place is picked"
        fallback="shortest-line"
        options={[
          { value: "shortest-line", label: "where fewest wait" },
          { value: "nearest", label: "where it is nearest" },
          { value: "share", label: "by shares" },
          { value: "in-turn", label: "in turn" },
        ]}
      />
    </div>
  );
}

/** Lets a step happen at one more place; the first one that it does not have yet, or a new one. */
function AddPlace({ at, offer }: { at: At; offer: string }) {
  const add = () =>
    edit("One more place", (study) => {
      const places = (valueAt(study, within(at, "places")) ?? []) as Schemas["PlaceOption"][];
      const taken = new Set(places.map((option) => option.place));
      const place = study.site?.places?.find((each) => !taken.has(each.id))?.id ?? makePart(study, "place");
      setAt(study, within(at, "places"), [...places, { place }]);
      setAt(study, within(at, "place"), undefined);
    });
  return (
    <div>
      <button type="button" className={OFFER} data-sets={within(at, "places")} onClick={add}>
        {offer}
      </button>
    </div>
  );
}
