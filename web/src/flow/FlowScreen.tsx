import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { LineMap } from "../map/LineMap";
import { usePulse } from "../pulse/usePulse";
import { meansOf } from "../pulse/weeks";
import { useChangesSeen } from "../scenarios/useScenarioWords";
import { Sheet } from "../sheets/Sheet";
import { isTyping } from "../shell/useShortcuts";
import { colourOf } from "../study/document/flow";
import { idsOf } from "../study/document/parts";
import { addPart } from "../study/session/adding";
import {
  type Asking,
  answer,
  branchHere,
  copyHere,
  deleteHere,
  focusMap,
  insertBeforeHere,
  insertFirstStep,
  insertHere,
  pasteHere,
} from "../study/session/commands";
import { select, selectAlso, useStudy } from "../study/session/store";
import { LINK_BUTTON } from "../ui/Menu";
import { TypeMark } from "../ui/TypeMark";
import { StepsTable } from "./StepsTable";

/** The flow as a map or as a table, and the sheet of what is selected. */
export function FlowScreen() {
  const study = useStudy((state) => state.document);
  const selection = useStudy((state) => state.selection);
  const problems = useStudy((state) => state.problems);
  const sheet = useRef<HTMLElement>(null);
  const [view, setView] = useState<"map" | "table">("map");
  const [asking, setAsking] = useState<Asking>(null);
  const weeks = usePulse((state) => state.weeks);
  const changes = useChangesSeen();
  const waiting = useMemo(() => meansOf(weeks)?.lines, [weeks]);
  const openSheet = () => sheet.current?.querySelector("input")?.focus();
  const onKeyDown = useMapKeys(sheet, asking, setAsking);
  const asked = (id: string) => {
    if (asking) answer(asking, id);
    setAsking(null);
  };
  return (
    <div className="flex h-full min-h-0">
      <main className="flex min-w-0 flex-1 flex-col" onKeyDown={view === "map" ? onKeyDown : undefined}>
        <h1 className="sr-only">Flow</h1>
        <CaseTypes />
        {asking && (
          <p role="status" className="mx-5 mt-2 rounded bg-marker-light px-3 py-1.5">
            {asking.what === "way" ? "Where does the way lead?" : "After which step do they go?"} Click it, or go there with the arrow keys
            and press Enter. Escape gives up.
          </p>
        )}
        <div className="min-h-0 flex-1">
          {study.steps.length === 0 ? (
            <p className="grid h-full place-content-center justify-items-center gap-3 text-ink-2">
              There are no steps yet.
              <button type="button" className={LINK_BUTTON} onClick={insertFirstStep}>
                Begin with one step and an exit
              </button>
            </p>
          ) : view === "table" ? (
            <StepsTable />
          ) : (
            <LineMap
              study={study}
              problems={problems}
              selection={selection}
              asking={asking !== null}
              changes={changes}
              waiting={waiting}
              onSelect={select}
              onAlso={selectAlso}
              onAnswer={asked}
              onOpen={openSheet}
            />
          )}
        </div>
        <div role="group" aria-label="View of the flow" className="flex gap-5 px-5 pb-3 text-sm">
          {(["map", "table"] as const).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={view === each}
              className="border-b-2 border-transparent pb-0.5 text-ink-2 aria-pressed:border-ink aria-pressed:font-bold
                aria-pressed:text-ink"
              onClick={() => setView(each)}
            >
              {each === "map" ? "Map" : "Table of steps"}
            </button>
          ))}
          {study.steps.length > 0 && (
            <Link to="../watch" className={LINK_BUTTON}>
              Watch it
            </Link>
          )}
          {view === "map" && waiting && (
            <span className="ml-auto text-ink-2">A dot on the approach is one case that waits, on average.</span>
          )}
        </div>
      </main>
      <Sheet ref={sheet} onLeave={focusMap} />
    </div>
  );
}

/** The case types with their colours, as the map's legend. */
function CaseTypes() {
  const study = useStudy((state) => state.document);
  return (
    <ul aria-label="Case types" className="flex flex-wrap gap-x-7 gap-y-1 px-5 pt-4 text-sm">
      {study.case_types.map((type) => (
        <li key={type.id}>
          <button type="button" onClick={() => select({ kind: "type", id: type.id })} className="hover:underline">
            <TypeMark colour={colourOf(study, type.id)} />
            <b>{type.name}</b> <span className="text-ink-2">{shareOfAll(study, type.id)}</span>
          </button>
        </li>
      ))}
      <li>
        <button
          type="button"
          className="text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink"
          onClick={() => addPart("type")}
        >
          Add a case type
        </button>
      </li>
    </ul>
  );
}

function shareOfAll(study: ReturnType<typeof useStudy.getState>["document"], type: string): string {
  if (study.streams.length !== 1) return "";
  const share = study.streams[0]?.mix?.find((part) => part.type === type)?.share;
  return share === undefined ? "" : `${Number((share * 100).toFixed(1))} %`;
}

/** Single keys that work on what is selected on the map. */
function useMapKeys(sheet: React.RefObject<HTMLElement | null>, asking: Asking, ask: (asking: Asking) => void) {
  return (event: React.KeyboardEvent) => {
    if (isTyping(event.target) || event.altKey) return;
    const { selection } = useStudy.getState();
    const key = event.key.toLowerCase();
    const control = event.ctrlKey || event.metaKey;
    if (control && key === "c" && selection?.kind === "step") copyHere();
    else if (control && key === "v") void pasteHere();
    else if (control) return;
    else if (event.key === "Escape" && asking) ask(null);
    else if (key === "n") event.shiftKey ? insertBeforeHere("serve") : insertHere("serve");
    else if (key === "b") branchHere("serve");
    else if (key === "w" && selection?.kind === "step") ask({ what: "way", ids: [selection.id] });
    else if (key === "m" && selection?.kind === "step") ask({ what: "move", ids: idsOf(selection) });
    else if (event.key === "Delete" || event.key === "Backspace") deleteHere();
    else if (key === "r" || event.key === "F2") {
      const name = sheet.current?.querySelector<HTMLInputElement>("input");
      name?.focus();
      name?.select();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
}
