import { useState } from "react";
import { DistributionCurve } from "../charts/DistributionCurve";
import { disorder, LISTED, reshaped, SHAPE_WORDS, type ShapeName, shapeOf } from "../study/distributions";
import { parseDuration } from "../study/durations";
import type { Distribution, Shape } from "../study/types";
import { Choice } from "../ui/Choice";
import { numberBetween, ValueField } from "../ui/ValueField";

interface DistributionSentenceProps {
  verb: string;
  about: string;
  value: Distribution;
  colour: string;
  onChange: (value: Distribution) => void;
}

type Parts = Record<string, string | number>;

/** The parts of a distribution that are plain numbers, and what they may be. */
const COUNTS: Record<string, ReturnType<typeof numberBetween>> = { k: numberBetween(1, 1000, true), shape: numberBetween(0.01, 100) };

function partsOf(shape: Shape): Parts {
  return Object.fromEntries(Object.entries(shape).filter((part): part is [string, string | number] => !Array.isArray(part[1])));
}

/** A distribution as a sentence with its values in place, and its curve, drawn as it is typed. */
export function DistributionSentence({ verb, about, value, colour, onChange }: DistributionSentenceProps) {
  const [draft, setDraft] = useState<Distribution | null>(null);
  const shown = draft ?? value;
  const wrong = disorder(shown);
  const parts: Parts = typeof value === "string" ? { value } : partsOf(value);
  const withPart = (key: string, part: string): Distribution => {
    if (typeof value === "string") return part;
    return { ...value, [key]: key in COUNTS ? Number(part) : part } as Distribution;
  };
  const field = (key: string, name: string) => (
    <ValueField
      label={`${about}: ${name}`}
      value={String(parts[key])}
      parse={COUNTS[key] ?? parseDuration}
      invalid={wrong}
      onDraft={(part) => setDraft(part === null ? null : withPart(key, part))}
      onCommit={(part) => {
        setDraft(null);
        const next = withPart(key, part);
        if (!disorder(next)) onChange(next);
        else setDraft(next);
      }}
    />
  );
  return (
    <div>
      <div className="leading-[1.9rem]">
        {verb} {sentence(shapeOf(value), field)}
      </div>
      {wrong && (
        <p role="alert" className="text-sm text-wrong">
          {wrong} Put them in order; until then the old value is kept.
        </p>
      )}
      <DistributionCurve distribution={shown} colour={colour}>
        <Choice
          quiet
          label={`${about}: shape`}
          value={shapeOf(value)}
          options={(Object.keys(SHAPE_WORDS) as ShapeName[]).filter((shape) => !LISTED.includes(shape) || shape === shapeOf(value)).map((shape) => ({ value: shape, label: SHAPE_WORDS[shape] }))}
          onChoose={(shape) => onChange(reshaped(value, shape as ShapeName))}
        />
      </DistributionCurve>
    </div>
  );
}

function sentence(shape: ShapeName, field: (key: string, name: string) => React.ReactNode): React.ReactNode {
  switch (shape) {
    case "constant":
      return field("value", "time");
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
    case "empirical":
      return "times from a list, which is kept as it stands in the study file";
    default:
      return (
        <>
          {field("mean", "mean")} give or take {field("sd", "standard deviation")}
        </>
      );
  }
}
