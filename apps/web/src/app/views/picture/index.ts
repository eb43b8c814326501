export { FreeView } from './free-view';
export { Viewfinder } from './viewfinder';
