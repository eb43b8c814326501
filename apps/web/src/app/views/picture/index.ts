export { FocusRuler } from './focus-ruler';
export { FreeView } from './free-view';
export { LightStrip } from './light-strip';
export { Picture } from './picture';
