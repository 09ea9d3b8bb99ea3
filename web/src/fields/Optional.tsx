import { ChevronRight, X } from "lucide-react";
import { type ReactNode, useState } from "react";
import { type At, valueAt } from "../study/document/addresses";
import { useStudy } from "../study/session/store";
import { IconButton } from "../ui/IconButton";
import { useField } from "./useField";

interface OptionalProps {
  at: At;
  /** What is offered where it is left out: what it would say. */
  offer: string;
  /** What stands there at first. */
  fresh: unknown;
  children: ReactNode;
}

/** A part that may be left out: an offer where it is not there, its sentence and a way to take it back where it is. */
export function Optional({ at, offer, fresh, children }: OptionalProps) {
  const field = useField<unknown>(at);
  if (field.value === undefined && !field.various) {
    return (
      <button type="button" className={`${OFFER} mr-4`} data-sets={at} onClick={() => field.set(fresh)}>
        {offer}
      </button>
    );
  }
  return (
    <div className="flex items-start gap-1">
      <div className="min-w-0 flex-1 leading-[1.9rem]">{children}</div>
      <TakeAway at={at} label={`Take back: ${offer}`} onClick={field.clear} />
    </div>
  );
}

export const OFFER = "text-left text-sm text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink";

/** The small cross beside what can be taken away. */
export function TakeAway({ at, label, onClick }: { at: At; label: string; onClick: () => void }) {
  return (
    <span data-clears={at} className="shrink-0">
      <IconButton label={label} icon={X} onClick={onClick} />
    </span>
  );
}

interface FoldedProps {
  title: string;
  /** The addresses that are folded away here: it stands open where one is used or asked for. */
  holds: At[];
  children: ReactNode;
}

/** The rare part of a sheet, folded away until it is needed. */
export function Folded({ title, holds, children }: FoldedProps) {
  const wanted = useStudy((state) => holds.some((at) => state.wanted?.startsWith(at)));
  const used = useStudy((state) => holds.some((at) => valueAt(state.document, at) !== undefined));
  const [chosen, setChosen] = useState<boolean | null>(null);
  const isOpen = wanted || (chosen ?? used);
  return (
    <section aria-label={title} className="border-t border-rule py-2">
      <button
        type="button"
        data-fold
        aria-expanded={isOpen}
        className="flex w-full items-center gap-1 text-left text-sm text-ink-2 hover:text-ink"
        onClick={() => setChosen(!isOpen)}
      >
        <ChevronRight size={14} aria-hidden className={isOpen ? "rotate-90" : ""} />
        {title}
      </button>
      {isOpen && <div className="space-y-1.5 pt-1.5 leading-[1.9rem]">{children}</div>}
    </section>
  );
}
