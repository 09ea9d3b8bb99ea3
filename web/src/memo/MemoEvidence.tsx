import { X } from "lucide-react";
import type { Schemas } from "../api/client";
import { type Run, useComparison, useFindings } from "../api/queries";
import { shortened } from "../compare/columns";
import { TradeOffChart } from "../compare/TradeOffChart";
import { CoursePicture } from "../findings/CoursePicture";
import { MinutesPicture } from "../findings/MinutesPicture";
import { PeoplePicture } from "../findings/PeoplePicture";
import { SpreadPicture } from "../findings/SpreadPicture";
import { useRunStudy } from "../findings/useRunStudy";
import { WeekPicture } from "../findings/WeekPicture";
import { IconButton } from "../ui/IconButton";
import { MeasuresOfMemo } from "./MeasuresOfMemo";
import { Typed } from "./Typed";

type Picture = Schemas["MemoPicture"];

interface MemoEvidenceProps {
  memo: Schemas["MemoPage"];
  runs: Run[];
  pictures: Picture[];
  onChange: (pictures: Picture[]) => void;
}

/** The pictures of a memo, drawn of its runs as long as these are there. */
export function MemoEvidence({ memo, runs, pictures, onChange }: MemoEvidenceProps) {
  const change = (n: number, part: Partial<Picture>) =>
    onChange(pictures.map((each, place) => (place === n ? { ...each, ...part } : each)));
  const isThere = memo.columns.every(({ run }) => runs.some(({ id }) => id === run));
  if (!isThere) return null;
  return pictures.map((picture, n) => (
    <figure key={n} data-evidence={n} className="mt-4 break-inside-avoid px-2">
      {memo.columns.length > 1 ? (
        <OfComparison memo={memo} runs={runs} picture={picture} />
      ) : (
        <OfRun memo={memo} runs={runs} picture={picture} onQuantity={(quantity) => change(n, { quantity })} />
      )}
      <figcaption className="-mx-2 flex items-start text-sm text-ink-2">
        <Typed label={`Caption of picture ${n + 1}`} value={picture.caption ?? ""} onType={(caption) => change(n, { caption })} />
        <span className="print:hidden">
          <IconButton label={`Take away picture ${n + 1}`} icon={X} onClick={() => onChange(pictures.toSpliced(n, 1))} />
        </span>
      </figcaption>
    </figure>
  ));
}

interface PictureProps {
  memo: Schemas["MemoPage"];
  runs: Run[];
  picture: Picture;
}

function OfRun({ memo, runs, picture, onQuantity }: PictureProps & { onQuantity: (quantity: string) => void }) {
  const [column] = memo.columns;
  const run = runs.find(({ id }) => id === column?.run);
  const part = run?.parts.find(({ scenario }) => scenario === column?.scenario);
  const findings = useFindings(run, part).data;
  const study = useRunStudy(run, part);
  if (!run || !part || !findings || !study) return <p aria-busy>…</p>;
  const shown = { run, part };
  const quantity = picture.quantity ?? "";
  switch (picture.kind) {
    case "minutes":
      return <MinutesPicture title="Where the minutes go" aside="mean per case" study={study} bars={findings.types} />;
    case "week":
      return <WeekPicture shown={shown} quantities={findings.weekly} quantity={quantity} onQuantity={onQuantity} />;
    case "spread":
      return <SpreadPicture shown={shown} quantities={findings.spread} quantity={quantity} onQuantity={onQuantity} />;
    case "people":
      return <PeoplePicture shown={shown} study={study} />;
    default:
      return <CoursePicture shown={shown} settled={findings.settled} />;
  }
}

function OfComparison({ memo, runs, picture }: PictureProps) {
  const keys = memo.columns.map(({ run, scenario }) => `${run}:${scenario}`);
  const done = runs.map((run) => run.done).join();
  const comparison = useComparison(memo.study, shortened(keys, runs), done).data;
  if (!comparison) return <p aria-busy>…</p>;
  const { rows, trade_off } = comparison;
  const [across, up] = [trade_off.across, trade_off.up].map((address) => rows.find((row) => row.address === address) ?? rows[0]);
  if (picture.kind === "measures" || !across || !up) return <MeasuresOfMemo comparison={comparison} />;
  return (
    <div data-drawn className="max-w-lg">
      <TradeOffChart comparison={comparison} across={across} up={up} />
    </div>
  );
}
