import type { Schemas } from "../api/client";
import { ChoiceAt, RefAt } from "../fields/ChoiceAt";
import { DeleteButton } from "../fields/DeleteButton";
import { DistributionAt } from "../fields/DistributionAt";
import { Folded, Optional, TakeAway } from "../fields/Optional";
import { NotesAt, PartTitle } from "../fields/PartTitle";
import { SourceMark } from "../fields/SourceMark";
import { useField, write } from "../fields/useField";
import { DurationAt, MomentAt, NumberAt, TimeAt } from "../fields/ValueAt";
import { type At, within } from "../study/document/addresses";
import { colourOf } from "../study/document/flow";
import { partsOf } from "../study/document/parts";
import type { Stream, StudyDocument } from "../study/document/types";
import { startOf } from "../study/document/types";
import { round } from "../study/edits/links";
import { turnStream } from "../study/edits/streams";
import { addPart } from "../study/session/adding";
import { insertHere, insertItems } from "../study/session/commands";
import { edit, select, useStudy } from "../study/session/store";
import { howOften } from "../study/values/streams";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";
import { numberBetween, ValueField } from "../ui/ValueField";
import { GivenTraits } from "./GivenTraits";
import { SessionsSection } from "./SessionsSection";

const KINDS: { value: Stream["kind"]; label: string }[] = [
  { value: "random", label: "at random" },
  { value: "profile", label: "by a weekly profile" },
  { value: "appointments", label: "by appointment" },
  { value: "dates", label: "at given dates" },
];

/** A stream as sentences: how often cases come, of which types, through which doors, and where to. */
export function StreamSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const stream = study.streams.find((each) => each.id === id);
  if (!stream) return null;
  const at = `streams/${id}`;
  return (
    <>
      <PartTitle at={at} kind="Stream" below={["mix", "gap", "sessions", "week", "open", "to"]} />
      <Section title="How often they come">
        <p className="mb-1">
          They come{" "}
          <Choice
            at={within(at, "kind")}
            label="How they come"
            value={stream.kind}
            options={KINDS}
            onChoose={(kind) => edit(`${stream.name}: come otherwise`, (draft) => turnStream(draft, id, kind as Stream["kind"]))}
          />
        </p>
        <HowOften stream={stream} at={at} />
        <NotesAt at={at} keys={["gap", "chance", "week", "interval", "arrivals"]} />
      </Section>
      {stream.kind === "appointments" && <SessionsSection at={at} sessions={stream.sessions} />}
      {study.case_types.length > 0 && <MixSection study={study} stream={stream} at={at} />}
      <Section title="Where they begin">
        <p>
          at <RefAt at={within(at, "to")} label="First step" kind="step" /> through{" "}
          <RefAt at={within(at, "open")} label="Doors" kind="calendar" none="doors that are always open" />
        </p>
        <NotesAt at={at} keys={["to", "open"]} />
      </Section>
      <Folded
        title="First and last, groups, traits"
        holds={["first", "last", "limit", "group", "traits", "mix_by_hour"].map((key) => within(at, key))}
      >
        <Optional at={within(at, "first")} offer="they come from the start of the run" fresh={startOf(study)}>
          the first from <MomentAt at={within(at, "first")} label="First from" />
        </Optional>
        <Optional at={within(at, "last")} offer="they come until the end" fresh="2027-12-31T00:00">
          the last until <MomentAt at={within(at, "last")} label="Last until" />
        </Optional>
        <Optional at={within(at, "limit")} offer="however many come" fresh={1000}>
          at most <NumberAt at={within(at, "limit")} label="At most so many" low={1} high={1e6} whole /> in all
        </Optional>
        <Optional at={within(at, "group")} offer="they come one by one" fresh={2}>
          <DistributionAt at={within(at, "group")} label="Size of a group" measure="number" verb="in groups of" />
        </Optional>
        <MixByHour study={study} at={at} />
        <GivenTraits study={study} at={within(at, "traits")} whose="of who comes this way" />
      </Folded>
      <div className="flex flex-wrap gap-x-5 gap-y-2 border-t border-rule pt-3">
        <Menu trigger="Insert after" items={insertItems(insertHere, "N")} />
        <button type="button" className={LINK_BUTTON} onClick={() => addPart("stream")}>
          One more stream
        </button>
        {study.streams.length > 1 && <DeleteButton kind="stream" id={id} />}
      </div>
    </>
  );
}

const INTERVALS = [5, 6, 10, 12, 15, 20, 30, 60].map((length) => ({ value: `${length} min`, label: `${length} min` }));

/** The part of the sheet that depends on how a stream's cases come. */
function HowOften({ stream, at }: { stream: Stream; at: At }) {
  switch (stream.kind) {
    case "random":
      return <RandomAt stream={stream} at={at} />;
    case "profile":
      return (
        <p className="leading-[1.9rem]">
          in numbers for every <IntervalAt stream={stream} at={at} />, {howOften(stream)}, which come{" "}
          <ChoiceAt
            at={within(at, "spread")}
            label="How numbers are kept"
            fallback="poisson"
            options={[
              { value: "poisson", label: "as chance has it" },
              { value: "exact", label: "exactly so many" },
            ]}
          />
        </p>
      );
    case "appointments":
      return (
        <div className="leading-[1.9rem]">
          <p>
            <NumberAt at={within(at, "filled")} label="Slots booked" low={0} high={1} percent fallback={1} /> of the slots are booked;{" "}
            <NumberAt at={within(at, "no_show")} label="No-shows" low={0} high={1} percent fallback={0} /> of those booked do not come.
          </p>
          <Optional at={within(at, "punctuality")} offer="they come on the minute" fresh={{ dist: "normal", mean: "-3 min", sd: "5 min" }}>
            <DistributionAt
              at={within(at, "punctuality")}
              label="Punctuality"
              measure="offset"
              verb="They come (before it: with a minus)"
            />
          </Optional>
        </div>
      );
    case "dates":
      return <p>{howOften(stream)}; the Demand screen shows them and reads them from a file.</p>;
  }
}

