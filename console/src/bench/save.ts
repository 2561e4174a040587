/** Gives a file to the person at the screen. */
export function save(name: string, bytes: Uint8Array): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([bytes as BlobPart]));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
