import { toast } from "sonner";
import { api, ask } from "../api/client";
import { fileNameOf, saveFile } from "../ui/files";

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
