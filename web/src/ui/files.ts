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

/** Lets the browser save what an address of the server sends, under the name that comes with it. */
export function saveFrom(address: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = "";
  link.click();
}

/** How large a file is, for people. */
export const sizeInWords = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
