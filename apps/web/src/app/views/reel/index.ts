export { Reel } from './reel';
