/** A name as a file can have it. */
export const fileNameOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** Lets the browser save something as a file. */
export function saveFile(content: string | Blob, file: string, type: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([content], { type }));
  link.download = file;
  link.click();
  URL.revokeObjectURL(link.href);
}
