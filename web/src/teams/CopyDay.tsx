import type { StudyDocument } from "../study/document/types";
import { copyDay } from "../study/edits/rosters";
import { edit } from "../study/session/store";
import { DAYS, type Day } from "../study/values/days";
import { Menu } from "../ui/Menu";

/** Lets all teams have on other days the shifts of the day that is shown. */
export function CopyDay({ study, day }: { study: StudyDocument; day: number }) {
  const from = DAYS[day];
  if (!from || !study.teams.some((team) => team.roster?.length)) return null;
  const copy = (to: Day[], words: string) =>
    edit(`Copy ${from.name} to ${words}`, (draft) => {
      for (const team of draft.teams) if (team.roster?.length) copyDay(team, from.id, to);
    });
  const others = (days: readonly (typeof DAYS)[number][]) => days.map((each) => each.id).filter((each) => each !== from.id);
  return (
    <Menu
      trigger={`Copy ${from.short} to …`}
      items={[
        { label: "Monday to Friday", onChoose: () => copy(others(DAYS.slice(0, 5)), "Monday to Friday") },
        { label: "all days", onChoose: () => copy(others(DAYS), "all days") },
        ...DAYS.filter((each) => each !== from).map((each) => ({ label: each.name, onChoose: () => copy([each.id], each.name) })),
      ]}
    />
  );
}
