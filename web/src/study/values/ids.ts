import type { Parsed } from "./durations";

const LONGEST = 64;

/** What was typed, as the study file writes it: small letters, digits and hyphens; empty where nothing is left of it. */
export function idOf(typed: string): string {
  return typed
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^[^a-z]+/, "")
    .slice(0, LONGEST)
    .replace(/-+$/, "");
}

/** Reads a short name. */
export function readId(text: string): Parsed<string> {
  const id = idOf(text);
  return id ? { value: id } : { problem: "Write a short name that begins with a letter." };
}
