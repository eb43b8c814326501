import { InterchangeError } from '../error';

/** What an OpenEXR file says of its picture: its standard optional attributes, as far as they are known. */
export interface ExrAttributes {
  /** Frames a second as a ratio, so that 24000/1001 stays what it is. */
  readonly framesPerSecond?: readonly [frames: number, seconds: number];
  /** `hh:mm:ss:ff`; a semicolon before the frames is drop-frame. */
  readonly timeCode?: string;
  /** Width of a pixel over its height; 1 when left out. */
  readonly pixelAspectRatio?: number;
  /** f-number. */
  readonly aperture?: number;
  /** Exposure time, seconds. */
  readonly expTime?: number;
  readonly isoSpeed?: number;
  /** Focus distance, metres. */
  readonly focus?: number;
  /** Millimetres. */
  readonly nominalFocalLength?: number;
  /** From the world (metres, Y up) to the camera that looks along −Z: rows of a matrix that row vectors are multiplied with. */
  readonly worldToCamera?: readonly number[];
  /** Attributes of our own, by name. */
  readonly texts?: Readonly<Record<string, string>>;
}

interface Channel {
  readonly name: string;
  readonly depth: 'half' | 'float';
}

const MAGIC = 20_000_630;
const [HALF, FLOAT] = [1, 2] as const;
const [NONE, ZIPS, ZIP] = [0, 2, 3] as const;
/** Longest name of an attribute or channel where the file says that it has long ones, and where it does not (file layout, "Version"). */
const [LONGEST_NAME, SHORT_NAME] = [255, 31] as const;
const LONG_NAMES_FLAG = 0x400;

/** Red, green, blue and white of Rec. 709 (ITU-R BT.709-6, 1.3 and 1.4), CIE xy. */
const REC_709 = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329] as const;

/** Everything before the table of chunks. */
export function headerBytes(
  { widthPx, heightPx }: { readonly widthPx: number; readonly heightPx: number },
  channels: readonly Channel[],
  about: ExrAttributes,
): Uint8Array {
  const out: number[] = [];
  const long = [...channels.map(({ name }) => name), ...Object.keys(about.texts ?? {})].some(
    (name) => new TextEncoder().encode(name).length > SHORT_NAME,
  );
  out.push(...int(MAGIC), ...int(2 | (long ? LONG_NAMES_FLAG : 0)));
  const put = (name: string, type: string, value: readonly number[]) =>
    out.push(...text(name), ...text(type), ...int(value.length), ...value);
  const list = channels.flatMap(({ name, depth }) => [
    ...text(name),
    ...int(depth === 'half' ? HALF : FLOAT),
    ...[0, 0, 0, 0], // not perceptually linear, and three that are reserved
    ...int(1),
    ...int(1),
  ]);
  const window = [0, 0, widthPx - 1, heightPx - 1].flatMap(int);
  put('channels', 'chlist', [...list, 0]);
  put('compression', 'compression', [ZIP]);
  put('dataWindow', 'box2i', window);
  put('displayWindow', 'box2i', window);
  put('lineOrder', 'lineOrder', [0]);
  put('pixelAspectRatio', 'float', float(about.pixelAspectRatio ?? 1));
  put('screenWindowCenter', 'v2f', [...float(0), ...float(0)]);
  put('screenWindowWidth', 'float', float(1));
  put('chromaticities', 'chromaticities', REC_709.flatMap(float));
  if (about.framesPerSecond)
    put(
      'framesPerSecond',
      'rational',
      about.framesPerSecond.flatMap((n) => int(n)),
    );
  if (about.timeCode !== undefined) put('timeCode', 'timecode', timeCode(about.timeCode));
  for (const name of ['aperture', 'expTime', 'isoSpeed', 'focus', 'nominalFocalLength'] as const) {
    const value = about[name];
    if (value !== undefined) put(name, 'float', float(value));
  }
  if (about.worldToCamera) put('worldToCamera', 'm44f', about.worldToCamera.flatMap(float));
  for (const [name, value] of Object.entries(about.texts ?? {})) {
    put(name, 'string', [...new TextEncoder().encode(value)]);
  }
  out.push(0);
  return Uint8Array.from(out);
}

