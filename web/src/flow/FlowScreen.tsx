import { useRef } from "react";
import { LineMap } from "../map/LineMap";
import { colourOf } from "../study/flow";
import { select, useStudy } from "../study/store";
import { TypeMark } from "../ui/TypeMark";
import { CaseTypeSheet } from "./CaseTypeSheet";
import { StepSheet } from "./StepSheet";
import { StreamSheet } from "./StreamSheet";
import { StudySheet } from "./StudySheet";
import { TeamSheet } from "./TeamSheet";
import { useMapKeys } from "./useMapKeys";

/** The flow as a map, and the sheet of what is selected. */
export function FlowScreen() {
  const { document: study, selection, problems } = useStudy();
  const sheet = useRef<HTMLElement>(null);
  const openSheet = () => sheet.current?.querySelector<HTMLElement>("input, button")?.focus();
  const onKeyDown = useMapKeys(sheet);
  return (
    <div className="flex h-full min-h-0">
      <main className="flex min-w-0 flex-1 flex-col" onKeyDown={onKeyDown}>
        <h1 className="sr-only">Flow</h1>
        <ul aria-label="Case types" className="flex flex-wrap gap-x-7 gap-y-1 px-5 pt-4 text-sm">
          {study.case_types.map((type) => (
            <li key={type.id}>
              <button type="button" onClick={() => select({ kind: "type", id: type.id })} className="hover:underline">
                <TypeMark colour={colourOf(study, type.id)} />
                <b>{type.name}</b> <span className="text-ink-2">{shareOfAll(study, type.id)}</span>
              </button>
            </li>
          ))}
        </ul>
        <div className="min-h-0 flex-1">
          <LineMap study={study} problems={problems} selection={selection} onSelect={select} onOpen={openSheet} />
        </div>
      </main>
      <aside
        ref={sheet}
        aria-label="Sheet"
        className="w-87 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-80"
        onKeyDown={(event) => {
          if (event.key === "Escape" && !event.defaultPrevented) focusMap();
        }}
      >
        {selection?.kind === "step" && <StepSheet key={selection.id} id={selection.id} />}
        {selection?.kind === "stream" && <StreamSheet key={selection.id} id={selection.id} />}
        {selection?.kind === "team" && <TeamSheet key={selection.id} id={selection.id} />}
        {selection?.kind === "type" && <CaseTypeSheet key={selection.id} id={selection.id} />}
        {!selection && <StudySheet />}
      </aside>
    </div>
  );
}

export function focusMap(): void {
  window.document.querySelector<SVGGElement>('.line-map [role="button"][tabindex="0"]')?.focus();
}

function shareOfAll(study: ReturnType<typeof useStudy.getState>["document"], type: string): string {
  if (study.streams.length !== 1) return "";
  const share = study.streams[0]?.mix?.find((part) => part.type === type)?.share;
  return share === undefined ? "" : `${Number((share * 100).toFixed(1))} %`;
}
