import { X } from "lucide-react";
import { FigurePicker, useFigureNames } from "../fields/FigurePicker";
import type { RunSettings } from "../study/document/types";
import { edit } from "../study/session/store";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON } from "../ui/Menu";
import { numberBetween, ValueField } from "../ui/ValueField";

const USUAL = { figure: ["type/all/wait/mean"], within: 0.05, at_most: 1000 };

/** Whether a run goes on until chosen figures are precise enough, and how far at most. */
export function PrecisionSentence({ run }: { run: RunSettings }) {
  const { precision } = run;
  const figures = precision ? [precision.figure].flat() : [];
  const nameOf = useFigureNames(figures);
  const set = (label: string, value: RunSettings["precision"]) =>
    edit(label, (study) => {
      if (value) study.run.precision = value;
      else delete study.run.precision;
    });
  if (!precision)
    return (
      <button type="button" className={LINK_BUTTON} onClick={() => set("Run until precise", USUAL)}>
        And more until it is precise enough …
      </button>
    );
  return (
    <p className="max-w-3xl leading-9">
      And more of them until{" "}
      {figures.map((address, n) => (
        <span key={address}>
          {n > 0 && (n === figures.length - 1 ? " and " : ", ")}
          <b>{nameOf(address)}</b>
          {figures.length > 1 && (
            <span className="inline-block align-middle [&>button]:size-5">
              <IconButton
                label={`Not ${nameOf(address)}`}
                icon={X}
                onClick={() => set("Precision: one figure fewer", { ...precision, figure: figures.toSpliced(n, 1) })}
              />
            </span>
          )}
        </span>
      ))}{" "}
      <FigurePicker
        label="One more figure"
        trigger="one more figure"
        className="text-sm text-ink-2 underline decoration-dotted underline-offset-4"
        onPick={({ address }) => set("Precision: one figure more", { ...precision, figure: [...new Set([...figures, address])] })}
      />{" "}
      {figures.length === 1 ? "is" : "are"} good to ±{" "}
      <ValueField
        label="Precision"
        value={String(Number((100 * precision.within).toPrecision(6)))}
        suffix="%"
        parse={numberBetween(0.1, 99)}
        onCommit={(typed) => set(`Precision: ${typed} %`, { ...precision, within: Number(typed) / 100 })}
      />{" "}
      of its size, and at most{" "}
      <ValueField
        label="Most replications"
        value={String(precision.at_most ?? USUAL.at_most)}
        parse={numberBetween(2, 10_000, true)}
        onCommit={(typed) => set(`Precision: at most ${typed}`, { ...precision, at_most: Number(typed) })}
      />{" "}
      replications.{" "}
      <button type="button" className={LINK_BUTTON} onClick={() => set("Run no more than that", undefined)}>
        No more than the above
      </button>
    </p>
  );
}
