export { provideSequence } from './provide-sequence';
