import { useEffect, useRef, useState } from "react";
import { redo, undo } from "../study/session/store";

export function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName));
}

/** The stage that a key leads to after G. */
const STAGE_KEYS: Record<string, string> = {
  l: "data",
  f: "flow",
  d: "demand",
  t: "teams",
  r: "run",
  i: "findings",
  c: "compare",
  h: "history",
};
const MOMENT = 1500;

/** Keys that work everywhere in the workbench. */
export function useShortcuts({ onGo, onRun }: { onGo: (stage: string) => void; onRun: () => void }) {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  const went = useRef(0);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const control = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      const typing = isTyping(event.target);
      const stage = event.timeStamp - went.current < MOMENT ? STAGE_KEYS[key] : undefined;
      went.current = 0;
      if (control && key === "k") setPalette(true);
      else if (control && key === "enter" && !typing) onRun();
      else if (control && key === "z" && !typing) event.shiftKey ? redo() : undo();
      else if (control && key === "y" && !typing) redo();
      else if (typing || control || event.altKey) return;
      else if (stage) onGo(stage);
      else if (key === "g") went.current = event.timeStamp;
      else if (event.key === "?") setHelp(true);
      else if (event.key === "/") setPalette(true);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener("keydown", onKey, { capture: true });
    return () => window.removeEventListener("keydown", onKey, { capture: true });
  }, [onGo, onRun]);
  return { palette, setPalette, help, setHelp };
}
