export { VariationsView } from './variations-view';
