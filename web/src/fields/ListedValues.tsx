import { type At, within } from "../study/document/addresses";
import type { Parsed } from "../study/values/durations";
import { LINK_BUTTON } from "../ui/Menu";
import { numberBetween, ValueField } from "../ui/ValueField";
import { TakeAway } from "./Optional";
import { useField } from "./useField";

type Quantity = string | number;
type Reader = (text: string) => Parsed<string>;

interface Weighed {
  values: Quantity[];
  weights: number[];
}

const alike = (sample: Quantity | undefined, typed: string): Quantity => (typeof sample === "number" ? Number(typed) : typed);

/** A few values, each with its weight. */
export function WeighedAt({ at, read }: { at: At; read: Reader }) {
  const field = useField<Weighed>(at);
  if (!field.value) return null;
  const { values, weights } = field.value;
  const total = weights.reduce((sum, weight) => sum + weight, 0) || 1;
  const change = (part: Partial<Weighed>) => field.set({ ...(field.value as Weighed), ...part });
  return (
    <>
      one of
      <ul>
        {values.map((value, n) => (
          <li key={n} className="flex items-baseline gap-1.5">
            <ValueField
              at={within(at, "values", n)}
              label={`Value ${n + 1}`}
              value={String(value)}
              parse={read}
              onCommit={(typed) => change({ values: values.with(n, alike(value, typed)) })}
            />
            with weight
            <ValueField
              at={within(at, "weights", n)}
              label={`Weight ${n + 1}`}
              value={String(weights[n])}
              parse={numberBetween(0, 1e9)}
              onCommit={(typed) => change({ weights: weights.with(n, Number(typed)) })}
            />
            <span className="text-sm text-ink-2">{Math.round((100 * (weights[n] ?? 0)) / total)} %</span>
            {values.length > 1 && (
              <span className="ml-auto self-center">
                <TakeAway
                  at={within(at, "values", n)}
                  label={`Take away value ${n + 1}`}
                  onClick={() => change({ values: values.toSpliced(n, 1), weights: weights.toSpliced(n, 1) })}
                />
              </span>
            )}
          </li>
        ))}
      </ul>
      <button
        type="button"
        className={LINK_BUTTON}
        onClick={() => change({ values: [...values, values.at(-1) ?? 0], weights: [...weights, 1] })}
      >
        One more value
      </button>
    </>
  );
}

const SEPARATORS = /[\t\n;]+|,\s+/;

/** Reads values one after the other, with commas between. */
function readingAll(read: Reader): Reader {
  return (text) => {
    const parts = text
      .split(SEPARATORS)
      .map((part) => part.trim())
      .filter(Boolean);
    if (parts.length === 0) return { problem: "Give at least one value." };
    const found = parts.map(read);
    const bad = found.findIndex((each) => "problem" in each);
    const wrong = found[bad];
    if (wrong && "problem" in wrong) return { problem: `Value ${bad + 1}: ${wrong.problem}` };
    return { value: found.map((each) => ("value" in each ? each.value : "")).join(", ") };
  };
}

/** A few texts of the study, typed in place with commas between. */
export function ListAt({ at, label, read }: { at: At; label: string; read: Reader }) {
  const field = useField<string[]>(at);
  const value = (field.value ?? []).join(", ");
  return <ValueField at={at} label={label} value={value} parse={readingAll(read)} onCommit={(text) => field.set(text.split(", "))} />;
}

/** Observed values, typed or pasted one after the other. */
export function ValuesAt({ at, read }: { at: At; read: Reader }) {
  const field = useField<Quantity[]>(at);
  const values = field.value ?? [];
  return (
    <>
      {values.length} observed:{" "}
      <ValueField
        at={at}
        label="Observed values"
        value={values.join(", ")}
        parse={readingAll(read)}
        onCommit={(text) => field.set(text.split(", ").map((part) => alike(values[0], part)))}
      />
      <span className="block text-sm text-ink-2">Separate them by commas, or paste a column.</span>
    </>
  );
}
