export { helpActions } from './help-actions';
