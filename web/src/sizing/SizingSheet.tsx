import type { RefObject } from "react";
import { ChoiceAt } from "../fields/ChoiceAt";
import { FigurePicker, useTitles } from "../fields/FigurePicker";
import { Folded, Optional, TakeAway } from "../fields/Optional";
import { NotesAt, TitleAt } from "../fields/PartTitle";
import { type Target, TargetAt } from "../fields/TargetAt";
import { useField, write } from "../fields/useField";
import { NumberAt } from "../fields/ValueAt";
import { type At, within } from "../study/document/addresses";
import { editWhole, useStudy } from "../study/session/store";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { LimitsAt } from "./LimitsAt";
import { limitsOf, type Sizing } from "./sizings";

const INTERVALS = ["15 min", "30 min", "60 min"].map((each) => ({ value: each, label: each }));

interface SizingSheetProps {
  ref: RefObject<HTMLElement | null>;
  sizing: Sizing;
  onDelete: () => void;
}

/** What must hold and what may change, as sentences. */
export function SizingSheet({ ref, sizing, onDelete }: SizingSheetProps) {
  const at = `sizing/${sizing.id}`;
  return (
    <aside
      ref={ref}
      aria-label="Sheet"
      className="w-87 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-80"
    >
      <header className="pb-3">
        <p className="text-sm text-ink-2">Right-size</p>
        <TitleAt at={within(at, "name")} label="Name of the search" name={sizing.name} />
      </header>
      <TargetsSection at={at} sizing={sizing} />
      {(sizing.levers?.length ?? 0) > 0 ? <LeversSection at={at} sizing={sizing} /> : <TeamsSection at={at} sizing={sizing} />}
      <Folded title="More about the search" holds={[within(at, "seed")]}>
        <Optional at={within(at, "seed")} offer="with the luck of the study’s runs" fresh={1}>
          Luck from seed <NumberAt at={within(at, "seed")} label="Seed" low={0} high={Number.MAX_SAFE_INTEGER} whole />
        </Optional>
      </Folded>
      <div className="border-t border-rule pt-3">
        <button type="button" className={LINK_BUTTON} onClick={onDelete}>
          Delete the search
        </button>
      </div>
    </aside>
  );
}

/** What must hold: the targets of the study, or those of the search alone. */
function TargetsSection({ at, sizing }: { at: At; sizing: Sizing }) {
  const shared = useStudy((state) => state.document.targets) ?? [];
  const own = sizing.targets ?? [];
  const isOwn = own.length > 0;
  const list = isOwn ? within(at, "targets") : "targets";
  const targets = isOwn ? own : shared;
  const titles = useTitles(targets.map((target) => target.figure));
  const keep = (next: Target[]) => write(list, next.length > 0 ? next : undefined);
  return (
    <Section title="What must hold">
      <ul className="space-y-2">
        {targets.map((target, n) => (
          <li key={`${target.figure} ${n}`} className="flex items-start gap-1 leading-[1.9rem]">
            <div className="min-w-0 flex-1">
              <TargetAt at={within(list, n)} target={target} title={titles[target.figure]} label={`Target ${n + 1}`} />
              <NotesAt at={list} keys={[String(n)]} />
            </div>
            <TakeAway at={within(list, n)} label={`Without target ${n + 1}`} onClick={() => keep(targets.toSpliced(n, 1))} />
          </li>
        ))}
      </ul>
      <NotesAt at={at} keys={["targets"]} />
      <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1.5">
        <FigurePicker
          label="One more target"
          className={LINK_BUTTON}
          trigger={targets.length === 0 ? "A target" : "One more"}
          onPick={({ address, title }) => keep([...targets, freshTarget(address, title.unit)])}
        />
        {isOwn ? (
          <button type="button" className={LINK_BUTTON} onClick={() => write(within(at, "targets"), undefined)}>
            Take the study’s
          </button>
        ) : (
          targets.length > 0 && (
            <button
              type="button"
              className={LINK_BUTTON}
              data-sets={within(at, "targets")}
              onClick={() => write(within(at, "targets"), targets)}
            >
              Change them for this search alone
            </button>
          )
        )}
      </p>
      <p className="mt-2 text-sm text-ink-2">
        {isOwn ? "These are of this search alone. " : "These are the study’s targets. "}
        Intervals of <ChoiceAt at="run/interval" label="Interval" fallback="60 min" options={INTERVALS} quiet />
      </p>
    </Section>
  );
}

