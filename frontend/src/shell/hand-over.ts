const LATER = 10_000; // ms: a browser may begin to read only after it has asked where to

/** Lets the browser save something that was made here as a file. */
export function handOver(blob: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), LATER);
}
