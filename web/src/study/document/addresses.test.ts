import { expect, it } from "vitest";
import { differ, setAt, valueAt, within } from "./addresses";
import { addressOf, partAt } from "./parts";
import { filledIn, type StudyDocument } from "./types";

const study = (): StudyDocument =>
  filledIn({
    name: "Hall",
    steps: [
      {
        id: "desk",
        name: "Desk",
        kind: "serve",
        work: { by_trait: { mood: { "so/so": "3 min" } }, otherwise: "2 min" },
        next: [{ to: "out" }],
      },
      { id: "back", name: "Back", kind: "serve", work: "4 min", line: { max: 3 }, next: [{ to: "out" }] },
      { id: "out", name: "Out", kind: "exit" },
    ],
    site: { places: [{ id: "hall", name: "Hall", x: 0, y: 0 }] },
  });

it("finds what stands at an address, by keys, ids and places in lists", () => {
  expect(valueAt(study(), "steps/back/line/max")).toBe(3);
  expect(valueAt(study(), "steps/desk/next/0/to")).toBe("out");
  expect(valueAt(study(), within("steps/desk/work/by_trait/mood", "so/so"))).toBe("3 min");
  expect(valueAt(study(), "steps/nobody/line/max")).toBeUndefined();
});

it("writes through what is not there yet, and leaves nothing empty behind", () => {
  const draft = study();
  setAt(draft, "steps/desk/line/patience", "5 min");
  expect(valueAt(draft, "steps/desk/line")).toEqual({ patience: "5 min" });
  setAt(draft, "steps/desk/line/patience", undefined);
  expect(valueAt(draft, "steps/desk/line")).toBeUndefined();
  setAt(draft, "steps/desk/line/max", undefined);
  expect(draft).toEqual(study());
});

it("writes to several elements at once, and sees where they differ", () => {
  const draft = study();
  const at = addressOf({ kind: "step", id: "desk", also: ["back"] });
  expect(differ(draft, `${at}/line/max`)).toBe(true);
  setAt(draft, `${at}/line/max`, 8);
  expect(differ(draft, `${at}/line/max`)).toBe(false);
  expect(draft.steps.slice(0, 2).map((step) => valueAt(draft, `steps/${step.id}/line/max`))).toEqual([8, 8]);
});

it("tells which thing an address is in", () => {
  expect(partAt("steps/desk/line/max")).toEqual({ kind: "step", id: "desk" });
  expect(partAt("site/places/hall/x")).toEqual({ kind: "place", id: "hall" });
  expect(partAt("run/length")).toBeNull();
});
