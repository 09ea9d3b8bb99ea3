import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, ask, type Problem, type Schemas } from "../../api/client";

export type Answers = Record<string, unknown>;

/** What a chosen file is: a process or a study, read and not made yet; or why it can be neither. */
export type Chosen =
  | { kind: "process"; file: string; text: string; read: Schemas["ProcessRead"]; answers: Answers }
  | { kind: "study"; file: string; document: Schemas["StudyDocument"]; preview: Schemas["StudyPreview"] }
  | { kind: "refused"; file: string; problems: Problem[] };

/** Reads a file that is dropped in or chosen, and makes a study of it once that is wanted. */
export function useImport(onMade: (study: Schemas["StudyDetail"]) => void) {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const refuse = (file: string) => (error: unknown) => setChosen({ kind: "refused", file, problems: problemsOf(error, file) });

  const choose = async (file: File | undefined) => {
    if (!file) return;
    try {
      setChosen(await look(file));
    } catch (error) {
      refuse(file.name)(error);
    }
  };
  const make = useMutation({
    mutationFn: async (from: Chosen) => ask(api.POST("/api/studies", { body: { document: await documentOf(from) } })),
    onSuccess: (study) => {
      setChosen(null);
      onMade(study);
    },
    onError: (error, from) => refuse(from.file)(error),
  });
  const answer = (key: string, value: unknown) =>
    setChosen((now) => (now?.kind === "process" ? { ...now, answers: { ...now.answers, [key]: value } } : now));
  return { chosen, choose, answer, make: () => chosen && make.mutate(chosen), isMaking: make.isPending, leave: () => setChosen(null) };
}

async function look(file: File): Promise<Chosen> {
  const text = decoded(await file.arrayBuffer());
  if (text.trimStart().startsWith("<")) {
    const read = await ask(api.POST("/api/processes/read", { body: { text, file: file.name, answers: {} } }));
    return { kind: "process", file: file.name, text, read, answers: {} };
  }
  const document = JSON.parse(text) as Schemas["StudyDocument"];
  return { kind: "study", file: file.name, document, preview: await ask(api.POST("/api/studies/preview", { body: document })) };
}

async function documentOf(chosen: Chosen): Promise<Schemas["StudyDocument"] | undefined> {
  if (chosen.kind === "study") return chosen.document;
  if (chosen.kind === "refused") return undefined;
  if (Object.keys(chosen.answers).length === 0) return chosen.read.study;
  const { text, file, answers } = chosen;
  return (await ask(api.POST("/api/processes/read", { body: { text, file, answers } }))).study;
}

/** A file's text, in the encoding that its own first line names. */
function decoded(content: ArrayBuffer): string {
  const start = new TextDecoder("ascii").decode(content.slice(0, 200));
  const named = /<\?xml[^>]*encoding=["']([\w-]+)["']/.exec(start)?.[1] ?? "utf-8";
  try {
    return new TextDecoder(named).decode(content);
  } catch {
    return new TextDecoder().decode(content);
  }
}

function problemsOf(error: unknown, file: string): Problem[] {
  if (error instanceof ApiError) return error.problems;
  const said = error instanceof Error ? `: ${error.message}` : "";
  const what = `The file is neither BPMN nor a study file${said}.`;
  return [{ where: file, what, mend: "Choose a process drawn as BPMN 2.0, or a study file.", level: "error" }];
}
