export { Board } from './board';
