import type { Team } from "../study/document/types";
import { editWhole, useStudy } from "../study/session/store";
import { freshSizing } from "./sizings";

/** Puts a search into the study in which some teams may change, or, without any, the levers. Returns its id. */
export function addSizing(teams: Team[]): string {
  const fresh = freshSizing(useStudy.getState().document, teams);
  editWhole(`Add the search ${fresh.name}`, (study) => void (study.sizing ??= []).push(fresh));
  return fresh.id;
}
