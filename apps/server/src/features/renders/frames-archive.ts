import type { Render } from '@arvex/core';
import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import type { FileStore } from '../../files/file-store';
import type { FinishedFrame } from './store';

/** The frames of a render as a zip, with a JSON beside them that keeps frame rate, first frame and size with the frames. */
export function framesArchive(render: Render, frames: readonly FinishedFrame[], files: FileStore): Readable {
  const zip = new ZipFile();
  const facts = {
    name: render.name,
    frameRate: { frames: render.rate.frames, seconds: render.rate.seconds },
    firstFrame: render.firstFrame,
    frameCount: render.frameCount,
    widthPx: render.widthPx,
    heightPx: render.heightPx,
    files: frames.map((frame) => `${frame.fileName}.png`),
  };
  zip.addBuffer(Buffer.from(`${JSON.stringify(facts, null, 2)}\n`), 'frames.json');
  // PNG is compressed already.
  for (const frame of frames) zip.addFile(files.path(frame.hash), `${frame.fileName}.png`, { compress: false });
  const stream = zip.outputStream as Readable;
  // A frame that cannot be read ends the download, which is then seen to be cut off; nothing else.
  (zip as ZipFile & NodeJS.EventEmitter).on('error', (error: Error) => stream.destroy(error));
  zip.end();
  return stream;
}
