/** Size of a picture in device pixels. */
export interface PixelSize {
  readonly width: number;
  readonly height: number;
}

/** Device pixels of a canvas in the page; nothing while it is not shown. */
export function pixelSize(canvas: HTMLCanvasElement): PixelSize | undefined {
  const ratio = Math.min(2, devicePixelRatio);
  const [width, height] = [Math.round(canvas.clientWidth * ratio), Math.round(canvas.clientHeight * ratio)];
  return width > 1 && height > 1 ? { width, height } : undefined;
}

/** A share of a size along each side. */
export function scaled({ width, height }: PixelSize, share: number): [number, number] {
  return [Math.max(2, Math.round(width * share)), Math.max(2, Math.round(height * share))];
}

/** Shows a picture, which takes it. */
export function put(bitmap: ImageBitmap, canvas: HTMLCanvasElement): void {
  canvas.getContext('bitmaprenderer')?.transferFromImageBitmap(bitmap);
}
