import { useState } from "react";
import { DistributionCurve } from "../charts/DistributionCurve";
import { type At, within } from "../study/document/addresses";
import { disorder, inMeasure, type Measure, meanOf, reshaped, SHAPE_WORDS, type Shape, type ShapeName, shapeOf, shapesFor, typedUnit } from "../study/values/distributions";
import { parseDuration, parseOffset, type Parsed } from "../study/values/durations";
import { Choice } from "../ui/Choice";
import { numberBetween, ValueField } from "../ui/ValueField";
import { ValuesAt, WeighedAt } from "./ListedValues";
import { useField } from "./useField";

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
  const [draft, setDraft] = useState<AnyDistribution | null>(null);
  const value = stored.value ?? fallback ?? (measure === "number" ? 1 : "0 min");
  const shown = draft ?? value;
  const wrong = disorder(shown);
  const isPlain = typeof value !== "object";
  const read = (key: string) => COUNTS[key] ?? READERS[measure];
  const withPart = (key: string, typed: string): AnyDistribution => {
    const part = key in COUNTS || measure === "number" ? Number(typed) : typed;
    return isPlain ? part : ({ ...value, [key]: part } as Shape);
  };
  const field = (key: string, name: string) => (
    <ValueField
      at={isPlain ? at : within(at, key)}
      label={`${label}: ${name}`}
      value={stored.various ? "" : String(isPlain ? value : (value as unknown as Record<string, unknown>)[key])}
      placeholder={stored.various ? "various" : undefined}
      parse={read(key)}
      invalid={wrong}
      onDraft={(part) => setDraft(part === null ? null : withPart(key, part))}
      onCommit={(part) => {
        const next = withPart(key, part);
        setDraft(disorder(next) ? next : null);
        if (!disorder(next)) stored.set(next);
      }}
    />
  );
  return (
    <div>
      <div className="leading-[1.9rem]">
        {verb} <Sentence shape={shapeOf(value)} field={field} at={at} read={READERS[measure]} word={measure === "number" ? "number" : "time"} />
      </div>
      {wrong && (
        <p role="alert" className="text-sm text-wrong">
          {wrong} Put them in order; until then the old value is kept.
        </p>
      )}
      <DistributionCurve distribution={shown} colour={colour}>
        <Choice
          quiet
          at={isPlain ? undefined : within(at, "dist")}
          label={`${label}: shape`}
          value={shapeOf(value)}
          options={shapesFor(measure).map((shape) => ({ value: shape, label: SHAPE_WORDS[shape] }))}
          onChoose={(shape) => stored.set(reshaped(value, shape as ShapeName))}
        />
      </DistributionCurve>
    </div>
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

/** A distribution in a line of plain words, for where there is no room for its curve. */
export function distributionInWords(value: AnyDistribution): string {
  return `${typeof value === "object" ? "about " : ""}${inMeasure(Number(meanOf(value).toPrecision(3)), typedUnit(value))}`;
}
