import { FileSpreadsheet } from "lucide-react";
import { Tooltip } from "radix-ui";
import type { At } from "../study/document/addresses";
import { useStudy } from "../study/session/store";

/** Marks a value that was taken from data: on hover, or with the keyboard on it, which file, how many rows, when and how. */
export function SourceMark({ at }: { at: At }) {
  const source = useStudy((state) => state.document.sources?.[`/${at}`]);
  if (!source) return null;
  const how = source.method ? `: ${source.method}` : "";
  const words = `Taken from ${source.file}, ${source.rows.toLocaleString("en")} rows, on ${source.date}${how}`;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger aria-label={words} className="ml-1 inline-grid size-5 place-items-center align-middle text-ink-2">
        <FileSpreadsheet size={14} aria-hidden />
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content className="z-50 max-w-80 rounded bg-ink px-2 py-1 text-xs text-paper" sideOffset={4}>
          {words}.
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
