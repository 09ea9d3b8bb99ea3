import type { Schemas } from "../api/client";
import { RefAt } from "../fields/ChoiceAt";
import { DeleteSection } from "../fields/DeleteButton";
import { Optional } from "../fields/Optional";
import { NotesAt, PartTitle } from "../fields/PartTitle";
import { PointAt } from "../fields/PointAt";
import { useField } from "../fields/useField";
import { DurationAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { makeExit } from "../study/edits/making";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { Section } from "../ui/Section";

/** A deadline: a clock from one step to another, and what happens when it runs out. */
export function DeadlineSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const at = `deadlines/${id}`;
  const then = useField<Schemas["Then"]>(within(at, "then"));
  const deadline = study.deadlines?.find((each) => each.id === id);
  if (!deadline) return null;
  const target = then.value?.send ?? then.value?.divert ?? "";
  const form = then.value?.send ? "send" : "divert";
  return (
    <>
      <PartTitle at={at} kind="Deadline" below={["from", "to", "within", "then"]} />
      <Section title="The clock">
        <p className="leading-[1.9rem]">
          It runs from <RefAt at={within(at, "from")} label="Runs from" kind="step" /> until{" "}
          <RefAt at={within(at, "to")} label="Runs until" kind="step" /> takes the case on, for{" "}
          <DurationAt at={within(at, "within")} label="Runs for" />.
        </p>
        <NotesAt at={at} keys={["from", "to", "within"]} />
      </Section>
      <Section title="When it runs out">
        <div className="leading-[1.9rem]">
          <Choice
            at={within(at, "then")}
            label="What happens then"
            value={form}
            options={[
              { value: "divert", label: "the case leaves the line and goes" },
              { value: "send", label: "it goes on, and a companion is sent" },
            ]}
            onChoose={(next) => then.set({ [next]: target })}
          />{" "}
          to <RefAt at={within(at, "then", form)} label="To which step" kind="step" make={makeExit} />
          {form === "send" && (
            <Optional at={within(at, "then", "every")} offer="once" fresh="1 h">
              and again every <DurationAt at={within(at, "then", "every")} label="Again every" />
            </Optional>
          )}
        </div>
        <NotesAt at={at} keys={["then"]} />
      </Section>
      <DeleteSection kind="deadline" id={id} />
    </>
  );
}

/** A span: the time between two points of the flow, measured in every run. */
export function SpanSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const span = study.spans?.find((each) => each.id === id);
  if (!span) return null;
  const at = `spans/${id}`;
  return (
    <>
      <PartTitle at={at} kind="Span" below={["from", "to"]} />
      <Section title="What is measured">
        <p className="leading-[1.9rem]">
          From <PointAt at={within(at, "from")} label="From" /> to <PointAt at={within(at, "to")} label="To" />.
        </p>
        <NotesAt at={at} keys={["from", "to"]} />
      </Section>
      <DeleteSection kind="span" id={id} />
    </>
  );
}
