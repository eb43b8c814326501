export { Help } from './help';
export { helpActions } from './help-actions';
export { cardActions } from './card-actions';
