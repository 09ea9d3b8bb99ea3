import type { Schemas } from "../api/client";
import { HourGrid } from "../charts/HourGrid";
import { DAYS } from "../study/values/days";
import { Choice } from "../ui/Choice";
import { Picture } from "../ui/Picture";
import { type Shown, useWeeks } from "./shown";

interface WeekPictureProps {
  shown: Shown;
  quantities: Schemas["Quantity"][];
  quantity: string;
  onQuantity: (quantity: string) => void;
  rowHeight?: number;
  /** An hour of the week that is pointed out, counted from Monday's midnight. */
  hour?: number | null;
  onHour?: (hour: number) => void;
}

/** A quantity by the hour of the week: the darker, the higher. */
export function WeekPicture({ shown, quantities, quantity, onQuantity, rowHeight, hour, onHour }: WeekPictureProps) {
  const week = useWeeks(shown, quantity ? [quantity] : [])?.[0];
  const options = quantities.map(({ quantity: value, title }) => ({ value, label: nameOf(title) }));
  const choice = options.length > 0 && <Choice quiet label="What of the week" value={quantity} options={options} onChoose={onQuantity} />;
  return (
    <Picture title="The week by the hour" aside={choice} table={() => tableOf(week)}>
      {quantities.length === 0 && (
        <p className="text-ink-2">This run was made by an earlier program, which kept no hours. Run it again to see them.</p>
      )}
      {week && <HourGrid week={week} rowHeight={rowHeight} hour={hour} onHour={onHour} />}
    </Picture>
  );
}

const nameOf = ({ name, unit }: Schemas["Title"]) =>
  ({ minutes: `${name}, mean`, share: name, count: `${name}, an hour` })[unit as string] ?? name;

function tableOf(week: Schemas["RunWeek"] | undefined) {
  const title = week ? `${week.title.name}, ${{ minutes: "min", share: "share" }[week.title.unit as string] ?? week.title.unit}` : "";
  return {
    head: ["Day", "From", title, "±"],
    rows: (week?.mean ?? []).map((mean, n) => [DAYS[Math.floor(n / 24)]?.name ?? "", `${n % 24}:00`, mean, week?.half_width[n] ?? null]),
  };
}
