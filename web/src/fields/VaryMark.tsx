import { SlidersHorizontal } from "lucide-react";
import { toast } from "sonner";
import type { At } from "../study/document/addresses";
import { driveNoMore, driveToo, leversAt, makeLever } from "../study/scenarios/varying";
import { editWhole, useStudy } from "../study/session/store";
import { Menu } from "../ui/Menu";

interface VaryMarkProps {
  at: At;
  label: string;
}

/** Seen while the hand or the keyboard is on the value. */
const HIDDEN =
  "absolute -top-2.5 -right-2.5 z-10 opacity-0 focus-within:opacity-100 group-hover/vary:opacity-100 group-focus-within/vary:opacity-100";

/** Beside a value: which lever drives it, or, while the hand is on it, a way to let one drive it. */
export function VaryMark({ at, label }: VaryMarkProps) {
  const levers = useStudy((state) => state.whole.levers);
  const whole = useStudy((state) => state.whole);
  const driving = leversAt(whole, at);
  const others = (levers ?? []).filter((lever) => !driving.includes(lever));
  const drive = (id: string, name: string) => {
    editWhole(`${name} drives ${label} too`, (study) => {
      const lever = study.levers?.find((each) => each.id === id);
      if (lever) driveToo(lever, at);
    });
  };
  const vary = () => {
    const id = editWhole(`Vary ${label}`, (study) => makeLever(study, at));
    const name = useStudy.getState().whole.levers?.find((each) => each.id === id)?.name;
    toast(`“${name}” is a lever now: the Scenarios screen gives it values.`);
  };
  const isDriven = driving.length > 0;
  return (
    <span className={isDriven ? "ml-1 inline-block align-middle" : HIDDEN}>
      <Menu
        label={isDriven ? `Driven by ${driving.map((lever) => lever.name).join(" and ")}` : "Vary this"}
        trigger={<SlidersHorizontal size={12} aria-hidden />}
        className={`grid size-5 place-items-center rounded-full ${isDriven ? "bg-ink text-paper" : "border border-ink-3 text-ink-2"}`}
        items={[
          ...(isDriven ? [] : [{ label: "Vary this", onChoose: vary }]),
          ...others.map(({ id, name }) => ({ label: `Let “${name}” drive it too`, onChoose: () => drive(id, name) })),
          ...driving.map(({ id, name }) => ({
            label: `“${name}” drives it no more`,
            onChoose: () =>
              editWhole(`${name} drives ${label} no more`, (study) => {
                const lever = study.levers?.find((each) => each.id === id);
                if (lever) driveNoMore(lever, at);
              }),
          })),
        ]}
      />
    </span>
  );
}
