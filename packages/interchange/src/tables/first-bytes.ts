/** Whether bytes are these characters (each one byte) from a place on; from the first when it is left out. */
export function holds(bytes: Uint8Array, characters: string, from = 0): boolean {
  return [...characters].every((character, i) => bytes[from + i] === character.charCodeAt(0));
}

export const begins = (bytes: Uint8Array, characters: string): boolean => holds(bytes, characters);

/** First bytes as text, without a mark of their order; empty where they are none. */
export function textOf(bytes: Uint8Array): string {
  return bytes.includes(0) ? '' : new TextDecoder().decode(bytes);
}
