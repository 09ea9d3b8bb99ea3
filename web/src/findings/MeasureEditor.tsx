import { ChoiceAt } from "../fields/ChoiceAt";
import { Optional } from "../fields/Optional";
import { NotesAt } from "../fields/PartTitle";
import { PointAt } from "../fields/PointAt";
import { RuleAt } from "../fields/RuleAt";
import { NameAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { edit, useStudy } from "../study/session/store";
import { freshCondition, OF_THE_MOMENT } from "../study/values/rules";
import { Choice } from "../ui/Choice";
import { FORMS, type Form, formOf, inForm, levelsOf, type Measure, TIME, whoseOf } from "./measures";

/** An own measure as a sentence whose parts are picked. */
export function MeasureEditor({ measure }: { measure: Measure }) {
  const at = `measures/${measure.id}`;
  const form = formOf(measure);
  const turn = (next: string) =>
    edit(`${measure.name}: ${FORMS.find(({ value }) => value === next)?.label.toLowerCase()}`, (study) => {
      study.measures = study.measures?.map((each) =>
        each.id === measure.id ? { id: each.id, name: each.name, ...inForm(study, next as Form, each) } : each,
      );
    });
  return (
    <div className="leading-[1.9rem]">
      <span className="font-semibold">
        <NameAt at={within(at, "name")} label={`Name of the measure ${measure.name}`} />
      </span>
      <div>
        <Choice label={`Form of ${measure.name}`} value={form} options={FORMS} onChoose={turn} /> <Told measure={measure} form={form} />
      </div>
      <NotesAt at={at} keys={["of", "where", "from", "to"]} />
    </div>
  );
}

function Told({ measure, form }: { measure: Measure; form: Form }) {
  const study = useStudy((state) => state.document);
  const at = `measures/${measure.id}`;
  if (form === "share" || form === "count") {
    const of = within(at, form, "of");
    const isOfTime = measure.share?.of === TIME;
    return (
      <>
        <ChoiceAt at={of} label={`What ${measure.name} is of`} fallback="type/all" options={whoseOf(study, form)} />{" "}
        {isOfTime ? "during which" : "for which"}
        <RuleAt at={within(at, form, "where")} only={isOfTime ? OF_THE_MOMENT : undefined} />
      </>
    );
  }
  if (form === "time") {
    const from = within(at, "time", "from");
    return (
      <>
        <Optional at={from} offer="the arrival; or begin elsewhere" fresh={{ step: study.steps[0]?.id ?? "" }}>
          <PointAt at={from} label={`${measure.name}: from`} />
        </Optional>{" "}
        to <PointAt at={within(at, "time", "to")} label={`${measure.name}: to`} />
      </>
    );
  }
  return (
    <>
      <ChoiceAt at={within(at, "level", "of")} label={`What ${measure.name} is of`} options={levelsOf(study)} />{" "}
      <Optional at={within(at, "level", "where")} offer="at all times; or only while something holds" fresh={fresh()}>
        while <RuleAt at={within(at, "level", "where")} only={OF_THE_MOMENT} />
      </Optional>
    </>
  );

  function fresh() {
    return { all: [freshCondition(study, "time-of-day")] };
  }
}
