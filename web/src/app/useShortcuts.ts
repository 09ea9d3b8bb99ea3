import { useEffect, useState } from "react";
import { redo, undo } from "../study/store";

export function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName));
}

/** Keys that work everywhere in the workbench. */
export function useShortcuts() {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const control = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (control && key === "k") setPalette(true);
      else if (control && key === "z" && !isTyping(event.target)) event.shiftKey ? redo() : undo();
      else if (control && key === "y" && !isTyping(event.target)) redo();
      else if (event.key === "?" && !isTyping(event.target)) setHelp(true);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return { palette, setPalette, help, setHelp };
}
