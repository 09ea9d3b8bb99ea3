import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { keptValue, readValue } from "../fields/figureValue";
import type { StudyDocument } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";
import { LINK_BUTTON, MAIN_BUTTON } from "../ui/Menu";
import { Modal } from "../ui/Modal";
import { type PastedLine, readPasted } from "./pasted";

/** Many observed figures at once, pasted from a spreadsheet. */
export function PasteObserved() {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <button type="button" className={LINK_BUTTON} onClick={() => setOpen(true)}>
        Paste many
      </button>
      {isOpen && <PasteDialog onClose={() => setOpen(false)} />}
    </>
  );
}

interface Match {
  line: PastedLine;
  found: Schemas["Found"] | undefined;
  value: string | undefined;
}

function PasteDialog({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const document = useStudy((state) => state.document);
  const pasted = useDeferredValue(text);
  const matches = useQuery({
    queryKey: ["pasted", pasted],
    gcTime: 0,
    placeholderData: (before) => before,
    queryFn: () => Promise.all(readPasted(pasted).map((line) => matchOf(line, document))),
  });
  const fitting = (matches.data ?? []).filter(({ value }) => value !== undefined);
  const add = () => {
    edit(`Observed: ${fitting.length} figures`, (study) => {
      for (const match of fitting) put(study, match);
    });
    onClose();
  };
  return (
    <Modal open wide title="Paste what was observed" onClose={onClose}>
      <p className="mb-2 text-ink-2">A line for each figure: what it is called, its value with the unit, and where that is from.</p>
      <textarea
        autoFocus
        aria-label="What was observed, a line for each figure"
        rows={6}
        placeholder={"Wait at the counter\t9 min\tStop watch\nCases completed\t5,000 a month"}
        className="w-full rounded-md border border-rule bg-paper px-2.5 py-1.5"
        value={text}
        onChange={({ target }) => setText(target.value)}
      />
      <ul aria-label="What is understood" className="my-3">
        {matches.data?.map(({ line, found, value }, n) => (
          <li key={n} className="flex gap-3 border-t border-rule py-1">
            <span className="w-2/5 min-w-0 truncate">{line.words}</span>
            {found && value !== undefined ? (
              <span>
                {found.title.name} <span className="text-sm text-ink-2">({found.title.of})</span>: <b>{line.value}</b>{" "}
                {line.per && `a ${line.per}`}
              </span>
            ) : (
              <span className="text-wrong">{found ? "its value cannot be read" : "no figure is called that"}</span>
            )}
          </li>
        ))}
      </ul>
      <button type="button" className={MAIN_BUTTON} disabled={fitting.length === 0 || matches.isPlaceholderData} onClick={add}>
        {fitting.length === 1 ? "Add one figure" : `Add ${fitting.length} figures`}
      </button>
    </Modal>
  );
}

/** Words that say nothing of which figure is meant. */
const LITTLE = /\b(?:the|a|an|of|in|at|for|to)\b/gi;

async function matchOf(line: PastedLine, document: StudyDocument): Promise<Match> {
  if (!line.words) return { line, found: undefined, value: undefined };
  const body = { document: { ...document, scenarios: [], levers: [] }, text: line.words.replaceAll(LITTLE, " ") };
  const [found] = await ask(api.POST("/api/figures/search", { body }));
  const isBare = found?.title.unit === "minutes" && /^[\d.]+$/.test(line.value);
  const read = found && line.value ? readValue(isBare ? `${line.value} min` : line.value, found.title) : undefined;
  return { line, found, value: read && "value" in read ? read.value : undefined };
}

/** Puts what was observed of a figure in place of what was known of it before. */
function put(study: StudyDocument, { line, found, value }: Match): void {
  if (!found || value === undefined) return;
  const kept = keptValue(value, found.title);
  if (kept === undefined) return;
  const others = (study.observed ?? []).filter(({ figure }) => figure !== found.address);
  const per = found.title.unit === "count" && line.per ? { per: line.per } : {};
  study.observed = [...others, { figure: found.address, value: kept, ...per, ...(line.source && { source: line.source }) }];
}
