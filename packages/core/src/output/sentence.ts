import type { Project } from '../model';
import { camerasInOrder } from '../model';
import { cutOf } from '../sequence';
import { chosenFormats, MOVIE_FORMATS } from './formats';
import type { RenderOrder } from './order';

/** Words of an order's sentence, each with what of the order it says. */
export interface OrderWord {
  readonly about: OrderTopic;
  readonly words: string;
}

/** What an order can be asked about, in the order of its sentence. */
export const ORDER_TOPICS = {
  what: 'What',
  frames: 'Frames',
  size: 'Size',
  samples: 'Samples, lens and shutter',
  shading: 'Shading and what is seen',
  background: 'Background',
  eyes: 'Stereo and panorama',
  formats: 'Formats',
  burnIns: 'Slate and burn-ins',
  sound: 'Sound',
  names: 'Names and places',
} as const;
export type OrderTopic = keyof typeof ORDER_TOPICS;

const SHADING_WORDS = {
  full: 'full light',
  lean: 'simpler light',
  clay: 'clay',
  'lines-over': 'lines over shading',
  lines: 'lines alone',
  depth: 'depth',
} as const;

/** An order as the words of one sentence. */
export function orderSentence(project: Project, order: RenderOrder): OrderWord[] {
  return [
    { about: 'what', words: whatWords(project, order) },
    { about: 'frames', words: framesWords(order) },
    { about: 'size', words: sizeWords(order) },
    { about: 'samples', words: samplesWords(order) },
    { about: 'shading', words: seenWords(order) },
    { about: 'background', words: backgroundWords(order) },
    { about: 'eyes', words: eyesWords(order) },
    { about: 'formats', words: formatWords(order) },
    { about: 'burnIns', words: burnInWords(order) },
    { about: 'sound', words: order.sound && order.formats.movies.length > 0 ? 'with sound' : 'silent' },
    { about: 'names', words: placeWords(order) },
  ];
}

const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;

function whatWords(project: Project, order: RenderOrder): string {
  const { what, variations } = order;
  const words = subjectWords(project, order);
  if (variations === 'worn' || what.kind === 'cut' || what.kind === 'still') return words;
  return `${words}, ${variations === 'all' ? 'all variations' : counted(variations.length, 'variation')}`;
}

function subjectWords(project: Project, { what }: RenderOrder): string {
  const { head } = project;
  if (what.kind === 'cut') return 'the cut';
  if (what.kind === 'still') return `one frame of the cut, ${head.firstFrame + what.frame}`;
  if (what.kind === 'camera-still')
    return `one frame of ${project.cameras[what.cameraId]?.name ?? 'a camera'}, ${head.firstFrame + what.frame}`;
  if (what.kind === 'shots') {
    const all = cutOf(project, what.sequenceId).shots.length;
    return what.shotIds === null ? `all ${counted(all, 'shot')}, one by one` : counted(what.shotIds.length, 'shot');
  }
  const all = camerasInOrder(project).filter(({ disabled }) => !disabled).length;
  return what.cameraIds === null ? `all ${counted(all, 'camera')}` : counted(what.cameraIds.length, 'camera');
}

function framesWords({ what, frames, takesKept }: RenderOrder): string {
  const kept = takesKept ? ', made anew where changed' : '';
  if (what.kind === 'still' || what.kind === 'camera-still') return `alone${kept}`;
  const own = what.kind === 'cameras' ? 'each its own range' : 'all of it';
  const which = frames.range ? `${frames.range.first} to ${frames.range.last}` : own;
  const handles = frames.handles && what.kind === 'shots' ? ' with handles' : '';
  const every = frames.step === 1 ? '' : `, every ${ordinal(frames.step)} frame`;
  return `${which}${handles}${every}${kept}`;
}

function ordinal(n: number): string {
  const last = n % 100 > 10 && n % 100 < 14 ? 0 : n % 10;
  return `${n}${['th', 'st', 'nd', 'rd'][last] ?? 'th'}`;
}

