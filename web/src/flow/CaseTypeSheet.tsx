import { deleteCaseType } from "../study/edits";
import { colourOf, passing } from "../study/flow";
import { edit, problemsOf, select, useStudy } from "../study/store";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { SheetTitle } from "./SheetTitle";

const COLOURS = [1, 2, 3, 4, 5, 6, 7, 8];

/** A case type: its name, the colour of its line, and where it calls. */
export function CaseTypeSheet({ id }: { id: string }) {
  const { document: study, problems } = useStudy();
  const type = study.case_types.find((each) => each.id === id);
  if (!type) return null;
  const calls = passing(study).steps;
  const rename = (name: string) => edit(`Rename to ${name}`, (draft) => void draft.case_types.forEach((each) => each.id === id && (each.name = name)));
  const paint = (colour: number) => edit(`${type.name}: colour`, (draft) => void draft.case_types.forEach((each) => each.id === id && (each.colour = colour)));
  return (
    <>
      <SheetTitle kind="Case type" name={type.name} problems={problemsOf(problems, "case_types", id)} onRename={rename} />
      <Section title="Its line">
        <div role="group" aria-label="Colour of the line" className="flex gap-1.5">
          {COLOURS.map((colour) => (
            <button
              key={colour}
              type="button"
              aria-label={`Colour ${colour}`}
              aria-pressed={colourOf(study, id) === `var(--line-${colour})`}
              className="grid size-8 place-items-center rounded-md aria-pressed:bg-marker"
              onClick={() => paint(colour)}
            >
              <span className="h-2 w-6 rounded-sm" style={{ background: `var(--line-${colour})` }} />
            </button>
          ))}
        </div>
      </Section>
      <Section title="Where it calls">
        <ol className="space-y-0.5">
          {study.steps
            .filter((step) => calls.get(step.id)?.includes(id))
            .map((step) => (
              <li key={step.id}>
                <button type="button" className="font-semibold hover:underline" onClick={() => select({ kind: "step", id: step.id })}>
                  {step.name}
                </button>
              </li>
            ))}
        </ol>
      </Section>
      {study.case_types.length > 1 && (
        <div className="border-t border-rule pt-3">
          <button
            type="button"
            className={LINK_BUTTON}
            onClick={() => {
              edit(`Delete ${type.name}`, (draft) => deleteCaseType(draft, id));
              select(null);
            }}
          >
            Delete the case type
          </button>
        </div>
      )}
    </>
  );
}
