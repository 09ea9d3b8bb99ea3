import type { Parsed } from "./durations";

/** Reads a currency by its code of three letters. */
export function readCurrency(text: string): Parsed<string> {
  const code = text.trim().toUpperCase();
  return /^[A-Z]{3}$/.test(code) ? { value: code } : { problem: "Write a currency code of three letters, such as EUR." };
}
