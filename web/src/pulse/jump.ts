import { useNavigate } from "react-router";
import type { At } from "../study/document/addresses";
import { partAt } from "../study/document/parts";
import { select, useStudy } from "../study/session/store";

/** Where a problem is mended: the stage, and there the thing and the field. */
export function useJump(): (where: At) => void {
  const navigate = useNavigate();
  const id = useStudy((state) => state.id);
  return (where) => {
    const part = partAt(where);
    const stage = where.startsWith("run/")
      ? "run"
      : where.startsWith("measures/")
        ? "findings?view=own"
        : where.startsWith("sizing/")
          ? `right-size?search=${where.split("/")[1]}`
          : part?.kind === "stream"
            ? "demand"
            : part?.kind === "team"
              ? "teams"
              : "flow";
    void navigate(`/studies/${id}/${stage}`);
    select(part, where);
  };
}
