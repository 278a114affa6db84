/** Gives the user a text, or a file that is there, as a file. */
export function download(fileName: string, content: string | Blob, type = 'application/json'): void {
  const url = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type }) : content);
  const link = document.createElement('a');
  link.href = url;
  link.download = fileName;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}

/** A name as the name of a file, without its ending: small letters and numbers with dashes between. */
export function fileNameOf(name: string): string {
  return name
    .trim()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .toLowerCase();
}
