import { Bar } from "../ui/Bar";
import { counted, type Log } from "./logs";

/** How far a worker is with a log: first its rows are read, then all is found that is in them. */
export function ReadingProgress({ log }: { log: Log }) {
  const words = log.report
    ? `${counted(log.report.rows, "row")} read; ${Math.round(100 * log.share)} % of what is in them has been found.`
    : log.rows > 0
      ? `${counted(log.rows, "row")} read so far.`
      : "It is about to be read.";
  return (
    <div className="max-w-xl py-8">
      <p role="status" className="mb-2">
        {words}
      </p>
      <Bar label="What has been found" done={log.share} of={1} />
      <p className="mt-3 text-sm text-ink-2">It goes on when you leave this page.</p>
    </div>
  );
}
