import { api, ask } from "../api/client";
import { RefAt } from "../fields/ChoiceAt";
import { NotesAt } from "../fields/PartTitle";
import { UntilAt } from "../fields/UntilAt";
import { useAsTyped } from "../pulse/useAsTyped";
import { usePulse } from "../pulse/usePulse";
import { OvertimeAt } from "../sheets/step/OvertimeAt";
import { ClosingAt } from "../sheets/team/ClosingAt";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { select } from "../study/session/store";
import { DAYS } from "../study/values/days";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { DayEndChart } from "./DayEndChart";
import { dayEnd } from "./dayEnd";

/** Closing time: when the doors shut, who stays for how long, and how a day ends. */
export function ClosingView({ study, day }: { study: StudyDocument; day: number }) {
  const shifts = study.teams.filter((team) => team.roster?.length);
  const works = study.steps.filter((step) => step.kind === "serve" || step.kind === "delay");
  return (
    <div className="pb-4">
      <HowADayEnds study={study} day={day} />
      <Section title="The doors">
        <p className="leading-8">
          Cases come through <RefAt at="run/doors" label="Doors" kind="calendar" none="doors that never shut" />, and a run <UntilAt />.
        </p>
        <NotesAt at="run" keys={["doors", "until"]} />
      </Section>
      <div className="grid grid-cols-2 gap-x-8 max-[1100px]:grid-cols-1">
        <Section title="When their shift ends and work is left">
          {shifts.length === 0 && <p className="text-ink-2">No team comes by shifts, so nobody goes home.</p>}
          {shifts.map((team) => (
            <div key={team.id} className="leading-8">
              <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "team", id: team.id })}>
                {team.name}
              </button>{" "}
              <ClosingAt at={`teams/${team.id}/closing`} team={team} />
              <NotesAt at={`teams/${team.id}`} keys={["closing"]} />
            </div>
          ))}
        </Section>
        <Section title="What is done in overtime">
          {works.map((step) => (
            <p key={step.id} className="leading-8">
              <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "step", id: step.id })}>
                {step.name}
              </button>{" "}
              is done <OvertimeAt at={`steps/${step.id}/overtime`} label={`${step.name}: in overtime`} />.
            </p>
          ))}
        </Section>
      </div>
    </div>
  );
}

/** The picture of a day's end in the mean of some simulated weeks, and what they show of work that outlives its people. */
function HowADayEnds({ study, day }: { study: StudyDocument; day: number }) {
  const week = useAsTyped("day-ends", study, (body, signal) => ask(api.POST("/api/pulse/day-ends", { body, signal })));
  const doubts = usePulse((state) => state.doubts);
  const end = week.data && week.data.weeks > 0 ? dayEnd(week.data, day) : null;
  const name = DAYS[day]?.name;
  return (
    <section aria-label="How the day ends" aria-busy={week.isFetching} className="pb-3">
      {week.isError && <p className="text-ink-2">How the day ends cannot be said: {week.error.message}</p>}
      {week.data?.weeks === 0 && <p className="text-ink-2">A week of it takes too long to simulate in passing.</p>}
      {week.data && week.data.weeks > 0 && !end && (
        <p className="text-ink-2">On {name} nobody comes, or cases come around the clock: there is no closing time.</p>
      )}
      {end && <DayEndChart end={end} teamName={(id) => nameOf(study, "team", id)} />}
      <ProblemNotes problems={doubts.filter((problem) => problem.where.endsWith("/closing"))} />
    </section>
  );
}
