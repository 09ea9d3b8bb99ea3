import type { Schemas } from "../api/client";
import { counted } from "./logs";

/** How many rows were read, and those that could not be, line by line with their reasons. */
export function UnreadLines({ report }: { report: Schemas["Report"] }) {
  const twice = report.twice ?? 0;
  return (
    <section aria-label="What was read" className="pb-4">
      <p role="status">
        {counted(report.rows, "row")} read{report.unread === 0 && ", each of them"}.{" "}
        {twice > 0 && `${counted(twice, "row")} ${twice === 1 ? "says" : "say"} what another says too, and count once. `}
        {report.unread > 0 && <b className="text-wrong">{counted(report.unread, "row")} could not be read:</b>}
      </p>
      {report.unread > 0 && (
        <>
          <ul className="my-1 text-sm">
            {Object.entries(report.reasons).map(([reason, many]) => (
              <li key={reason}>
                {many.toLocaleString("en")} × {reason}
              </li>
            ))}
          </ul>
          <table className="text-sm" aria-label="Rows that could not be read">
            <tbody>
              {report.lines.map(({ line, why }) => (
                <tr key={line} className="border-b border-rule">
                  <td className="pr-4 text-right text-ink-2">line {line.toLocaleString("en")}</td>
                  <td className="text-wrong">{why}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}
