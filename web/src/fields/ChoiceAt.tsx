import { type At, setAt } from "../study/document/addresses";
import { PARTS, type PartKind, partsOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { makePart } from "../study/edits/making";
import { edit, useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { Marked } from "./Marked";
import { useField } from "./useField";

interface ChoiceAtProps {
  at: At;
  label: string;
  options: { value: string; label: string }[];
  /** What holds where nothing is written; choosing it takes the key out of the document. */
  fallback?: string;
  quiet?: boolean;
}

/** One of a few words, picked in place. */
export function ChoiceAt({ at, label, options, fallback, quiet }: ChoiceAtProps) {
  const field = useField<string>(at);
  const choose = (value: string) => (value === fallback ? field.clear() : field.set(value));
  return (
    <Marked at={at} label={label} shown={(value) => options.find((each) => each.value === value)?.label ?? String(value)}>
      <Choice
        at={at}
        label={label}
        quiet={quiet}
        value={field.various ? "" : (field.value ?? fallback ?? "")}
        options={options}
        onChoose={choose}
      />
    </Marked>
  );
}

interface FlagAtProps {
  at: At;
  label: string;
  /** What is read where it is so, and where it is not. */
  yes: string;
  no: string;
  /** What holds where nothing is written. */
  usual?: boolean;
}

/** A yes or no of the study, told as two ways to end the sentence. */
export function FlagAt({ at, label, yes, no, usual = false }: FlagAtProps) {
  const field = useField<boolean>(at);
  const options = [
    { value: "no", label: no },
    { value: "yes", label: yes },
  ];
  return (
    <Marked at={at} label={label} shown={(value) => (value ? yes : no)}>
      <Choice
        at={at}
        label={label}
        value={field.various ? "" : (field.value ?? usual) ? "yes" : "no"}
        options={options}
        onChoose={(value) => ((value === "yes") === usual ? field.clear() : field.set(!usual))}
      />
    </Marked>
  );
}

interface RefAtProps {
  at: At;
  label: string;
  kind: PartKind;
  /** What is read where nothing is picked; choosing it takes the key out. Without it, something has to be picked. */
  none?: string;
  /** Which of the things may be picked; all without it. */
  only?: (id: string) => boolean;
  quiet?: boolean;
  /** Makes a new one on the spot and returns its id; without it, of a step none can be made. */
  make?: (study: StudyDocument) => string;
}

const NONE = "+none";
const NEW = "+new";

/** A thing of the study, picked from what exists, or made on the spot. */
export function RefAt({
  at,
  label,
  kind,
  none,
  only = () => true,
  quiet,
  make = kind === "step" ? undefined : (study) => makePart(study, kind),
}: RefAtProps) {
  const field = useField<string>(at);
  const study = useStudy((state) => state.document);
  const options = [
    ...(none === undefined ? [] : [{ value: NONE, label: none }]),
    ...partsOf(study, kind)
      .filter((part) => only(part.id))
      .map((part) => ({ value: part.id, label: part.name })),
    ...(make ? [{ value: NEW, label: kind === "step" ? "A new exit" : `A new ${PARTS[kind].word.toLowerCase()}`, separated: true }] : []),
  ];
  const choose = (value: string) => {
    if (value === NONE) field.clear();
    else if (value !== NEW) field.set(value);
    else edit(`New ${PARTS[kind].word.toLowerCase()}`, (draft) => make && setAt(draft, at, make(draft)));
  };
  return (
    <Choice
      at={at}
      label={label}
      quiet={quiet}
      value={field.various ? "" : (field.value ?? (none === undefined ? "" : NONE))}
      options={options}
      onChoose={choose}
    />
  );
}
