import equal from "fast-deep-equal";

/**
 * What a row of a list without ids is today: the same where it is unchanged; else the row that was there in its place among those
 * that changed; null where it is new.
 */
export function todayRow<Row>(rows: readonly Row[], today: readonly Row[], place: number): Row | null {
  const row = rows[place];
  const stays = (one: readonly Row[], other: readonly Row[]) => one.filter((each) => !other.some((known) => equal(known, each)));
  if (today.some((each) => equal(each, row))) return row ?? null;
  const turn = stays(rows.slice(0, place), today).length;
  return stays(today, rows)[turn] ?? null;
}
