import { useQuery } from "@tanstack/react-query";
import { type RefObject, useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { layOut } from "../map/layout";
import { MiniMap } from "../map/MiniMap";
import { filledIn } from "../study/document/types";

const SIZE = { width: 190, height: 44 };

/** A study's map in the list, drawn when it comes into sight. */
export function StudyMap({ id, version }: { id: number; version: number }) {
  const place = useRef<HTMLSpanElement>(null);
  const isSeen = useIsSeen(place);
  const study = useQuery({
    queryKey: ["stamp", id, version],
    enabled: isSeen,
    staleTime: Number.POSITIVE_INFINITY,
    select: drawn,
    queryFn: () => ask(api.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
  });
  return (
    <span ref={place} className="block" style={SIZE}>
      {study.data && <MiniMap {...study.data} {...SIZE} />}
    </span>
  );
}

/** A study laid out; null where its document is so damaged that it cannot be. */
function drawn({ document }: Schemas["StudyDetail"]) {
  try {
    const study = filledIn(document);
    return { study, layout: layOut(study) };
  } catch {
    return null;
  }
}

/** Whether an element has been in sight. */
function useIsSeen(place: RefObject<HTMLElement | null>): boolean {
  const [isSeen, setSeen] = useState(false);
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting && setSeen(true));
    observer.observe(element);
    return () => observer.disconnect();
  }, [place]);
  return isSeen;
}
