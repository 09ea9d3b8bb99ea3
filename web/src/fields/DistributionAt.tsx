import { useState } from "react";
import { toast } from "sonner";
import { ApiError } from "../api/client";
import { describe, type Measure, useCatalogue, useDescribed } from "../api/queries";
import { DistributionCurve } from "../charts/DistributionCurve";
import { type At, within } from "../study/document/addresses";
import { isInOrder, type Shape, type ShapeName, shapeOf, typedUnit } from "../study/values/distributions";
import { type Parsed, parseDuration, parseOffset } from "../study/values/durations";
import { Choice } from "../ui/Choice";
import { numberBetween, ValueField } from "../ui/ValueField";
import { ValuesAt, WeighedAt } from "./ListedValues";
import { SourceMark } from "./SourceMark";
import { TodayMark } from "./TodayMark";
import { useField } from "./useField";
import { VaryMark } from "./VaryMark";

type AnyDistribution = Shape | string | number;

interface DistributionAtProps {
  at: At;
  label: string;
  measure?: Measure;
  /** What stands before the values: "takes", "one every". */
  verb?: string;
  colour?: string;
  /** What holds where nothing is written. */
  fallback?: AnyDistribution;
}

/** The parts of a distribution that are plain numbers whatever it is of. */
const COUNTS: Record<string, ReturnType<typeof numberBetween>> = { k: numberBetween(1, 1000, true), shape: numberBetween(0.01, 100) };

const READERS: Record<Measure, (text: string) => Parsed<string>> = {
  time: parseDuration,
  offset: parseOffset,
  number: numberBetween(-1e9, 1e9),
};

/** A distribution as a sentence with its values in place, and its curve, drawn as it is typed. */
export function DistributionAt({ at, label, measure = "time", verb = "", colour = "var(--ink-2)", fallback }: DistributionAtProps) {
  const stored = useField<AnyDistribution>(at);
  /** What was typed and is not in order yet, so that it is not taken over. */
  const [draft, setDraft] = useState<AnyDistribution | null>(null);
  /** What is being typed right now. */
  const [typed, setTyped] = useState<AnyDistribution | null>(null);
  const written = stored.value ?? fallback ?? (measure === "number" ? 1 : "0 min");
  const value = draft !== null && shapeOf(draft) === shapeOf(written) ? draft : written;
  const shown = typed !== null && shapeOf(typed) === shapeOf(value) ? typed : value;
  const isOrdered = isInOrder(shown);
  const looks = useDescribed(shown, measure);
  const isPlain = typeof value !== "object";
  const read = (key: string) => COUNTS[key] ?? READERS[measure];
  const withPart = (key: string, text: string): AnyDistribution => {
    const part = key in COUNTS || measure === "number" ? Number(text) : text;
    return isPlain ? part : ({ ...value, [key]: part } as Shape);
  };
  const field = (key: string, name: string) => (
    <span className="group/vary relative">
      <ValueField
        at={isPlain ? at : within(at, key)}
        label={`${label}: ${name}`}
        value={stored.various ? "" : String(isPlain ? value : (value as unknown as Record<string, unknown>)[key])}
        placeholder={stored.various ? "various" : undefined}
        parse={read(key)}
        invalid={isOrdered ? null : "not in order"}
        onDraft={(part) => setTyped(part === null ? null : withPart(key, part))}
        onCommit={(part) => {
          const next = withPart(key, part);
          setTyped(null);
          setDraft(isInOrder(next) ? null : next);
          if (isInOrder(next)) stored.set(next);
        }}
      />
      <VaryMark at={isPlain ? at : within(at, key)} label={`${label}: ${name}`} />
    </span>
  );
  return (
    <div>
      <div className="leading-[1.9rem]">
        {verb}{" "}
        <Sentence shape={shapeOf(value)} field={field} at={at} read={READERS[measure]} word={measure === "number" ? "number" : "time"} />
        <SourceMark at={at} />
        <TodayMark at={at} label={label} />
      </div>
      <Refusal error={looks.error} isKept={!isOrdered} />
      <DistributionCurve described={isPlain ? undefined : looks.data} unit={typedUnit(shown)} colour={colour}>
        <ShapeChoice
          at={isPlain ? undefined : within(at, "dist")}
          label={`${label}: shape`}
          value={value}
          measure={measure}
          onChoose={stored.set}
        />
      </DistributionCurve>
    </div>
  );
}

/** What is wrong with what is typed, in the words of the engine. */
function Refusal({ error, isKept }: { error: Error | null; isKept: boolean }) {
  if (!(error instanceof ApiError) || error.status !== 422) return null;
  return (
    <p role="alert" className="text-sm text-wrong">
      {error.message}
      {isKept && " Until then the old value is kept."}
    </p>
  );
}

interface ShapeChoiceProps {
  at: At | undefined;
  label: string;
  value: AnyDistribution;
  measure: Measure;
  onChoose: (value: AnyDistribution) => void;
}

/** The shapes that there are, in plain words and in those of the trade; the mean stays when another is chosen. */
function ShapeChoice({ at, label, value, measure, onChoose }: ShapeChoiceProps) {
  const shapes = useCatalogue()?.shapes.filter((shape) => shape.measures.includes(measure)) ?? [];
  const [isBusy, setBusy] = useState(false);
  const choose = (shape: string) => {
    setBusy(true);
    describe(value, measure, shape)
      .then((told) => onChoose(told.value as AnyDistribution))
      .catch((error: Error) => toast.error(error.message))
      .finally(() => setBusy(false));
  };
  return (
    <span aria-busy={isBusy}>
      <Choice
        quiet
        at={at}
        label={label}
        value={shapeOf(value)}
        options={shapes.map(({ name, words, trade }) => ({ value: name, label: `${trade}: ${words}` }))}
        onChoose={choose}
      />
    </span>
  );
}

interface SentenceProps {
  shape: ShapeName;
  field: (key: string, name: string) => React.ReactNode;
  at: At;
  read: (text: string) => Parsed<string>;
  /** How the one value of a constant is called. */
  word: string;
}

function Sentence({ shape, field, at, read, word }: SentenceProps) {
  switch (shape) {
    case "constant":
      return field("value", word);
    case "triangular":
    case "pert":
      return (
        <>
          {field("low", "least")} at least, {field("mode", "most likely")} most often and {field("high", "most")} at most
        </>
      );
    case "uniform":
      return (
        <>
          from {field("low", "least")} to {field("high", "most")}
        </>
      );
    case "exponential":
      return <>{field("mean", "mean")} on average, now short, now long</>;
    case "poisson":
      return <>{field("mean", "mean")} on average, as chance has it</>;
    case "erlang":
      return (
        <>
          {field("mean", "mean")} on average, in {field("k", "stages")} stages
        </>
      );
    case "weibull":
      return (
        <>
          {field("scale", "scale")} or so, with shape {field("shape", "shape")}
        </>
      );
    case "beta":
      return (
        <>
          from {field("low", "least")} to {field("high", "most")}, {field("mean", "mean")} give or take {field("sd", "standard deviation")}
        </>
      );
    case "discrete":
      return <WeighedAt at={at} read={read} />;
    case "empirical":
      return <ValuesAt at={within(at, "values")} read={read} />;
    default:
      return (
        <>
          {field("mean", "mean")} give or take {field("sd", "standard deviation")}
        </>
      );
  }
}