const SHARE_WORDS = new Map([
  [1, 'delivery size'],
  [1 / 2, 'half size'],
  [1 / 3, 'a third of the size'],
  [1 / 4, 'a quarter of the size'],
]);

function sizeWords({ size, panorama }: RenderOrder): string {
  if (panorama) return `${panorama.widthPx} px round`;
  if (size.kind === 'typed') return `${size.widthPx} × ${size.heightPx}`;
  const known = [...SHARE_WORDS].find(([share]) => Math.abs(share - size.share) < 1e-6)?.[1];
  return known ?? `${Number((size.share * 100).toFixed(1))} % of the size`;
}

function samplesWords({ samples, depthOfField, shutter }: RenderOrder): string {
  const without = [depthOfField ? '' : 'depth of field', shutter.blur ? '' : 'motion blur'].filter(Boolean);
  const said = counted(samples, 'sample');
  return without.length === 0 ? said : `${said}, without ${without.join(' and ')}`;
}

function seenWords({ shading, look, visible }: RenderOrder): string {
  const shown = (['cameras', 'rigs', 'paths', 'grid', 'guides', 'references'] as const).filter((one) => visible[one]);
  const hidden = [
    visible.figures ? '' : 'figures',
    visible.lampBodies ? '' : 'lamps',
    visible.without.length === 0 ? '' : counted(visible.without.length, 'thing'),
  ].filter(Boolean);
  return [
    SHADING_WORDS[shading],
    ...(look ? [] : ['without look']),
    ...(shown.length > 0 ? [`with ${shown.join(', ')}`] : []),
    ...(hidden.length > 0 ? [`without ${hidden.join(', ')}`] : []),
  ].join(', ');
}

function backgroundWords({ background }: RenderOrder): string {
  if (background.kind === 'sky') return 'before the sky';
  if (background.kind === 'colour') return `before ${background.colour}`;
  return background.shadow ? 'transparent, with shadows' : 'transparent';
}

function eyesWords({ stereo, panorama }: RenderOrder): string {
  const layouts = {
    'side-by-side': 'side by side',
    'over-under': 'over and under',
    anaglyph: 'as anaglyph',
    'two-files': 'two files',
  };
  const shapes = { sphere: 'full sphere', cylinder: 'cylinder', cube: 'cube' };
  const seen = panorama ? shapes[panorama.kind] : 'flat';
  return stereo ? `${seen}, stereo ${layouts[stereo.layout]}` : seen;
}

function formatWords({ formats }: RenderOrder): string {
  const chosen = chosenFormats(formats.pictures);
  const names = [
    ...formats.movies.map(({ codec }) => MOVIE_FORMATS[codec].words),
    ...chosen.map(({ format, settings }) => format.words(settings)),
  ];
  const isLinear = chosen.some(({ format }) => format.holds === 'linear');
  const apart = isLinear && formats.layers.lightGroups ? ', light groups apart' : '';
  if (names.length === 0) return 'as nothing yet';
  const last = names.pop() ?? '';
  return `as ${names.length > 0 ? `${names.join(', ')} and ${last}` : last}${apart}`;
}

function burnInWords({ what, burnIns, slateFrames, slates }: RenderOrder): string {
  const where = what.kind === 'cut' && slates === 'head' ? ' at the head' : '';
  const slate = slateFrames > 0 ? `slate of ${counted(slateFrames, 'frame')}${where}` : 'no slate';
  const count = burnIns?.items.length ?? 0;
  return count === 0 ? slate : `${slate}, ${counted(count, 'burn-in')}`;
}

function placeWords({ places }: RenderOrder): string {
  if (places.zip && places.folder) return 'to a zip and a folder';
  return places.zip ? 'to a zip' : places.folder ? 'to a folder' : 'to nowhere yet';
}
