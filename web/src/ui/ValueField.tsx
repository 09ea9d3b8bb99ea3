import { useEffect, useId, useState } from "react";
import type { Parsed } from "../study/values/durations";

interface ValueFieldProps {
  label: string;
  /** The address of what is edited. */
  at?: string;
  placeholder?: string;
  value: string;
  parse: (text: string) => Parsed<string>;
  onCommit: (value: string) => void;
  /** Told as it is typed: the value where it can be read, null where it cannot. */
  onDraft?: (value: string | null) => void;
  suffix?: string;
  invalid?: string | null;
}

/** A value inside a sentence: typed in place, taken over on Enter or on leaving, given up on Escape. */
export function ValueField({ label, at, placeholder, value, parse, onCommit, onDraft, suffix, invalid }: ValueFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const note = useId();
  const text = draft ?? value;

  // biome-ignore lint/correctness/useExhaustiveDependencies: another value gives up what was typed over the old one.
  useEffect(() => {
    setDraft(null);
    setProblem(null);
  }, [value]);

  const type = (typed: string) => {
    setDraft(typed);
    setProblem(null);
    const read = parse(typed);
    onDraft?.("value" in read ? read.value : null);
  };
  const take = () => {
    if (draft === null) return;
    const read = parse(draft);
    if ("problem" in read) {
      setProblem(read.problem);
      return;
    }
    setProblem(null);
    setDraft(null);
    if (read.value !== value) onCommit(read.value);
  };
  const giveUp = () => {
    setDraft(null);
    setProblem(null);
    onDraft?.(value);
  };
  const wrong = problem ?? invalid;
  return (
    <span className="inline-flex max-w-full flex-col align-baseline">
      <span className="inline-flex items-baseline gap-1">
        <input
          aria-label={label}
          data-at={at}
          placeholder={placeholder}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={problem ? note : undefined}
          className={`field-sizing-content min-w-6 max-w-full rounded-t border-b-2 bg-value px-1.5 py-px leading-6 font-semibold
            outline-offset-2 focus:bg-marker-light focus:outline-2 focus:outline-marker ${wrong ? "border-wrong" : "border-ink"}`}
          value={text}
          onChange={(event) => type(event.target.value)}
          onPaste={(event) => {
            const pasted = event.clipboardData.getData("text/plain").trim();
            if (!/[\n\t]/.test(pasted)) return;
            event.preventDefault();
            const { selectionStart, selectionEnd, value: before } = event.currentTarget;
            type(before.slice(0, selectionStart ?? 0) + pasted.split(/[\r\n\t]+/).join(", ") + before.slice(selectionEnd ?? 0));
          }}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key === "Enter") {
              take();
              event.preventDefault();
            }
            if (event.key === "Escape" && draft !== null) {
              giveUp();
              event.stopPropagation();
            }
          }}
        />
        {suffix && <span className="text-ink-2">{suffix}</span>}
      </span>
      {problem && (
        <span id={note} role="alert" className="mt-1 max-w-64 text-sm text-wrong">
          {problem}
        </span>
      )}
    </span>
  );
}

/** Reads a number within bounds. */
export function numberBetween(low: number, high: number, whole = false) {
  return (text: string): Parsed<string> => {
    const typed = text.trim().replace(",", ".").replace(/\s*%$/, "");
    const number = Number(typed);
    if (typed === "" || Number.isNaN(number)) return { problem: `“${text.trim()}” is not a number.` };
    if (number < low || number > high) return { problem: `Give a number from ${low} to ${high.toLocaleString("en")}.` };
    if (whole && !Number.isInteger(number)) return { problem: "Give a whole number." };
    return { value: String(number) };
  };
}

/** Reads a name that is not empty. */
export function readName(text: string): Parsed<string> {
  const name = text.trim();
  if (!name) return { problem: "Write a name." };
  return name.length > 120 ? { problem: "Use at most 120 characters." } : { value: name };
}
