import { DistributionAt } from "../../fields/DistributionAt";
import { Optional } from "../../fields/Optional";
import { useField } from "../../fields/useField";
import { type At, within } from "../../study/document/addresses";
import { colourOf } from "../../study/document/flow";
import { nameOf } from "../../study/document/parts";
import type { Distribution, StudyDocument, Work } from "../../study/document/types";
import { isByType } from "../../study/document/types";
import { Choice } from "../../ui/Choice";
import { Section } from "../../ui/Section";
import { TypeMark } from "../../ui/TypeMark";

interface WorkSectionProps {
  study: StudyDocument;
  at: At;
  verb: string;
  /** The case types that come here. */
  types: string[];
}

const BY_TRAIT = "trait:";

/** What a step takes: one time for all, one for each case type, or one for each category of a trait. */
export function WorkSection({ study, at, verb, types }: WorkSectionProps) {
  const field = useField<Work>(at);
  const work = field.value;
  if (work === undefined) return null;
  const parted = isByType(work);
  const categories = (study.traits ?? []).filter((trait) => trait.kind === "category");
  const rest: Distribution = parted ? work.otherwise : work;
  const form = !parted ? "same" : Object.keys(work.by_trait ?? {})[0] ? `${BY_TRAIT}${Object.keys(work.by_trait ?? {})[0]}` : "by_type";
  const switchTo = (next: string) => {
    if (next === "same") field.set(rest);
    else if (next === "by_type")
      field.set({ by_type: Object.fromEntries(types.map((type) => [type, (parted && work.by_type?.[type]) || rest])), otherwise: rest });
    else {
      const trait = categories.find((each) => each.id === next.slice(BY_TRAIT.length));
      const times = Object.fromEntries((trait?.values ?? []).map((value) => [value, rest]));
      if (trait) field.set({ ...(parted ? { by_type: work.by_type } : {}), by_trait: { [trait.id]: times }, otherwise: rest });
    }
  };
  const options = [
    { value: "same", label: "the same for all" },
    { value: "by_type", label: "by case type" },
    ...categories.map((trait) => ({ value: BY_TRAIT + trait.id, label: `by ${trait.name.toLowerCase()}` })),
  ];
  const canPart = study.case_types.length > 1 || categories.length > 0 || parted;
  return (
    <Section
      title="What it takes"
      aside={canPart && <Choice quiet at={at} label="Times by case type" value={form} options={options} onChoose={switchTo} />}
    >
      {parted ? (
        <PartedWork study={study} at={at} verb={verb} work={work} types={types} rest={rest} />
      ) : (
        <DistributionAt at={at} label="It takes" verb={verb} colour={onlyColour(study, types)} />
      )}
    </Section>
  );
}

const onlyColour = (study: StudyDocument, types: string[]) => (types.length === 1 && types[0] ? colourOf(study, types[0]) : undefined);

interface PartedWorkProps extends WorkSectionProps {
  work: Extract<Work, { otherwise: Distribution }>;
  rest: Distribution;
}

function PartedWork({ study, at, verb, types, work, rest }: PartedWorkProps) {
  const traits = (study.traits ?? []).filter((trait) => work.by_trait?.[trait.id]);
  const told = new Set([...types, ...Object.keys(work.by_type ?? {})]);
  const shown = study.case_types.filter((type) => told.has(type.id));
  const noneLeft = shown.length > 0 && shown.every((type) => work.by_type?.[type.id]) && traits.length === 0;
  return (
    <div className="space-y-2">
      {traits.flatMap((trait) =>
        (trait.values ?? []).map((value) => (
          <Optional
            key={`${trait.id} ${value}`}
            at={within(at, "by_trait", trait.id, value)}
            offer={`${trait.name} ${value}: a time of its own`}
            fresh={rest}
          >
            <p className="text-sm text-ink-2">
              {trait.name}: {value}
            </p>
            <DistributionAt at={within(at, "by_trait", trait.id, value)} label={`${trait.name} ${value} takes`} verb={verb} />
          </Optional>
        )),
      )}
      {shown.map((type) => (
        <Optional key={type.id} at={within(at, "by_type", type.id)} offer={`${type.name}: a time of its own`} fresh={rest}>
          <p className="text-sm text-ink-2">
            <TypeMark colour={colourOf(study, type.id)} />
            {nameOf(study, "type", type.id)}
          </p>
          <DistributionAt at={within(at, "by_type", type.id)} label={`${type.name} takes`} verb={verb} colour={colourOf(study, type.id)} />
        </Optional>
      ))}
      {noneLeft ? null : (
        <div>
          <p className="text-sm text-ink-2">All others</p>
          <DistributionAt at={within(at, "otherwise")} label="All others take" verb={verb} />
        </div>
      )}
    </div>
  );
}
