export { provideLooks } from './provide-looks';
export { Variations } from './variations';
