import equal from "fast-deep-equal";
import { Undo } from "lucide-react";
import { Tooltip } from "radix-ui";
import { type At, keysOf, setAt, singleAddresses, valueAt } from "../study/document/addresses";
import type { Distribution, StudyDocument } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";
import { shortForm } from "../study/values/shortForm";
import { called } from "./useField";

interface TodayMarkProps {
  at: At;
  label: string;
  /** How a value is written for people, where that is not as it is kept. */
  shown?: (value: unknown) => string;
}

/** Marks a value that a scenario changes: on hover what it is today, and by a click the way back to that. */
export function TodayMark({ at, label, shown }: TodayMarkProps) {
  const differs = useStudy((state) => state.scenario !== null && singleAddresses(at).some((each) => isChanged(state, each)));
  const whole = useStudy((state) => state.whole);
  if (!differs) return null;
  const value = valueAt(whole, at);
  const words = value === undefined ? "not set" : (shown?.(value) ?? inWords(whole, value));
  const goBack = () =>
    edit(`${label} as today`, (study) => {
      for (const each of singleAddresses(at)) setAt(study, each, valueAt(whole, each));
    });
  return <BackMark label={label} words={words} onBack={goBack} />;
}

interface BackMarkProps {
  label: string;
  /** What it is today. */
  words: string;
  onBack: () => void;
}

/** Says on hover what something is today, and goes back to that by a click. */
export function BackMark({ label, words, onBack }: BackMarkProps) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger
        aria-label={`${label}: back to today’s ${words}`}
        className="ml-1 inline-grid size-5 place-items-center rounded-full bg-marker align-middle text-[#17202b]"
        onClick={onBack}
      >
        <Undo size={12} aria-hidden />
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content className="z-50 rounded bg-ink px-2 py-1 text-xs text-paper" sideOffset={4}>
          Today: {words}. Click to go back to it.
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** Whether a scenario has another value than today at an address, of something that is there today. */
function isChanged({ document, whole }: { document: StudyDocument; whole: StudyDocument }, at: At): boolean {
  const element = keysOf(at).slice(0, 2).join("/");
  return valueAt(whole, element) !== undefined && !equal(valueAt(document, at), valueAt(whole, at));
}

function inWords(study: StudyDocument, value: unknown): string {
  if (typeof value !== "object" || value === null) return called(study, value);
  return "dist" in value ? shortForm(value as Distribution) : "another";
}
