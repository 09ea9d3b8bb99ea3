import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useEffect, useRef } from "react";
import { useNavigate, useParams } from "react-router";
import { api, ask, type Schemas } from "../api/client";
import { queries, useRuns } from "../api/queries";
import { applyTheme } from "../shell/theme";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { MemoEvidence } from "./MemoEvidence";
import { MemoFiles } from "./MemoFiles";
import { Typed } from "./Typed";
import { useMemoText } from "./useMemoText";

type Text = Schemas["MemoText"];

/** Findings or a comparison as a page for the one who decides. */
export function MemoScreen() {
  const id = Number(useParams().memoId);
  const memo = useQuery({
    queryKey: ["memo", id],
    queryFn: () => ask(api.GET("/api/memos/{memo_id}", { params: { path: { memo_id: id } } })),
  });
  if (memo.isError) {
    return (
      <main className="p-8">
        <p role="alert">{memo.error.message}</p>
      </main>
    );
  }
  if (!memo.data)
    return (
      <main aria-busy className="p-8 text-ink-2">
        Reading the memo …
      </main>
    );
  return <Memo key={memo.data.id} memo={memo.data} />;
}

const EVIDENCE_AFTER = "Answer";

/** Prints in the colours of the day, whatever is seen on the screen. */
function useDayOnPaper(): void {
  useEffect(() => {
    const root = document.documentElement;
    const begin = () => {
      root.dataset.theme = "day";
    };
    const end = () => applyTheme();
    window.addEventListener("beforeprint", begin);
    window.addEventListener("afterprint", end);
    return () => {
      window.removeEventListener("beforeprint", begin);
      window.removeEventListener("afterprint", end);
    };
  }, []);
}

function Memo({ memo }: { memo: Schemas["MemoPage"] }) {
  const { text, change, save, isSaved, trouble } = useMemoText(memo);
  useDayOnPaper();
  const runs = useRuns(memo.study).data ?? [];
  const page = useRef<HTMLElement>(null);
  const set = (part: Partial<Text>) => change({ ...text, ...part });
  const setSection = (n: number, part: Partial<Text["sections"][number]>) =>
    set({ sections: text.sections.map((each, place) => (place === n ? { ...each, ...part } : each)) });
  const evidence = <MemoEvidence memo={memo} runs={runs} pictures={text.pictures} onChange={(pictures) => set({ pictures })} />;
  const place = text.sections.findIndex(({ heading }) => heading === EVIDENCE_AFTER);
  return (
    <main className="h-full overflow-y-auto bg-paper print:h-auto print:overflow-visible print:bg-white">
      <div className="sticky top-0 z-10 flex flex-wrap items-baseline gap-x-5 border-b border-rule bg-paper px-6.5 py-2 print:hidden">
        <MemoFiles memo={memo} page={page} onBefore={save} />
        <AddPicture memo={memo} onAdd={(kind) => set({ pictures: [...text.pictures, { kind, quantity: "type/all/wait", caption: "" }] })} />
        <button
          type="button"
          className={LINK_BUTTON}
          onClick={() => set({ sections: [...text.sections, { heading: "Another section", text: "" }] })}
        >
          Add a section
        </button>
        <DeleteMemo memo={memo} />
        <span role="status" className="ml-auto text-ink-2">
          {trouble ? <b className="text-wrong">{trouble}</b> : isSaved ? "Saved" : "Saving …"}
        </span>
      </div>
      <article ref={page} className="mx-auto max-w-[52rem] px-8 py-6 print:max-w-none print:p-0">
        <Typed
          label="Title of the memo"
          look="text-2xl font-bold leading-8"
          value={text.title}
          onType={(title) => set({ title: title || " " })}
        />
        <p className="px-2 text-sm text-ink-2">{madeOf(memo)}</p>
        {memo.stale.map((each) => (
          <p key={each} role="note" className="mx-2 mt-2 border-l-4 border-wrong pl-2 text-sm font-semibold">
            {each}
          </p>
        ))}
        {text.sections.map((section, n) => (
          <section key={n} aria-label={section.heading} className="mt-5">
            <div className="flex items-start">
              <Typed
                label={`Heading of ${section.heading}`}
                look="text-base font-bold"
                value={section.heading}
                onType={(heading) => setSection(n, { heading })}
              />
              <span className="print:hidden">
                <IconButton
                  label={`Take away the section ${section.heading}`}
                  icon={X}
                  onClick={() => set({ sections: text.sections.toSpliced(n, 1) })}
                />
              </span>
            </div>
            <Typed label={section.heading || "Text"} value={section.text} onType={(words) => setSection(n, { text: words })} />
            {n === place && evidence}
          </section>
        ))}
        {place < 0 && evidence}
      </article>
    </main>
  );
}

function madeOf({ columns, created_at }: Schemas["MemoPage"]): string {
  const made = [...new Set(columns.map(({ number }) => `run ${number}`))].join(" and ");
  const day = new Date(created_at).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });
  return `Made of ${made} on ${day}`;
}

const KINDS = {
  minutes: "Where the minutes go",
  week: "The week by the hour",
  spread: "How long they take",
  course: "Over time",
  people: "What people do",
} as const;

function AddPicture({ memo, onAdd }: { memo: Schemas["MemoPage"]; onAdd: (kind: Schemas["MemoPicture"]["kind"]) => void }) {
  const kinds =
    memo.columns.length > 1
      ? ({ measures: "The measures side by side", "trade-off": "What it buys against what it costs" } as const)
      : KINDS;
  const items = Object.entries(kinds).map(([kind, label]) => ({ label, onChoose: () => onAdd(kind as Schemas["MemoPicture"]["kind"]) }));
  return <Menu trigger="Add a picture" items={items} />;
}

function DeleteMemo({ memo }: { memo: Schemas["MemoPage"] }) {
  const navigate = useNavigate();
  const drop = async () => {
    await ask(api.DELETE("/api/memos/{memo_id}", { params: { path: { memo_id: memo.id } } }));
    await queries.invalidateQueries({ queryKey: ["memos", memo.study] });
    void navigate(`/studies/${memo.study}/findings`);
  };
  return <Menu trigger="Delete" items={[{ label: "Delete this memo for good", wrong: true, onChoose: () => void drop() }]} />;
}
