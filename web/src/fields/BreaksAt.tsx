import type { Schemas } from "../api/client";
import { type At, setAt, within } from "../study/document/addresses";
import { edit } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { FlagAt } from "./ChoiceAt";
import { Optional, TakeAway } from "./Optional";
import { write } from "./useField";
import { DurationAt, NameAt, TimeAt } from "./ValueAt";

type Break = Schemas["Break"];

/** The breaks of a shift, one sentence each. */
export function BreaksAt({ at, breaks, name }: { at: At; breaks: Break[]; name: string }) {
  return (
    <div>
      {breaks.map((each, n) => (
        <div key={n} className="flex items-start gap-1">
          <div className="min-w-0 flex-1">
            <BreakAt at={within(at, n)} each={each} label={`${name}, break ${n + 1}`} />
          </div>
          <TakeAway
            at={within(at, n)}
            label={`Take away break ${n + 1} of ${name.toLowerCase()}`}
            onClick={() => write(at, breaks.length > 1 ? breaks.toSpliced(n, 1) : undefined)}
          />
        </div>
      ))}
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={at}
        onClick={() => write(at, [...breaks, { after: "4 h", length: "30 min", taken: "in-turn" }] satisfies Break[])}
      >
        {breaks.length === 0 ? "A break" : "One more break"}
      </button>
    </div>
  );
}

function BreakAt({ at, each, label }: { at: At; each: Break; label: string }) {
  const begin = (value: string) =>
    edit(`${label}: ${value === "at" ? "at a time of day" : "after so long"}`, (study) => {
      setAt(study, within(at, "after"), value === "after" ? "4 h" : undefined);
      setAt(study, within(at, "at"), value === "at" ? "12:00" : undefined);
    });
  const take = (value: string) =>
    edit(`${label}: taken ${value}`, (study) => {
      setAt(study, within(at, "taken"), value === "together" ? undefined : value);
      setAt(study, within(at, "within"), value === "spread" ? (each.within ?? "2 h") : undefined);
    });
  return (
    <>
      A break of <DurationAt at={within(at, "length")} label={`${label}: length`} />{" "}
      <Choice
        quiet
        label={`${label}: begins`}
        value={each.at ? "at" : "after"}
        options={[
          { value: "after", label: "after they have worked" },
          { value: "at", label: "at the time of day" },
        ]}
        onChoose={begin}
      />{" "}
      {each.at ? (
        <TimeAt at={within(at, "at")} label={`${label}: at`} />
      ) : (
        <DurationAt at={within(at, "after")} label={`${label}: after`} />
      )}
      ,{" "}
      <Choice
        at={within(at, "taken")}
        label={`${label}: taken`}
        value={each.taken ?? "together"}
        options={[
          { value: "together", label: "all together" },
          { value: "in-turn", label: "one after the other" },
          { value: "spread", label: "spread evenly" },
        ]}
        onChoose={take}
      />
      {each.taken === "spread" && (
        <>
          {" "}
          within <DurationAt at={within(at, "within")} label={`${label}: within`} />
        </>
      )}
      , <FlagAt at={within(at, "paid")} label={`${label}: paid`} yes="paid" no="not paid" usual />
      <Optional at={within(at, "name")} offer="without a name" fresh="Lunch">
        called <NameAt at={within(at, "name")} label={`${label}: name`} />
      </Optional>
    </>
  );
}
