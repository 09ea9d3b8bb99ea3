import { expect, it } from "vitest";
import { dayEnd } from "./dayEnd";

const week = () => new Array<number | null>(672).fill(0);
const fill = (values: (number | null)[], from: number, to: number, value: number) => values.fill(value, from, to);

it("tells when the last case comes, the line runs out and the last ones go", () => {
  const [arrived, waiting, clerks, desks] = [week(), week(), week(), week()];
  fill(arrived, 32, 64, 3);
  fill(waiting, 34, 66, 2);
  fill(clerks, 32, 68, 4);
  fill(desks, 0, 672, 5);
  const end = dayEnd({ weeks: 8, arrived, waiting, there: { clerks, desks } }, 0);
  expect([end?.from, end?.lastCase, end?.noLine, end?.gone]).toEqual([14 * 60, 16 * 60, 16.5 * 60, { clerks: 17 * 60, desks: null }]);
  expect(end?.arrived).toEqual([3, 3, 3, 3, 3, 3, 3, 3, 0, 0, 0, 0, 0, 0, 0, 0]);
  expect(end?.there[0]?.members.slice(-5)).toEqual([4, 0, 0, 0, 0]);
});

it("tells who goes before the last case comes", () => {
  const [arrived, clerks] = [week(), week()];
  fill(arrived, 32, 68, 3);
  fill(clerks, 32, 64, 4);
  expect(dayEnd({ weeks: 8, arrived, waiting: week(), there: { clerks, others: week() } }, 0)?.gone).toEqual({
    clerks: 16 * 60,
    others: 0,
  });
});

it("passes midnight, also from Sunday to Monday", () => {
  const [arrived, waiting] = [week(), week()];
  fill(arrived, 6 * 96 + 80, 6 * 96 + 96, 1);
  fill(waiting, 6 * 96 + 80, 672, 1);
  fill(waiting, 0, 4, 1);
  expect(dayEnd({ weeks: 8, arrived, waiting, there: {} }, 6)).toMatchObject({ lastCase: 1440, noLine: 1500 });
});

it("is nothing on a day without cases, or where they come around the clock", () => {
  const always = week().fill(1);
  expect(dayEnd({ weeks: 8, arrived: week(), waiting: week(), there: {} }, 0)).toBeNull();
  expect(dayEnd({ weeks: 8, arrived: always, waiting: always, there: {} }, 0)).toBeNull();
});
