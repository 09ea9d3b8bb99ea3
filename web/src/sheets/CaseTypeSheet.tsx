import { DeleteButton } from "../fields/DeleteButton";
import { Folded, OFFER, Optional } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { write } from "../fields/useField";
import { DurationAt, NumberAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { colourOf, passing, shareOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { linksOf } from "../study/document/types";
import { reorder } from "../study/edits/links";
import { mergeCaseTypes } from "../study/edits/removing";
import { edit, select, useStudy } from "../study/session/store";
import { aboutInWords } from "../study/values/distributions";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { GivenTraits } from "./GivenTraits";

const COLOURS = [1, 2, 3, 4, 5, 6, 7, 8];

/** A case type: its line, what it is worth, what it carries, and where it calls. */
export function CaseTypeSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const place = study.case_types.findIndex((each) => each.id === id);
  const type = study.case_types[place];
  if (!type) return null;
  const at = `case_types/${id}`;
  const others = study.case_types.filter((each) => each.id !== id);
  const move = (by: -1 | 1) => edit(`${type.name}: order`, (draft) => reorder(draft.case_types, id, by));
  return (
    <>
      <PartTitle at={at} kind="Case type" />
      <Section title="Its line">
        <div role="group" aria-label="Colour of the line" data-at={within(at, "colour")} className="flex gap-1.5">
          {COLOURS.map((colour) => (
            <button
              key={colour}
              type="button"
              aria-label={`Colour ${colour}`}
              aria-pressed={colourOf(study, id) === `var(--line-${colour})`}
              className="grid size-8 place-items-center rounded-md aria-pressed:bg-marker"
              onClick={() => write(within(at, "colour"), colour)}
            >
              <span className="h-2 w-6 rounded-sm" style={{ background: `var(--line-${colour})` }} />
            </button>
          ))}
        </div>
        {type.colour !== undefined && (
          <p data-clears={within(at, "colour")}>
            <button type="button" className={OFFER} onClick={() => write(within(at, "colour"), undefined)}>
              the colour of its place in the list
            </button>
          </p>
        )}
      </Section>
      <Section title="What it counts">
        <div className="space-y-1 leading-[1.9rem]">
          <p>
            Priority <NumberAt at={within(at, "priority")} label="Priority" low={-1e6} high={1e6} fallback={0} />{" "}
            <span className="text-sm text-ink-2">the higher goes first, where lines go by priority</span>
          </p>
          <Optional at={within(at, "due")} offer="it is never due" fresh="1 d">
            It is due <DurationAt at={within(at, "due")} label="Due after" /> after arrival.
          </Optional>
          <p>
            A completed one is worth {study.currency ?? "EUR"}{" "}
            <NumberAt at={within(at, "value")} label="Value" low={0} high={1e9} fallback={0} />; an hour of its waiting costs{" "}
            <NumberAt at={within(at, "waiting_cost")} label="Waiting cost per hour" low={0} high={1e9} fallback={0} />.
          </p>
          <p>
            An hour of it inside costs{" "}
            <NumberAt at={within(at, "inside_cost")} label="Cost per hour inside" low={0} high={1e9} fallback={0} />.
          </p>
        </div>
      </Section>
      {(study.traits ?? []).length > 0 && (
        <Folded title="What it carries" holds={[within(at, "traits")]}>
          <GivenTraits study={study} at={within(at, "traits")} whose="of its own" />
        </Folded>
      )}
      <CallsSection study={study} id={id} />
      <div className="flex flex-wrap gap-x-5 gap-y-2 border-t border-rule pt-3">
        {place > 0 && (
          <button type="button" className={LINK_BUTTON} onClick={() => move(-1)}>
            Higher on the map
          </button>
        )}
        {place < study.case_types.length - 1 && (
          <button type="button" className={LINK_BUTTON} onClick={() => move(1)}>
            Lower
          </button>
        )}
        {others.length > 0 && (
          <>
            <Menu
              trigger="Merge into …"
              items={others.map((other) => ({
                label: other.name,
                onChoose: () => {
                  edit(`Merge ${type.name} into ${other.name}`, (draft) => mergeCaseTypes(draft, other.id, id));
                  select({ kind: "type", id: other.id });
                },
              }))}
            />
            <DeleteButton kind="type" id={id} />
          </>
        )}
      </div>
    </>
  );
}

/** Where a type calls, how long it is served there, and which share goes which way: its route. */
function CallsSection({ study, id }: { study: StudyDocument; id: string }) {
  const calls = passing(study).steps;
  const steps = study.steps.filter((step) => calls.get(step.id)?.includes(id));
  return (
    <Section title="Its route">
      {steps.length === 0 && <p className="text-ink-2">No stream brings it yet. Give it a share in a stream.</p>}
      <ol className="space-y-0.5">
        {steps.map((step) => {
          const links = linksOf(step);
          const parts =
            links.length > 1
              ? links
                  .map((link) => ({ to: study.steps.find((each) => each.id === link.to)?.name ?? link.to, share: shareOf(step, link, id) }))
                  .filter((part) => part.share > 0 && part.share < 1)
              : [];
          return (
            <li key={step.id} className="flex items-baseline gap-2">
              <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "step", id: step.id })}>
                {step.name}
              </button>
              <span className="ml-auto text-right text-sm text-ink-2">{takes(study, step.id, id)}</span>
              {parts.length > 0 && (
                <span className="text-sm text-ink-2">
                  {parts.map((part) => `${Number((part.share * 100).toFixed(1))} % ${part.to}`).join(", ")}
                </span>
              )}
            </li>
          );
        })}
      </ol>
    </Section>
  );
}

/** What a step takes for one case type, in a few words. */
export function takes(study: StudyDocument, stepId: string, type: string): string {
  const step = study.steps.find((each) => each.id === stepId);
  const work = step?.kind === "serve" ? step.work : step?.kind === "delay" ? step.time : null;
  if (work === null) return "";
  const own = typeof work === "object" && "otherwise" in work ? (work.by_type?.[type] ?? work.otherwise) : work;
  return aboutInWords(own);
}
