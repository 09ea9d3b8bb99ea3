import { ChoiceAt, FlagAt, RefAt } from "../../fields/ChoiceAt";
import { DistributionAt } from "../../fields/DistributionAt";
import { Folded, Optional } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { useField } from "../../fields/useField";
import { DurationAt, NumberAt } from "../../fields/ValueAt";
import { type At, within } from "../../study/document/addresses";
import type { Serve, StudyDocument } from "../../study/document/types";
import { freshId } from "../../study/edits/links";
import { makeAbandoned } from "../../study/edits/making";
import { DISCIPLINES } from "../../study/values/disciplines";
import { Choice } from "../../ui/Choice";
import { Section } from "../../ui/Section";

/** How cases wait: in which order, how many at most, how long they bear it. */
export function LineSection({ study, at }: { study: StudyDocument; at: At }) {
  const line = within(at, "line");
  const full = useField<string>(within(line, "when_full")).value;
  const most = <NumberAt at={within(line, "max")} label="Most in the line" low={0} high={1e7} whole />;
  return (
    <>
      <Section title="How they wait">
        <div className="space-y-1 leading-[1.9rem]">
          <ChoiceAt at={within(line, "discipline")} label="Order of the line" options={DISCIPLINES} fallback="first-come" />
          <Optional at={within(line, "patience")} offer="they wait as long as it takes" fresh={{ dist: "exponential", mean: "20 min" }}>
            <DistributionAt at={within(line, "patience")} label="Patience" verb="They give up after" />
            and go to{" "}
            <RefAt at={within(line, "gives_up_to")} label="Who gives up goes to" kind="step" none="nowhere yet" make={makeAbandoned} />
          </Optional>
          <Optional at={within(line, "max")} offer="any number can wait" fresh={20}>
            At most {most} wait; when it is full, who comes{" "}
            <ChoiceAt
              at={within(line, "when_full")}
              label="When the line is full"
              fallback="block"
              options={[
                { value: "block", label: "stays where it is and blocks" },
                { value: "turn-away", label: "is turned away" },
              ]}
            />
            {full === "turn-away" && (
              <>
                {" "}
                to{" "}
                <RefAt
                  at={within(line, "full_to")}
                  label="Who is turned away goes to"
                  kind="step"
                  none="nowhere yet"
                  make={makeAbandoned}
                />
              </>
            )}
          </Optional>
          <Optional at={within(line, "balk_at")} offer="nobody is put off by a long line" fresh={10}>
            Who finds <NumberAt at={within(line, "balk_at")} label="Put off by so many" low={1} high={1e7} whole /> waiting goes to{" "}
            <RefAt
              at={within(line, "balks_to")}
              label="Who is put off goes to"
              kind="step"
              none="nowhere yet"
              make={makeAbandoned}
              only={(id) => id !== at.split("/")[1]}
            />
          </Optional>
        </div>
        <NotesAt at={at} keys={["line"]} />
      </Section>
      <Folded
        title="More about waiting"
        holds={["line/min_wait", "line/shared", "priority", "when_blocked", "preempts", "reserve"].map((key) => `${at}/${key}`)}
      >
        <Optional at={within(line, "min_wait")} offer="they are served as soon as somebody is free" fresh="1 min">
          Nobody is served before <DurationAt at={within(line, "min_wait")} label="Least wait" /> of waiting.
        </Optional>
        <SharedRoom study={study} at={within(line, "shared")} />
        <p>
          When the next line is full,{" "}
          <ChoiceAt
            at={within(at, "when_blocked")}
            label="When the next line is full"
            fallback="frees-people"
            options={[
              { value: "frees-people", label: "people go free, places stay taken" },
              { value: "keeps-people", label: "people and places stay with the case" },
            ]}
          />
          .
        </p>
        <p>
          This step has priority <NumberAt at={within(at, "priority")} label="Priority" low={-1e6} high={1e6} fallback={0} />{" "}
          <span className="text-sm text-ink-2">added to that of the case; the higher goes first</span>
        </p>
        <p>
          Urgent cases{" "}
          <FlagAt at={within(at, "preempts")} label="Urgent cases" yes="displace less urgent work" no="wait for the work in hand" />.
        </p>
        <p>
          Where several are needed at once, who is free first{" "}
          <FlagAt at={within(at, "reserve")} label="Who is free first" yes="is held back until all are there" no="helps others meanwhile" />
          .
        </p>
      </Folded>
    </>
  );
}

const OWN = "+own";
const NEW = "+new";

/** The waiting room: one of the step's own, or one that several steps have in common. */
function SharedRoom({ study, at }: { study: StudyDocument; at: At }) {
  const field = useField<string>(at);
  const rooms = [...new Set(study.steps.flatMap((step) => (step.kind === "serve" ? ((step as Serve).line?.shared ?? []) : [])))];
  const stepsIn = (room: string) =>
    study.steps.filter((step) => step.kind === "serve" && step.line?.shared === room).map((step) => step.name);
  const choose = (value: string) => {
    if (value === OWN) field.clear();
    else
      field.set(
        value === NEW
          ? freshId(
              "waiting-room",
              rooms.map((id) => ({ id })),
            )
          : value,
      );
  };
  return (
    <p>
      They wait in{" "}
      <Choice
        at={at}
        label="Waiting room"
        value={field.value ?? OWN}
        options={[
          { value: OWN, label: "a room of their own" },
          ...rooms.map((room) => ({ value: room, label: `${room}, with ${stepsIn(room).join(", ")}` })),
          { value: NEW, label: "A room that steps share", separated: true },
        ]}
        onChoose={choose}
      />
    </p>
  );
}
