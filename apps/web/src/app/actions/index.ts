export { Help } from './help';
export { helpActions } from './help-actions';
