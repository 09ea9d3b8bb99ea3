import { meanOf } from "./distributions";
import { readable } from "./durations";
import type { Stream } from "./types";

/** How often a stream's cases come, in a few words. */
export function howOften(stream: Stream): string {
  switch (stream.kind) {
    case "random":
      return stream.gap ? `one every ${readable(meanOf(stream.gap))}` : `by chance every ${stream.chance?.every}`;
    case "profile":
      return "by a weekly profile";
    case "appointments":
      return "by appointment";
    case "dates":
      return "at given dates";
  }
}
