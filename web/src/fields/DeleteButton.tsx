import { nameOf, PARTS } from "../study/document/parts";
import { lossesWithout, type RemovableKind, removePart } from "../study/edits/removing";
import { edit, select, useStudy } from "../study/session/store";
import { LINK_BUTTON } from "../ui/Menu";

/** Deletes what the sheet is about, with every mention of it, and shows the study again. */
export function DeleteButton({ kind, id }: { kind: RemovableKind; id: string }) {
  const name = useStudy((state) => nameOf(state.document, kind, id));
  const word = PARTS[kind].word.toLowerCase();
  const remove = () => {
    edit(`Delete ${name}`, (draft) => removePart(draft, kind, id));
    select(null);
  };
  return (
    <button type="button" className={LINK_BUTTON} aria-label={`Delete the ${word} ${name}`} onClick={remove}>
      Delete the {word}
    </button>
  );
}

/** The end of a sheet that has nothing else to be done. */
export function DeleteSection({ kind, id }: { kind: RemovableKind; id: string }) {
  const study = useStudy((state) => state.document);
  const losses = kind === "team" || kind === "skill" ? lossesWithout(study, kind, id) : [];
  return (
    <div className="border-t border-rule pt-3">
      <DeleteButton kind={kind} id={id} />
      {losses.length > 0 && (
        <ul aria-label="Without it" className="mt-1 text-sm text-ink-2">
          {losses.map((loss) => (
            <li key={loss}>{loss}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
