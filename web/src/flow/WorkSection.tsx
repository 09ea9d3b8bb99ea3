import { passing, colourOf } from "../study/flow";
import type { Distribution, StudyDocument, Work } from "../study/types";
import { isByType } from "../study/types";
import { Choice } from "../ui/Choice";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";
import { DistributionSentence } from "./DistributionSentence";

interface WorkSectionProps {
  study: StudyDocument;
  stepId: string;
  verb: string;
  work: Work;
  onChange: (work: Work, what: string) => void;
}

/** What a step takes: one time for all, or one for each case type. */
export function WorkSection({ study, stepId, verb, work, onChange }: WorkSectionProps) {
  const types = passing(study).steps.get(stepId) ?? [];
  const byType = isByType(work);
  const nameOf = (id: string) => study.case_types.find((type) => type.id === id)?.name ?? id;
  const switchForm = (form: string) => {
    if (form === "same") onChange(byType ? work.otherwise : work, "the same for all");
    else if (!byType) onChange({ by_type: Object.fromEntries(types.map((type) => [type, work])), otherwise: work }, "by case type");
  };
  return (
    <Section
      title="What it takes"
      aside={
        (types.length > 1 || byType) && (
          <Choice
            quiet
            label="Times by case type"
            value={byType ? "by_type" : "same"}
            options={[
              { value: "same", label: "the same for all" },
              { value: "by_type", label: "by case type" },
            ]}
            onChoose={switchForm}
          />
        )
      }
    >
      {byType ? (
        <div className="space-y-2.5">
          {types.map((type) => (
            <div key={type}>
              <p className="text-sm text-ink-2">
                <TypeMark colour={colourOf(study, type)} />
                {nameOf(type)}
              </p>
              <DistributionSentence
                verb={verb}
                about={`${nameOf(type)} takes`}
                value={work.by_type?.[type] ?? work.otherwise}
                colour={colourOf(study, type)}
                onChange={(value: Distribution) => onChange({ ...work, by_type: { ...work.by_type, [type]: value } }, nameOf(type))}
              />
            </div>
          ))}
        </div>
      ) : (
        <DistributionSentence
          verb={verb}
          about="It takes"
          value={work}
          colour={types.length === 1 && types[0] ? colourOf(study, types[0]) : "var(--ink-2)"}
          onChange={(value) => onChange(value, "time")}
        />
      )}
    </Section>
  );
}
