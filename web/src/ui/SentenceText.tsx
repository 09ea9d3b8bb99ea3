import type { Schemas } from "../api/client";
import { showFigure } from "./showFigure";

interface SentenceTextProps {
  pieces: Schemas["Words"][];
  /** Brings a figure on the screen that may not be there now. */
  onLead?: (address: string) => void;
}

/** A sentence that was written elsewhere, with what it is about underlined; a figure leads to where it stands. */
export function SentenceText({ pieces, onLead }: SentenceTextProps) {
  return pieces.map(({ words: written, is_value, address }, n) => {
    const words = unbroken(written);
    if (!is_value) return words;
    const look = "underline decoration-2 underline-offset-4";
    return address ? (
      <a
        key={n}
        href={`#${address}`}
        className={`${look} hover:bg-marker-light`}
        onClick={(event) => {
          event.preventDefault();
          onLead?.(address);
          showFigure(address);
        }}
      >
        {words}
      </a>
    ) : (
      <span key={n} className={look}>
        {words}
      </span>
    );
  });
}

/** Keeps a number and its unit on one line. */
export const unbroken = (words: string) => words.replace(/(\d) (?=[%a-z])|([A-Z]{3}) (?=\d)/g, "$1$2\u00a0");
