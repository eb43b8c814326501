/** Long enough for the browser to have taken a file that it was given, ms. */
const TAKEN_MS = 10_000;
/** Characters that some file system refuses in a name. */
const REFUSED = /[\\/:*?"<>|]/g;

/** Gives a text to the person as a file. */
export function saveFile(name: string, text: string, mediaType: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type: mediaType }));
  link.download = name.replaceAll(REFUSED, '-');
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), TAKEN_MS);
}
