import { DeleteSection } from "../fields/DeleteButton";
import { Optional, TakeAway } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { TraitValueAt } from "../fields/TraitValueAt";
import { useField, write } from "../fields/useField";
import { ReadAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { edit, useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { readName } from "../ui/ValueField";

/** A trait: a number or a category that a case carries, and what it is at first. */
export function TraitSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const kind = useField<"number" | "category">(`traits/${id}/kind`);
  const trait = study.traits?.find((each) => each.id === id);
  if (!trait) return null;
  const at = `traits/${id}`;
  const values = trait.values ?? [];
  const turn = (next: string) =>
    edit(`${trait.name}: ${next}`, (draft) => {
      const found = draft.traits?.find((each) => each.id === id);
      if (!found) return;
      delete found.values;
      if (next === "category") Object.assign(found, { kind: next, values: ["no", "yes"], start: "no" });
      else Object.assign(found, { kind: "number", start: 0 });
    });
  return (
    <>
      <PartTitle at={at} kind="Trait" />
      <Section title="What it is">
        <p>
          Each case carries{" "}
          <Choice
            at={within(at, "kind")}
            label="Kind of trait"
            value={kind.value ?? "number"}
            options={[
              { value: "number", label: "a number" },
              { value: "category", label: "one of some words" },
            ]}
            onChoose={turn}
          />
        </p>
        {kind.value === "category" && (
          <ul>
            {values.map((value, n) => (
              <li key={`${value} ${n}`} className="flex items-center">
                <ReadAt at={within(at, "values", n)} label={`Word ${n + 1}`} parse={readName} />
                {values.length > 1 && (
                  <span className="ml-auto">
                    <TakeAway
                      at={within(at, "values", n)}
                      label={`Take away the word ${value}`}
                      onClick={() => write(within(at, "values"), values.toSpliced(n, 1))}
                    />
                  </span>
                )}
              </li>
            ))}
            <button
              type="button"
              className={LINK_BUTTON}
              data-sets={within(at, "values")}
              onClick={() => write(within(at, "values"), [...values, `word ${values.length + 1}`])}
            >
              One more word
            </button>
          </ul>
        )}
      </Section>
      <Section title="At first">
        <Optional
          at={within(at, "start")}
          offer={kind.value === "category" ? `${trait.name} is ${values[0] ?? "unsaid"}` : `${trait.name} is 0`}
          fresh={values[0] ?? 1}
        >
          <TraitValueAt study={study} at={within(at, "start")} trait={id} />
        </Optional>
      </Section>
      <DeleteSection kind="trait" id={id} />
    </>
  );
}
