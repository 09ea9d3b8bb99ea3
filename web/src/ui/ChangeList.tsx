import type { Schemas } from "../api/client";

const SHOWN = 60;

/** What differs, one line each, in words. */
export function ChangeList({ changes, marked = [] }: { changes: Schemas["Change"][]; marked?: string[] }) {
  if (changes.length === 0) return <p className="text-ink-2">Nothing but the order of things.</p>;
  return (
    <ul className="max-h-72 space-y-1 overflow-auto text-sm">
      {changes.slice(0, SHOWN).map((change) => (
        <li key={change.where} className={marked.some((place) => `${change.where}/`.startsWith(`${place}/`)) ? "bg-marker-light" : ""}>
          <b>{change.name}</b> {change.words}
        </li>
      ))}
      {changes.length > SHOWN && <li className="text-ink-2">and {changes.length - SHOWN} more</li>}
    </ul>
  );
}
