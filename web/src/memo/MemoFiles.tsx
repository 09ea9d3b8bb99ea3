import { useMutation } from "@tanstack/react-query";
import type { RefObject } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { fileNameOf, saveFile } from "../ui/files";
import { Menu } from "../ui/Menu";
import { standalone } from "../ui/saving";

interface MemoFilesProps {
  memo: Schemas["MemoPage"];
  page: RefObject<HTMLElement | null>;
  /** What is waited for before: that what is typed is saved. */
  onBefore: () => Promise<void>;
}

const KINDS = { html: "text/html", pdf: "application/pdf" };

/** Takes a memo away: as a page that needs nothing else, or as PDF, printed by the server or else by this browser. */
export function MemoFiles({ memo, page, onBefore }: MemoFilesProps) {
  const save = useMutation({
    mutationFn: async (form: "html" | "pdf") => {
      await onBefore();
      const body = { form, evidence: page.current ? await evidenceOf(page.current) : [] };
      const file: unknown = await ask(
        api.POST("/api/memos/{memo_id}/file", { params: { path: { memo_id: memo.id } }, body, parseAs: "blob" }),
      );
      saveFile(file as Blob, `${fileNameOf(memo.text.title)}.${form}`, KINDS[form]);
    },
    onError: (error) => toast.error(error.message),
  });
  return (
    <Menu
      trigger={save.isPending ? "Saving …" : "Save or print"}
      items={[
        ...(memo.prints_here ? [{ label: "PDF, printed by the server", onChoose: () => save.mutate("pdf") }] : []),
        { label: "Page (HTML) that needs nothing else", onChoose: () => save.mutate("html") },
        {
          label: memo.prints_here ? "Print from this browser" : "Print from this browser, also as PDF: the server has no printer",
          onChoose: () => window.print(),
          separated: true,
        },
      ]}
    />
  );
}

/** What stands where a picture is drawn: the picture, a table, or why there is none. */
const DRAWN = "[data-drawn] svg[role=img], [data-drawn] p, table";

/** The pictures and tables of a memo in their order, as they stand on the page. */
async function evidenceOf(page: HTMLElement): Promise<Schemas["Evidence"][]> {
  const figures = [...page.querySelectorAll<HTMLElement>("[data-evidence]")];
  if (figures.some((figure) => figure.querySelector("[aria-busy]") || !figure.querySelector(DRAWN)))
    throw new Error("The pictures are still being drawn. Try again in a moment.");
  return Promise.all(
    figures.map(async (figure) => {
      const caption = figure.querySelector<HTMLTextAreaElement>("figcaption textarea")?.value ?? "";
      const svg = figure.querySelector<SVGSVGElement>("[data-drawn] svg[role=img]");
      const table = figure.querySelector("table");
      if (svg) return { caption, svg: await standalone(svg, caption, "white") };
      return table ? { caption, ...cellsOf(table) } : { caption };
    }),
  );
}

function cellsOf(table: HTMLTableElement): { head: string[]; rows: string[][] } {
  const told = (cell: HTMLTableCellElement) => [...cell.childNodes].map(({ textContent }) => textContent?.trim()).join(" ");
  const words = (row: HTMLTableRowElement | undefined) => [...(row?.cells ?? [])].map((cell) => told(cell));
  const [head, ...rows] = [...table.rows];
  return { head: words(head), rows: rows.map(words) };
}
