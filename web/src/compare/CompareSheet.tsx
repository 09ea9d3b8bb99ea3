import type { ComponentProps } from "react";
import { ChangeList } from "../ui/ChangeList";
import { Section } from "../ui/Section";
import { ComparePicture } from "./ComparePicture";

/** A picture of the comparison, and what one of the scenarios changes. */
export function CompareSheet(picture: ComponentProps<typeof ComparePicture>) {
  const { columns } = picture.comparison;
  const column = columns[picture.chosen] ?? columns[1];
  const first = columns[0];
  return (
    <aside aria-label="What it buys" className="w-84 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-72">
      <ComparePicture {...picture} />
      {column && first && column !== first && (
        <Section title={`“${column.name}” differs from “${first.name}” in`}>
          {column.changes.length === 0 ? <p className="text-ink-2">Nothing.</p> : <ChangeList changes={column.changes} />}
        </Section>
      )}
    </aside>
  );
}
