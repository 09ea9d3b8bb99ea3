import { toast } from "sonner";
import { api, ask } from "../api/client";

/** Saves a version of a study as a file. */
export async function downloadStudy(id: number, version: number, name: string): Promise<void> {
  try {
    const document = await ask(
      api.GET("/api/studies/{study_id}/versions/{number}", { params: { path: { study_id: id, number: version } } }),
    );
    saveFile(JSON.stringify(document, null, 2), `${fileNameOf(name)}.json`, "application/json");
  } catch (error) {
    toast.error(error instanceof Error ? error.message : String(error));
  }
}

/** A study's name as a file can have it. */
export const fileNameOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** Lets the browser save a text as a file. */
export function saveFile(text: string, file: string, type: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = file;
  link.click();
  URL.revokeObjectURL(link.href);
}
