import { useNavigate } from "react-router";
import { choose, useStudy } from "../study/session/store";
import { keyOf, type Looked, type Making } from "./looked";

interface MakeScenarioProps {
  what: string;
  looked: Looked;
  made: Making["made"];
  onMake: Making["make"];
}

/** Makes a scenario of what was found; once it is one, shows its rosters. */
export function MakeScenario({ what, looked, made, onMake }: MakeScenarioProps) {
  const navigate = useNavigate();
  const study = useStudy((state) => state.id);
  const scenario = made[keyOf(looked)];
  const link = "font-semibold underline underline-offset-4 hover:decoration-marker";
  if (!scenario)
    return (
      <button type="button" className={link} aria-label={`Make it a scenario: ${what}`} onClick={() => onMake(looked)}>
        Make it a scenario
      </button>
    );
  const show = () => {
    choose(scenario);
    void navigate(`/studies/${study}/teams`);
  };
  return (
    <button type="button" className={link} aria-label={`Show its shifts: ${what}`} onClick={show}>
      Show its shifts
    </button>
  );
}
