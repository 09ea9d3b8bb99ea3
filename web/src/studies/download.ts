import { toast } from "sonner";
import { api, ask } from "../api/client";

/** Saves a version of a study as a file. */
export async function downloadStudy(id: number, version: number, name: string): Promise<void> {
  try {
    const document = await ask(
      api.GET("/api/studies/{study_id}/versions/{number}", { params: { path: { study_id: id, number: version } } }),
    );
    save(
      JSON.stringify(document, null, 2),
      `${name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "")}.json`,
    );
  } catch (error) {
    toast.error(error instanceof Error ? error.message : String(error));
  }
}

function save(text: string, file: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
  link.download = file;
  link.click();
  URL.revokeObjectURL(link.href);
}
