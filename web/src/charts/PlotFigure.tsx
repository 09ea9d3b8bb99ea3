import * as Plot from "@observablehq/plot";
import { useEffect, useRef } from "react";

interface PlotFigureProps {
  label: string;
  options: Plot.PlotOptions;
}

/** Draws a plot; the picture has one name, and its parts are not read out one by one. */
export function PlotFigure({ label, options }: PlotFigureProps) {
  const holder = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const picture = Plot.plot(options);
    picture.setAttribute("role", "img");
    picture.setAttribute("aria-label", label);
    for (const part of picture.querySelectorAll("[aria-label]")) part.removeAttribute("aria-label");
    for (const part of picture.querySelectorAll("[aria-description]")) part.removeAttribute("aria-description");
    holder.current?.replaceChildren(picture);
  }, [options, label]);
  return <div ref={holder} />;
}
