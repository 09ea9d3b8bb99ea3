import type { MapLayout, Stop } from "./types";

export type Direction = "ArrowLeft" | "ArrowRight" | "ArrowUp" | "ArrowDown";

/** The stop that an arrow key leads to: along the ways left and right, to the nearest in sight up and down. */
export function neighbour(layout: MapLayout, id: string, direction: Direction): Stop | undefined {
  const here = layout.stops.find((stop) => stop.id === id);
  if (!here) return layout.stops[0];
  if (direction === "ArrowRight" || direction === "ArrowLeft") {
    const forth = direction === "ArrowRight";
    const ways = layout.ways.filter((way) => !way.back && (forth ? way.from : way.to) === id);
    const ids = ways.map((way) => (forth ? way.to : way.from));
    return nearest(
      here,
      layout.stops.filter((stop) => ids.includes(stop.id)),
    );
  }
  const sign = direction === "ArrowDown" ? 1 : -1;
  return nearest(
    here,
    layout.stops.filter((stop) => (stop.y - here.y) * sign > 1),
  );
}

function nearest(here: Stop, stops: Stop[]): Stop | undefined {
  const far = (stop: Stop) => Math.abs(stop.y - here.y) + Math.abs(stop.x - here.x);
  return stops.toSorted((one, other) => far(one) - far(other))[0];
}
