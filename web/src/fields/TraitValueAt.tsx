import type { Schemas } from "../api/client";
import { type At, within } from "../study/document/addresses";
import { nameOf } from "../study/document/parts";
import type { StudyDocument, Trait } from "../study/document/types";
import { Choice } from "../ui/Choice";
import { ChoiceAt } from "./ChoiceAt";
import { DistributionAt } from "./DistributionAt";
import { useField } from "./useField";
import { NumberAt } from "./ValueAt";

type TraitStart = NonNullable<Trait["start"]> | Schemas["Add"];

interface TraitValueAtProps {
  study: StudyDocument;
  at: At;
  /** The trait whose value this is. */
  trait: string;
  /** Whether a number may also be added to. */
  mayAdd?: boolean;
}

/** What a trait is: a number or its distribution, a category, or chances of several. */
export function TraitValueAt({ study, at, trait: id, mayAdd }: TraitValueAtProps) {
  const trait = study.traits?.find((each) => each.id === id);
  const field = useField<TraitStart>(at);
  const value = field.value;
  const called = nameOf(study, "trait", id);
  const name = <b>{called}</b>;
  if (trait?.kind === "category") return <CategoryAt at={at} trait={trait} name={name} value={value} onChange={field.set} />;
  const isAdd = typeof value === "object" && value !== null && "add" in value;
  return (
    <>
      {name}{" "}
      {mayAdd && (
        <Choice
          label={`How ${called} is written`}
          value={isAdd ? "add" : "set"}
          options={[
            { value: "set", label: "becomes" },
            { value: "add", label: "changes by" },
          ]}
          onChoose={(form) => field.set(form === "add" ? { add: 1 } : 0)}
        />
      )}{" "}
      {isAdd ? (
        <NumberAt at={within(at, "add")} label={`Added to ${called}`} low={-1e9} high={1e9} />
      ) : (
        <DistributionAt at={at} label={`Value of ${called}`} measure="number" verb={mayAdd ? "" : "is"} fallback={0} />
      )}
    </>
  );
}

interface CategoryAtProps {
  at: At;
  trait: Trait;
  name: React.ReactNode;
  value: TraitStart | undefined;
  onChange: (value: TraitStart) => void;
}

function CategoryAt({ at, trait, name, value, onChange }: CategoryAtProps) {
  const values = trait.values ?? [];
  const shares = typeof value === "object" && value !== null && "shares" in value ? (value.shares as Record<string, number>) : null;
  const total = Object.values(shares ?? {}).reduce((sum, share) => sum + share, 0);
  const even = () =>
    Object.fromEntries(
      values.map((each, n) => [
        each,
        n === 0
          ? Number((1 - (Math.floor(1000 / values.length) * (values.length - 1)) / 1000).toFixed(3))
          : Math.floor(1000 / values.length) / 1000,
      ]),
    );
  return (
    <>
      {name}{" "}
      <Choice
        label={`How ${trait.name} is given`}
        value={shares ? "shares" : "one"}
        options={[
          { value: "one", label: "is" },
          { value: "shares", label: "is drawn by chance" },
        ]}
        onChoose={(form) => onChange(form === "shares" ? { shares: even() } : (values[0] ?? ""))}
      />{" "}
      {shares ? (
        <ul>
          {values.map((each) => (
            <li key={each}>
              <NumberAt at={within(at, "shares", each)} label={`Chance of ${each}`} low={0} high={1} percent fallback={0} /> {each}
            </li>
          ))}
          <li className={`text-sm ${Math.abs(total - 1) > 1e-9 ? "font-semibold text-wrong" : "text-ink-2"}`}>
            {Number((total * 100).toFixed(6))} % in all
          </li>
        </ul>
      ) : (
        <ChoiceAt at={at} label={`Value of ${trait.name}`} options={values.map((each) => ({ value: each, label: each }))} />
      )}
    </>
  );
}

/** The traits of a study that nothing is written about yet. */
export function withoutUsed(study: StudyDocument, used: unknown): Trait[] {
  return (study.traits ?? []).filter((trait) => !(trait.id in ((used ?? {}) as object)));
}
