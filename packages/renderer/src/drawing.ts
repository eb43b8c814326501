import type { BurnIn, LineOver, PictureSize, Reference } from '@arvex/core';

/** Fonts and pictures that are drawn over frames. */
export interface DrawnFiles {
  /** The face in which burn-ins and slates are written. @throws Error when it cannot be had. */
  font(): Promise<ArrayBuffer>;
  picture(hash: string): Promise<Blob>;
}

const FAMILY = 'Arvex burn-in';
/** Room of a burn-in between its text and the edge of its plate, and between text and the edge of the picture, times its height. */
const PLATE = 0.35;
const INK = '#f2efe8';

type Canvas = OffscreenCanvasRenderingContext2D;

/** A part of a picture, pixels. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A sheet that is drawn on and then laid over a picture. Kept in memory, so that reading it back costs nothing. */
export class Sheet {
  private readonly canvas = new OffscreenCanvas(1, 1);
  private readonly context: Canvas;

  constructor() {
    const context = this.canvas.getContext('2d', { willReadFrequently: true });
    if (!context) throw new Error('Nothing can be drawn over pictures here.');
    this.context = context;
  }

  /** A clean sheet of a size. */
  begin({ widthPx, heightPx }: PictureSize): Canvas {
    this.canvas.width = widthPx;
    this.canvas.height = heightPx;
    return this.context;
  }

  read(): ImageData {
    return this.context.getImageData(0, 0, this.canvas.width, this.canvas.height);
  }

  blob(type: 'image/png' | 'image/jpeg', quality?: number): Promise<Blob> {
    return this.canvas.convertToBlob({ type, ...(quality !== undefined && { quality }) });
  }
}

/** A page and a worker alike have fonts of their own. */
interface FontHolder {
  readonly fonts: { add(face: FontFace): unknown };
}

let font: Promise<unknown> | undefined;

/** Has the face of burn-ins ready. @throws Error that says what is missing. */
export async function loadFont(files: DrawnFiles): Promise<void> {
  font ??= files
    .font()
    .then((bytes) => new FontFace(FAMILY, bytes).load())
    .then((face) => (globalThis as unknown as FontHolder).fonts.add(face));
  await font.catch((error: unknown) => {
    font = undefined;
    throw new Error(
      `The font of burn-ins cannot be had (${(error as Error).message}). Leave them out, or install Arvex again.`,
    );
  });
}

const pictures = new Map<string, Promise<ImageBitmap>>();
/** So many pictures that are laid over frames are kept. */
const MOST_PICTURES = 12;

/** A picture to be drawn, read once. */
export function bitmapOf(files: DrawnFiles, hash: string): Promise<ImageBitmap> {
  let known = pictures.get(hash);
  if (!known) {
    known = files.picture(hash).then((blob) => createImageBitmap(blob));
    known.catch(() => pictures.delete(hash));
    pictures.set(hash, known);
    const oldest = pictures.keys().next().value;
    if (pictures.size > MOST_PICTURES && oldest !== undefined) pictures.delete(oldest);
  }
  return known;
}

/** Lines within a part of a sheet. A hairline is a thousandth of its height. */
export function drawLines(context: Canvas, lines: readonly LineOver[], { x, y, width, height }: Rect): void {
  context.save();
  context.beginPath();
  context.rect(x, y, width, height);
  context.clip();
  context.lineJoin = 'round';
  for (const { points, colour, opacity, weight } of lines) {
    context.strokeStyle = colour;
    context.globalAlpha = opacity;
    context.lineWidth = Math.max(1, (weight * height) / 1000);
    context.beginPath();
    points.forEach(([px, py], i) => {
      const [a, b] = [x + px * width, y + py * height];
      if (i === 0) context.moveTo(a, b);
      else context.lineTo(a, b);
    });
    context.stroke();
  }
  context.restore();
}

/** Burn-ins, each with its middle at its place but never over the edge. @param size height of a line, pixels. */
export function drawBurnIns(
  context: Canvas,
  items: readonly BurnIn[],
  {
    textOf,
    logo,
    size,
    area,
  }: { textOf: (item: BurnIn) => string; logo: ImageBitmap | undefined; size: number; area: Rect },
): void {
  context.font = `${size}px "${FAMILY}", monospace`;
  context.textBaseline = 'middle';
  for (const item of items) {
    const text = textOf(item);
    const isLogo = item.what === 'logo';
    if (isLogo ? !logo : text === '') continue;
    const room = size * PLATE;
    const wide = isLogo && logo ? (logo.width / logo.height) * size * 2 : context.measureText(text).width;
    const high = isLogo ? size * 2 : size * (1 + PLATE);
    const plate = { width: wide + 2 * room, height: high + (isLogo ? 0 : room) };
    const keep = (middle: number, length: number, from: number, to: number) =>
      Math.max(from, Math.min(to - length, middle - length / 2));
    const left = keep(area.x + item.x * area.width, plate.width, area.x, area.x + area.width);
    const top = keep(area.y + item.y * area.height, plate.height, area.y, area.y + area.height);
    if (isLogo && logo) {
      context.drawImage(logo, left + room, top, wide, high);
      continue;
    }
    context.fillStyle = 'rgb(10 10 12 / 0.6)';
    context.fillRect(left, top, plate.width, plate.height);
    context.fillStyle = INK;
    context.fillText(text, left + room, top + plate.height / 2);
  }
}

/** A picture of a camera's own, laid within a part of a sheet as its size says. */
export function drawReference(context: Canvas, bitmap: ImageBitmap, reference: Reference, rect: Rect): void {
  const scale = { fit: Math.min, fill: Math.max, stretch: () => NaN }[reference.size](
    rect.width / bitmap.width,
    rect.height / bitmap.height,
  );
  const [width, height] = Number.isNaN(scale)
    ? [rect.width, rect.height]
    : [bitmap.width * scale, bitmap.height * scale];
  context.save();
  context.beginPath();
  context.rect(rect.x, rect.y, rect.width, rect.height);
  context.clip();
  context.globalAlpha = reference.opacity;
  context.drawImage(bitmap, rect.x + (rect.width - width) / 2, rect.y + (rect.height - height) / 2, width, height);
  context.restore();
}

/** A slate: what it is about in large letters, what else is known below each other. */
export function drawSlate(context: Canvas, { widthPx, heightPx }: PictureSize, lines: readonly string[]): void {
  context.fillStyle = '#131315';
  context.fillRect(0, 0, widthPx, heightPx);
  context.fillStyle = '#a3a6ff';
  context.fillRect(widthPx * 0.08, heightPx * 0.14, widthPx * 0.04, heightPx * 0.008);
  context.textBaseline = 'alphabetic';
  const [first = '', ...rest] = lines;
  context.fillStyle = INK;
  context.font = `${heightPx * 0.11}px "${FAMILY}", monospace`;
  context.fillText(first, widthPx * 0.08, heightPx * 0.29, widthPx * 0.84);
  context.font = `${heightPx * 0.042}px "${FAMILY}", monospace`;
  context.fillStyle = '#bdb9b0';
  rest.forEach((line, i) => context.fillText(line, widthPx * 0.08, heightPx * (0.39 + i * 0.056), widthPx * 0.84));
}