const FRESH_LIMITS: Record<string, Partial<Target>> = { minutes: { at_most: "10 min" }, share: { at_least: 0.8 } };

function freshTarget(figure: string, unit: string): Target {
  if (figure.startsWith("day/")) return { figure, at_least: 0.95 };
  if (/abandon|utilisation/.test(figure)) return { figure, at_most: figure.includes("utilisation") ? 0.85 : 0.05 };
  return { figure, ...(FRESH_LIMITS[unit] ?? { at_most: 1000 }) };
}

/** Which teams may change, and how far each. */
function TeamsSection({ at, sizing }: { at: At; sizing: Sizing }) {
  const study = useStudy((state) => state.document);
  const limits = sizing.teams ?? [];
  const others = study.teams.filter((team) => !limits.some((each) => each.team === team.id));
  const list = within(at, "teams");
  return (
    <Section title="What may change">
      {limits.map((each, n) => (
        <LimitsAt
          key={each.team}
          at={within(list, n)}
          limits={each}
          taken={limits.map(({ team }) => team)}
          onRemove={() => write(list, limits.length > 1 ? limits.toSpliced(n, 1) : undefined)}
        />
      ))}
      <NotesAt at={at} keys={["teams"]} />
      <p className="mt-2 flex flex-wrap gap-4">
        {others.length > 0 && (
          <span data-sets={list}>
            <Menu
              trigger={limits.length === 0 ? "A team" : "One more team"}
              items={others.map((team) => ({ label: team.name, onChoose: () => write(list, [...limits, limitsOf(team)]) }))}
            />
          </span>
        )}
        {(study.levers ?? []).length > 0 && (
          <button
            type="button"
            className={LINK_BUTTON}
            onClick={() =>
              editWhole(`${sizing.name}: levers instead of rosters`, (draft) => {
                const mine = draft.sizing?.find((found) => found.id === sizing.id);
                if (!mine) return;
                delete mine.teams;
                mine.levers = (draft.levers ?? []).map((lever) => lever.id);
              })
            }
          >
            Levers instead
          </button>
        )}
      </p>
    </Section>
  );
}

/** Which levers may be moved, over the values that they are meant to have. */
function LeversSection({ at, sizing }: { at: At; sizing: Sizing }) {
  const levers = useStudy((state) => state.document.levers) ?? [];
  const field = useField<string[]>(within(at, "levers"));
  const chosen = sizing.levers ?? [];
  const set = (next: string[]) => (next.length > 0 ? field.set(next) : field.clear());
  return (
    <Section title="What may change">
      <div role="group" aria-label="Levers" data-at={within(at, "levers")} className="mb-2 flex flex-wrap gap-1.5">
        {levers.map((lever) => {
          const isChosen = chosen.includes(lever.id);
          return (
            <button
              key={lever.id}
              type="button"
              aria-pressed={isChosen}
              className="rounded bg-value px-2 py-0.5 text-ink-2 aria-pressed:bg-ink aria-pressed:font-bold aria-pressed:text-paper"
              onClick={() => set(isChosen ? chosen.filter((each) => each !== lever.id) : [...chosen, lever.id])}
            >
              {lever.name}
            </button>
          );
        })}
      </div>
      <NotesAt at={at} keys={["levers"]} />
      <span data-clears={within(at, "levers")}>
        <button type="button" className={LINK_BUTTON} onClick={() => field.clear()}>
          Rosters instead
        </button>
      </span>
    </Section>
  );
}
