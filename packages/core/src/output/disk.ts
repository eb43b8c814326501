import type { Project } from '../model';
import type { PictureFormat } from './formats';
import { PICTURE_FORMATS } from './formats';
import type { FrameFile } from './frame-files';
import { frameFiles } from './frame-files';
import type { RenderOrder } from './order';
import type { OrderPart } from './part';
import { framesOfPart } from './part';
import { outputSize } from './size';

/** What a movie takes of a pixel about, bytes, at quality 65. */
const MOVIE_BYTES_A_PIXEL = 0.03;
/** So many steps of quality double a movie. */
const STEPS_THAT_DOUBLE = 12;

/** Bytes that an order takes on the disk about. @param pngBytes what a PNG of its first part took, when one was drawn. */
export function bytesOf(project: Project, order: RenderOrder, parts: readonly OrderPart[], pngBytes?: number): number {
  const files = frameFiles(project, order);
  const first = parts[0] && outputSize(order, parts[0]);
  const usual = first ? first.widthPx * first.heightPx * PICTURE_FORMATS.png.bytesAPixel({ bits: 8 }) : 1;
  const scale = pngBytes === undefined ? 1 : pngBytes / usual;
  return parts.reduce((sum, part) => {
    const { widthPx, heightPx } = outputSize(order, part);
    const pixels = widthPx * heightPx * framesOfPart(part);
    const frames = files.reduce((bytes, file) => bytes + bytesAPixel(order, file), 0);
    const movies = order.formats.movies.reduce((bytes, movie) => {
      if (movie.by.kind === 'rate') {
        const { rate } = project.head;
        return (
          bytes + (movie.by.megabits * 125_000 * framesOfPart(part) * rate.seconds * order.frames.step) / rate.frames
        );
      }
      return bytes + pixels * MOVIE_BYTES_A_PIXEL * 2 ** ((movie.by.quality - 65) / STEPS_THAT_DOUBLE);
    }, 0);
    return sum + pixels * frames * scale + movies;
  }, 0);
}

function bytesAPixel({ formats, background }: RenderOrder, { format: id, layer, beside }: FrameFile): number {
  const format: PictureFormat = PICTURE_FORMATS[id];
  const each = format.bytesAPixel(formats.pictures[id] ?? format.first);
  if (format.holds === 'shown') return format.hasAlpha && background.kind === 'transparent' ? (each * 4) / 3 : each;
  return [layer, ...beside.map((one) => one.layer)].reduce(
    (sum, { kind }) => sum + (kind === 'depth' || kind === 'mask' ? each / 4 : each),
    0,
  );
}
