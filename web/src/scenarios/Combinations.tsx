import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { valuesOf } from "../study/scenarios/levers";
import { combinations, makeFamily } from "../study/scenarios/varying";
import { editWhole, useStudy } from "../study/session/store";
import { aboutSeconds } from "../study/values/durations";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { Modal } from "../ui/Modal";

const MOST_SCENARIOS = 200;

/** Makes a scenario of every combination of the values of some levers, having said how many they are and how long they take. */
export function Combinations({ study }: { study: StudyDocument }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <button type="button" className={QUIET_BUTTON} onClick={() => setOpen(true)}>
        Every combination of …
      </button>
      {isOpen && <Choosing study={study} onClose={() => setOpen(false)} />}
    </>
  );
}

function Choosing({ study, onClose }: { study: StudyDocument; onClose: () => void }) {
  const levers = (study.levers ?? []).filter((lever) => valuesOf(lever).length > 0);
  const [chosen, setChosen] = useState(() => levers.slice(0, 2).map((lever) => lever.id));
  const picked = levers.filter((lever) => chosen.includes(lever.id));
  const many = picked.length > 0 ? combinations(picked).length : 0;
  const pace = usePace();
  const room = MOST_SCENARIOS - (study.scenarios?.length ?? 0);
  const make = () => {
    editWhole(`Every combination of ${picked.map((lever) => lever.name).join(" and ")}`, (draft) => makeFamily(draft, picked));
    onClose();
  };
  return (
    <Modal open title="Every combination of" onClose={onClose}>
      {levers.length === 0 && <p className="mb-3">No lever has values yet: say beside a lever what it may be.</p>}
      <ul className="mb-3">
        {levers.map((lever) => (
          <li key={lever.id}>
            <label className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="size-4 accent-ink"
                checked={chosen.includes(lever.id)}
                onChange={(event) => setChosen(event.target.checked ? [...chosen, lever.id] : chosen.filter((each) => each !== lever.id))}
              />
              <b>{lever.name}</b> <span className="text-ink-2">{valuesOf(lever).length} values</span>
            </label>
          </li>
        ))}
      </ul>
      <p aria-live="polite" className="mb-4">
        {many === 0 ? "Choose one or more." : `${many.toLocaleString("en")} scenarios`}
        {many > 0 && pace !== null && `, about ${aboutSeconds(many * pace)} to run`}
        {many > room && <b className="text-wrong"> A study has room for {room} more.</b>}
      </p>
      <button type="button" className={MAIN_BUTTON} onClick={make} disabled={many === 0 || many > room}>
        Make them
      </button>
    </Modal>
  );
}

/** About how many seconds one scenario takes, by the study's own speed. */
function usePace(): number | null {
  const id = useStudy((state) => state.id);
  const version = useStudy((state) => state.version);
  const estimate = useQuery({
    queryKey: ["pace", id, version],
    queryFn: () =>
      ask(api.POST("/api/studies/{study_id}/runs/estimate", { params: { path: { study_id: id } }, body: { scenarios: [""] } })),
  }).data;
  const part = estimate?.parts[0];
  if (!part || !estimate || part.replications === part.stored) return null;
  return (part.seconds / (part.replications - part.stored)) * (part.replications / Math.max(1, estimate.workers));
}
