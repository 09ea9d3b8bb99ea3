import fc from "fast-check";
import { expect, it } from "vitest";
import { placed, type Spot } from "./labels";

const frame = { left: 40, right: 300, top: 26, bottom: 212 };
const at = (name: string, x: number, y: number): Spot => ({ name, x, y });

it("stands on the right of its point, on the left where there is no room, and elsewhere where another is", () => {
  const spots = [at("As it is", 60, 100), at("One more", 290, 100), at("Both", 150, 60), at("Near it", 152, 62)];
  const found = placed(spots, spots, frame);
  expect(found.map(({ anchor }) => anchor)).toEqual(["start", "end", "start", "end"]);
});

it("never lets two names meet, nor a name and a point", () => {
  const spot = fc.record({
    name: fc.string({ minLength: 1, maxLength: 40 }),
    x: fc.integer({ min: 40, max: 300 }),
    y: fc.integer({ min: 30, max: 210 }),
  });
  fc.assert(
    fc.property(fc.array(spot, { maxLength: 8 }), (spots) => {
      const boxes = placed(spots, spots, frame).map(({ name, x, y, anchor }) => {
        const width = name.length * 6.6;
        const left = anchor === "start" ? x : anchor === "end" ? x - width : x - width / 2;
        return { left, right: left + width, y };
      });
      for (const [n, one] of boxes.entries()) {
        for (const other of boxes.slice(n + 1))
          expect(one.right <= other.left || other.right <= one.left || Math.abs(one.y - other.y) >= 14).toBe(true);
        for (const { x, y } of spots) expect(x + 6 <= one.left || one.right <= x - 6 || Math.abs(y - one.y) >= 13).toBe(true);
      }
    }),
  );
});
