import { expect, it } from "vitest";
import { filledIn } from "../study/document/types";
import { decoded, orderOf, readFile, readMoment, readRows, recognised } from "./readDates";

const study = filledIn({
  name: "Hall",
  case_types: [
    { id: "card", name: "Karte für Ältere" },
    { id: "visit", name: "Visit" },
  ],
  traits: [
    { id: "size", name: "Size" },
    { id: "mood", name: "Mood", kind: "category", values: ["calm", "cross"] },
  ],
});

function read(text: string) {
  const file = readFile("dates.csv", text);
  const meanings = recognised(file, study);
  return { file, meanings, order: orderOf(file, meanings), ...readRows(file, meanings, orderOf(file, meanings) ?? "day-first", study) };
}

it.each([
  ["2027-03-01T08:30", "2027-03-01T08:30"],
  ["2027-03-01 8:30:15", "2027-03-01T08:30:15"],
  ["1.3.2027 8:30", "2027-03-01T08:30"],
  ["01/03/27 8:30 PM", "2027-03-01T20:30"],
  ["1.3.2027", "2027-03-01"],
])("reads %s", (text, moment) => {
  expect(readMoment(text, "day-first")).toBe(moment);
});

it.each(["31.2.2027", "yesterday", "2027-13-01", "1.3.2027 25:00"])("does not read %s", (text) => {
  expect(readMoment(text, "day-first")).toBeNull();
});

it("recognises columns by what they hold, whatever they are called", () => {
  const found = read("Tag;Uhrzeit;Art;Size;Bemerkung\n1.3.2027;08:30;Visit;2;x\n2.3.2027;09:15;Karte für Ältere;3;y");
  expect(found.meanings).toEqual(["date", "time", "type", "trait:size", "nothing"]);
  expect(found.arrivals).toEqual([
    { at: "2027-03-01T08:30", type: "visit", traits: { size: 2 } },
    { at: "2027-03-02T09:15", type: "card", traits: { size: 3 } },
  ]);
});

it("reads the older Western encoding", () => {
  const bytes = new Uint8Array(
    [..."when;type\n2027-03-01 08:00;Karte f"]
      .map((letter) => letter.charCodeAt(0))
      .concat(
        [0xfc],
        [..."r "].map((letter) => letter.charCodeAt(0)),
        [0xc4],
        [..."ltere"].map((letter) => letter.charCodeAt(0)),
      ),
  );
  expect(read(decoded(bytes.buffer)).arrivals).toEqual([{ at: "2027-03-01T08:00", type: "card" }]);
});

it("tells bad rows with their line and the reason, and reads the others", () => {
  const found = read(
    [
      "when,type,mood",
      "2027-03-01 08:00,Visit,calm",
      "soon,Visit,calm",
      ",Visit,",
      "2027-03-02 08:00,Dog,calm",
      "2027-03-03 08:00,Visit,glad",
      "2027-02-28 08:00,Visit,",
    ].join("\n"),
  );
  expect(found.arrivals.map((arrival) => arrival.at)).toEqual(["2027-02-28T08:00", "2027-03-01T08:00"]);
  expect(found.bad.map((row) => [row.line, row.reason])).toEqual([
    [3, "“soon” is not a date."],
    [4, "There is no date."],
    [5, "There is no case type “Dog”."],
    [6, "“glad” is no Mood: it is one of calm, cross."],
  ]);
  expect(found.unknownTypes).toEqual(["Dog"]);
});

it("asks for the order of day and month only where the file does not tell", () => {
  expect(read("3/4/2027 8:00\n5/6/2027 8:00").order).toBeNull();
  expect(read("3/14/2027 8:00\n5/6/2027 8:00").order).toBe("month-first");
  expect(read("14/3/2027 8:00").order).toBe("day-first");
});

it("reads a hundred thousand dates", () => {
  const rows = Array.from(
    { length: 100_000 },
    (_, n) => `2027-${String(1 + (n % 12)).padStart(2, "0")}-15 ${String(n % 24).padStart(2, "0")}:30;Visit`,
  );
  const found = read(`when;type\n${rows.join("\n")}`);
  expect(found.arrivals).toHaveLength(100_000);
  expect(found.bad).toEqual([]);
});
