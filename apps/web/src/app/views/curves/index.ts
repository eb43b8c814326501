export { CurvesView } from './curves-view';
