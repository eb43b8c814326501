/** Signature and header chunk of a PNG (W3C PNG, 5.2 and 11.2.2). */
const SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const HEADER_END = 33;
/** The whole chunk that ends every PNG: length 0, `IEND`, its CRC. */
const END = Buffer.from([0, 0, 0, 0, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82]);

/** Size in pixels that a PNG declares; `undefined` for what is not a whole PNG. */
export function pngSize(bytes: Buffer): { width: number; height: number } | undefined {
  const whole =
    bytes.length > HEADER_END + END.length &&
    bytes.subarray(0, 8).equals(SIGNATURE) &&
    bytes.toString('latin1', 12, 16) === 'IHDR' &&
    bytes.subarray(-END.length).equals(END);
  return whole ? { width: bytes.readUInt32BE(16), height: bytes.readUInt32BE(20) } : undefined;
}
