export { Actions } from './actions';
