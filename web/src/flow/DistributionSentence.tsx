import { useState } from "react";
import { DistributionCurve } from "../charts/DistributionCurve";
import { disorder, reshaped, SHAPE_WORDS, type ShapeName, shapeOf } from "../study/distributions";
import { parseDuration } from "../study/durations";
import type { Distribution } from "../study/types";
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

/** A distribution as a sentence with its values in place, and its curve, drawn as it is typed. */
export function DistributionSentence({ verb, about, value, colour, onChange }: DistributionSentenceProps) {
  const [draft, setDraft] = useState<Distribution | null>(null);
  const shown = draft ?? value;
  const wrong = disorder(shown);
  const parts: Parts = typeof value === "string" ? { value } : { ...value };
  const withPart = (key: string, part: string): Distribution => {
    if (typeof value === "string") return part;
    return { ...value, [key]: key === "k" ? Number(part) : part } as Distribution;
  };
  const field = (key: string, name: string) => (
    <ValueField
      label={`${about}: ${name}`}
      value={String(parts[key])}
      parse={key === "k" ? numberBetween(1, 1000, true) : parseDuration}
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
          options={(Object.keys(SHAPE_WORDS) as ShapeName[]).map((shape) => ({ value: shape, label: SHAPE_WORDS[shape] }))}
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
    default:
      return (
        <>
          {field("mean", "mean")} give or take {field("sd", "standard deviation")}
        </>
      );
  }
}
