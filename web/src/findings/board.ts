import { edit } from "../study/session/store";

/** Puts a figure on the board of the study. */
export function pin(address: string, name: string): void {
  edit(`Pin ${name}`, (study) => {
    if (!study.board?.includes(address)) study.board = [...(study.board ?? []), address];
  });
}

/** Takes a figure off the board of the study. */
export function unpin(address: string, name: string): void {
  edit(`${name} off the board`, (study) => {
    study.board = study.board?.filter((each) => each !== address);
  });
}
