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

/** How large a file is, for people. */
export const sizeInWords = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
