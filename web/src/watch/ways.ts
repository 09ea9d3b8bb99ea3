import type { Stretch, Way } from "./useFollowed";

export const isWait = ({ doing }: Stretch) => doing === "waits" || doing === "blocked";

/** When a case came. */
export const comingOf = ({ stretches }: Way) => stretches[0]?.at ?? 0;

/** When a case was gone, or up to when it is known. */
export const endOf = ({ stretches }: Way) => Math.max(...stretches.map(({ until }) => until), 0);

/** How long a case itself, not what goes on for it beside, has waited up to a moment, in minutes. */
export function waitedOf({ stretches }: Way, moment: number): number {
  const waits = stretches.filter((each) => isWait(each) && each.lane === 0 && each.at <= moment);
  return waits.reduce((sum, { at, until }) => sum + Math.min(until, moment) - at, 0);
}

/** Whether the cases of a number in two scenarios are the same one: who comes may differ between them. */
export const isSameCase = (one: Way, other: Way) => one.type === other.type && Math.abs(comingOf(one) - comingOf(other)) < 1e-6;