const bytes = (length: number, put: (view: DataView) => void): number[] => {
  const view = new DataView(new ArrayBuffer(length));
  put(view);
  return [...new Uint8Array(view.buffer)];
};
const int = (value: number): number[] => bytes(4, (view) => view.setUint32(0, value >>> 0, true));
const float = (value: number): number[] => bytes(4, (view) => view.setFloat32(0, value, true));

function text(value: string): number[] {
  return [...new TextEncoder().encode(value).subarray(0, LONGEST_NAME), 0];
}

/** SMPTE ST 12-1 time and flags, as digits of four bits; and no user data. */
function timeCode(label: string): number[] {
  const [hours = 0, minutes = 0, seconds = 0, frames = 0] = label.split(/[:;]/).map(Number);
  const digits = (n: number) => (Math.floor(n / 10) << 4) | (n % 10);
  const drop = label.includes(';') ? 1 << 6 : 0;
  const packed = digits(frames) | drop | (digits(seconds) << 8) | (digits(minutes) << 16) | (digits(hours) << 24);
  return [...int(packed), ...int(0)];
}

/** What is needed of a header to read the picture. */
export interface ReadHeader {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Number of the first row. */
  readonly top: number;
  /** In the order in which they lie in each row. */
  readonly channels: readonly Channel[];
  readonly rowsAChunk: number;
  /** Where the table of chunks begins. */
  readonly end: number;
}

/** @throws InterchangeError where it is no header, or of a file of another kind than is read here. */
export function readHeader(file: Uint8Array): ReadHeader {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (file.length < 16 || view.getUint32(0, true) !== MAGIC) throw new InterchangeError('This is no OpenEXR file.');
  if ((view.getUint32(4, true) & 0x1a00) !== 0)
    throw new InterchangeError('Tiles, deep pixels and several parts are not read. Save it as one part of scan lines.');
  let at = 8;
  const name = (): string => {
    const end = file.indexOf(0, at);
    if (end < 0 || end - at > LONGEST_NAME) throw new InterchangeError('The OpenEXR file is cut off. Export it again.');
    const found = new TextDecoder().decode(file.subarray(at, end));
    at = end + 1;
    return found;
  };
  let channels: Channel[] = [];
  let [size, rowsAChunk] = [undefined as Pick<ReadHeader, 'widthPx' | 'heightPx' | 'top'> | undefined, 1];
  while (at < file.length && file[at] !== 0) {
    const [attribute] = [name(), name()];
    if (at + 4 > file.length) break;
    const length = view.getUint32(at, true);
    const begin = at + 4;
    at = begin;
    if (begin + length > file.length) break;
    if (attribute === 'channels') channels = readChannels(file, view, begin, name, (to) => (at = to));
    if (attribute === 'dataWindow') size = readWindow(view, begin);
    if (attribute === 'compression') rowsAChunk = rowsOf(file[begin] ?? NONE);
    at = begin + length;
  }
  if (!size || channels.length === 0) throw new InterchangeError('The OpenEXR file has no picture in it.');
  return { ...size, channels, rowsAChunk, end: at + 1 };
}

function readChannels(
  file: Uint8Array,
  view: DataView,
  begin: number,
  name: () => string,
  goTo: (at: number) => void,
): Channel[] {
  const channels: Channel[] = [];
  let at = begin;
  while (file[at] !== 0) {
    goTo(at);
    const called = name();
    at += new TextEncoder().encode(called).length + 1;
    if (at + 16 > file.length) throw new InterchangeError('The OpenEXR file is cut off. Export it again.');
    const type = view.getUint32(at, true);
    if (type !== HALF && type !== FLOAT) throw new InterchangeError(`Channel ${called} has whole numbers, not floats.`);
    channels.push({ name: called, depth: type === HALF ? 'half' : 'float' });
    at += 16;
  }
  return channels;
}

function readWindow(view: DataView, at: number) {
  const [left, top, right, bottom] = [0, 4, 8, 12].map((offset) => view.getInt32(at + offset, true)) as [
    number,
    number,
    number,
    number,
  ];
  return { widthPx: right - left + 1, heightPx: bottom - top + 1, top };
}

function rowsOf(compression: number): number {
  if (compression === ZIP) return 16;
  if (compression === NONE || compression === ZIPS) return 1;
  throw new InterchangeError('The OpenEXR file is packed in a way that is not read. Save it with ZIP.');
}
