import type { Schemas } from "../api/client";

const SHOWN_FOR = 2000;

/** A sentence that was written elsewhere, with what it is about underlined; a figure leads to where it stands. */
export function SentenceText({ pieces }: { pieces: Schemas["Words"][] }) {
  return pieces.map(({ words, is_value, address }, n) => {
    if (!is_value) return words;
    const look = "underline decoration-2 underline-offset-4";
    return address ? (
      <button key={n} type="button" className={`${look} hover:bg-marker-light`} onClick={() => showFigure(address)}>
        {words}
      </button>
    ) : (
      <span key={n} className={look}>
        {words}
      </span>
    );
  });
}

/** Goes to where a figure stands on the screen, which says so by `data-figure`, and marks it for a moment. */
function showFigure(address: string): void {
  const place = document.querySelector<HTMLElement>(`[data-figure~="${CSS.escape(address)}"]`);
  if (!place) return;
  place.tabIndex = -1;
  place.focus({ preventScroll: true });
  place.scrollIntoView({ block: "center" });
  place.animate([{ background: "var(--marker)" }, { background: "var(--marker)", offset: 0.4 }, {}], SHOWN_FOR);
}
