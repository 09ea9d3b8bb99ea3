import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, ask, type Problem, type Schemas } from "../../api/client";

export type Answers = Record<string, unknown>;

/** What a chosen file is: a process, a study or a whole folder, read and not made yet; or why it can be none of them. */
export type Chosen =
  | { kind: "reading"; file: string }
  | { kind: "process"; file: string; text: string; read: Schemas["ProcessRead"]; answers: Answers }
  | { kind: "study"; file: string; document: Schemas["StudyDocument"]; preview: Schemas["StudyPreview"] }
  | { kind: "folder"; file: string; zip: File; look: Schemas["FolderLook"] }
  | { kind: "refused"; file: string; problems: Problem[] };

/** Reads a file that is dropped in or chosen, and makes a study of it once that is wanted. */
export function useImport(onMade: (study: Schemas["StudyDetail"]) => void) {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const choose = async (file: File | undefined) => {
    if (!file) return;
    const reading: Chosen = { kind: "reading", file: file.name };
    setChosen(reading);
    const found = await look(file).catch((error): Chosen => ({ kind: "refused", file: file.name, problems: problemsOf(error, file.name) }));
    setChosen((now) => (now === reading ? found : now));
  };
  const make = useMutation({
    mutationFn: madeOf,
    onSuccess: (study) => {
      setChosen(null);
      onMade(study);
    },
    onError: (error, { file }) => setChosen({ kind: "refused", file, problems: problemsOf(error, file) }),
  });
  const answer = (key: string, value: unknown) =>
    setChosen((now) => (now?.kind === "process" ? { ...now, answers: { ...now.answers, [key]: value } } : now));
  return { chosen, choose, answer, make: () => chosen && make.mutate(chosen), isMaking: make.isPending, leave: () => setChosen(null) };
}

async function look(file: File): Promise<Chosen> {
  if (await isZip(file)) {
    return { kind: "folder", file: file.name, zip: file, look: await ask(api.POST("/api/folders/preview", sent(file))) };
  }
  const text = decoded(await file.arrayBuffer());
  if (text.trimStart().startsWith("<")) {
    const read = await ask(api.POST("/api/processes/read", { body: { text, file: file.name, answers: {} } }));
    return { kind: "process", file: file.name, text, read, answers: {} };
  }
  const document = JSON.parse(text) as Schemas["StudyDocument"];
  return { kind: "study", file: file.name, document, preview: await ask(api.POST("/api/studies/preview", { body: document })) };
}

const isZip = async (file: File) => (await file.slice(0, 2).text()) === "PK";

/** A request whose body is a file as it is. */
const sent = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: () => file,
  headers: { "Content-Type": "application/octet-stream" },
});

async function madeOf(chosen: Chosen): Promise<Schemas["StudyDetail"]> {
  if (chosen.kind === "folder") return ask(api.POST("/api/folders", sent(chosen.zip)));
  return ask(api.POST("/api/studies", { body: { document: await documentOf(chosen) } }));
}

async function documentOf(chosen: Chosen): Promise<Schemas["StudyDocument"] | undefined> {
  if (chosen.kind === "study") return chosen.document;
  if (chosen.kind !== "process") return undefined;
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
  const what = `The file is neither BPMN, nor a study file, nor the whole folder of a study${said}.`;
  return [
    {
      where: file,
      what,
      mend: "Choose a process drawn as BPMN 2.0, a study file, or a zip that was exported as a whole folder.",
      level: "error",
    },
  ];
}
