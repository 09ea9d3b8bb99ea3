import type { Schemas } from "../api/client";

/** A sentence that was written elsewhere, with what it is about underlined. */
export function SentenceText({ pieces }: { pieces: Schemas["Words"][] }) {
  return pieces.map(({ words, is_value }, n) =>
    is_value ? (
      <span key={n} className="underline decoration-2 underline-offset-4">
        {words}
      </span>
    ) : (
      words
    ),
  );
}
