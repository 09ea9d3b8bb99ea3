import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, api, ask, type Schemas } from "../api/client";
import { queries } from "../api/queries";

type Text = Schemas["MemoText"];

const PAUSE = 500;

export interface MemoEditing {
  text: Text;
  change: (next: Text) => void;
  /** Saves what is typed and waits until it is saved. */
  save: () => Promise<void>;
  isSaved: boolean;
  trouble: string;
}

/** The text of a memo as it is typed: kept a moment after the last key, and when the page is left. */
export function useMemoText(memo: Schemas["MemoPage"]): MemoEditing {
  const [text, setText] = useState(memo.text);
  const [kept, setKept] = useState(memo.text);
  const edition = useRef(memo.edition);
  const latest = useRef(text);
  const under = useRef<Promise<void>>(Promise.resolve());
  const put = useMutation({
    mutationFn: async () => {
      const sent = latest.current;
      const saved = await ask(
        api.PUT("/api/memos/{memo_id}", {
          params: { path: { memo_id: memo.id } },
          body: { text: sent, edition: edition.current },
          keepalive: true,
        }),
      );
      edition.current = saved.edition;
      queries.setQueryData(["memo", memo.id], saved);
      setKept(sent);
    },
  });
  const { mutateAsync, error } = put;
  const isStopped = error instanceof ApiError && error.status === 409;
  const save = useCallback(() => {
    under.current = under.current.catch(() => undefined).then(() => mutateAsync());
    return under.current;
  }, [mutateAsync]);
  const isSaved = text === kept;
  useEffect(() => {
    latest.current = text;
    if (isSaved || isStopped) return;
    const soon = setTimeout(() => void save().catch(() => undefined), PAUSE);
    return () => clearTimeout(soon);
  }, [text, isSaved, isStopped, save]);
  useEffect(() => {
    if (isSaved) return;
    const leave = () => void save().catch(() => undefined);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
    };
  }, [isSaved, save]);
  useSavedOnLeaving(isSaved || isStopped, save);
  const change = (next: Text) => {
    latest.current = next;
    setText(next);
  };
  return { text, change, save: isSaved ? () => under.current : save, isSaved, trouble: error?.message ?? "" };
}

/** Saves what is not saved yet when another page of the workbench is gone to. */
function useSavedOnLeaving(isSaved: boolean, save: () => Promise<void>): void {
  const left = useRef({ isSaved, save });
  left.current = { isSaved, save };
  useEffect(
    () => () => {
      if (!left.current.isSaved) void left.current.save().catch(() => undefined);
    },
    [],
  );
}
