import * as Plot from "@observablehq/plot";
import { useMutation } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, ask, mayDoSoon, type Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { edit, useStudy } from "../study/session/store";
import { inUnit, minutes } from "../study/values/durations";
import { LINK_BUTTON } from "../ui/Menu";

const DAY = 1440;
const HOUR = 60;
const MOST_TRIES = 30;
const PAUSE_WHEN_BUSY = 500;

/** A short pilot: the picture by which the warm-up is judged, and how much is proposed. */
export function WarmUp() {
  const document = useStudy((state) => state.document);
  const pilot = useMutation({
    mutationFn: () => ask(api.POST("/api/pulse/warm-up", { body: { ...document, scenarios: [], levers: [] } })),
    retry: (count, error) => mayDoSoon(error) && count < MOST_TRIES,
    retryDelay: PAUSE_WHEN_BUSY,
  });
  const found = pilot.data;
  const proposed = found?.proposed ?? 0;
  const written = inUnit(proposed, proposed % DAY === 0 && proposed > 0 ? "d" : "h");
  return (
    <div className="mt-3">
      <button type="button" className={LINK_BUTTON} onClick={() => pilot.mutate()} disabled={pilot.isPending}>
        {pilot.isPending ? "Trying it …" : "How much warm-up does it take?"}
      </button>
      {pilot.isError && <p className="mt-1 text-sm text-wrong">{pilot.error.message}</p>}
      {found && (
        <div className="mt-2">
          <p>
            {found.words}{" "}
            {proposed > 0 && minutes(document.run.warm_up) !== proposed && (
              <button
                type="button"
                className={LINK_BUTTON}
                onClick={() => edit(`Run: warm-up ${written}`, (study) => void (study.run.warm_up = written))}
              >
                Leave out {written}
              </button>
            )}
          </p>
          {found.inside.length > 0 && <Course pilot={found} warmUp={minutes(document.run.warm_up)} />}
        </div>
      )}
    </div>
  );
}

/** The mean number of cases inside from the start on, with what is left out and what is proposed. */
function Course({ pilot, warmUp }: { pilot: Schemas["Pilot"]; warmUp: number }) {
  const options = useMemo((): Plot.PlotOptions => {
    const unit = pilot.every * pilot.inside.length > 3 * DAY ? { name: "days", minutes: DAY } : { name: "hours", minutes: HOUR };
    const points = pilot.inside.map((inside, n) => ({ at: (n * pilot.every) / unit.minutes, inside }));
    const marks = [
      { at: warmUp / unit.minutes, text: "left out now" },
      { at: (pilot.proposed ?? 0) / unit.minutes, text: "proposed" },
    ].filter(({ at }) => at > 0);
    return {
      width: 760,
      height: 170,
      marginLeft: 44,
      marginBottom: 34,
      marginTop: 26,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { label: `${unit.name} from the start`, labelArrow: "none", labelAnchor: "right" },
      y: { label: "cases inside", labelArrow: "none", zero: true, ticks: 4, tickSize: 0 },
      marks: [
        Plot.lineY(points, { x: "at", y: "inside", stroke: "var(--ink)", strokeWidth: 1.5 }),
        Plot.ruleX(marks, { x: "at", stroke: "var(--ink)", strokeDasharray: "3 3" }),
        Plot.text(marks, { x: "at", frameAnchor: "top", dy: -14, text: "text", fill: "var(--ink)", fontWeight: 700 }),
      ],
    };
  }, [pilot, warmUp]);
  return <PlotFigure label={`Cases inside from the start on, the mean of ${pilot.replications} replications`} options={options} />;
}
