import { del as deleteLarge, get as getLarge, set as setLarge } from "idb-keyval";
import { useEffect } from "react";
import { ApiError, api, problemsIn } from "../../api/client";
import { filledIn, type StudyDocument } from "../document/types";
import { happen, useStudy } from "./store";

const PAUSE_AFTER_TYPING = 500;
const PAUSE_AFTER_FAILURE = 4000;

interface Draft {
  version: number;
  document: StudyDocument;
}

const draftKey = (id: number) => `urban-queue-draft-${id}`;

/** What was typed but not saved when the page was last closed, if anything. */
export async function unsavedDraft(id: number): Promise<Draft | null> {
  const text = localStorage.getItem(draftKey(id));
  return text ? (JSON.parse(text) as Draft) : ((await getLarge<Draft>(draftKey(id))) ?? null);
}

/** Keeps what is typed in the browser until it is saved; what is too long for the quick store goes into the large one. */
export function keepDraft(id: number, version: number, document: StudyDocument): void {
  const draft: Draft = { version, document };
  try {
    localStorage.setItem(draftKey(id), JSON.stringify(draft));
  } catch {
    localStorage.removeItem(draftKey(id));
    void setLarge(draftKey(id), draft);
  }
}

export function dropDraft(id: number): void {
  localStorage.removeItem(draftKey(id));
  void deleteLarge(draftKey(id));
}

let saving: Promise<void> | null = null;

/** Saves what has changed and waits until it is saved; saves once more where something changed meanwhile. */
export async function saveNow(): Promise<void> {
  while (saving) await saving;
  if (useStudy.getState().save === "saved" || useStudy.getState().conflict) return;
  saving = put().finally(() => {
    saving = null;
  });
  await saving;
  if (useStudy.getState().save === "changed") await saveNow();
}

async function put(): Promise<void> {
  const { id, version, whole, restores } = useStudy.getState();
  happen({ type: "saving" });
  const unchanged = () => useStudy.getState().id === id && useStudy.getState().whole === whole;
  try {
    const { data, error, response } = await api.PUT("/api/studies/{study_id}/document", {
      params: { path: { study_id: id }, header: { "If-Match": `"${version}"` }, query: restores === null ? {} : { restores } },
      body: whole,
    });
    if (useStudy.getState().id !== id) return;
    if (data) {
      if (unchanged()) dropDraft(id);
      happen({ type: "saved", of: whole, version: data.version, problems: data.problems });
    } else if (response.status === 409 && error && "theirs" in error) {
      const conflict = {
        version: error.version,
        theirs: filledIn(error.theirs),
        both: error.both ? filledIn(error.both) : null,
        clashes: error.clashes,
        mineChanged: error.yours_changed,
        theirsChanged: error.theirs_changed,
      };
      happen({ type: "conflicted", conflict });
    } else if (response.status >= 500) {
      happen({ type: "unreachable" });
    } else {
      happen({ type: "refused", of: whole, problems: problemsIn(error) });
    }
  } catch {
    happen({ type: "unreachable" });
  }
}

/** Lets a field take over what is being typed, as if it were left: the page is going. */
const takeOver = () => document.activeElement instanceof HTMLElement && document.activeElement.blur();

/** Saves a moment after each edit, keeps a copy in the browser until then, and tries again after a failure. */
export function useAutosave(): void {
  useEffect(() => {
    let timer = 0;
    const plan = (pause: number) => {
      clearTimeout(timer);
      timer = window.setTimeout(() => void saveNow(), pause);
    };
    const stop = useStudy.subscribe((now, before) => {
      if (now.id !== before.id) return;
      if (now.save === "changed" && (now.whole !== before.whole || before.save !== "changed")) {
        keepDraft(now.id, now.version, now.whole);
        plan(PAUSE_AFTER_TYPING);
      } else if (now.save === "unreachable" && before.save !== "unreachable") {
        plan(PAUSE_AFTER_FAILURE);
      }
    });
    window.addEventListener("pagehide", takeOver);
    if (useStudy.getState().save === "changed") plan(0);
    return () => {
      stop();
      window.removeEventListener("pagehide", takeOver);
      clearTimeout(timer);
      void saveNow();
    };
  }, []);
}

/** Saves what is typed; throws in words where that cannot be, as what is to be done with it ("run") needs it saved. */
export async function requireSaved(done: string): Promise<void> {
  await saveNow();
  const { save, problems } = useStudy.getState();
  if (save === "saved") return;
  const what = `The last changes are not saved yet, so they cannot be ${done}.`;
  throw new ApiError(0, [{ where: "study", what, mend: "Save them first.", level: "error" }, ...problems]);
}
