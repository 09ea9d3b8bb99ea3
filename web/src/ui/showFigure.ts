const SHOWN_FOR = 2000;
const WAITED_FOR = 10_000;

/** Goes to where a figure stands on the screen, which says so by `data-figure`, as soon as it is there, and marks it for a moment. */
export function showFigure(address: string): void {
  if (show(address)) return;
  const look = new MutationObserver(() => show(address) && look.disconnect());
  look.observe(document.body, { childList: true, subtree: true });
  setTimeout(() => look.disconnect(), WAITED_FOR);
}

function show(address: string): boolean {
  const place = document.querySelector<HTMLElement | SVGElement>(`[data-figure~="${CSS.escape(address)}"]`);
  if (!place) return false;
  place.setAttribute("tabindex", "-1");
  place.focus({ preventScroll: true });
  place.scrollIntoView({ block: "center" });
  const mark = place instanceof SVGElement ? { opacity: 0.25 } : { background: "var(--marker)" };
  place.animate([mark, { ...mark, offset: 0.4 }, {}], SHOWN_FOR);
  return true;
}
