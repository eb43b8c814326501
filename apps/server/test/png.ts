import { crc32, deflateSync } from 'node:zlib';

/** A real PNG of one colour; pictures of different colours differ in their bytes. */
export function png(
  widthPx: number,
  heightPx: number,
  colour: readonly [number, number, number] = [0, 128, 128],
): Buffer {
  const header = Buffer.alloc(13);
  header.writeUInt32BE(widthPx, 0);
  header.writeUInt32BE(heightPx, 4);
  header.set([8, 2], 8); // eight bits each of red, green and blue
  const row = Buffer.from([0, ...Array.from({ length: widthPx }, () => colour).flat()]);
  const pixels = deflateSync(Buffer.concat(Array.from({ length: heightPx }, () => row)));
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([signature, chunk('IHDR', header), chunk('IDAT', pixels), chunk('IEND', Buffer.alloc(0))]);
}

function chunk(name: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(name, 'latin1'), data]);
  const whole = Buffer.alloc(body.length + 8);
  whole.writeUInt32BE(data.length, 0);
  body.copy(whole, 4);
  whole.writeUInt32BE(crc32(body), body.length + 4);
  return whole;
}
