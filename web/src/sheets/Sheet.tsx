import type { RefObject } from "react";
import { useWanted } from "../fields/useWanted";
import { idsOf, type PartKind } from "../study/document/parts";
import { showInStudy, useStudy } from "../study/session/store";
import { CalendarSheet } from "./CalendarSheet";
import { CaseTypeSheet } from "./CaseTypeSheet";
import { DeadlineSheet, SpanSheet } from "./ClockSheets";
import { PlaceSheet } from "./PlaceSheet";
import { SkillSheet } from "./SkillSheet";
import { StreamSheet } from "./StreamSheet";
import { StudySheet } from "./StudySheet";
import { StepSheet } from "./step/StepSheet";
import { TraitSheet } from "./TraitSheet";
import { TeamSheet } from "./team/TeamSheet";

interface SheetProps {
  ref: RefObject<HTMLElement | null>;
  /** Called on Escape from what is on the screen beside: where the keyboard goes back to. */
  onLeave: () => void;
  /** What can be seen and chosen on the screen beside; all else is in the list of the study. */
  beside?: PartKind[];
}

/** The sheet on the right: what is selected, as sentences with the values in place. */
export function Sheet({ ref, onLeave, beside = ["step", "stream"] }: SheetProps) {
  const selection = useStudy((state) => state.selection);
  useWanted(ref);
  return (
    <aside
      ref={ref}
      aria-label="Sheet"
      className="w-87 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-80"
      onKeyDown={(event) => {
        if (event.key === "Escape" && !event.defaultPrevented) leave(onLeave, beside);
      }}
    >
      <Selected key={idsOf(selection).join(",")} />
    </aside>
  );
}

function Selected() {
  const selection = useStudy((state) => state.selection);
  if (!selection) return <StudySheet />;
  switch (selection.kind) {
    case "step":
      return <StepSheet selection={selection} />;
    case "stream":
      return <StreamSheet id={selection.id} />;
    case "team":
      return <TeamSheet id={selection.id} />;
    case "skill":
      return <SkillSheet id={selection.id} />;
    case "type":
      return <CaseTypeSheet id={selection.id} />;
    case "trait":
      return <TraitSheet id={selection.id} />;
    case "calendar":
      return <CalendarSheet id={selection.id} />;
    case "deadline":
      return <DeadlineSheet id={selection.id} />;
    case "span":
      return <SpanSheet id={selection.id} />;
    case "place":
      return <PlaceSheet id={selection.id} />;
  }
}

/** Back to the screen from what is on it, back to the list of the study from all else. */
function leave(toScreen: () => void, beside: PartKind[]): void {
  const { selection } = useStudy.getState();
  if (!selection || beside.includes(selection.kind)) toScreen();
  else showInStudy(selection);
}
