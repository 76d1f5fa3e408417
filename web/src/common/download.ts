/** Give the person a file. */
export function download(name: string, content: string | Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([content]));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** A title as the name of a file. */
export const fileName = (title: string): string =>
  title.replace(/[^\p{L}\p{N} ._-]+/gu, " ").trim() || "circuit";