function RandomAt({ stream, at }: { stream: Extract<Stream, { kind: "random" }>; at: At }) {
  const turn = (form: string) =>
    edit(`${stream.name}: how often`, (draft) => {
      const found = draft.streams.find((each) => each.id === stream.id);
      if (found?.kind !== "random") return;
      delete found.gap;
      delete found.chance;
      if (form === "gap") found.gap = { dist: "exponential", mean: "10 min" };
      else found.chance = { every: "10 min", probability: 0.5 };
    });
  const chance = <NumberAt at={within(at, "chance", "probability")} label="Chance of one" low={0.000001} high={1} percent />;
  return (
    <>
      <Choice
        quiet
        at={within(at, stream.gap ? "gap" : "chance")}
        label="Told by"
        value={stream.gap ? "gap" : "chance"}
        options={[
          { value: "gap", label: "told by the time between two" },
          { value: "chance", label: "told by the chance of one in an interval" },
        ]}
        onChoose={turn}
      />
      {stream.gap ? (
        <DistributionAt at={within(at, "gap")} label="One comes every" verb="one every" />
      ) : (
        <p>
          one with a chance of {chance} every <DurationAt at={within(at, "chance", "every")} label="Interval of chance" />
        </p>
      )}
    </>
  );
}

function IntervalAt({ stream, at }: { stream: Extract<Stream, { kind: "profile" }>; at: At }) {
  return (
    <Choice
      at={within(at, "interval")}
      label="Interval"
      value={stream.interval}
      options={INTERVALS}
      onChoose={(interval) => edit(`${stream.name}: interval ${interval}`, (draft) => turnStream(draft, stream.id, "profile", interval))}
    />
  );
}

interface MixProps {
  study: StudyDocument;
  stream: Stream;
  at: At;
}

function MixSection({ study, stream, at }: MixProps) {
  const mix = stream.mix ?? [];
  const sum = mix.reduce((total, part) => total + part.share, 0);
  const off = mix.length > 0 && Math.abs(sum - 1) > 1e-9;
  return (
    <Section
      title="Who they are"
      aside={
        <span className={`text-sm ${off ? "font-semibold text-wrong" : "text-ink-2"}`}>
          <SourceMark at={within(at, "mix")} /> {mix.length > 0 ? `${round(sum * 100)} %` : ""}
        </span>
      }
    >
      <MixAt study={study} at={within(at, "mix")} />
      <NotesAt at={at} keys={["mix"]} />
    </Section>
  );
}

/** The share of each case type; zero takes a type out. */
function MixAt({ study, at }: { study: StudyDocument; at: At }) {
  const field = useField<Schemas["MixPart"][]>(at);
  const mix = field.value ?? [];
  const put = (type: string, share: number) => {
    const others = mix.filter((part) => part.type !== type);
    const order = study.case_types.map((each) => each.id);
    const next = [...others, ...(share > 0 ? [{ type, share }] : [])].sort(
      (one, other) => order.indexOf(one.type) - order.indexOf(other.type),
    );
    if (next.length > 0) field.set(next);
    else field.clear();
  };
  return (
    <ul className="space-y-1.5">
      {study.case_types.map((type) => {
        const place = mix.findIndex((part) => part.type === type.id);
        return (
          <li key={type.id} className="flex items-baseline">
            <TypeMark colour={colourOf(study, type.id)} />
            <button type="button" className="mr-auto hover:underline" onClick={() => select({ kind: "type", id: type.id })}>
              {type.name}
            </button>
            <span data-at={place >= 0 ? within(at, place, "type") : undefined}>
              <ValueField
                at={place >= 0 ? within(at, place, "share") : at}
                label={`Share of ${type.name}`}
                value={String(round((mix[place]?.share ?? 0) * 100))}
                suffix="%"
                parse={numberBetween(0, 100)}
                onCommit={(value) => put(type.id, round(Number(value) / 100))}
              />
            </span>
          </li>
        );
      })}
    </ul>
  );
}

/** Mixes of their own at some times of the day. */
function MixByHour({ study, at }: { study: StudyDocument; at: At }) {
  const list = within(at, "mix_by_hour");
  const field = useField<Schemas["MixOfHours"][]>(list);
  const hours = field.value ?? [];
  const type = partsOf(study, "type")[0];
  if (!type) return null;
  return (
    <div>
      {hours.map((_, n) => (
        <div key={n} className="mb-2 border-l-2 border-rule pl-2">
          <div className="flex items-center gap-1">
            from <TimeAt at={within(list, n, "from")} label={`Mix ${n + 1} from`} /> to{" "}
            <TimeAt at={within(list, n, "to")} label={`Mix ${n + 1} to`} />
            <span className="ml-auto">
              <TakeAway
                at={within(list, n)}
                label={`Take away mix ${n + 1}`}
                onClick={() => write(list, hours.length > 1 ? hours.toSpliced(n, 1) : undefined)}
              />
            </span>
          </div>
          <MixAt study={study} at={within(list, n, "mix")} />
        </div>
      ))}
      <button
        type="button"
        className={LINK_BUTTON}
        data-sets={list}
        onClick={() => write(list, [...hours, { from: "12:00", to: "14:00", mix: [{ type: type.id, share: 1 }] }])}
      >
        Another mix at some hours
      </button>
    </div>
  );
}
