import type { ReactNode } from "react";
import type { At } from "../study/document/addresses";
import { TodayMark } from "./TodayMark";
import { VaryMark } from "./VaryMark";

interface MarkedProps {
  at: At;
  label: string;
  /** How a value is written for people, where that is not as it is kept. */
  shown?: (value: unknown) => string;
  /** Whether a lever may drive it: names and dates none does. */
  varies?: boolean;
  children: ReactNode;
}

/** A value with what scenarios make of it: which lever drives it, and what it is today. */
export function Marked({ at, label, shown, varies = true, children }: MarkedProps) {
  return (
    <>
      <span className="group/vary relative">
        {children}
        {varies && <VaryMark at={at} label={label} />}
      </span>
      <TodayMark at={at} label={label} shown={shown} />
    </>
  );
}
