import { nameOf, PARTS } from "../study/document/parts";
import { type RemovableKind, removePart } from "../study/edits/removing";
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
export function DeleteSection(props: { kind: RemovableKind; id: string }) {
  return (
    <div className="border-t border-rule pt-3">
      <DeleteButton {...props} />
    </div>
  );
}
