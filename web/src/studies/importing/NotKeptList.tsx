import type { Schemas } from "../../api/client";

interface NotKeptListProps {
  notes: Schemas["NotKept"][];
  title: string;
}

/** What cannot be kept, by element, with what is done instead. */
export function NotKeptList({ notes, title }: NotKeptListProps) {
  if (notes.length === 0) return null;
  return (
    <section aria-label={title} className="mb-2">
      <h3 className="font-bold">
        {title} <span className="font-normal text-ink-2">({notes.length})</span>
      </h3>
      <table className="w-full text-sm">
        <thead>
          <tr className="border-b border-ink text-left text-ink-2">
            <th className="w-44 py-1 pr-3 font-normal">Where</th>
            <th className="py-1 pr-3 font-normal">What</th>
            <th className="py-1 font-normal">Instead</th>
          </tr>
        </thead>
        <tbody>
          {notes.map((note) => (
            <tr key={`${note.element} ${note.what}`} className="border-b border-rule align-top">
              <td className="py-1 pr-3" title={note.element}>
                {note.name}
              </td>
              <td className="py-1 pr-3">{note.what}</td>
              <td className="py-1 text-ink-2">{note.instead}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
