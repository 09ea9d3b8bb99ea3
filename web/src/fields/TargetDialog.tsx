import type { Schemas } from "../api/client";
import { edit, useStudy } from "../study/session/store";
import { Modal } from "../ui/Modal";
import { ValueField } from "../ui/ValueField";
import { keptValue, readValue, shownValue, suffixOf } from "./figureValue";

type Target = NonNullable<Schemas["StudyDocument"]["targets"]>[number];
type Limit = "at_most" | "at_least";

/** Whether a target is of a figure over the whole run. */
const isOfRun = (target: Target, address: string) => target.figure === address && (target.by ?? "run") === "run";

interface TargetDialogProps {
  row: Pick<Schemas["MeasureRow"], "address" | "title">;
  onClose: () => void;
}

/** What a figure is to be in the study, at most and at least; without either there is no target. */
export function TargetDialog({ row: { address, title }, onClose }: TargetDialogProps) {
  const target = useStudy((state) => state.document.targets?.find((each) => isOfRun(each, address)));
  const set = (limit: Limit, value: number | string | undefined) =>
    edit(`Target: ${title.name}`, (study) => {
      const others = (study.targets ?? []).filter((each) => !isOfRun(each, address));
      const { [limit]: _, ...rest } = study.targets?.find((each) => isOfRun(each, address)) ?? { figure: address };
      const next: Target = value === undefined ? rest : { ...rest, [limit]: value };
      const hasLimit = next.at_most != null || next.at_least != null;
      study.targets = hasLimit ? [...others, next] : others;
    });
  const field = (limit: Limit, label: string) => (
    <ValueField
      label={label}
      value={shownValue(target?.[limit], title)}
      placeholder="no limit"
      suffix={suffixOf(title)}
      parse={(text) => readValue(text, title)}
      onCommit={(typed) => set(limit, keptValue(typed, title))}
    />
  );
  return (
    <Modal open title="Target" onClose={onClose}>
      <p className="leading-9">
        <b>
          {title.name}, {title.of}
        </b>
        <br />
        at most {field("at_most", "At most")}
        <br />
        at least {field("at_least", "At least")}
      </p>
      <p className="mt-3 text-sm text-ink-2">It is the study’s, so all scenarios are held against it. An empty limit is none.</p>
    </Modal>
  );
}
