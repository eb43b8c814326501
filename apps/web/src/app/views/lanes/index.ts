export { Lanes } from './lanes';
