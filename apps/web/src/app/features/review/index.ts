export { Movie } from './movie';
export { OutputList } from './output-list';
export { Renders } from './renders';
