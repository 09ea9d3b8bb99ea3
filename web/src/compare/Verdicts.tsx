import type { Schemas } from "../api/client";
import type { FigureAddress } from "../api/figures";
import { inWords, money, round } from "../findings/figures";
import type { StudyDocument } from "../study/document/types";

interface VerdictsProps {
  study: StudyDocument;
  against: Schemas["RunComparison"];
}

/** The comparison in a sentence or two, and how far it can be trusted. */
export function Verdicts({ study, against }: VerdictsProps) {
  const find = (address: FigureAddress) => against.differences.find((difference) => difference.address === address);
  const wait = find("type/all/wait/mean");
  const cost = find("cost/total/per:day");
  const currency = study.currency ?? "EUR";
  return (
    <header>
      <h1 className="text-xl font-bold leading-8">
        {wait && (
          <>
            The second run is {verdictWords(wait, "quicker", "slower")}: {waitWords(wait)}
          </>
        )}
        {cost && costWords(cost, currency)}.
      </h1>
      <p className="mt-1 text-sm text-ink-2">
        {against.pairs} replications side by side
        {against.same_luck ? (
          ", the same cases with the same luck in both"
        ) : (
          <b className="text-ink"> with different seeds: give both runs the same seed, and the comparison gets sharper</b>
        )}
        . Intervals at {round(against.confidence * 100).replace(".0", "")} %.
        {against.pairs < 2 && <b className="text-ink"> One replication each says nothing about luck: run both 10 times or more.</b>}
      </p>
    </header>
  );
}

type Difference = Schemas["Difference"];

function verdictWords(difference: Difference, better: string, worse: string): string {
  if (difference.verdict === "better") return better;
  if (difference.verdict === "worse") return worse;
  return difference.verdict === "same" ? "just as quick" : "not clearly quicker or slower";
}

function waitWords({ difference, verdict, first, other }: Difference): string {
  const size = inWords(Math.abs(difference.mean ?? 0));
  if (verdict === "same") return `a case waits ${inWords(first.mean)} in both`;
  if (verdict === "no clear difference") return "the difference in the wait may be luck";
  return `a case waits ${inWords(other.mean)} on average, ${size} ${verdict === "better" ? "less" : "more"}`;
}

function costWords({ difference }: Difference, currency: string): string {
  const mean = difference.mean ?? 0;
  if (mean === 0) return ", and the cost is the same";
  return `, and a day costs ${currency} ${money(Math.abs(mean))} ${mean > 0 ? "more" : "less"}`;
}
