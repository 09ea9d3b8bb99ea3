import { useNavigate } from "react-router";
import { useStudy } from "../study/session/store";
import { addSizing } from "./addSizing";

/** Goes to the search in which a team may change; where there is none, makes it. */
export function useSizeTeam(): (team: string) => void {
  const navigate = useNavigate();
  return (id) => {
    const { id: study, document } = useStudy.getState();
    const known = document.sizing?.find((each) => each.teams?.some((limits) => limits.team === id));
    const team = document.teams.find((each) => each.id === id);
    const sizing = known?.id ?? addSizing(team ? [team] : []);
    void navigate(`/studies/${study}/right-size?search=${sizing}`);
  };
}
