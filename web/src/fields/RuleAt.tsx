import type { Schemas } from "../api/client";
import { type At, within } from "../study/document/addresses";
import { partsOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { DAYS, parseTime } from "../study/values/days";
import { parseDuration } from "../study/values/durations";
import { type FactKind, factsOf, freshCondition, RELATIONS, relationsFor } from "../study/values/rules";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { numberBetween, ValueField } from "../ui/ValueField";
import { TakeAway } from "./Optional";
import { useField } from "./useField";

type Rule = Schemas["Rule"];
type Condition = Schemas["Condition"];
type Clause = Condition | Rule;

interface RuleAtProps {
  at: At;
  /** The kinds of facts that may be asked for; all without it. */
  only?: readonly FactKind[];
}

/** A rule built from parts that are picked: all or any of some conditions, or of rules again. */
export function RuleAt({ at, only }: RuleAtProps) {
  const field = useField<Rule>(at);
  const study = useStudy((state) => state.document);
  const rule = field.value;
  if (!rule) return null;
  const join = rule.all ? "all" : "any";
  const clauses: Clause[] = rule.all ?? rule.any ?? [];
  const fresh = () => freshCondition(study, only && factsOf(study, only)[0]?.fact);
  const put = (next: Clause[], how: "all" | "any" = join) => field.set({ [how]: next }, "Change a rule");
  return (
    <div className="border-l-2 border-rule pl-2">
      {clauses.length > 1 && (
        <div>
          <Choice
            at={within(at, join)}
            label="How conditions come together"
            value={join}
            options={[
              { value: "all", label: "all of these hold" },
              { value: "any", label: "any of these holds" },
            ]}
            onChoose={(how) => put(clauses, how as "all" | "any")}
          />
        </div>
      )}
      {clauses.map((clause, n) => (
        <div key={n} className="flex items-start gap-1">
          <div className="min-w-0 flex-1">
            {"fact" in clause ? (
              <ConditionAt at={within(at, join, n)} condition={clause} only={only} />
            ) : (
              <RuleAt at={within(at, join, n)} only={only} />
            )}
          </div>
          {clauses.length > 1 && (
            <TakeAway at={within(at, join, n)} label={`Take away condition ${n + 1}`} onClick={() => put(clauses.toSpliced(n, 1))} />
          )}
        </div>
      ))}
      <div className="flex gap-4">
        <button type="button" className={LINK_BUTTON} onClick={() => put([...clauses, fresh()])}>
          One more condition
        </button>
        {clauses.length > 1 && (
          <button type="button" className={LINK_BUTTON} onClick={() => put([...clauses, { [join === "all" ? "any" : "all"]: [fresh()] }])}>
            A group of conditions
          </button>
        )}
      </div>
    </div>
  );
}

/** One fact held against a value, as a sentence. */
function ConditionAt({ at, condition, only }: RuleAtProps & { condition: Condition }) {
  const field = useField<Condition>(at);
  const study = useStudy((state) => state.document);
  const [kind = "", about = ""] = condition.fact.split(/:(.*)/s) as [FactKind, string];
  const options = factsOf(study, only).map(({ fact, words }) => ({ value: fact, label: words }));
  const relations = relationsFor(study, condition.fact);
  const relate = (is: string) => {
    const values = [condition.value].flat();
    field.set({ ...condition, is: is as Condition["is"], value: is === "in" ? values : (values[0] ?? 0) }, "Change a rule");
  };
  return (
    <div className="flex flex-wrap items-baseline gap-x-1.5">
      <Choice
        at={within(at, "fact")}
        label="Fact"
        value={condition.fact}
        options={options}
        onChoose={(fact) => field.set(freshCondition(study, fact), "Change a rule")}
      />
      <Choice
        at={within(at, "is")}
        label="How it compares"
        value={condition.is}
        options={relations.map((is) => ({ value: is, label: RELATIONS[is] }))}
        onChoose={relate}
      />
      <ConditionValue
        at={within(at, "value")}
        study={study}
        kind={kind as FactKind}
        about={about}
        condition={condition}
        onChange={(value) => field.set({ ...condition, value }, "Change a rule")}
      />
    </div>
  );
}

interface ConditionValueProps {
  at: At;
  study: StudyDocument;
  kind: FactKind;
  about: string;
  condition: Condition;
  onChange: (value: Condition["value"]) => void;
}

function ConditionValue({ at, study, kind, about, condition, onChange }: ConditionValueProps) {
  const options = namedValues(study, kind, about);
  if (options && condition.is === "in") {
    const chosen = new Set([condition.value].flat().map(String));
    return (
      <span data-at={at} role="group" aria-label="Values" className="inline-flex flex-wrap gap-1">
        {options.map(({ value, label }) => (
          <button
            key={value}
            type="button"
            aria-pressed={chosen.has(value)}
            className="rounded bg-value px-1.5 aria-pressed:bg-marker aria-pressed:text-[#17202b]"
            onClick={() => {
              const next = options.map((each) => each.value).filter((each) => (each === value ? !chosen.has(each) : chosen.has(each)));
              if (next.length > 0) onChange(next);
            }}
          >
            {label}
          </button>
        ))}
      </span>
    );
  }
  if (options) return <Choice at={at} label="Value" value={String(condition.value)} options={options} onChoose={onChange} />;
  const isTime = kind === "in-system" || kind === "waited-here" || kind === "waited";
  const parse = kind === "time-of-day" ? parseTime : isTime ? parseDuration : numberBetween(-1e9, 1e9);
  const written = (value: string | number) => (isTime && typeof value === "number" ? `${value} min` : String(value));
  const read = (typed: string) => (kind === "time-of-day" || isTime ? typed : Number(typed));
  const single = [condition.value].flat()[0] ?? "";
  return (
    <ValueField
      at={at}
      label="Value"
      value={written(single)}
      parse={parse}
      onCommit={(typed) => onChange(condition.is === "in" ? [read(typed)] : read(typed))}
    />
  );
}

/** The values that a fact may have where they have names. */
function namedValues(study: StudyDocument, kind: FactKind, about: string): { value: string; label: string }[] | null {
  if (kind === "type") return partsOf(study, "type").map((type) => ({ value: type.id, label: type.name }));
  if (kind === "message") return partsOf(study, "step").map((step) => ({ value: step.id, label: step.name }));
  if (kind === "weekday") return DAYS.map((day) => ({ value: day.id, label: day.name }));
  const trait = kind === "trait" ? study.traits?.find((each) => each.id === about) : undefined;
  return trait?.values?.length ? trait.values.map((value) => ({ value, label: value })) : null;
}
