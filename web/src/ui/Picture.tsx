import { Download } from "lucide-react";
import { type ReactNode, type RefObject, useRef } from "react";
import { toast } from "sonner";
import { Menu } from "./Menu";
import { saveCsv, savePng, saveSvg, saveXlsx, type Table } from "./saving";

interface PictureProps {
  title: string;
  /** What stands behind the title in lighter type: the unit, or a choice of what is shown. */
  aside?: ReactNode;
  /** The numbers of the picture, as a table that can be saved. */
  table: () => Table;
  /** Whether there is a picture, and not a table only. */
  isDrawn?: boolean;
  children: ReactNode;
  className?: string;
}

/** A picture under its title, which can be taken away as a picture and as a table. */
export function Picture({ title, aside, table, isDrawn = true, children, className = "" }: PictureProps) {
  const drawn = useRef<HTMLDivElement>(null);
  return (
    <section aria-label={title} className={`min-w-0 ${className}`}>
      <div className="mb-1.5 flex items-baseline gap-2">
        <h2 className="text-sm font-bold">{title}</h2>
        <span className="text-sm text-ink-2">{aside}</span>
        <span className="ml-auto print:hidden">
          <SaveMenu title={title} table={table} drawn={isDrawn ? drawn : null} />
        </span>
      </div>
      <div ref={drawn} data-drawn={isDrawn || undefined}>
        {children}
      </div>
    </section>
  );
}

interface SaveMenuProps extends Pick<PictureProps, "title" | "table"> {
  /** What the picture is in; null where there is a table only. */
  drawn: RefObject<HTMLElement | null> | null;
}

/** Takes a picture away, and the numbers that it is drawn of. */
export function SaveMenu({ title, table, drawn }: SaveMenuProps) {
  const attempt = (save: () => Promise<void> | void) => async () => {
    try {
      await save();
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  const svg = () => {
    const found = drawn?.current?.querySelector<SVGSVGElement>("svg[role=img]");
    if (!found) throw new Error("Nothing is drawn here.");
    return found;
  };
  return (
    <Menu
      label={`Save: ${title}`}
      className="rounded p-1 text-ink-3 hover:bg-value hover:text-ink data-[state=open]:text-ink"
      trigger={<Download size={14} aria-hidden />}
      items={[
        ...(drawn
          ? [
              { label: "Picture as SVG", onChoose: attempt(() => saveSvg(svg(), title)) },
              { label: "Picture as PNG", onChoose: attempt(() => savePng(svg(), title)) },
            ]
          : []),
        { label: "Numbers as CSV", onChoose: attempt(() => saveCsv(table(), title)), separated: drawn !== null },
        { label: "Numbers as XLSX", onChoose: attempt(() => saveXlsx(table(), title)) },
      ]}
    />
  );
}
