import { type RefObject, useEffect } from "react";
import type { At } from "../study/document/addresses";
import { useStudy } from "../study/session/store";

/** Brings the keyboard to the field of a sheet that is asked for. */
export function useWanted(sheet: RefObject<HTMLElement | null>): void {
  const wanted = useStudy((state) => state.wanted);
  useEffect(() => {
    if (wanted && sheet.current) focusAt(sheet.current, wanted);
  }, [wanted, sheet]);
}

/** Brings the keyboard to the field at an address, or to the one nearest around it. */
function focusAt(sheet: HTMLElement, at: At): void {
  for (let place = at; place.includes("/"); place = place.slice(0, place.lastIndexOf("/"))) {
    const found = sheet.querySelector<HTMLElement>(`[data-at="${place}"], [data-sets="${place}"], [data-at^="${place}/"]`);
    const target = found?.matches("input, button") ? found : found?.querySelector<HTMLElement>("input, button");
    if (!target) continue;
    target.scrollIntoView({ block: "center" });
    target.focus();
    if (target.dataset.at?.endsWith("/name") && target instanceof HTMLInputElement) target.select();
    return;
  }
}
